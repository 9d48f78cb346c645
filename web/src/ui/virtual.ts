import { useVirtualizer } from "@tanstack/react-virtual";
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
