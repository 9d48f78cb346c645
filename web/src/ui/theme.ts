import { useSyncExternalStore } from "react";

/** By day, by night, or as the machine says. */
export const THEMES = ["system", "light", "dark"] as const;
export type Theme = (typeof THEMES)[number];

const KEY = "cohortia.theme";
const heard = new Set<() => void>();

function kept(): Theme {
	const said = localStorage.getItem(KEY);
	return THEMES.find((theme) => theme === said) ?? "system";
}

/** Wear what was chosen on this machine. tokens.css follows the machine where nothing was. */
function wear(): void {
	const theme = kept();
	if (theme === "system") delete document.documentElement.dataset.theme;
	else document.documentElement.dataset.theme = theme;
}

/** From the first on, and when another tab chooses. */
export function followTheme(): void {
	wear();
	window.addEventListener("storage", told);
}

function told() {
	wear();
	for (const hear of heard) hear();
}

export function chooseTheme(theme: Theme): void {
	localStorage.setItem(KEY, theme);
	told();
}

export function useTheme(): Theme {
	return useSyncExternalStore((hear) => {
		heard.add(hear);
		return () => {
			heard.delete(hear);
		};
	}, kept);
}
