import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show, texts } from "../tests/harness";
import { CODEBOOK, CODES, code, SESSION } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { CodebookPage } from "./codebook/CodebookPage";
import { FindPage } from "./find/FindPage";
import { ThemesPage } from "./themes/ThemesPage";

const passage = (id: number, text: string, codes = [2]) => ({
	id,
	document: 5,
	title: "Pier",
	turn: 2,
	speaker: "P10",
	before: "",
	text,
	after: "",
	codes,
});
const READING = {
	passages: 2,
	people: 1,
	more: 0,
	persons: [
		{
			case: 21,
			identifier: "P10",
			facts: [
				{ variable: "Island", text: "Holm", missing: null },
				{ variable: "Age", text: "nicht gefragt", missing: "not_asked" },
			],
			total: 2,
			passages: [passage(91, "The boat was late.", [2, 3]), passage(92, "I walked.")],
		},
	],
};
const LOOK = {
	unused: [4],
	one_person: [2],
	undefined: [],
	alike: [{ left: 2, right: 3, by: "passages", likeness: 0.7 }],
};
const THEMES = {
	questions: [{ id: 1, text: "Who waits?" }],
	themes: [{ id: 8, name: "Tied to the clock", statement: "", question: null, codes: [2], passages: 2, people: 1, documents: 1 }],
};

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /codebook": CODEBOOK,
		"GET /codebook/look": LOOK,
		"POST /codes/2/passages": READING,
		"POST /codes/3/passages": READING,
		"GET /themes": THEMES,
		"POST /themes/8/passages": READING,
		"GET /memos": [],
		"POST /codes/3/merge": {
			into: 3,
			passages: 3,
			together: 4,
			scale_low: "",
			scale_high: "",
			codes: [{ code: 2, passages: 2, both: 1, beneath: 0, rated_otherwise: 0 }],
		},
		"PUT /codes/3/merge": {},
		"POST /codebook/file": {
			revision: 7,
			codes: 3,
			new: [{ name: "Cold", beneath: "Late" }],
			changed: [{ name: "Late", what: "what it means", before: "", after: "After its time" }],
			same: 1,
			gone: [],
			themes: ["Clocks"],
			warnings: ["Row 5 names no code; it is left out."],
		},
		"PUT /codebook/file": { count: 3 },
		"POST /codes/2/split": [],
		"PATCH /codes/4": {},
		"PATCH /codebook": { count: 1 },
		"PATCH /themes/8": {},
		"POST /themes": { id: 9 },
		"POST /questions": { id: 2 },
		"DELETE /themes/8": {},
	}),
);

describe("the codebook page", () => {
	const open = async (at = "/projects/7/code/codebook") => {
		const shown = show(<CodebookPage />, { at });
		await screen.findByRole("checkbox", { name: "Tick Missed boats" });
		return shown;
	};

	it("reads a code’s passages by person, with their other codes", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: "Missed boats" }));
		const pane = await screen.findByRole("complementary", { name: "The code chosen" });
		await within(pane).findByText("I walked.");
		expect(texts(pane.querySelectorAll("h3"))).toEqual(["P10Holm · 2 passages"]);
		expect(within(pane).getByText("Waiting")).toBeTruthy();
		expect(address()).toContain("open=2");
	});

	it("makes a code with its place and meaning, and opens its card; beneath another from there", async () => {
		nowServe("POST /codebook", { id: 3, name: "Fog" });
		const { user } = show(<CodebookPage />, { at: "/projects/7/code/codebook" });
		await user.click(await screen.findByRole("button", { name: "New code …" }));
		await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText("Name")));
		await user.keyboard("Fog");
		await user.type(screen.getByLabelText(/^What it means/), "Boats that wait for sight");
		await user.click(screen.getByRole("button", { name: "Make the code" }));
		await waitFor(() => expect(calls("POST /codebook")).toEqual([{ name: "Fog", parent: null, definition: "Boats that wait for sight" }]));
		expect(address()).toContain("open=3&show=card");
		await user.click(await screen.findByRole("button", { name: "Add beneath …" }));
		await user.type(await screen.findByLabelText("Name"), "Sea fog{Enter}");
		await waitFor(() => expect(calls("POST /codebook").at(-1)).toEqual({ name: "Sea fog", parent: 3, definition: "" }));
	});

	it("brings a codebook in from a file, saying before what it would do", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: "Bring in …" }));
		const go = screen.getByRole<HTMLButtonElement>("button", { name: "Bring in" });
		expect(go.disabled).toBe(true);
		await user.upload(screen.getByLabelText("File with a codebook"), new File(["Code,Beneath"], "codes.csv"));
		const said = await screen.findByRole("region", { name: "What will happen" });
		expect(said.textContent).toContain("3 codes in the file: 1 new, 1 change to those you have, 1 the same");
		expect(said.textContent).toContain("Cold beneath Late");
		expect(said.textContent).toContain("Row 5 names no code");
		await user.click(go);
		await waitFor(() => expect(calls("PUT /codebook/file")).toHaveLength(1));
		await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
	});

	it("merges ticked codes, saying before what becomes one", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("checkbox", { name: "Tick Missed boats" }));
		expect(screen.getByRole<HTMLButtonElement>("button", { name: "Merge …" }).disabled).toBe(true);
		await user.click(screen.getByRole("checkbox", { name: "Tick Waiting" }));
		await user.click(screen.getByRole("button", { name: "Merge …" }));
		const dialog = await screen.findByRole("dialog");
		await within(dialog).findByText(/1 of them carry “Waiting” too: each counts once/);
		expect(texts(dialog.querySelectorAll("tr")).at(-1)).toBe("together4 passages");
		await user.click(within(dialog).getByRole("button", { name: "Merge into “Waiting”" }));
		await waitFor(() => expect(calls("PUT /codes/3/merge")).toEqual([{ codes: [2] }]));
	});

	it("asks what becomes of ratings on another scale before it merges", async () => {
		nowServe("POST /codes/3/merge", {
			into: 3,
			passages: 3,
			together: 4,
			scale_low: "mild",
			scale_high: "grave",
			codes: [{ code: 2, passages: 2, both: 1, beneath: 0, rated_otherwise: 2 }],
		});
		const { user } = await open();
		await user.click(screen.getByRole("checkbox", { name: "Tick Missed boats" }));
		await user.click(screen.getByRole("checkbox", { name: "Tick Waiting" }));
		await user.click(screen.getByRole("button", { name: "Merge …" }));
		const dialog = await screen.findByRole("dialog");
		const group = await within(dialog).findByRole("group", { name: "Ratings on another scale" });
		expect(group.textContent).toContain("2 ratings were not given from “mild” to “grave”");
		const go = within(dialog).getByRole<HTMLButtonElement>("button", { name: "Merge into “Waiting”" });
		expect(go.disabled).toBe(true);
		await user.click(within(group).getByRole("radio", { name: /They are dropped/ }));
		await user.click(go);
		await waitFor(() => expect(calls("PUT /codes/3/merge")).toEqual([{ codes: [2], ratings: "drop" }]));
	});

	it("splits a code passage by passage; an unnamed code can’t be gone to", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("checkbox", { name: "Tick Missed boats" }));
		await user.click(screen.getByRole("button", { name: "Split …" }));
		const dialog = await screen.findByRole("dialog");
		await user.type(within(dialog).getByRole("textbox", { name: "Name of new code 1" }), "Late");
		await within(dialog).findAllByRole("listitem");
		await user.click(within(dialog).getAllByRole("button", { name: "Into new code 2" })[0] as Element);
		expect(within(dialog).getByRole<HTMLButtonElement>("button", { name: "Split" }).disabled).toBe(true);
		await user.type(within(dialog).getByRole("textbox", { name: "Name of new code 2" }), "On foot");
		await user.click(within(dialog).getAllByRole("button", { name: "Into Late" })[1] as Element);
		await user.click(within(dialog).getByRole("button", { name: "Split" }));
		await waitFor(() =>
			expect(calls("POST /codes/2/split")).toEqual([
				{
					names: ["Late", "On foot"],
					moves: [
						{ passage: 91, to: [1] },
						{ passage: 92, to: [0] },
					],
				},
			]),
		);
	});

	it("points out what wants a look, and ticks a pair that may be one", async () => {
		const { user } = await open();
		await user.click(await screen.findByRole("button", { name: "1 pair that may be one" }));
		const look = screen.getByRole("region", { name: "What wants a look" });
		expect(look.textContent).toContain("70 % of the passages of either carry both");
		await user.click(within(look).getByRole("button", { name: "Tick both" }));
		expect(screen.getByRole<HTMLInputElement>("checkbox", { name: "Tick Waiting" }).checked).toBe(true);
		await user.click(within(look).getByRole("button", { name: "1 code on no passage" }));
		await user.click(within(look).getByRole("button", { name: "Home" }));
		expect(address()).toContain("open=4");
	});

	it("says of ticked codes what they are, and shows those of one kind", async () => {
		const codes = CODEBOOK.codes.map((one) => (one.id === 3 ? { ...one, kind: "interpreting" as const } : one));
		serve({
			"GET !/session": SESSION,
			"GET /codebook": { ...CODEBOOK, codes },
			"GET /codebook/look": LOOK,
			"PATCH /codebook": { count: 2 },
		});
		const { user } = show(<CodebookPage />);
		await user.click(await screen.findByRole("checkbox", { name: "Tick Missed boats" }));
		await user.click(await screen.findByRole("checkbox", { name: "Tick Home" }));
		await user.click(screen.getByRole("button", { name: /^What the ticked codes are/ }));
		await user.click(await screen.findByRole("option", { name: /^describing/ }));
		await waitFor(() => expect(calls("PATCH /codebook")).toEqual([{ codes: [2, 4], kind: "describing" }]));
		const shown = () => screen.getAllByRole("checkbox", { name: /^Tick / }).map((one) => one.getAttribute("aria-label"));
		expect(shown().length).toBe(4);
		await user.click(screen.getByRole("button", { name: /^Describing or interpreting/ }));
		await user.click(await screen.findByRole("option", { name: /^interpreting/ }));
		await waitFor(() => expect(shown()).toEqual(["Tick Waiting"]));
		expect(address()).toContain("kind=interpreting");
	});

	it("parks a code, and shows parked ones apart", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("checkbox", { name: "Tick Home" }));
		nowServe("GET /codebook", { ...CODEBOOK, codes: [...CODES.slice(0, 3), code(4, "Home", null, { parked: true })] });
		await user.click(screen.getByRole("button", { name: "Park" }));
		await waitFor(() => expect(calls("PATCH /codebook")).toEqual([{ codes: [4], parked: true }]));
		expect(await screen.findByText("Parked, 1 code")).toBeTruthy();
	});

	it("lets a viewer read and nothing else", async () => {
		show(<CodebookPage />, { at: "/projects/7/code/codebook", project: { role: "viewer" } });
		await screen.findByText("Missed boats");
		expect(screen.queryByRole("button", { name: "Merge …" })).toBeNull();
	});
});

describe("themes", () => {
	const open = async () => {
		const shown = show(<ThemesPage />, { at: "/projects/7/code/themes" });
		await screen.findByRole("article", { name: "Theme Tied to the clock" });
		return shown;
	};

	it("draw codes in by dragging, and let them go", async () => {
		const { user } = await open();
		const theme = screen.getByRole("article", { name: "Theme Tied to the clock" });
		const carried = { types: ["application/x-code"], getData: () => "3" };
		fireEvent.dragOver(theme, { dataTransfer: carried });
		fireEvent.drop(theme, { dataTransfer: carried });
		await waitFor(() => expect(calls("PATCH /themes/8")).toEqual([{ codes: [2, 3] }]));
		await user.click(within(theme).getByRole("button", { name: "Missed boats out of Tied to the clock" }));
		await waitFor(() => expect(calls("PATCH /themes/8").at(-1)).toEqual({ codes: [] }));
	});

	it("draw codes in by key too, say what they say, and answer a question", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: /^Draw a code into/ }));
		await user.click(await screen.findByRole("option", { name: /Home/ }));
		await waitFor(() => expect(calls("PATCH /themes/8").at(-1)).toEqual({ codes: [2, 4] }));
		await user.type(screen.getByRole("textbox", { name: "What the theme says" }), "They wait.");
		await user.tab();
		await waitFor(() => expect(calls("PATCH /themes/8").at(-1)).toEqual({ statement: "They wait." }));
		await user.click(screen.getByRole("button", { name: /^Answers the question/ }));
		await user.click(await screen.findByRole("option", { name: /Who waits/ }));
		await waitFor(() => expect(calls("PATCH /themes/8").at(-1)).toEqual({ question: 1 }));
	});

	it("are read by person", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: "Read 2 passages by 1 person" }));
		expect(await screen.findByText("The boat was late.")).toBeTruthy();
		expect(screen.getByText("2 passages by 1 person.")).toBeTruthy();
	});

	it("and questions are made by name", async () => {
		const { user } = await open();
		await user.type(screen.getByRole("textbox", { name: "New theme" }), "Held together{Enter}");
		await user.type(screen.getByRole("textbox", { name: "New research question" }), "Who pays?{Enter}");
		await waitFor(() => expect(calls("POST /questions")).toEqual([{ text: "Who pays?" }]));
		expect(calls("POST /themes")).toEqual([{ name: "Held together" }]);
	});
});

describe("finding", () => {
	const HIT = { document: 5, title: "Pier", turn: 2, speaker: "P10", case: 21, before: "The boat was ", text: "late", after: " again." };
	const FOUND = {
		total: 3,
		documents: 1,
		more: 1,
		groups: [],
		near: [],
		people: [
			{ case: 21, count: 2, identifier: "P10", facts: [{ variable: "Island", text: "Holm", missing: null }] },
			{ case: null, count: 1, identifier: "", facts: [] },
		],
		hits: [
			{ ...HIT, start: 10, end: 14 },
			{ ...HIT, start: 50, end: 54, case: null, after: " too." },
		],
	};

	it("ticks every hit, listed or not, says how many, and leaves out what is unticked", async () => {
		serve({ "GET !/session": SESSION, "GET /codebook": CODEBOOK, "POST /find": FOUND, "PUT /find": { count: 2 } });
		const { user } = show(<FindPage />, { at: "/projects/7/code/find?text=late" });
		expect(screen.queryByRole("button", { name: /^Tick all/ })).toBeNull();
		await user.click(await screen.findByRole("checkbox", { name: "tick all shown" }));
		expect(screen.getByText("2 ticked. Mark")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Tick all 3 hits, listed or not" }));
		expect(screen.getByText("3 ticked. Mark")).toBeTruthy();
		await user.click(screen.getByRole("checkbox", { name: "Tick “The boat was late again.”" }));
		expect(screen.getByText("2 ticked. Mark")).toBeTruthy();
		await user.type(screen.getByRole("combobox", { name: "Code to put on" }), "missed");
		await user.click(await screen.findByRole("option", { name: "Missed boats" }));
		const question = { text: "late", how: "forms", everyone: false, language: "english" };
		await waitFor(() =>
			expect(calls("PUT /find")).toEqual([
				{ hits: [{ document: 5, start: 10, end: 14 }], all_of: question, extent: "sentence", codes: [2], new_codes: [] },
			]),
		);
		await waitFor(() => expect(screen.getByText("0 ticked. Mark")).toBeTruthy());
	});

	it("says what counts in a phrase, and offers what is written nearly so where little is found", async () => {
		const near = [{ word: "ferry", count: 12 }];
		serve({
			"GET !/session": SESSION,
			"GET /codebook": CODEBOOK,
			"POST /find": { ...FOUND, total: 0, hits: [], people: [], more: 0, near },
		});
		const { user } = show(<FindPage />, { at: "/projects/7/code/find?text=fery&how=phrase" });
		expect(await screen.findByText(/hyphens, commas and line breaks may stand between/)).toBeTruthy();
		await user.click(await screen.findByRole("button", { name: "ferry" }));
		await waitFor(() => expect(calls("POST /find").at(-1)).toMatchObject({ text: "ferry", how: "words" }));
	});

	it("asks for forms of participants’ words, narrows to one person, and codes what was ticked", async () => {
		serve({ "GET !/session": SESSION, "GET /codebook": CODEBOOK, "POST /find": FOUND, "PUT /find": { count: 1 } });
		const { user } = show(<FindPage />, { at: "/projects/7/code/find" });
		await user.type(screen.getByRole("textbox", { name: "What to find" }), "late{Enter}");
		expect(await screen.findByText("3 hits by 1 person in 1 document")).toBeTruthy();
		expect(calls("POST /find")).toEqual([{ text: "late", how: "forms", everyone: false, language: "english" }]);
		await user.click(screen.getByRole("button", { name: /^P10/ }));
		expect(screen.getAllByRole("listitem")).toHaveLength(2);
		await user.click(screen.getByRole("checkbox", { name: "Tick “The boat was late again.”" }));
		await user.click(screen.getByRole("button", { name: "the turn" }));
		await user.type(screen.getByRole("combobox", { name: "Code to put on" }), "missed");
		await user.click(await screen.findByRole("option", { name: "Missed boats" }));
		await waitFor(() =>
			expect(calls("PUT /find")).toEqual([{ hits: [{ document: 5, start: 10, end: 14 }], extent: "turn", codes: [2], new_codes: [] }]),
		);
	});

	it("says what can’t be searched for", async () => {
		serve({ "GET !/session": SESSION, "GET /codebook": CODEBOOK, "POST /find": new Refused("The pattern can’t be read.") });
		show(<FindPage />, { at: "/projects/7/code/find?text=(&how=pattern" });
		expect(await screen.findByText("The pattern can’t be read.")).toBeTruthy();
	});
});
