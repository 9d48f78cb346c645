import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show, texts } from "../tests/harness";
import { STATUS } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { BringIn } from "./BringIn";
import type { ShelfDocument, Staged } from "./data";
import { Shelf } from "./Shelf";

const speaker = (id: number, label: string, role = "participant", case_name: string | null = null) => ({
	id,
	label,
	role,
	case: case_name ? id + 100 : null,
	case_name,
});
const DOCUMENTS = [
	{
		id: 2,
		kind: "transcript",
		values: {},
		title: "P10 pier",
		source_name: "pier.docx",
		words: 900,
		turns: 12,
		passages: 0,
		last_coded: null,
		speakers: [speaker(1, "P10"), speaker(2, "Interviewer", "interviewer")],
	},
	{
		id: 1,
		kind: "recording",
		values: {},
		title: "P2 shop",
		source_name: "shop.txt",
		words: 1500,
		turns: 8,
		passages: 4,
		last_coded: "2026-03-02",
		speakers: [speaker(3, "Ann", "participant", "P2")],
	},
] as unknown as ShelfDocument[];

const TALK = {
	id: 41,
	name: "talk.txt",
	kind: "transcript",
	warnings: [],
	partner: null,
	thumbnail: null,
	format: "plain text, UTF-8",
	problem: "",
	already: "",
	included: true,
	choices: {},
	sheet: null,
	transcript: {
		title: "talk",
		words: 1200,
		turns: 3,
		form: "colon",
		sections: 0,
		comments: 0,
		first_comments: [],
		pages: 0,
		speakers: [
			{
				label: "Int.",
				written: ["Int."],
				role: "interviewer",
				turns: 2,
				words: 40,
				first_words: "So, how",
				reason: "means whoever asks or leads",
			},
			{ label: "Berit", written: ["Berit", "BERIT"], role: "participant", turns: 1, words: 1160, first_words: "Well it", reason: "" },
		],
		first_turns: [{ speaker: "Int.", text: "So, how is the boat?", time: "00:01" }],
	},
} as unknown as Staged;

const column = (name: string, more = {}) => ({
	name,
	shown: name,
	of: "case",
	missing_as: [],
	role: "variable",
	kind: "category",
	distinct: 2,
	missing: 0,
	when_empty: "not_answered",
	first_values: ["a", "b"],
	categories: ["a", "b"],
	problems: [],
	...more,
});
const SHEET = {
	id: 42,
	name: "people.csv",
	kind: "sheet",
	warnings: [],
	partner: null,
	thumbnail: null,
	format: ".csv with semicolons",
	problem: "",
	already: "",
	included: true,
	choices: { columns: { Age: { kind: "number" } } },
	transcript: null,
	sheet: {
		rows: 26,
		header: 0,
		header_rows: 1,
		first_rows: [
			["ID", "Age"],
			["P1", "30"],
		],
		warnings: ["Two columns were called “Age”; the second is “Age (2)” now."],
		columns: [
			column("ID", { role: "case_id", distinct: 26 }),
			column("Crosses", { kind: "ordered", categories: ["never", "daily", "weekly"] }),
			column("Age", { kind: "number", categories: [], missing: 3 }),
		],
		problems: [],
		new_cases: 20,
		known_cases: 6,
		new_variables: 2,
		values: 49,
		missing: 3,
		conflicts: 1,
		conflict_examples: [{ who: "P2", variable: "Age", here: "60", there: "61" }],
		fresh: 40,
		same: 8,
		unknown_documents: [],
		without_text: 0,
		answers: 0,
		about: "case",
		without_id: 2,
	},
} as unknown as Staged;
const BROKEN = {
	...TALK,
	id: 43,
	name: "scan.docx",
	problem: "This file is protected by a password.",
	included: false,
	transcript: null,
} as Staged;

const choices = (route: string) => calls(route).map((body) => (body as { choices: unknown }).choices);

describe("the shelf", () => {
	beforeEach(() =>
		serve({
			"GET /documents": DOCUMENTS,
			"GET /variables": [],
			"GET /status": STATUS,
			"POST /documents/delete": { count: 1 },
			"POST /staged": [],
		}),
	);
	const titles = () => texts(document.querySelectorAll("tbody a"));

	it("lists every document with its speakers and who they are linked to", async () => {
		show(<Shelf />);
		await screen.findByText("P10 pier");
		expect(screen.getByTitle("P10: not linked to a person").textContent).toBe("P10 ?");
		expect(screen.getByTitle("Ann: linked to P2").textContent).toBe("Ann → P2");
		expect(screen.getByText(/2 documents · 2,400 words in all/)).toBeTruthy();
	});

	it("sorts as people count, numbers largest first, and back", async () => {
		const { user } = show(<Shelf />);
		await screen.findByText("P10 pier");
		expect(titles()).toEqual(["P2 shop", "P10 pier"]);
		await user.click(screen.getByRole("button", { name: "Turns" }));
		expect(titles()).toEqual(["P10 pier", "P2 shop"]);
		await user.click(screen.getByRole("button", { name: "Turns" }));
		expect(titles()).toEqual(["P2 shop", "P10 pier"]);
	});

	it("finds a document by who speaks in it", async () => {
		const { user } = show(<Shelf />);
		await user.type(await screen.findByRole("textbox", { name: "Filter documents" }), "ann");
		expect(titles()).toEqual(["P2 shop"]);
	});

	it("deletes what is selected and says how to have it back", async () => {
		const { user } = show(<Shelf />);
		await user.click(await screen.findByRole("checkbox", { name: "Select P10 pier" }));
		await user.click(screen.getByRole("button", { name: "Delete" }));
		await waitFor(() => expect(calls("POST /documents/delete")).toEqual([{ documents: [2] }]));
		expect(await screen.findByText("1 document deleted. Ctrl Z brings it back.")).toBeTruthy();
	});

	it("selects all that are listed, not those filtered away", async () => {
		const { user } = show(<Shelf />);
		await user.type(await screen.findByRole("textbox", { name: "Filter documents" }), "pier");
		await user.click(screen.getByRole("checkbox", { name: "Select all listed" }));
		expect(screen.getByText("1 selected")).toBeTruthy();
	});

	it("takes dropped files and goes on to reading them", async () => {
		const { container } = show(<Shelf />, { at: "/projects/7/gather", path: "/projects/7/gather" });
		await screen.findByText("P10 pier");
		const file = new File(["Int: Hello"], "new.txt", { type: "text/plain" });
		fireEvent.drop(container.querySelector(".relative") as Element, { dataTransfer: { types: ["Files"], files: [file] } });
		await waitFor(() => expect(calls("POST /staged").length).toBe(1));
		await waitFor(() => expect(address()).toBe("/projects/7/gather/bring-in"));
	});

	it("shows the way to what waits while it is empty", async () => {
		nowServe("GET /documents", []);
		nowServe("GET /status", { ...STATUS, documents: 0, linked_cases: 0, staged: 3 });
		show(<Shelf />);
		expect(await screen.findByRole("link", { name: "3 files waiting to be brought in" })).toBeTruthy();
	});

	it("gives a viewer nothing to press", async () => {
		show(<Shelf />, { project: { role: "viewer" } });
		await screen.findByText("P10 pier");
		expect(screen.queryByRole("checkbox")).toBeNull();
		expect(screen.queryByRole("button", { name: "Bring in files" })).toBeNull();
	});
});

describe("bringing in", () => {
	beforeEach(() =>
		serve({
			"GET /staged": [TALK, SHEET, BROKEN],
			"GET /status": STATUS,
			"PATCH /staged/41": {},
			"PATCH /staged/42": {},
			"DELETE /staged/43": {},
			"DELETE /staged": {},
		}),
	);
	const choose = async (name: string) => {
		const shown = show(<BringIn />, { at: "/projects/7/gather/bring-in" });
		await shown.user.click(await screen.findByText(name));
		return shown;
	};

	it("shows how a text begins, each turn in the direction of its own letters", async () => {
		show(<BringIn />);
		const turn = await screen.findByText("So, how is the boat?");
		expect(turn.getAttribute("dir")).toBe("auto");
	});

	it("says in counts what will happen, and what can’t be read", async () => {
		show(<BringIn />);
		const outcome = await screen.findByRole("region", { name: "What will happen" });
		expect(outcome.textContent).toContain("1 document, 1,200 words");
		expect(outcome.textContent).toContain("20 new people, 6 known already");
		expect(outcome.textContent).toContain("1 value differs from what is here.");
		expect(texts(outcome.querySelectorAll("tbody tr"))).toEqual(["P2, Age6061"]);
		expect(outcome.textContent).toContain("1 file can’t be read and will be left out.");
	});

	it("offers other ways of reading letters, with a line in each", async () => {
		const encoding = {
			read_as: "cp1251",
			sure: false,
			choices: [
				{ id: "cp1251", words: "cp1251 (Cyrillic)", sample: "Паром опять" },
				{ id: "koi8-r", words: "koi8-r (Cyrillic)", sample: "оЮПНЛ НОЪРЭ" },
			],
		};
		nowServe("GET /staged", [{ ...TALK, encoding, choices: { title: "Kept" } }]);
		const { user } = await choose("talk.txt");
		const letters = screen.getByRole("region", { name: "How its letters are stored" });
		expect(letters.textContent).toContain("Паром опять");
		await user.click(within(letters).getByRole("button", { name: /How letters are stored/ }));
		await user.click(screen.getByRole("option", { name: /koi8-r.*оЮПНЛ/ }));
		await waitFor(() => expect(choices("PATCH /staged/41")).toEqual([{ title: "Kept", encoding: "koi8-r" }]));
	});

	it("gives the reason why a file can’t be read, and lets it be forgotten", async () => {
		const { user } = await choose("scan.docx");
		expect(screen.getByText("This file is protected by a password.")).toBeTruthy();
		expect(screen.getByRole<HTMLInputElement>("checkbox", { name: "Bring in scan.docx" }).disabled).toBe(true);
		await user.click(screen.getByRole("button", { name: "Forget scan.docx" }));
		await waitFor(() => expect(calls("DELETE /staged/43").length).toBe(1));
	});

	it("renames a speaker under all the ways the label was written, and keeps the role", async () => {
		const { user } = await choose("talk.txt");
		const field = screen.getByRole("textbox", { name: "Name of speaker Berit" });
		await user.clear(field);
		await user.type(field, "P7{Enter}");
		await waitFor(() =>
			expect(choices("PATCH /staged/41")).toEqual([{ renamed: { Berit: "P7", BERIT: "P7" }, roles: { P7: "participant" } }]),
		);
	});

	it("changes a role, takes a false label for speech, and reads the whole as one turn", async () => {
		const { user } = await choose("talk.txt");
		await user.click(screen.getByRole("button", { name: "Role of Berit: participant" }));
		await user.click(await screen.findByRole("option", { name: "other" }));
		await waitFor(() => expect(choices("PATCH /staged/41").at(-1)).toEqual({ roles: { Berit: "other" } }));
		const row = screen.getByRole("textbox", { name: "Name of speaker Berit" }).closest("tr") as HTMLElement;
		await user.click(within(row).getByRole("button", { name: "Not a speaker" }));
		await waitFor(() => expect(choices("PATCH /staged/41").at(-1)).toEqual({ ignored: ["Berit", "BERIT"] }));
		await user.click(screen.getByRole("checkbox", { name: /read the whole as one turn/ }));
		await waitFor(() => expect(choices("PATCH /staged/41").at(-1)).toEqual({ one_turn: true }));
	});

	it("keeps what was chosen before when another column is corrected", async () => {
		const { user } = await choose("people.csv");
		const card = screen.getByRole("region", { name: "Column Crosses" });
		await user.click(within(card).getByRole("button", { name: "What Crosses is: Variable" }));
		await user.click(await screen.findByRole("option", { name: "Leave out" }));
		await waitFor(() =>
			expect(choices("PATCH /staged/42")).toEqual([{ columns: { Age: { kind: "number" }, Crosses: { role: "leave_out" } } }]),
		);
	});

	it("moves an ordered category and sends the whole order", async () => {
		const { user } = await choose("people.csv");
		await user.click(screen.getByRole("button", { name: "Move weekly earlier" }));
		await waitFor(() =>
			expect(choices("PATCH /staged/42").at(-1)).toMatchObject({
				columns: { Crosses: { categories: ["never", "weekly", "daily"], kind: "ordered" } },
			}),
		);
	});

	it("reads the column names from another row", async () => {
		const { user } = await choose("people.csv");
		await user.click(screen.getByRole("button", { name: "Row of column names: row 1" }));
		await user.click(await screen.findByRole("option", { name: /^row 2/ }));
		await waitFor(() => expect(choices("PATCH /staged/42").at(-1)).toMatchObject({ header: 1, header_rows: 1 }));
		expect(screen.getByText(/Two columns were called/)).toBeTruthy();
	});

	it("says what an empty cell means, column by column", async () => {
		const { user } = await choose("people.csv");
		await user.click(screen.getByRole("button", { name: "An empty cell of Age means: not answered" }));
		await user.click(await screen.findByRole("option", { name: "not asked" }));
		await waitFor(() =>
			expect(choices("PATCH /staged/42").at(-1)).toMatchObject({ columns: { Age: { kind: "number", when_empty: "not_asked" } } }),
		);
	});

	it("won’t bring in while a sheet needs a correction, and says which", async () => {
		nowServe("GET /staged", [{ ...SHEET, sheet: { ...SHEET.sheet, problems: ["The ID P2 stands in two rows."] } }]);
		show(<BringIn />);
		expect((await screen.findByRole("alert")).textContent).toContain("The ID P2 stands in two rows. (people.csv)");
		expect(screen.getByRole<HTMLButtonElement>("button", { name: "Bring in" }).disabled).toBe(true);
	});

	it("follows the import to its end and says how to take it back", async () => {
		nowServe("POST /bring-in", { id: 5, state: "waiting", done: 0, total: 2, message: "" });
		nowServe("GET /jobs/5", { id: 5, state: "done", done: 2, total: 2, message: "2 documents brought in." });
		const { user } = show(<BringIn />, { at: "/projects/7/gather/bring-in", path: "/projects/7/gather/bring-in" });
		await user.click(await screen.findByRole("button", { name: "Bring in" }));
		expect(await screen.findByText("2 documents brought in. Ctrl Z takes all of it back.")).toBeTruthy();
		await waitFor(() => expect(address()).toContain("people?tab=check"));
	});

	it("stays, and says why, when the import fails", async () => {
		nowServe("POST /bring-in", { id: 5, state: "waiting", done: 0, total: 2, message: "" });
		nowServe("GET /jobs/5", {
			id: 5,
			state: "failed",
			done: 1,
			total: 2,
			message: "The ID P2 stands in two rows. Nothing was brought in.",
		});
		const { user } = show(<BringIn />, { at: "/projects/7/gather/bring-in", path: "/projects/7/gather/bring-in" });
		await user.click(await screen.findByRole("button", { name: "Bring in" }));
		expect((await screen.findByRole("alert")).textContent).toContain("Nothing was brought in.");
		expect(address()).toContain("bring-in");
	});

	it("says so when an upload is refused, and keeps what waited", async () => {
		nowServe("POST /staged", new Refused("big.txt is 200 MB; files of up to 25 MB can be brought in.", 413));
		const { container, user } = show(<BringIn />);
		await screen.findByText("talk.txt");
		await user.upload(container.querySelector("input[type=file]") as HTMLInputElement, new File(["x"], "big.txt"));
		expect((await screen.findByRole("alert")).textContent).toContain("200 MB");
		await user.click(screen.getByRole("button", { name: "Leave them out" }));
		expect(screen.getByText("talk.txt")).toBeTruthy();
	});

	it("is only to be read by a viewer", async () => {
		show(<BringIn />, { project: { role: "viewer" } });
		expect(await screen.findByText("Only to be read")).toBeTruthy();
	});
});
