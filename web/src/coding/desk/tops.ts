import { type RefObject, useEffect, useRef, useState } from "react";
import type { CutTurn } from "./segments";

/** What was measured of a turn: how far beneath its own top each passage begins, as it was cut and as wide as it was. */
interface Measured {
	cut: CutTurn<unknown>;
	width: number;
	tops: [number, number][];
}

/** How far down the first word of each passage stands, measured after every change of the text has been seen: to
 * measure before would hold the change up by laying all of a long text out. Turns that are as they were aren't measured again.
 * ``grown``: how many of the turns stand there. */
export function useTops(body: RefObject<HTMLDivElement | null>, cut: CutTurn<unknown>[], grown: number): Map<number, number> {
	const [tops, setTops] = useState<Map<number, number>>(new Map());
	const known = useRef(new WeakMap<HTMLElement, Measured>());
	// In between nothing is measured: once at the beginning, for what is seen, and once when all is there.
	const whole = grown >= cut.length;
	useEffect(() => {
		const measure = () => {
			if (!body.current) return;
			const starts = new Map<number, number>();
			const rows = body.current.querySelectorAll<HTMLElement>(":scope > [id^=turn-]");
			rows.forEach((row, place) => {
				const turn = cut[place];
				if (!turn?.of.passages.length) return;
				let measured = known.current.get(row);
				if (measured?.cut !== turn || measured.width !== row.offsetWidth) {
					measured = { cut: turn, width: row.offsetWidth, tops: within(row) };
					known.current.set(row, measured);
				}
				for (const [id, top] of measured.tops) if (!starts.has(id)) starts.set(id, row.offsetTop + top);
			});
			setTops(starts);
		};
		// A frame’s own callbacks still come before it is painted: after it, then.
		let later = 0;
		const soon = requestAnimationFrame(() => {
			later = window.setTimeout(measure);
		});
		// An observer calls once as it begins to watch, before the paint too.
		let watching = false;
		const watch = new ResizeObserver(() => {
			if (watching && whole) measure();
			watching = true;
		});
		if (body.current) watch.observe(body.current);
		return () => {
			cancelAnimationFrame(soon);
			window.clearTimeout(later);
			watch.disconnect();
		};
	}, [body, cut, whole]);
	return tops;
}

/** Each passage of a turn, and how far beneath the turn’s top its first word there stands. */
function within(row: HTMLElement): [number, number][] {
	const base = row.getBoundingClientRect().top;
	const found = new Map<number, number>();
	for (const span of row.querySelectorAll<HTMLElement>("[data-passages]")) {
		const top = (span.getClientRects()[0] ?? span.getBoundingClientRect()).top - base;
		for (const id of (span.dataset.passages ?? "").split(" ")) if (!found.has(Number(id))) found.set(Number(id), top);
	}
	return [...found];
}
