import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show, texts } from "../tests/harness";
import { ISLAND, ROSTER, variable } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { People } from "./People";

const UNLINKED = [
	{
		speaker: 31,
		label: "P10",
		document: 5,
		title: "Pier",
		passages: 4,
		case: 21,
		case_name: "P10",
		reason: "the label is the ID",
		conflict: false,
		certainty: "sure",
		named: false,
	},
	{
		speaker: 32,
		label: "Ann",
		document: 6,
		title: "Shop",
		passages: 2,
		case: null,
		case_name: null,
		reason: "two fit: P2, P3",
		conflict: true,
		certainty: null,
		named: true,
	},
];

const CHECK = {
	documents_without_case: [{ id: 6, title: "Shop" }],
	cases_without_material: [{ id: 22, identifier: "P2" }],
	cases_in_several: [{ id: 21, identifier: "P10", documents: ["Pier (winter)", "Quay (spring)"] }],
	silent_speakers: [],
};

beforeEach(() =>
	serve({
		"GET /roster": ROSTER,
		"GET /unlinked": [],
		"GET /cohorts": { cohorts: [], of_documents: [], in_none: [21, 22, 23], in_several: [] },
		"GET /check": CHECK,
		"PUT /cases/21/values/11": {},
		"PUT /cases/23/values/11": {},
		"PUT /cases/21/values/12": {},
		"PATCH /cases/21": {},
		"PATCH /variables/11": {},
		"PATCH /speakers/32": {},
		"POST /unlinked": { count: 1 },
		"POST /speakers/settle": { count: 2 },
		"POST /links": { count: 1 },
		"POST /cases": {},
	}),
);

const rowsShown = () => screen.getAllByRole("button", { name: /^ID of / }).map((button) => button.textContent);

describe("a scope", () => {
	const NARROWED = { play_cases: [21], play_documents: [5], emptied_by: "" };
	const SPREADS = [{ variable: 11, bars: [{ label: "Holm", count: 1 }], missing: [] }];

	it("narrows the roster and its small distributions", async () => {
		nowServe("POST /compare/scopes/count", NARROWED);
		nowServe("POST /variables/spreads", SPREADS);
		show(<People />, { at: "/projects/7/people?cases=21" });
		expect(await screen.findByRole("button", { name: "Roster 1 of 3" })).toBeTruthy();
		expect(rowsShown()).toEqual(["P10"]);
		expect(await screen.findByRole("img", { name: "Holm: 1" })).toBeTruthy();
		expect(calls("POST /variables/spreads")).toEqual([{ cases: [21] }]);
	});

	it("says when it leaves nobody, with the way to all", async () => {
		nowServe("POST /compare/scopes/count", { ...NARROWED, play_cases: [] });
		nowServe("POST /variables/spreads", []);
		const { user } = show(<People />, { at: "/projects/7/people?cases=99" });
		await screen.findByText("None of the people is in scope");
		await user.click(screen.getByRole("button", { name: "Look at all" }));
		expect(rowsShown()).toEqual(["P2", "P3", "P10"]);
	});

	it("leaves everybody to be linked to and picked: what is changed is changed for all", async () => {
		nowServe("POST /compare/scopes/count", NARROWED);
		nowServe("POST /variables/spreads", SPREADS);
		nowServe("GET /unlinked", UNLINKED);
		const { user } = show(<People />, { at: "/projects/7/people?tab=check&cases=21" });
		await screen.findByRole("button", { name: "Roster 1 of 3" });
		await user.click(screen.getByRole("combobox", { name: "Who Ann in Shop is" }));
		expect(await screen.findByRole("option", { name: /^P3/ })).toBeTruthy();
	});
});

describe("the roster", () => {
	it("sorts IDs as people count: P2 before P10", async () => {
		show(<People />);
		await screen.findByRole("button", { name: "ID of P2" });
		expect(rowsShown()).toEqual(["P2", "P3", "P10"]);
	});

	it("sorts a number by its size and turns round at the second click", async () => {
		const { user } = show(<People />);
		await user.click(await screen.findByTitle("Sort by Age"));
		expect(rowsShown()).toEqual(["P3", "P10", "P2"]);
		await user.click(screen.getByTitle("Sort by Age"));
		expect(rowsShown()).toEqual(["P2", "P10", "P3"]);
	});

	it("filters by any value and says when nobody matches", async () => {
		const { user } = show(<People />);
		await user.type(await screen.findByRole("textbox", { name: "Filter the roster" }), "strand");
		expect(rowsShown()).toEqual(["P2"]);
		await user.type(screen.getByRole("textbox", { name: "Filter the roster" }), "zz");
		expect(screen.getByText("Nobody matches “strandzz”.")).toBeTruthy();
	});

	it("shows why a value is missing instead of an empty cell", async () => {
		show(<People />);
		expect((await screen.findByRole("button", { name: "Island of P3: not asked" })).textContent).toBe("not asked");
	});

	it("changes a value in place, by choice or by typing, and leaves alone what didn’t change", async () => {
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "Island of P10: Holm" }));
		await user.selectOptions(screen.getByRole("combobox", { name: "Island of P10" }), "Strand");
		await waitFor(() => expect(calls("PUT /cases/21/values/11")).toEqual([{ text: "Strand", missing: null }]));
		await user.click(screen.getByRole("button", { name: "Age of P10: 34" }));
		await user.keyboard("{Enter}");
		expect(calls("PUT /cases/21/values/12")).toEqual([]);
		await user.click(screen.getByRole("button", { name: "Age of P10: 34" }));
		await user.clear(screen.getByRole("textbox", { name: "Age of P10" }));
		await user.type(screen.getByRole("textbox", { name: "Age of P10" }), " 35 {Enter}");
		await waitFor(() => expect(calls("PUT /cases/21/values/12")).toEqual([{ text: "35", missing: null }]));
	});

	it("says what went with a deleted person, and has it back", async () => {
		nowServe("DELETE /cases/21", {
			said: "Deleted P10, with 3 values; 2 passages that nobody else said count for nobody until linked to somebody again",
		});
		nowServe("POST /undo", { summary: "Deleted P10", job: null });
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "Delete P10" }));
		expect(await screen.findByText(/^Deleted P10, with 3 values; .* somebody again\.$/)).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Undo" }));
		expect(await screen.findByText("Taken back: Deleted P10")).toBeTruthy();
		expect(calls("POST /undo")).toHaveLength(1);
	});

	it("gives a missing value another reason", async () => {
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "Island of P3: not asked" }));
		await user.selectOptions(screen.getByRole("combobox", { name: "Island of P3" }), "(not applicable)");
		await waitFor(() => expect(calls("PUT /cases/23/values/11")).toEqual([{ text: "", missing: "not_applicable" }]));
	});

	it("keeps what was typed when the server refuses a name, and says why", async () => {
		nowServe("PATCH /cases/21", new Refused("There is another person called P2.", 409));
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "ID of P10" }));
		await user.clear(screen.getByRole("textbox", { name: "ID of P10" }));
		await user.type(screen.getByRole("textbox", { name: "ID of P10" }), "P2{Enter}");
		expect((await screen.findByRole("alert")).textContent).toContain("There is another person called P2.");
	});

	it("lets a viewer read but not change", async () => {
		show(<People />, { project: { role: "viewer" } });
		expect((await screen.findByRole<HTMLButtonElement>("button", { name: "Island of P10: Holm" })).disabled).toBe(true);
		expect(screen.queryByRole("button", { name: "Add a person" })).toBeNull();
		expect(screen.queryByRole("button", { name: "Delete P10" })).toBeNull();
	});

	it("uses the project’s own word for a case", async () => {
		show(<People />, { project: { case_one: "household", case_many: "households" } });
		expect(await screen.findByRole("button", { name: "Add a household" })).toBeTruthy();
	});

	it("adds a person, and shows the server’s sentence when it can’t", async () => {
		nowServe("POST /cases", new Refused("There is a person called P2 already.", 409));
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "Add a person" }));
		await user.type(screen.getByRole("textbox", { name: "ID or pseudonym" }), "P2");
		await user.click(screen.getByRole("button", { name: "Add" }));
		const dialog = screen.getByRole("dialog");
		expect((await within(dialog).findByRole("alert")).textContent).toBe("There is a person called P2 already.");
		expect(within(dialog).getByRole<HTMLInputElement>("textbox").value).toBe("P2");
	});
});

describe("a variable’s workbench", () => {
	it("opens from the column’s head, and the address keeps it", async () => {
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: "Island" }));
		expect(await screen.findByRole("complementary", { name: "Variable Island" })).toBeTruthy();
		expect(address()).toContain("variable=11");
	});

	it("moves a category and keeps the others in order", async () => {
		serve({
			"GET /roster": {
				...ROSTER,
				variables: [
					variable(11, "Crosses", {
						kind: "ordered",
						categories: ["never", "daily", "weekly"],
						bars: ["never", "daily", "weekly"].map((label) => ({ label, count: 1 })),
					}),
				],
			},
			"GET /unlinked": [],
			"GET /cohorts": { cohorts: [], of_documents: [], in_none: [21, 22, 23], in_several: [] },
			"GET /check": CHECK,
			"PATCH /variables/11": {},
		});
		const { user } = show(<People />, { at: "/projects/7/people?variable=11" });
		await user.click(await screen.findByRole("button", { name: "Move weekly up" }));
		await waitFor(() => expect(calls("PATCH /variables/11")).toEqual([{ order: ["never", "weekly", "daily"] }]));
		expect(screen.getByRole<HTMLButtonElement>("button", { name: "Move never up" }).disabled).toBe(true);
	});

	it("shows how the people spread, with what is missing and why", async () => {
		show(<People />, { at: "/projects/7/people?variable=11" });
		const bench = await screen.findByRole("complementary", { name: "Variable Island" });
		expect(texts(bench.querySelectorAll("tbody tr"))).toEqual(["Holm2", "Strand1", "not answered1"]);
		expect(bench.textContent).toContain("3 values · 1 not answered");
	});

	it("saves a new name once it is left, not while it is typed", async () => {
		const { user } = show(<People />, { at: "/projects/7/people?variable=11" });
		const name = await screen.findByRole("textbox", { name: "Name of the variable" });
		await user.type(name, "s");
		expect(calls("PATCH /variables/11")).toEqual([]);
		await user.tab();
		await waitFor(() => expect(calls("PATCH /variables/11")).toEqual([{ name: `${ISLAND.name}s` }]));
	});
});

describe("what is taken out", () => {
	const taken = () => screen.getAllByRole<HTMLAnchorElement>("link", { name: /^\.(xlsx|csv|sav): / }).map((one) => one.pathname);

	it("is the list of the tab that is open, in each form that it has", async () => {
		const { user } = show(<People />);
		await screen.findByRole("button", { name: "ID of P2" });
		expect(taken()).toEqual(["xlsx", "csv", "sav"].map((ending) => `/api/projects/7/lists/roster/${ending}`));
		await user.click(screen.getByRole("button", { name: /^Check/ }));
		expect(taken()).toEqual(["/api/projects/7/lists/speakers/xlsx", "/api/projects/7/lists/speakers/csv"]);
		expect(screen.getByRole("link", { name: ".csv: who speaks in which document, and who they are" })).toBeTruthy();
		await user.click(screen.getByRole("button", { name: /^Cohorts/ }));
		expect(taken()[0]).toBe("/api/projects/7/lists/cohorts/xlsx");
	});
});

describe("linking", () => {
	beforeEach(() => nowServe("GET /unlinked", UNLINKED));

	it("says at the roster how much is in no comparison yet", async () => {
		const { user } = show(<People />);
		await user.click(await screen.findByRole("button", { name: /2 speakers without a person/ }));
		expect(screen.getByRole("region", { name: "Speakers without a link" }).textContent).toContain(
			"their 6 passages are in no comparison yet",
		);
	});

	it("accepts the sure ones in one click, and never a conflict", async () => {
		const { user } = show(<People />, { at: "/projects/7/people?tab=check" });
		await user.click(await screen.findByRole("button", { name: "Accept the 1 sure one" }));
		await waitFor(() => expect(calls("POST /unlinked").length).toBe(1));
		expect(screen.getByText("Conflict: two fit: P2, P3")).toBeTruthy();
	});

	it("links by hand, with what is known of each person beside the name", async () => {
		const { user } = show(<People />, { at: "/projects/7/people?tab=check" });
		await user.type(await screen.findByRole("combobox", { name: "Who Ann in Shop is" }), "61 str");
		expect((await screen.findAllByRole("option")).map((one) => one.textContent)[0]).toBe("P2Strand, 61");
		await user.keyboard("{Enter}");
		await waitFor(() => expect(calls("POST /speakers/settle")).toEqual([{ speakers: [32], settled: "case", case: 22 }]));
	});

	it("takes one name in several documents for one person, and settles all that are ticked at once", async () => {
		const once = { ...UNLINKED[1], conflict: false, reason: "nothing points at one person" };
		// A third Ann may be either of two: she is asked for by herself.
		nowServe("GET /unlinked", [
			UNLINKED[0],
			once,
			{ ...once, speaker: 33, document: 7, title: "Quay" },
			{ ...UNLINKED[1], speaker: 34, title: "Mill" },
		]);
		const { user } = show(<People />, { at: "/projects/7/people?tab=check" });
		await user.click(await screen.findByRole("checkbox", { name: "Tick Ann in 2 documents" }));
		await user.click(screen.getByRole("button", { name: "A new person" }));
		await waitFor(() => expect(calls("POST /speakers/settle")).toEqual([{ speakers: [32, 33], settled: "new_case" }]));
		await waitFor(() => expect(screen.queryByText("1 ticked")).toBeNull());
		await user.click(screen.getByRole("checkbox", { name: "All" }));
		expect(screen.getByText("3 ticked")).toBeTruthy();
		// Of three that are ticked one has a proposal.
		await user.click(screen.getByRole("button", { name: "Link 1 as proposed" }));
		await waitFor(() => expect(calls("POST /links")).toEqual([{ links: [{ speaker: 31, case: 21 }] }]));
		await user.click(screen.getByRole("button", { name: "Nobody in particular" }));
		await waitFor(() => expect(calls("POST /speakers/settle").at(-1)).toEqual({ speakers: [34, 32, 33], settled: "other" }));
	});

	it("says who has no material yet", async () => {
		show(<People />, { at: "/projects/7/people?tab=check" });
		expect((await screen.findByRole("region", { name: "People without material" })).textContent).toContain("P2");
		expect(screen.getByRole("region", { name: "People in several documents" }).textContent).toContain("P10 Pier (winter) · Quay (spring)");
		expect(screen.getByRole("region", { name: "Participants who never speak" }).textContent).toContain("none");
	});
});
