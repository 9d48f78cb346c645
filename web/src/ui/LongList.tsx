import { type ReactNode, useRef } from "react";
import { useLong } from "./virtual";

interface Props<Row> {
	rows: readonly Row[];
	/** Pixels that one is high. */
	height: number;
	className?: string;
	children: (row: Row) => ReactNode;
}

/** Rows of one height that scroll, of which only those in view are drawn where they are many. */
export function LongList<Row>({ rows, height, className = "", children }: Props<Row>) {
	const frame = useRef<HTMLDivElement>(null);
	const { items, before, after } = useLong(rows.length, frame, height);
	return (
		<div ref={frame} className={`overflow-auto ${className}`}>
			<div style={{ height: before }} />
			{items.map(({ index }) => children(rows[index] as Row))}
			<div style={{ height: after }} />
		</div>
	);
}
