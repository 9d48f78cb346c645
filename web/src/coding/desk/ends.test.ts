import { describe, expect, it } from "vitest";
import { byWord, dragged, toSentences, toTurns } from "./ends";
import { wordsOf } from "./selection";

const TEXT = "Did you? The boat was late 🚢 again. I waited.\nThen I walked.\n";
const cut = TEXT.indexOf("Then");
const turns = [
	{ start: 0, end: cut },
	{ start: cut, end: TEXT.length },
];
const words = wordsOf(TEXT);
const of = (part: string) => ({ start: TEXT.indexOf(part), end: TEXT.indexOf(part) + part.length });
const said = (stretch: { start: number; end: number } | null) => stretch && TEXT.slice(stretch.start, stretch.end);

describe("the ends of a passage", () => {
	it("go by words, on and back, over what isn’t a word", () => {
		expect(said(byWord(words, of("was late"), "end", 1))).toBe("was late 🚢 again");
		expect(said(byWord(words, of("was late"), "end", -1))).toBe("was");
		expect(said(byWord(words, of("was late"), "start", -1))).toBe("boat was late");
		expect(said(byWord(words, of("was late"), "start", 1))).toBe("late");
	});
	it("never cross, and stay in the text", () => {
		expect(byWord(words, of("was"), "end", -1)).toBeNull();
		expect(byWord(words, of("was"), "start", 1)).toBeNull();
		expect(byWord(words, of("Did"), "start", -1)).toBeNull();
		expect(byWord(words, of("walked"), "end", 1)).toBeNull();
	});
	it("widen to sentences, and to turns", () => {
		expect(said(toSentences(TEXT, turns, of("late")))).toBe("The boat was late 🚢 again.");
		expect(said(toSentences(TEXT, turns, { start: of("late").start, end: of("waited").end }))).toBe(
			"The boat was late 🚢 again. I waited.",
		);
		expect(said(toTurns(TEXT, turns, of("late")))).toBe(TEXT.slice(0, cut).trim());
		expect(said(toTurns(TEXT, turns, { start: of("waited").start, end: of("Then").end }))).toBe(TEXT.trim());
	});
	it("are dragged to whole words, and stop at the other end", () => {
		expect(said(dragged(words, of("was late"), "end", TEXT.indexOf("ain.")))).toBe("was late 🚢 again");
		expect(said(dragged(words, of("was late"), "start", TEXT.indexOf("oat")))).toBe("boat was late");
		expect(dragged(words, of("was late"), "start", TEXT.length)).toEqual(of("was late"));
		expect(dragged(words, of("was late"), "end", 2)).toEqual(of("was late"));
	});
});
