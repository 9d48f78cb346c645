import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, it } from "vitest";
import type { Shape } from "../../api/client";
import { address, show, texts } from "../../tests/harness";
import { CODEBOOK, SESSION } from "../../tests/samples";
import { calls, serve } from "../../tests/server";
import { AnswersPage } from "./AnswersPage";

const answer = (document: number, text: string, more: Partial<Shape<"AnswerOut">> = {}): Shape<"AnswerOut"> => ({
	document,
	title: `H${document}`,
	start: 4,
	end: 4 + text.length,
	text,
	words: text.split(" ").length,
	case: document,
	identifier: `H${document}`,
	speaker: "",
	value: "",
	missing: null,
	codings: [],
	same: 0,
	alike: document,
	offered: [],
	...more,
});
const ANSWERS = [
	answer(1, "A bus that waits", { codings: [{ id: 71, code: 2, coder: 1, initials: "R", start: 4, end: 20 }], same: 1, alike: 1 }),
	answer(2, "a bus that waits!", { same: 1, alike: 1, offered: [2] }),
	answer(3, "Lower fares"),
];

beforeEach(() =>
	serve({
		"GET /session": SESSION,
		"GET /codebook": CODEBOOK,
		"GET /roster": { variables: [], cases: [], columns: [] },
		"GET /answers": [
			{ question: "What would help?", answers: 3, coded: 1 },
			{ question: "What is hardest?", answers: 2, coded: 0 },
		],
		"POST /answers": { question: "What would help?", answers: ANSWERS },
		"PUT /find": { count: 2 },
		"DELETE /codings/71": {},
	}),
);

const open = async () => {
	const shown = show(<AnswersPage />, { at: "/projects/7/code/answers" });
	await screen.findByText("Lower fares");
	return { ...shown, list: screen.getByRole("group", { name: /^Answers\./ }) };
};

it("shows every answer with its codes, and offers those of the same answer", async () => {
	const { user, list } = await open();
	expect(texts(list.querySelectorAll("li p"))).toEqual(["A bus that waits", "a bus that waits!", "Lower fares"]);
	expect(screen.getByText("3 answers, 1 coded")).toBeTruthy();
	await user.click(await within(list).findByRole("button", { name: "+ Missed boats" }));
	const sent = { hits: [{ document: 2, start: 4, end: 21 }], extent: "hit", codes: [2], new_codes: [] };
	await waitFor(() => expect(calls("PUT /find")).toEqual([sent]));
	await user.click(within(list).getByRole("button", { name: "Take Missed boats off H1’s answer" }));
	await waitFor(() => expect(calls("DELETE /codings/71")).toHaveLength(1));
});

it("is coded by keyboard alone: one answer, many ticked, the same as another’s", async () => {
	const { user, list } = await open();
	list.focus();
	await user.keyboard("{ArrowDown}{ArrowDown}home{Enter}");
	await waitFor(() => expect(calls("PUT /find")).toHaveLength(1));
	expect(calls("PUT /find")[0]).toMatchObject({ hits: [{ document: 3 }], codes: [4] });
	expect(document.activeElement).toBe(list);
	await user.keyboard("{Shift>}{ArrowUp}{/Shift}");
	expect(screen.getByText("2 answers ticked")).toBeTruthy();
	await user.keyboard("1");
	await waitFor(() => expect(calls("PUT /find")).toHaveLength(2));
	expect(calls("PUT /find")[1]).toMatchObject({ hits: [{ document: 2 }, { document: 3 }], codes: [3] });
	await user.keyboard("+");
	await waitFor(() => expect(calls("PUT /find")).toHaveLength(3));
	expect(calls("PUT /find")[2]).toMatchObject({ hits: [{ document: 2 }], codes: [2] });
	await user.keyboard("?");
	expect(await screen.findByRole("dialog", { name: "Keys on the answers sheet" })).toBeTruthy();
});

it("gives the keys to the line after ticking by mouse, and ticks all that say the same", async () => {
	const { user, list } = await open();
	await user.click(screen.getByRole("checkbox", { name: "Tick H3’s answer" }));
	await user.keyboard("home{Enter}");
	await waitFor(() => expect(calls("PUT /find")).toHaveLength(1));
	expect(calls("PUT /find")[0]).toMatchObject({ hits: [{ document: 3 }], codes: [4] });
	await user.click(within(list).getAllByRole("button", { name: "Tick all 2" })[0] as HTMLElement);
	expect(screen.getByText("2 answers ticked")).toBeTruthy();
	await user.keyboard("home{Enter}");
	await waitFor(() => expect(calls("PUT /find")).toHaveLength(2));
	expect(calls("PUT /find")[1]).toMatchObject({ hits: [{ document: 1 }, { document: 2 }] });
});

it("keeps question and filter in the address", async () => {
	const { user } = await open();
	await user.click(screen.getByRole("checkbox", { name: "only those without a code" }));
	expect(screen.queryByText("A bus that waits")).toBeNull();
	expect(address()).toContain("show=uncoded");
});

it("shows only answers with the words typed, and ticks and codes no others", async () => {
	const { user, list } = await open();
	await user.type(screen.getByRole("searchbox", { name: "Only answers with these words" }), "waits bus");
	expect(texts(list.querySelectorAll("li p"))).toEqual(["A bus that waits", "a bus that waits!"]);
	expect(screen.getByText("2 of 3 shown")).toBeTruthy();
	await user.type(screen.getByRole("searchbox", { name: "Only answers with these words" }), " boat");
	expect(await screen.findByText("No answer here has all these words.")).toBeTruthy();
	await waitFor(() => expect(address()).toContain("words=waits+bus+boat"));
});
