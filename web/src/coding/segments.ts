import type { Passage, Stretch } from "./data";

/** One thin line under the words: a code on a passage, in a lane of its own. */
export interface Line {
	passage: number;
	code: number;
	lane: number;
}

export interface Segment extends Stretch {
	lines: Line[];
	passages: number[];
	selected: boolean;
}

/** Lanes so that a passage's lines stay at one height from its start to its end. */
export function lanes(passages: Passage[]): Map<number, Map<number, number>> {
	const ends: number[] = [];
	const found = new Map<number, Map<number, number>>();
	const order = [...passages].sort((a, b) => a.start - b.start || b.end - a.end);
	for (const passage of order) {
		const own = new Map<number, number>();
		for (const code of new Set(passage.codings.map((coding) => coding.code))) {
			let lane = ends.findIndex((end) => end <= passage.start);
			if (lane < 0) lane = ends.length;
			ends[lane] = passage.end;
			own.set(code, lane);
		}
		found.set(passage.id, own);
	}
	return found;
}

/** A turn cut wherever a passage or the selection begins or ends. */
export function segments(
	turn: Stretch,
	passages: Passage[],
	laneOf: Map<number, Map<number, number>>,
	selection: Stretch | null,
): Segment[] {
	const touching = passages.filter((passage) => passage.start < turn.end && passage.end > turn.start);
	const cuts = new Set([turn.start, turn.end]);
	for (const stretch of selection ? [...touching, selection] : touching)
		for (const at of [stretch.start, stretch.end]) if (at > turn.start && at < turn.end) cuts.add(at);
	const edges = [...cuts].sort((a, b) => a - b);
	return edges.slice(0, -1).map((start, place) => {
		const end = edges[place + 1] as number;
		const here = touching.filter((passage) => passage.start <= start && passage.end >= end);
		return {
			start,
			end,
			passages: here.map((passage) => passage.id),
			lines: here.flatMap((passage) => [...(laneOf.get(passage.id) ?? [])].map(([code, lane]) => ({ passage: passage.id, code, lane }))),
			selected: selection !== null && selection.start <= start && selection.end >= end,
		};
	});
}

const THICK = 2.5;
const STEP = 3.5;

/** The segment's look: a faint tint, and a line a code beneath the words. */
export function lineStyle(lines: Line[], colourOf: (code: number) => string): React.CSSProperties {
	if (!lines.length) return {};
	const deepest = Math.max(...lines.map((line) => line.lane));
	const images = lines.map((line) => `linear-gradient(${colourOf(line.code)}, ${colourOf(line.code)})`);
	const last = lines.reduce((low, line) => (line.lane <= low.lane ? line : low));
	return {
		backgroundColor: `color-mix(in srgb, ${colourOf(last.code)} 13%, transparent)`,
		backgroundImage: images.join(", "),
		backgroundSize: lines.map(() => `100% ${THICK}px`).join(", "),
		backgroundPosition: lines.map((line) => `0 calc(100% - ${(deepest - line.lane) * STEP}px)`).join(", "),
		paddingBottom: `${Math.min(deepest, 4) * STEP + THICK}px`,
	};
}
