import { expect, test } from "vitest";
import type { GuideQuestion } from "./data";
import { questionsOf } from "./lines";

const HELD = ["How often?", "Who decided?", "Would you leave?"].map((text, at) => ({ id: at + 1, text }) as GuideQuestion);
const ids = (typed: string) => questionsOf(typed, HELD).map((one) => one.id);

test("a line that is a question’s keeps it, wherever it stands", () => {
	expect(ids("Who decided?\n\n How  often?\nWould you leave?")).toEqual([2, 1, 3]);
});

test("the same line twice is one question", () => {
	expect(questionsOf("What helps?\n What  helps?\nHow often?", HELD).map((one) => one.text)).toEqual(["What helps?", "How often?"]);
});

test("a changed word changes the question at its place", () => {
	expect(ids("How often?\nWho decides?\nWould you leave?")).toEqual([1, 2, 3]);
});

test("new lines are new questions, and missing ones go", () => {
	expect(ids("How often?\nWho decided?\nWould you leave?\nWhat helps?")).toEqual([1, 2, 3, null]);
	expect(ids("What helps?\nHow often?\nWho decided?\nWould you leave?")).toEqual([null, 1, 2, 3]);
	expect(ids("Would you leave?")).toEqual([3]);
	// Which of two became which nobody knows.
	expect(ids("How often?\nWho rules?\nWhat helps?\nWould you leave?")).toEqual([1, null, null, 3]);
});
