import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { DigestBox } from "../evidence/DigestBox";
import { Passage } from "../evidence/Passage";
import { address, show, texts } from "../tests/harness";
import { COMPARISON, ROSTER } from "../tests/samples";
import { calls, nowServe, serve } from "../tests/server";
import { DigestsPage } from "./DigestsPage";
import { ExhibitsPage } from "./ExhibitsPage";
import { stepped, wordsIn } from "./trim";

const QUOTE = {
	id: 91,
	document: 5,
	title: "P10 pier",
	turn: 4,
	speaker: "P10",
	before: "",
	text: "So the boat had gone again",
	after: "",
	region: null,
	span: null,
	picture: "",
};
const piece = (id: number, shown: string, more = {}) => ({
	id,
	caption: "",
	cut_start: 0,
	cut_end: 0,
	shown,
	passage: { ...QUOTE, id: 90 + id },
	people: [{ case: 21, identifier: "P10", facts: [{ variable: "Island", text: "Holm", missing: null }] }],
	...more,
});
const VOICES = { id: 3, name: "Voices", audience: "the council", question: null, author: "Rana", size: 2 };
const DIGEST = {
	id: 1,
	case: 21,
	identifier: "P1",
	code: 2,
	theme: null,
	text: "Late, and resigned to it",
	author: "Rana",
	changed_at: "",
};

beforeEach(() =>
	serve({
		"GET /exhibits": [VOICES],
		"GET /exhibits/3": { ...VOICES, pieces: [piece(1, "So the boat had gone again"), piece(2, "I waited")] },
		"POST /exhibits": { count: 4 },
		"POST /exhibits/3/pieces": { count: 1 },
		"PATCH /exhibits/3": {},
		"DELETE /exhibits/3": {},
		"PATCH /exhibits/3/pieces/1": {},
		"DELETE /exhibits/3/pieces/2": {},
		"GET /themes": { questions: [{ id: 7, text: "Who carries the cost?" }], themes: [{ id: 5, name: "Tied to the clock", codes: [2] }] },
		"GET /digests": [DIGEST],
		"PUT /digests": {},
		"GET /roster": ROSTER,
		"POST /compare": COMPARISON,
		"POST /compare/evidence": {
			people: 1,
			passages: 1,
			more: 0,
			silent: [],
			persons: [{ case: 21, identifier: "P1", facts: [], total: 1, passages: [QUOTE] }],
		},
	}),
);

describe("exhibits", () => {
	const at = { at: "/projects/7/report", path: "/projects/:projectId/report" };

	it("show pieces in order, each captioned, trimmed, moved and taken out", async () => {
		const { user } = show(<ExhibitsPage />, at);
		await screen.findByLabelText("Caption of passage 2");
		const [first, second] = screen.getAllByRole("listitem").slice(1);
		expect(texts([first as Element])[0]).toContain("P10 · Holm · P10 pier");
		await user.type(within(first as HTMLElement).getByLabelText("Caption of passage 1"), "On being late{Enter}");
		expect(calls("PATCH /exhibits/3/pieces/1")).toEqual([{ caption: "On being late" }]);
		await user.click(within(first as HTMLElement).getByRole("button", { name: "A word less at the start" }));
		expect(calls("PATCH /exhibits/3/pieces/1").at(-1)).toEqual({ cut_start: 3, cut_end: 0 });
		await user.click(screen.getByRole("button", { name: "Passage 2 one place up" }));
		expect(calls("PATCH /exhibits/3")).toEqual([{ pieces: [2, 1] }]);
		await user.click(within(second as HTMLElement).getByRole("button", { name: "Take passage 2 out" }));
		expect(calls("DELETE /exhibits/3/pieces/2").length).toBe(1);
	});

	it("are named, tied to a question, and deleted", async () => {
		const { user } = show(<ExhibitsPage />, at);
		const name = await screen.findByLabelText("Name of the exhibit");
		await user.clear(name);
		await user.type(name, "Voices of the pier{Enter}");
		expect(calls("PATCH /exhibits/3")[0]).toEqual({ name: "Voices of the pier" });
		await user.click(screen.getByRole("button", { name: "Research question: no question" }));
		await user.click(await screen.findByRole("option", { name: "Who carries the cost?" }));
		expect(calls("PATCH /exhibits/3").at(-1)).toEqual({ question: 7 });
		await user.click(screen.getByRole("button", { name: "Delete" }));
		expect(await screen.findByText("“Voices” is deleted. Ctrl Z brings it back.")).toBeTruthy();
	});

	it("invite where there are none", async () => {
		nowServe("GET /exhibits", []);
		show(<ExhibitsPage />, at);
		expect(await screen.findByText("No exhibit yet")).toBeTruthy();
	});

	it("take in a passage wherever it is read, or begin with it", async () => {
		const { user } = show(<Passage passage={QUOTE} />);
		await user.click(screen.getByRole("button", { name: "Exhibit" }));
		await user.click(await screen.findByRole("menuitem", { name: "Voices 2" }));
		expect(await screen.findByText("1 passage put into “Voices”.")).toBeTruthy();
		expect(calls("POST /exhibits/3/pieces")).toEqual([{ passages: [91] }]);
		await user.click(screen.getByRole("button", { name: "Exhibit" }));
		await user.click(await screen.findByRole("menuitem", { name: "A new exhibit …" }));
		await user.type(await screen.findByLabelText("Name of the exhibit"), "Waiting{Enter}");
		await waitFor(() => expect(calls("POST /exhibits")).toEqual([{ name: "Waiting", audience: "", passages: [91] }]));
	});
});

describe("trimming", () => {
	it("goes by words and in code points, and always leaves one", () => {
		const text = "🚢 late again";
		expect(wordsIn(text)).toEqual([
			[0, 1],
			[2, 6],
			[7, 12],
		]);
		const once = stepped(text, { cut_start: 0, cut_end: 0 }, "start", 1);
		expect(once).toEqual({ cut_start: 2, cut_end: 0 });
		const twice = stepped(text, once, "end", 1);
		expect(twice).toEqual({ cut_start: 2, cut_end: 6 });
		expect(stepped(text, twice, "end", 1)).toBe(twice);
		expect(stepped(text, twice, "start", -1)).toEqual({ cut_start: 0, cut_end: 6 });
		expect(stepped(text, { cut_start: 0, cut_end: 0 }, "end", -1)).toEqual({ cut_start: 0, cut_end: 0 });
	});
});

describe("digests", () => {
	it("are written beside a person’s passages, changed and taken away", async () => {
		const { user } = show(<DigestBox person={21} identifier="P1" of={{ code: 2 }} />);
		await user.click(await screen.findByRole("button", { name: "Change the digest of P1" }));
		const box = screen.getByLabelText("Digest of P1");
		expect((box as HTMLTextAreaElement).value).toBe("Late, and resigned to it");
		await user.clear(box);
		await user.click(screen.getByRole("button", { name: "Keep" }));
		expect(await screen.findByText(/taken away. Ctrl Z brings it back/)).toBeTruthy();
		expect(calls("PUT /digests")).toEqual([{ case: 21, text: "", code: 2 }]);
	});

	it("stand in a grid of people and themes, the passages beside the writing", async () => {
		const { user } = show(<DigestsPage />, { at: "/projects/7/report/digests" });
		const cell = (await screen.findAllByRole("button", { name: /, Tied to the clock: no digest, / }))[0] as HTMLElement;
		await user.click(cell);
		const beside = await screen.findByRole("complementary", { name: "Digest" });
		expect(await within(beside).findByText("So the boat had gone again")).toBeTruthy();
		expect(calls("POST /compare").at(-1)).toMatchObject({ columns: "cases", themes: [5], measure: "passages" });
		await user.click(within(beside).getByRole("button", { name: /^Write a digest of/ }));
		await user.type(within(beside).getByRole("textbox"), "Tied to it");
		await user.click(within(beside).getByRole("button", { name: "Keep" }));
		expect(calls("PUT /digests")[0]).toMatchObject({ text: "Tied to it", theme: 5 });
		expect(address()).toContain("open=");
	});
});
