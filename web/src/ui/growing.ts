import { useEffect, useRef, useState } from "react";

/** What is drawn at once, more than any window shows, and what follows between two frames: at first, at least, at most. */
const FIRST = 30;
const MORE = 12;
const FEWEST = 4;
const MOST = 60;
/** Milliseconds that what follows may take of a frame; the paint comes on top. */
const SHARE = 12;

/** How many of a long text’s turns, or of a list’s rows, stand there: those at the top at once, the rest while somebody reads.
 * `least`: so many in any case. */
export function useGrowing(count: number, least = 0): number {
	const [grown, setGrown] = useState(FIRST);
	const step = useRef({ size: MORE, begun: 0 });
	const shown = count <= FIRST + MORE ? count : Math.min(count, Math.max(grown, least));
	useEffect(() => {
		if (shown >= count) return;
		let later = 0;
		const { size, begun } = step.current;
		// As many as this machine draws in its share of a frame: whoever scrolls meanwhile should feel nothing.
		if (begun) step.current.size = Math.min(MOST, Math.max(FEWEST, Math.round((size * SHARE) / Math.max(performance.now() - begun, 1))));
		step.current.begun = 0;
		// After the frame is painted: what was pressed meanwhile comes first.
		const soon = requestAnimationFrame(() => {
			later = window.setTimeout(() => {
				step.current.begun = performance.now();
				setGrown(shown + step.current.size);
			});
		});
		return () => {
			cancelAnimationFrame(soon);
			window.clearTimeout(later);
		};
	}, [shown, count]);
	return shown;
}
