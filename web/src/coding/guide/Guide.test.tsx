import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, Refused, serve } from "../../tests/server";
import { GuidePage } from "./GuidePage";

const QUESTIONS = [
	{ id: 1, text: "How often?", codes: [], turns: 2, documents: 2 },
	{ id: 2, text: "Who decided?", codes: [CODEBOOK.codes[0]?.id ?? 0], turns: 1, documents: 1 },
];
const GUIDE = { questions: QUESTIONS, turns: 9, unmatched: 6 };
const turn = (id: number, text: string) => ({ id, number: id, document: 5, title: "Pier", start: 40, text, by_hand: id === 2 });
const cell = (asked: number, mention: number, own: number) => ({ asked, asked_mention: mention, when_asked: mention, own_accord: own });
const WHO = {
	groups: [
		{ name: "Holm", mark: 0, people: 11 },
		{ name: "Ytter", mark: 1, people: 9 },
	],
	rows: [
		{ question: 1, text: "How often?", codes: [], cells: [cell(4, 0, 0), cell(0, 0, 0)] },
		{ question: 2, text: "Who decided?", codes: [2], cells: [cell(3, 2, 1), cell(0, 0, 5)] },
	],
	people: 21,
	not_interviewed: 54,
	left_out: 1,
	within: 4,
};

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /guide": GUIDE,
		"GET /guide/turns": [turn(1, "So how often?"), turn(2, "And then?")],
		"GET /guide/questions/1/perhaps": [turn(7, "And how often is that?")],
		"GET /guide/questions/2/perhaps": [],
		"POST /guide/who": WHO,
		"POST /guide/match": { count: 3 },
		"POST /guide/turns": { count: 1 },
		"PUT /guide": GUIDE,
		"PATCH /guide/questions/2": {},
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
	}),
);

async function guide(at = "/projects/7/code/guide") {
	const shown = show(<GuidePage />, { at });
	await screen.findByText("3 of 9 turns of interviewers ask a question of the guide.");
	return shown;
}

describe("the interview guide", () => {
	it("leads on to a comparison of those asked, and says why the table may not leave", async () => {
		const { user } = await guide();
		const by = ROSTER.variables.find((one) => ["category", "ordered", "yes_no"].includes(one.kind))?.id;
		expect((await screen.findByRole("link", { name: "Compare those who were asked" })).getAttribute("href")).toBe(
			`/projects/7/compare?variable=${by}&base=asked`,
		);
		nowServe("POST /guide/who/file", new Refused("Small groups could be worked out of it."));
		await user.click(screen.getByRole("button", { name: "Take it out as .csv" }));
		expect(await screen.findByText("Small groups could be worked out of it.")).toBeTruthy();
		expect(calls("POST /guide/who/file")[0]).toMatchObject({ variable: by, within: 4, format: "csv" });
	});

	it("says who was asked what by group, who mentions it, and who does of their own accord", async () => {
		await guide();
		const row = (await screen.findByRole("rowheader", { name: /^Who decided\?/ })).closest("tr") as HTMLElement;
		expect(await within(row).findByText("3 of 11 asked")).toBeTruthy();
		expect(within(row).getByText("2 of these mention it")).toBeTruthy();
		expect(within(row).getByText("5 of all 9 of their own accord")).toBeTruthy();
		expect(within(row).getByText("0 of 9 asked").className).toContain("apricot");
		expect(screen.getByText(/54 people talk with no interviewer/)).toBeTruthy();
		expect(screen.getByText(/1 of 21 people are in no group/)).toBeTruthy();
	});

	it("shows the turns of one question, and several are put right at once", async () => {
		const { user } = await guide();
		await user.click(screen.getByRole("button", { name: "How often?" }));
		expect(address()).toContain("question=1");
		const turns = await screen.findByRole("region", { name: "Turns" });
		expect(await within(turns).findByText(/said by hand/)).toBeTruthy();
		expect(within(turns).queryByText(/^The first/)).toBeNull();
		expect(within(turns).getAllByRole("link", { name: "Pier" })[0]?.getAttribute("href")).toBe("/projects/7/code/5?at=40");
		await user.click(within(turns).getByRole("checkbox", { name: "All 2" }));
		await user.click(within(turns).getByRole("button", { name: /^What the 2 turns ticked asks/ }));
		await user.click(screen.getByRole("option", { name: "nothing of the guide" }));
		expect(calls("POST /guide/turns")).toEqual([{ turns: [1, 2], question: null }]);
	});

	it("offers turns that may ask it too, and takes one that is read", async () => {
		const { user } = await guide("/projects/7/code/guide?question=1");
		const perhaps = await screen.findByRole("region", { name: "Perhaps these too" });
		await user.click(within(perhaps).getByRole("button", { name: "It asks this: And how often is that?" }));
		expect(calls("POST /guide/turns")).toEqual([{ turns: [7], question: 1 }]);
	});

	it("ties codes to a question and takes them away", async () => {
		const { user } = await guide();
		const field = screen.getByRole("combobox", { name: "A code that “Who decided?” asks about" });
		await user.click(field);
		await user.click(await screen.findByRole("option", { name: CODEBOOK.codes[1]?.name ?? "" }));
		await user.click(screen.getByRole("button", { name: /^“Who decided\?” doesn’t ask about/ }));
		expect(calls("PATCH /guide/questions/2")).toEqual([{ codes: [CODEBOOK.codes[0]?.id, CODEBOOK.codes[1]?.id] }, { codes: [] }]);
	});

	it("matches the turns in a language", async () => {
		const { user } = await guide();
		await user.click(screen.getByRole("button", { name: /^Language of the questions/ }));
		await user.click(screen.getByRole("option", { name: "German" }));
		await user.click(screen.getByRole("button", { name: "Match the turns" }));
		expect(calls("POST /guide/match")).toEqual([{ language: "german" }]);
		expect(await screen.findByText(/3 turns ask a question of the guide/)).toBeTruthy();
	});

	it("is changed line by line, says what goes, and takes the questions of a file", async () => {
		nowServe("POST /guide/file", { questions: ["Why?"] });
		const { user } = await guide();
		await user.click(screen.getByRole("button", { name: "Change the questions …" }));
		const dialog = await screen.findByRole("dialog", { name: "The questions of the guide" });
		const field = within(dialog).getByRole("textbox", { name: "Questions, a line each" });
		await user.clear(field);
		await user.type(field, "How often?");
		expect(within(dialog).getByText(/One question goes, with what it is tied to: “Who decided\?”/)).toBeTruthy();
		await user.upload(within(dialog).getByLabelText("The guide’s file"), new File(["x"], "guide.docx"));
		await waitFor(() => expect((field as HTMLTextAreaElement).value).toBe("How often?\nWhy?"));
		await user.click(within(dialog).getByRole("button", { name: "Keep 2 questions" }));
		expect(calls("PUT /guide")).toEqual([
			{
				questions: [
					{ id: 1, text: "How often?" },
					{ id: 2, text: "Why?" },
				],
			},
		]);
	});

	it("says what is wrong with a file", async () => {
		nowServe("POST /guide/file", new Refused("No question was found in this file."));
		const { user } = await guide();
		await user.click(screen.getByRole("button", { name: "Change the questions …" }));
		const dialog = await screen.findByRole("dialog");
		await user.upload(within(dialog).getByLabelText("The guide’s file"), new File(["x"], "guide.docx"));
		expect((await within(dialog).findByRole("alert")).textContent).toBe("No question was found in this file.");
	});

	it("says what it is for where there is none yet", async () => {
		nowServe("GET /guide", { questions: [], turns: 9, unmatched: 9 });
		const { user } = show(<GuidePage />, { at: "/projects/7/code/guide" });
		expect(await screen.findByText(/were they asked\?/)).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Write the questions …" }));
		expect(await screen.findByRole("dialog", { name: "The questions of the guide" })).toBeTruthy();
	});
});
