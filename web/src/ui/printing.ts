import { useSyncExternalStore } from "react";

/** Between these two the page is laid out for paper; its media say so only after the first, when nothing can follow. */
let printing = false;

function hear(change: () => void): () => void {
	const media = window.matchMedia?.("print");
	const before = () => {
		printing = true;
		change();
	};
	const after = () => {
		printing = false;
		change();
	};
	media?.addEventListener("change", change);
	window.addEventListener("beforeprint", before);
	window.addEventListener("afterprint", after);
	return () => {
		media?.removeEventListener("change", change);
		window.removeEventListener("beforeprint", before);
		window.removeEventListener("afterprint", after);
	};
}

/** Whether the page is being laid out for paper: then all of a long list has to be there, not only what is in view. */
export function usePrinting(): boolean {
	return useSyncExternalStore(hear, () => printing || (window.matchMedia?.("print").matches ?? false));
}
