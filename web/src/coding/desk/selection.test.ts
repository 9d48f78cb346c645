import { describe, expect, it } from "vitest";
import { drawnIn, moved, selectedStretch, wholeWords, wordsOf } from "./selection";

describe("a selection", () => {
	it("is drawn in to words and works from back to front", () => {
		expect(drawnIn("say  that  again", 3, 11)).toEqual({ start: 5, end: 9 });
		expect(drawnIn("say  that  again", 11, 3)).toEqual({ start: 5, end: 9 });
		expect(drawnIn("a   b", 1, 4)).toBeNull();
	});

	it("never cuts an emoji or a combined letter", () => {
		const text = "go 👩‍👩‍👧 e\u0301t";
		const family = text.indexOf("👩");
		expect(drawnIn(text, family + 1, family + 2)).toEqual({ start: family, end: text.indexOf(" e") });
		const letter = text.indexOf("e\u0301");
		expect(drawnIn(text, letter, letter + 1)).toEqual({ start: letter, end: letter + 2 });
	});

	it("is read from the page across segments and turns", () => {
		document.body.innerHTML = `<div id="r"><p><span data-at="0">One two</span><span data-at="7"> three</span></p><p><span data-at="14">Four</span></p></div>`;
		const root = document.getElementById("r") as HTMLElement;
		const spans = root.querySelectorAll("span");
		const range = document.createRange();
		range.setStart(spans[0]?.firstChild as Node, 4);
		range.setEnd(spans[2]?.firstChild as Node, 4);
		window.getSelection()?.addRange(range);
		expect(selectedStretch(root, "One two three\nFour")).toEqual({ start: 4, end: 18 });
	});

	it("takes in the whole of the words it begins and ends in", () => {
		const words = wordsOf("Nobody’s boat, they said");
		expect(wholeWords(words, { start: 3, end: 11 })).toEqual({ start: 0, end: 13 });
		expect(wholeWords(words, { start: 0, end: 8 })).toEqual({ start: 0, end: 8 });
		expect(wholeWords(words, { start: 13, end: 16 })).toEqual({ start: 13, end: 19 });
		expect(wholeWords([], { start: 3, end: 5 })).toEqual({ start: 3, end: 5 });
	});

	it("moves by words and turns", () => {
		const text = "I waited there.\nNobody came.";
		const words = wordsOf(text);
		const turns = [
			{ start: 0, end: 16 },
			{ start: 16, end: 28 },
		];
		const first = moved(words, turns, null, "next");
		expect(first).toEqual({ start: 0, end: 1 });
		const second = moved(words, turns, first, "next");
		expect(second).toEqual({ start: 2, end: 8 });
		expect(moved(words, turns, second, "longer")).toEqual({ start: 2, end: 14 });
		expect(moved(words, turns, { start: 2, end: 14 }, "shorter")).toEqual({ start: 2, end: 8 });
		expect(moved(words, turns, second, "down")).toEqual({ start: 16, end: 22 });
		expect(moved(words, turns, { start: 16, end: 22 }, "up")).toEqual({ start: 0, end: 1 });
		expect(moved([], [], null, "next")).toBeNull();
	});
});
