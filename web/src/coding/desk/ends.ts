import type { Stretch } from "../data";
import { drawnIn } from "./selection";

export type Edge = "start" | "end";

/** What moves the ends of a passage, by the names of the keys. */
export const END_MOVES = ["beginningBack", "beginningOn", "endBack", "endOn", "toSentence", "toTurn"] as const;
export type EndMove = (typeof END_MOVES)[number];

/** The passage as it would be then; null where it can’t. */
export function movedEnds(text: string, turns: Stretch[], words: Stretch[], now: Stretch, move: EndMove): Stretch | null {
	const moves: Record<EndMove, () => Stretch | null> = {
		endOn: () => byWord(words, now, "end", 1),
		endBack: () => byWord(words, now, "end", -1),
		beginningOn: () => byWord(words, now, "start", 1),
		beginningBack: () => byWord(words, now, "start", -1),
		toSentence: () => toSentences(text, turns, now),
		toTurn: () => toTurns(text, turns, now),
	};
	const next = moves[move]();
	return next && (next.start !== now.start || next.end !== now.end) ? next : null;
}

/** A passage with one end a word further on, or back; null where it would be empty or leave the text. */
export function byWord(words: Stretch[], now: Stretch, edge: Edge, by: 1 | -1): Stretch | null {
	const first = words.findIndex((word) => word.end > now.start);
	const last = words.findLastIndex((word) => word.start < now.end);
	if (first < 0 || last < 0) return null;
	const word = words[(edge === "start" ? first : last) + by];
	if (!word) return null;
	const next = edge === "start" ? { start: word.start, end: now.end } : { start: now.start, end: word.end };
	return next.start < next.end ? next : null;
}

/** The passage widened to the sentences that it touches, each inside its turn. */
export function toSentences(text: string, turns: Stretch[], now: Stretch): Stretch | null {
	const at = (position: number) => turns.find((turn) => turn.start <= position && position < turn.end);
	const first = at(now.start);
	const last = at(now.end - 1);
	if (!first || !last) return null;
	const start = sentencesOf(text, first).findLast((one) => one.start <= now.start)?.start ?? first.start;
	const end = sentencesOf(text, last).find((one) => one.end >= now.end)?.end ?? last.end;
	return drawnIn(text, start, end);
}

/** The passage widened to the whole turns that it touches. */
export function toTurns(text: string, turns: Stretch[], now: Stretch): Stretch | null {
	const touched = turns.filter((turn) => turn.start < now.end && turn.end > now.start);
	const first = touched[0];
	const last = touched.at(-1);
	return first && last ? drawnIn(text, first.start, last.end) : null;
}

/** The passage with one end dragged to a place in the text, drawn to whole words; never beyond its other end. */
export function dragged(words: Stretch[], now: Stretch, edge: Edge, to: number): Stretch {
	if (edge === "start") {
		const word = words.findLast((one) => one.start <= to) ?? words[0];
		return word && word.start < now.end ? { start: word.start, end: now.end } : now;
	}
	const word = words.find((one) => one.end >= to) ?? words.at(-1);
	return word && word.end > now.start ? { start: now.start, end: word.end } : now;
}

function sentencesOf(text: string, turn: Stretch): Stretch[] {
	const segmenter = new Intl.Segmenter(undefined, { granularity: "sentence" });
	return [...segmenter.segment(text.slice(turn.start, turn.end))].map((part) => ({
		start: turn.start + part.index,
		end: turn.start + part.index + part.segment.length,
	}));
}
