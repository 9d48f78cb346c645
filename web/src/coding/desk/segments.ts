import type { Passage, Stretch } from "../data";

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

export type Lanes = Map<number, Map<number, number>>;

/** Lanes so that a passage's lines stay at one height from its start to its end; those that are as ``before`` are the same ones. */
export function lanes(passages: Passage[], before?: Lanes): Lanes {
	const ends: number[] = [];
	const found: Lanes = new Map();
	const order = [...passages].sort((a, b) => a.start - b.start || b.end - a.end);
	for (const passage of order) {
		const own = new Map<number, number>();
		for (const code of new Set(passage.codings.map((coding) => coding.code))) {
			let lane = ends.findIndex((end) => end <= passage.start);
			if (lane < 0) lane = ends.length;
			ends[lane] = passage.end;
			own.set(code, lane);
		}
		const known = before?.get(passage.id);
		found.set(passage.id, known && sameLanes(known, own) ? known : own);
	}
	return found;
}

function sameLanes(one: Map<number, number>, other: Map<number, number>): boolean {
	if (one.size !== other.size) return false;
	for (const [code, lane] of one) if (other.get(code) !== lane) return false;
	return true;
}

/** A turn cut wherever a passage begins or ends. ``passages`` are those that touch it. */
export function segments(turn: Stretch, passages: Passage[], laneOf: Lanes): Segment[] {
	const cuts = new Set([turn.start, turn.end]);
	for (const passage of passages) for (const at of [passage.start, passage.end]) if (at > turn.start && at < turn.end) cuts.add(at);
	const edges = [...cuts].sort((a, b) => a - b);
	return edges.slice(0, -1).map((start, place) => {
		const end = edges[place + 1] as number;
		const here = passages.filter((passage) => passage.start <= start && passage.end >= end);
		return {
			start,
			end,
			passages: here.map((passage) => passage.id),
			lines: here.flatMap((passage) => [...(laneOf.get(passage.id) ?? [])].map(([code, lane]) => ({ passage: passage.id, code, lane }))),
			selected: false,
		};
	});
}

/** The same, cut again where the selection begins or ends. */
export function cutBy(rows: Segment[], selection: Stretch | null): Segment[] {
	if (!selection) return rows;
	return rows.flatMap((row) => {
		const edges = [row.start, ...[selection.start, selection.end].filter((at) => at > row.start && at < row.end), row.end];
		return edges.slice(0, -1).map((start, place) => {
			const end = edges[place + 1] as number;
			return { ...row, start, end, selected: selection.start <= start && selection.end >= end };
		});
	});
}

export interface CutTurn<Turn> {
	turn: Turn;
	segments: Segment[];
	/** What the segments look like, in one word. */
	signature: string;
	headings: string[];
	first: number;
	last: number;
	/** What it was made of. */
	of: { passages: Passage[]; lanes: (Map<number, number> | undefined)[]; sections: unknown };
}

/** Every turn with its segments and the questions asked in it; turns, passages and sections are in order. Of a long text few turns
 * change at once: those that are as ``before`` are the same ones. */
export function cutTurns<Turn extends Stretch>(
	turns: Turn[],
	sections: (Stretch & { kind: string; title: string })[],
	passages: Passage[],
	laneOf: Lanes,
	before: CutTurn<Turn>[] = [],
): CutTurn<Turn>[] {
	const questions = sections.filter((section) => section.kind === "question");
	const waiting = [...passages].sort((a, b) => a.start - b.start);
	let going: Passage[] = [];
	let next = 0;
	return turns.map((turn, place) => {
		going = going.filter((passage) => passage.end > turn.start);
		for (let passage = waiting[next]; passage && passage.start < turn.end; passage = waiting[next]) {
			if (passage.end > turn.start) going.push(passage);
			next += 1;
		}
		const known = before[place];
		const lanesHere = going.map((passage) => laneOf.get(passage.id));
		if (known?.turn === turn && known.of.sections === sections && alike(known.of.passages, going) && alike(known.of.lanes, lanesHere))
			return known;
		const own = segments(turn, going, laneOf);
		return {
			turn,
			segments: own,
			signature: own.map((one) => `${one.end}:${one.lines.map((line) => `${line.passage}.${line.code}.${line.lane}`).join()}`).join(";"),
			headings: questions.filter((one) => turn.start <= one.start && one.start < turn.end).map((one) => one.title),
			first: turn.start,
			last: turn.end,
			of: { passages: [...going], lanes: lanesHere, sections },
		};
	});
}

function alike(one: unknown[], other: unknown[]): boolean {
	return one.length === other.length && one.every((thing, place) => thing === other[place]);
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
