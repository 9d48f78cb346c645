import { createEvent, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show, texts } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, Refused, serve } from "../../tests/server";
import { Desk } from "./Desk";

const TEXT = "Interviewer: So?\nP10: The boat was late 🚢 again. I waited.\n";
const cut = TEXT.indexOf("P10:");
/** Positions on the wire count code points: the ship is one of them and two of the browser's units. */
const points = (units: number) => [...TEXT.slice(0, units)].length;
const DOCUMENT = {
	id: 5,
	title: "Pier",
	kind: "transcript",
	seconds: null,
	sections: [],
	media: [],
	pages: 0,
	text: TEXT,
	words: 9,
	speakers: [
		{ id: 1, label: "Interviewer", role: "interviewer", case: null, case_name: null },
		{ id: 2, label: "P10", role: "participant", case: 21, case_name: "P10" },
	],
	turns: [
		{ number: 1, start: 0, end: points(cut), speaker: 1, words: 1, time: "", begin: null, finish: null },
		{ number: 2, start: points(cut), end: points(TEXT.length), speaker: 2, words: 8, time: "00:04", begin: null, finish: null },
	],
	passages: [
		{
			id: 91,
			start: points(TEXT.indexOf("The boat")),
			end: points(TEXT.indexOf(" I waited")),
			codings: [{ id: 301, code: 2, coder: 1, initials: "R", coder_name: "Rana", rating: null, by_words: false }],
			memos: [{ id: 401, text: "Which boat?", kind: "analytic", author: "Rana", source: "Kim" }],
		},
	],
};

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /documents": [
			{ id: 5, title: "Pier", passages: 1 },
			{ id: 6, title: "Quay in spring", passages: 0 },
		],
		"GET /documents/5": DOCUMENT,
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"POST /documents/5/passages": DOCUMENT.passages[0],
		"DELETE /codings/301": {},
		"PATCH /codings/301": {},
		"PATCH /passages/91": DOCUMENT.passages,
		"POST /memos": { count: 1 },
		"GET /themes": { questions: [], themes: [] },
		"POST /codebook": {},
		"PATCH /codes/2": {},
		"PATCH /codes/3": {},
		"PATCH /codes/4": {},
		"DELETE /codes/4": {},
		"PUT /pins/2": {},
	}),
);

async function desk(project = {}) {
	const shown = show(<Desk />, { at: "/projects/7/code/5", path: "/projects/7/code/:documentId", project });
	const text = await screen.findByRole("group", { name: /^Text of Pier/ });
	await screen.findByRole("complementary", { name: "Codebook" });
	return { ...shown, text };
}
const lastPut = () => calls("POST /documents/5/passages").at(-1);

describe("the text", () => {
	it("shows turns with their speakers, and passages in the words, emoji or not", async () => {
		const { text } = await desk();
		expect(texts(text.querySelectorAll(".coded"))).toEqual(["The boat was late 🚢 again."]);
		expect(text.querySelector(".quieter")?.textContent).toContain("So?");
		expect(screen.getByTitle("9 words, 8 by participants · 1 passage").textContent).toBe("1 passage8 words");
	});

	it("leaves out what is out of scope, says how much, and shows it when asked", async () => {
		nowServe("POST /compare/scopes/count", { play_cases: [22], play_documents: [6], emptied_by: "" });
		nowServe("POST /compare/scopes/passages/5", { passages: [] });
		nowServe("POST /codebook/counts", []);
		const { user } = show(<Desk />, { at: "/projects/7/code/5?cases=22", path: "/projects/7/code/:documentId" });
		expect(await screen.findByText("not in scope")).toBeTruthy();
		expect(await screen.findByText("0 of 1 passage")).toBeTruthy();
		expect(screen.queryByRole("button", { name: /^Missed boats on/ })).toBeNull();
		await user.click(screen.getByRole("button", { name: "show all" }));
		expect(await screen.findByRole("button", { name: /^Missed boats on/ })).toBeTruthy();
		expect(address()).toContain("all=1");
		expect(calls("POST /compare/scopes/passages/5")).toEqual([{ cases: [22] }]);
	});

	it("tells what is known of a person beside their words", async () => {
		const { text } = await desk();
		await waitFor(() => expect(text.querySelector("[title*='Island: Holm']")).toBeTruthy());
	});
});

describe("coding by keyboard", () => {
	it("selects a turn, finds a code by part of its definition, and sends code points", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "without them");
		expect(screen.getByRole("option", { selected: true }).textContent).toContain("Missed boats");
		await user.keyboard("{Enter}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [2], new_codes: [], start: points(cut), end: points(TEXT.length - 1) }));
	});

	it("chooses words by arrows and puts a pinned code on by its number", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("{ArrowRight}{Shift>}{ArrowRight}{/Shift}1");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [3] }));
	});

	it("makes a new code in place where none is called that", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "Ice on the quay{Enter}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [], new_codes: [{ name: "Ice on the quay", parent: null }] }));
	});

	it("takes a new name with Tab and goes on with another: two names are two codes", async () => {
		const { user } = await desk();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "Ice on the quay{Tab}Nobody told us{Tab}home{Enter}");
		const made = ["Ice on the quay", "Nobody told us"].map((name) => ({ name, parent: null }));
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [4], new_codes: made }));
	});

	it("puts the code that is called so, where one would make it anew", async () => {
		const { user } = await desk();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "home{Shift>}{Enter}{/Shift}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [4], new_codes: [] }));
	});

	it("makes a name that was taken already only once", async () => {
		const { user } = await desk();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "Ice{Tab}ice{Tab}{Enter}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [], new_codes: [{ name: "Ice", parent: null }] }));
	});

	it("has the keys at once, and goes to any document by part of its name", async () => {
		const { user, text } = await desk();
		expect(document.activeElement).toBe(text);
		await user.click(screen.getByRole("combobox", { name: "Document" }));
		expect(texts(screen.getAllByRole("option"))).toEqual(["Pier1 passage", "Quay in spring0 passages"]);
		await user.keyboard("spring{Enter}");
		await waitFor(() => expect(address()).toContain("/code/6"));
	});

	it("puts several on at once", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "wait{Tab}home{Enter}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [3, 4] }));
	});

	it("offers codes proposed for the document and the speaker, and puts them only when they are taken", async () => {
		const proposed = [
			{ code: 4, speaker: null },
			{ code: 2, speaker: 2 },
			{ code: 1, speaker: 1 },
		];
		nowServe("GET /documents/5", { ...DOCUMENT, proposed });
		nowServe("PUT /documents/5/proposed", {});
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T1");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [3] }));
		await user.keyboard("T+");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "wait{Enter}");
		await waitFor(() => expect(lastPut()).toMatchObject({ codes: [4, 2, 3] }));
		await user.click(screen.getByRole("button", { name: "Codes proposed for new passages" }));
		await user.click(screen.getByRole("button", { name: "Don’t propose Missed boats for P10" }));
		await waitFor(() => expect(calls("PUT /documents/5/proposed")).toEqual([{ speaker: 2, codes: [] }]));
	});

	it("gives a code the words in hand as its example", async () => {
		const { user } = await desk();
		await user.click(await screen.findByRole("button", { name: /^Missed boats on/ }));
		await user.click(screen.getByRole("button", { name: "Take as its example" }));
		await waitFor(() => expect(calls("PATCH /codes/2")).toEqual([{ example: "“The boat was late 🚢 again.” P10" }]));
	});

	it("takes their own words as a name", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T'");
		await waitFor(() =>
			expect(lastPut()).toMatchObject({ new_codes: [{ name: "P10: The boat was late 🚢 again. I waited.", parent: null }] }),
		);
	});

	it("shows a code at once and takes it off again when it can’t be saved", async () => {
		nowServe("POST /documents/5/passages", new Refused("This code has been deleted meanwhile.", 409));
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("T1");
		expect((await screen.findByRole("alert")).textContent).toContain("This code has been deleted meanwhile.");
		await waitFor(() => expect(texts(text.querySelectorAll(".coded"))).toEqual(["The boat was late 🚢 again."]));
	});

	it("says the language of each turn, where it can be told, else that of the whole", async () => {
		const said = [
			"And they were there with us for the boat that was late.\n",
			"Und das ist nicht mit dem Boot, aber wir haben es auch.\n",
			"Mm.\n",
		];
		const starts = [0, said[0]?.length ?? 0, (said[0]?.length ?? 0) + (said[1]?.length ?? 0)];
		nowServe("GET /documents/5", {
			...DOCUMENT,
			text: said.join(""),
			length: said.join("").length,
			passages: [],
			turns: said.map((words, at) => ({
				...DOCUMENT.turns[0],
				number: at + 1,
				start: starts[at],
				end: (starts[at] ?? 0) + words.length,
			})),
		});
		const { text } = await desk();
		const languages = [...text.querySelectorAll(".reading")].map((one) => one.getAttribute("lang"));
		expect(languages.slice(0, 2)).toEqual(["en", "de"]);
		expect(languages).toHaveLength(3);
	});

	it("lists its keys", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("?");
		expect(await screen.findByRole("dialog")).toBeTruthy();
	});

	it("does nothing by single keys once they are turned off, and again when they are on", async () => {
		const { user, text } = await desk();
		await user.keyboard("?");
		const box = await screen.findByRole("checkbox", { name: /^Single letters/ });
		expect(document.activeElement).toBe(box);
		await user.click(box);
		await user.keyboard("{Escape}");
		await waitFor(() => expect(document.activeElement).toBe(text));
		await user.keyboard("T?");
		expect(text.querySelector(".selected-words")).toBeNull();
		expect(screen.queryByRole("dialog")).toBeNull();
		await user.keyboard("{ArrowRight}1");
		expect(text.querySelector(".selected-words")).toBeTruthy();
		expect(calls("POST /documents/5/passages")).toHaveLength(0);
		await user.click(screen.getByRole("button", { name: /^Keys/ }));
		await user.click(await screen.findByRole("checkbox", { name: /^Single letters/ }));
		await user.keyboard("{Escape}");
		text.focus();
		await user.keyboard("{Escape}T");
		expect(texts(text.querySelectorAll(".selected-words")).join("")).toContain("So?");
	});

	it("lets a single key be another, unless it would do two things, and shows the new one", async () => {
		const { user, text } = await desk();
		await user.keyboard("?");
		await user.click(await screen.findByRole("button", { name: "T: change this key" }));
		const field = screen.getByRole("textbox", { name: "The new key for “Choose the whole turn”" });
		expect(document.activeElement).toBe(field);
		await user.keyboard("u");
		expect(screen.getByRole("alert").textContent).toBe(
			"U does something else already: “Go to the next turn without a code”. Change that first.",
		);
		await user.keyboard("3");
		expect(screen.getByRole("alert").textContent).toBe("1 to 9 put pinned codes on: choose another.");
		await user.keyboard("w");
		expect(document.activeElement).toBe(screen.getByRole("button", { name: "W: change this key" }));
		// Whoever goes elsewhere meanwhile isn’t called back.
		await user.click(screen.getByRole("button", { name: "U: change this key" }));
		await user.click(screen.getByRole("button", { name: "C: change this key" }));
		expect(document.activeElement).toBe(screen.getByRole("textbox", { name: "The new key for “Go to the next passage of the same code”" }));
		await user.keyboard("{Escape}");
		expect(document.activeElement).toBe(screen.getByRole("button", { name: "C: change this key" }));
		await user.click(screen.getByRole("button", { name: "=: change this key" }));
		await user.keyboard("x");
		expect(screen.getByRole("alert").textContent).toBe("Letters and digits are typed to find a code: choose a sign.");
		await user.keyboard("#");
		await user.keyboard("{Escape}");
		await waitFor(() => expect(document.activeElement).toBe(text));
		expect(screen.getByRole("button", { name: "Whole turn W" })).toBeTruthy();
		await user.keyboard("t");
		expect(text.querySelector(".selected-words")).toBeNull();
		await user.keyboard("w");
		expect(text.querySelector(".selected-words")).toBeTruthy();
		await user.keyboard("{Enter}");
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "wait{Enter}");
		text.focus();
		await user.keyboard("w#");
		await waitFor(() => expect(calls("POST /documents/5/passages").map((call) => (call as { codes: number[] }).codes)).toEqual([[3], [3]]));
		await user.click(screen.getByRole("button", { name: /^Keys/ }));
		await user.click(await screen.findByRole("button", { name: "All as they were" }));
		expect(screen.getByRole("button", { name: "T: change this key" })).toBeTruthy();
		await user.keyboard("{Escape}");
	});

	it("takes letters with Alt while words are chosen, and types them without", async () => {
		const { user, text } = await desk();
		await user.keyboard("t");
		const first = texts(text.querySelectorAll(".selected-words")).join("");
		await user.keyboard("{Alt>}s{/Alt}");
		expect(texts(text.querySelectorAll(".selected-words")).join("")).not.toBe("");
		expect(document.activeElement).toBe(text);
		expect(first).not.toBe("");
		await user.keyboard("T");
		expect((screen.getByRole("combobox", { name: "Coding line" }) as HTMLInputElement).value).toBe("T");
	});

	it("has no coding line for a viewer", async () => {
		await desk({ role: "viewer" });
		expect(screen.queryByRole("combobox", { name: "Coding line" })).toBeNull();
		expect(screen.queryByRole("button", { name: "Take Missed boats off" })).toBeNull();
	});
});

describe("a card in the margin", () => {
	it("names its code and coder, and takes the code off", async () => {
		const { user } = await desk();
		const card = await screen.findByRole("button", { name: "Missed boats on “The boat was late 🚢 again.”" });
		expect(card.parentElement?.textContent).toContain("R");
		await user.click(screen.getByRole("button", { name: "Take Missed boats off" }));
		await waitFor(() => expect(calls("DELETE /codings/301").length).toBe(1));
	});
});

describe("the codebook beside the text", () => {
	const book = () => screen.getByRole("complementary", { name: "Codebook" });

	it("counts a branch with what lies beneath, and folds", async () => {
		const { user } = await desk();
		expect(within(book()).getByTitle("5 passages in this branch, each once").textContent).toBe("5");
		await user.click(screen.getByRole("button", { name: "Fold Crossing" }));
		expect(within(book()).queryByText("Waiting")).toBeNull();
	});

	it("finds by definition, and adds what isn’t there", async () => {
		const { user } = await desk();
		const find = screen.getByRole("textbox", { name: "Find in the codebook" });
		await user.type(find, "left without");
		expect(within(book()).getByText("Missed boats")).toBeTruthy();
		expect(within(book()).queryByText("Home")).toBeNull();
		await user.clear(find);
		await user.type(find, "Fog{Enter}");
		await waitFor(() => expect(calls("POST /codebook")).toEqual([{ name: "Fog", parent: null }]));
	});

	it("nests a code that is dragged onto another", async () => {
		await desk();
		const data = { types: ["application/x-code"], getData: () => "4", setData: () => undefined };
		const target = within(book()).getByRole("button", { name: /^Missed boats/ });
		fireEvent.drop(target, { dataTransfer: data });
		await waitFor(() => expect(calls("PATCH /codes/4")).toEqual([{ parent: 2 }]));
	});

	it("orders a code that is dragged onto another’s upper edge, and by key on its card", async () => {
		const { user } = await desk();
		const data = { types: ["application/x-code"], getData: () => "4", setData: () => undefined };
		const target = within(book()).getByRole("button", { name: /^Waiting/ });
		const row = target.parentElement?.parentElement as HTMLElement;
		row.getBoundingClientRect = () => ({ top: 100, height: 20 }) as DOMRect;
		const drop = createEvent.drop(target, { dataTransfer: data });
		// The page’s own event has a place; the test’s has none.
		Object.defineProperty(drop, "clientY", { value: 102 });
		fireEvent(target, drop);
		await waitFor(() => expect(calls("PATCH /codes/4")).toEqual([{ parent: 1, before: 3 }]));
		await user.click(target);
		const card = screen.getByRole("region", { name: "Code Waiting" });
		expect(within(card).getByRole<HTMLButtonElement>("button", { name: "One place down" }).disabled).toBe(true);
		await user.click(within(card).getByRole("button", { name: "One place up" }));
		await waitFor(() => expect(calls("PATCH /codes/3")).toEqual([{ parent: 1, before: 2 }]));
	});

	it("saves a definition when it is left, pins, recolours and deletes", async () => {
		const { user } = await desk();
		await user.click(within(book()).getByRole("button", { name: /^Home/ }));
		const card = screen.getByRole("region", { name: "Code Home" });
		await user.type(within(card).getByLabelText("What it means"), "Where one lives");
		await user.tab();
		await waitFor(() => expect(calls("PATCH /codes/4")).toEqual([{ definition: "Where one lives" }]));
		await user.click(within(card).getByRole("button", { name: "Colour 9" }));
		await waitFor(() => expect(calls("PATCH /codes/4").at(-1)).toEqual({ colour: 8 }));
		await user.click(within(card).getByRole("button", { name: "Key: not pinned" }));
		await user.click(await screen.findByRole("option", { name: "key 2" }));
		await waitFor(() => expect(calls("PUT /pins/2")).toEqual([{ code: 4 }]));
		await user.click(within(card).getByRole("button", { name: "Delete" }));
		await waitFor(() => expect(calls("DELETE /codes/4").length).toBe(1));
	});

	it("offers no place beneath itself", async () => {
		const { user } = await desk();
		await user.click(within(book()).getByRole("button", { name: /^Crossing/ }));
		await user.click(screen.getByRole("button", { name: "Beneath: At the top" }));
		expect(texts(await screen.findAllByRole("option"))).toEqual(["At the top", "Home"]);
	});
});

describe("the passage in hand", () => {
	const take = async () => {
		const shown = await desk();
		await shown.user.click(await screen.findByRole("button", { name: /^Missed boats on “The boat/ }));
		shown.text.focus();
		return shown;
	};

	it("has its ends moved by clicks alone", async () => {
		const { user } = await take();
		await user.click(screen.getByRole("button", { name: "Move the end of the passage in hand a word on" }));
		const start = points(TEXT.indexOf("The boat"));
		await waitFor(() => expect(calls("PATCH /passages/91")).toEqual([{ start, end: points(TEXT.indexOf(" waited")) }]));
		await user.click(screen.getByRole("button", { name: "Move its beginning a word on" }));
		await waitFor(() =>
			expect(calls("PATCH /passages/91").at(-1)).toEqual({ start: points(TEXT.indexOf("boat")), end: points(TEXT.indexOf(" I waited")) }),
		);
	});

	it("is said aloud as it is chosen", async () => {
		await take();
		expect(await screen.findByText(/words chosen: The boat was late/)).toBeTruthy();
	});

	it("is lengthened and shortened word by word, and widened to its turn, by key", async () => {
		const { user } = await take();
		await user.keyboard("{Alt>}{ArrowRight}{/Alt}");
		const start = points(TEXT.indexOf("The boat"));
		await waitFor(() => expect(calls("PATCH /passages/91")).toEqual([{ start, end: points(TEXT.indexOf(" waited")) }]));
		await user.keyboard("{Alt>}{Shift>}{ArrowRight}{/Shift}{/Alt}");
		await waitFor(() =>
			expect(calls("PATCH /passages/91").at(-1)).toEqual({ start: points(TEXT.indexOf("boat")), end: points(TEXT.indexOf(" I waited")) }),
		);
		await user.keyboard("{Alt>}{Shift>}{ArrowDown}{/Shift}{/Alt}");
		await waitFor(() => expect(calls("PATCH /passages/91").at(-1)).toEqual({ start: points(cut), end: points(TEXT.length - 1) }));
	});

	it("takes a memo, whose letters don’t go into the coding line", async () => {
		const { user } = await take();
		await user.click(screen.getByRole("button", { name: "Write a memo" }));
		await user.type(screen.getByRole("textbox", { name: "New memo" }), "Two boats?");
		expect(screen.getByRole<HTMLInputElement>("combobox", { name: "Coding line" }).value).toBe("");
		await user.click(screen.getByRole("button", { name: "Keep" }));
		await waitFor(() => expect(calls("POST /memos")).toEqual([{ text: "Two boats?", links: [], kinds: ["analytic"], passage: 91 }]));
	});

	it("is rated where its code has a scale", async () => {
		const codes = CODEBOOK.codes.map((code) => (code.id === 2 ? { ...code, scale_low: "a little", scale_high: "very" } : code));
		nowServe("GET /codebook", { ...CODEBOOK, codes });
		const { user } = await desk();
		await user.click(await screen.findByRole("button", { name: "4 of 5" }));
		await waitFor(() => expect(calls("PATCH /codings/301")).toEqual([{ rating: 4 }]));
	});

	it("is hidden from the margin with the notes, and stays in the text", async () => {
		const { user, text } = await desk();
		await user.click(screen.getByRole("button", { name: /^Notes in the margin/ }));
		await user.click(await screen.findByRole("option", { name: "No notes" }));
		expect(screen.queryByRole("button", { name: /^Missed boats on/ })).toBeNull();
		expect(text.querySelectorAll(".coded")).toHaveLength(1);
	});

	it("with only a memo on it doesn’t make its turn coded", async () => {
		nowServe("GET /documents/5", { ...DOCUMENT, passages: [{ ...DOCUMENT.passages[0], codings: [] }] });
		const { user, text } = await desk();
		await user.keyboard("U");
		expect(texts(text.querySelectorAll(".selected-words")).join("")).toContain("The boat was late");
	});

	it("is left for the next turn without a code by U", async () => {
		const { user, text } = await desk();
		text.focus();
		await user.keyboard("U");
		// The one participant turn has a code: there is nowhere to go.
		expect(text.querySelector(".selected-words")).toBeNull();
		await user.keyboard("S");
		expect(texts(text.querySelectorAll(".selected-words")).join("")).not.toBe("");
	});
});
