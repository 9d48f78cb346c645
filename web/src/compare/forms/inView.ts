import { useRef } from "react";
import { useVirtual } from "../../ui/virtual";

/** Tables of more cells than this draw only what is in view. */
const MANY = 1500;

interface Sizes {
	/** Pixels of a row, and of a column where only some are drawn. */
	row: number;
	column: number;
}

/** What of a table is drawn: all of a usual one; of a large one the rows and columns in view, with the room before and after them. */
export function useInView(rows: number, columns: number, { row, column }: Sizes) {
	const frame = useRef<HTMLDivElement>(null);
	const large = rows * columns > MANY;
	const same = { getScrollElement: () => frame.current, enabled: large, initialRect: { width: 1200, height: 500 } };
	const down = useVirtual({ ...same, count: rows, estimateSize: () => row, overscan: 4 });
	const across = useVirtual({ ...same, count: columns, horizontal: true, estimateSize: () => column, overscan: 2 });
	const side = (count: number, of: typeof down) => {
		if (!large) return { from: 0, to: count, before: 0, after: 0 };
		const items = of.items;
		const last = items.at(-1);
		return {
			from: items[0]?.index ?? 0,
			to: last ? last.index + 1 : 0,
			before: items[0]?.start ?? 0,
			after: of.total - (last?.end ?? of.total),
		};
	};
	return { frame, large, rows: side(rows, down), columns: side(columns, across) };
}
