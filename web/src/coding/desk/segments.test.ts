import { describe, expect, it } from "vitest";
import type { Passage } from "../data";
import { cutBy, cutTurns, lanes, lineStyle, segments } from "./segments";

const passage = (id: number, start: number, end: number, ...codes: number[]): Passage => ({
	id,
	start,
	end,
	region: null,
	span: null,
	codings: codes.map((code) => ({ id: id * 10 + code, code, coder: 1, initials: "RA", rating: null, coder_name: "Rana", by_words: false })),
	memos: [],
});

describe("segments of a turn", () => {
	const passages = [passage(1, 2, 8, 7), passage(2, 5, 12, 8, 9), passage(3, 20, 22, 7)];

	it("cut wherever a passage or the selection begins or ends, and cover the turn", () => {
		const cut = cutBy(segments({ start: 0, end: 15 }, passages.slice(0, 2), lanes(passages)), { start: 10, end: 14 });
		expect(cut.map(({ start, end }) => [start, end])).toEqual([
			[0, 2],
			[2, 5],
			[5, 8],
			[8, 10],
			[10, 12],
			[12, 14],
			[14, 15],
		]);
		expect(cut.map((segment) => segment.passages)).toEqual([[], [1], [1, 2], [2], [2], [], []]);
		expect(cut.map((segment) => segment.selected)).toEqual([false, false, false, false, true, true, false]);
	});

	it("give overlapping codes lanes of their own, and free them afterwards", () => {
		const found = lanes(passages);
		const used = [...(found.get(1)?.values() ?? []), ...(found.get(2)?.values() ?? [])];
		expect(new Set(used).size).toBe(3);
		expect(found.get(3)?.get(7)).toBe(0);
	});

	it("are found for every turn of a text, each turn with the passages that touch it and nothing else", () => {
		const turns = [
			{ start: 0, end: 6 },
			{ start: 6, end: 16 },
			{ start: 16, end: 30 },
		];
		const asked = [{ kind: "question", title: "What is hard?", start: 6, end: 16 }];
		const cut = cutTurns(turns, asked, passages, lanes(passages));
		const touching = cut.map((one) => [...new Set(one.segments.flatMap((segment) => segment.passages))]);
		expect(touching).toEqual([[1, 2], [1, 2], [3]]);
		expect(cut.map((one) => one.headings)).toEqual([[], ["What is hard?"], []]);
		// Another passage in the last turn changes that turn's signature alone.
		const more = [...passages, passage(4, 24, 26, 8)];
		const again = cutTurns(turns, asked, more, lanes(more));
		expect(again.map((one, place) => one.signature === cut[place]?.signature)).toEqual([true, true, false]);
		// Made of what was there, turns that are as they were are the same ones, and the others are as if made anew.
		const before = lanes(passages);
		const first = cutTurns(turns, asked, passages, before);
		const carried = cutTurns(turns, asked, more, lanes(more, before), first);
		expect(carried.map((one, place) => one === first[place])).toEqual([true, true, false]);
		expect(carried.map(({ segments, signature }) => ({ segments, signature }))).toEqual(
			again.map(({ segments, signature }) => ({ segments, signature })),
		);
		const longer = passages.map((one) => (one.id === 1 ? { ...one, end: 5 } : one));
		const shortened = cutTurns(turns, asked, longer, lanes(longer, before), first);
		expect(shortened.map((one) => one.signature)).toEqual(cutTurns(turns, asked, longer, lanes(longer)).map((one) => one.signature));
	});

	it("draw a line for each code and none for plain words", () => {
		const cut = segments({ start: 0, end: 15 }, passages.slice(0, 2), lanes(passages));
		expect(lineStyle(cut[0]?.lines ?? [], () => "#000")).toEqual({});
		expect(String(lineStyle(cut[2]?.lines ?? [], () => "#000").backgroundImage).match(/gradient/g)).toHaveLength(3);
	});
});
