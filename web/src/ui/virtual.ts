import { useVirtualizer } from "@tanstack/react-virtual";
import type { RefObject } from "react";
import { useGrowing } from "./growing";
import { usePrinting } from "./printing";

type Options = Parameters<typeof useVirtualizer<HTMLElement, HTMLElement>>[0];

/** What of a long list is drawn: what is in view with a little around it, by place and where it begins and ends in
 * pixels; on paper all of it, one after the other. */
export function useVirtual(options: Options) {
	const printing = usePrinting();
	const real = useVirtualizer<HTMLElement, HTMLElement>(options);
	if (!printing) return { items: real.getVirtualItems(), total: real.getTotalSize(), measure: real.measureElement, to: real.scrollToIndex };
	const all = Array.from({ length: options.count }, (_, index) => ({ index, start: 0, end: 0 }));
	return { items: all, total: 0, measure: undefined, to: undefined };
}

/** A list shorter than this is drawn whole, what is beyond the window after the rest. */
const FEW = 100;

interface Long {
	/** Places of what is drawn. */
	items: { index: number }[];
	/** Room above and below it, in pixels. */
	before: number;
	after: number;
	/** To be the `ref` of what is drawn (with `data-index`), where heights differ. */
	measure: ((element: HTMLElement | null) => void) | undefined;
}

/** Which rows of a list are drawn: of a short one all, of a long one those in view. `height` is what a row has, or about. */
export function useLong(count: number, frame: RefObject<HTMLElement | null>, height: number): Long {
	const long = count > FEW;
	const grown = useGrowing(long ? 0 : count, usePrinting() ? count : 0);
	const shown = useVirtual({
		count: long ? count : 0,
		enabled: long,
		getScrollElement: () => frame.current,
		estimateSize: () => height,
		overscan: 8,
		initialRect: { width: 1000, height: 700 },
	});
	if (!long)
		return {
			items: Array.from({ length: grown }, (_, index) => ({ index })),
			before: 0,
			after: (count - grown) * height,
			measure: undefined,
		};
	const { items, total, measure } = shown;
	return { items, before: items[0]?.start ?? 0, after: Math.max(0, total - (items.at(-1)?.end ?? total)), measure };
}
