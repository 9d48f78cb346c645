import { type RefCallback, useCallback, useState } from "react";

/** The width in pixels of what the reference is put on, and again whenever it changes; `usual` until it is known. */
export function useWidth(usual = 960): [RefCallback<HTMLElement>, number] {
	const [wide, setWide] = useState(usual);
	const measured = useCallback((element: HTMLElement | null) => {
		if (!element || typeof ResizeObserver === "undefined") return;
		const observer = new ResizeObserver(([entry]) => {
			if (entry?.contentRect.width) setWide(Math.floor(entry.contentRect.width));
		});
		observer.observe(element);
		return () => observer.disconnect();
	}, []);
	return [measured, wide];
}
