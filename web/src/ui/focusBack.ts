import { useEffect } from "react";

const KEPT = 20;
/** What had the keys, the latest last. What opens a dialog from a menu is gone with the menu: what had opened that is not. */
const had: HTMLElement[] = [];

document.addEventListener("focusin", ({ target }) => {
	if (!(target instanceof HTMLElement) || target.closest("[role=dialog], [role=menu], [role=listbox]")) return;
	had.push(target);
	had.splice(0, had.length - KEPT);
});

/** When this goes and the keys with it, they go back to what had them before (WCAG 2.4.3). */
export function useFocusBack(): void {
	useEffect(
		() => () => {
			requestAnimationFrame(() => {
				if (document.activeElement && document.activeElement !== document.body) return;
				had.findLast((one) => one.isConnected)?.focus({ preventScroll: true });
			});
		},
		[],
	);
}
