import { useSyncExternalStore } from "react";

/** Whether letters, digits and signs do something by themselves at the desk and on the answers (WCAG 2.1.4): whoever speaks to their
 * computer, or touches keys by chance, turns them off. Of this browser, not of an account: it goes with the hands, not the name. */
const KEPT = "cohortia single keys";
const watching = new Set<() => void>();

function watch(changed: () => void): () => void {
	watching.add(changed);
	return () => {
		watching.delete(changed);
	};
}

export function singleKeys(): boolean {
	return window.localStorage.getItem(KEPT) !== "off";
}

export function turnSingleKeys(on: boolean): void {
	if (on) window.localStorage.removeItem(KEPT);
	else window.localStorage.setItem(KEPT, "off");
	for (const changed of watching) changed();
}

export function useSingleKeys(): boolean {
	return useSyncExternalStore(watch, singleKeys);
}

/** A key that is a single letter, digit or sign, with neither Ctrl nor Alt. */
export function isSingle({ key, ctrlKey, metaKey, altKey }: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey">): boolean {
	return key.length === 1 && key !== " " && !ctrlKey && !metaKey && !altKey;
}
