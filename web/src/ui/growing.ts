import { useEffect, useState } from "react";

/** What is drawn at once, more than any window shows, and what follows between two frames. */
const FIRST = 30;
const MORE = 25;

/** How many of a long text’s turns, or of a list’s rows, stand there: those at the top at once, the rest while somebody reads.
 * `least`: so many in any case. */
export function useGrowing(count: number, least = 0): number {
	const [grown, setGrown] = useState(FIRST);
	const shown = count <= FIRST + MORE ? count : Math.min(count, Math.max(grown, least));
	useEffect(() => {
		if (shown >= count) return;
		let later = 0;
		// After the frame is painted: what was pressed meanwhile comes first.
		const soon = requestAnimationFrame(() => {
			later = window.setTimeout(() => setGrown(shown + MORE));
		});
		return () => {
			cancelAnimationFrame(soon);
			window.clearTimeout(later);
		};
	}, [shown, count]);
	return shown;
}
