import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { show, texts } from "../tests/harness";
import { AGE, CODEBOOK, ISLAND, ROSTER, variable } from "../tests/samples";
import { calls, nowServe, serve } from "../tests/server";
import { bandCounts, bandNames, dayOf, daysOf, edgeWords, stepOf, typedCuts } from "./bands";
import { DistributionView } from "./DistributionView";
import { rosterOf } from "./data";
import { MakeVariable } from "./MakeVariable";
import { blockOf, placed } from "./paste";
import { Workbench } from "./Workbench";

const { cases, variables } = rosterOf(ROSTER);
const BORN = variable(13, "Born", { kind: "date", categories: [] });
const HISTOGRAM = {
	edges: [0, 10, 20, 30, 40, 50, 60, 70],
	counts: [1, 0, 0, 1, 0, 0, 1],
	values: [9, 34, 61],
	quantiles: { "2": [34], "3": [34, 61], "4": [34, 61], "5": [34, 61], "6": [34, 61] },
	equal_width: { "2": [35], "3": [26, 44], "4": [22, 35, 48], "5": [19, 30, 40, 51], "6": [18, 26, 35, 44, 52] },
};

beforeEach(() =>
	serve({
		"GET /variables/12/histogram": HISTOGRAM,
		"POST /variables": { ...AGE, id: 30, name: "Age, bands" },
		"PATCH /variables/30": {},
		"POST /variables/11/categories": {},
		"GET /cohorts": {
			cohorts: [{ id: 5, name: "From Holm", cases: [21], condition: null, description: "", problem: "" }],
			of_documents: [],
			in_none: [],
			in_several: [],
		},
		"GET /codebook": CODEBOOK,
	}),
);
const bench = (one = AGE, all = variables) =>
	show(<Workbench variable={one} variables={all} cases={cases} onClose={vi.fn()} onDistribution={vi.fn()} />);

describe("bands in numbers", () => {
	it("are named with their edges said exactly, as the server names them", () => {
		expect(bandNames(AGE, [25, 35])).toEqual(["under 25", "25 to under 35", "35 and over"]);
		expect(bandNames(BORN, [daysOf("2000-01-01")])).toEqual(["before 2000-01-01", "2000-01-01 and after"]);
		expect(bandNames(AGE, [])).toEqual(["all values"]);
	});

	it("count a value on a cut in the band above it", () => {
		expect(bandCounts([24.9, 25, 34, 35, 60], [25, 35])).toEqual([1, 2, 2]);
	});

	it("read cut points as typed, sorted and once each", () => {
		expect(typedCuts(AGE, "60; 25 25, 35")).toEqual([25, 35, 60]);
		expect(typedCuts(AGE, "25, old")).toBeNull();
		expect(typedCuts(BORN, "2000-01-01")?.map((days) => dayOf(days))).toEqual(["2000-01-01"]);
	});

	it("write and step by what the scale needs", () => {
		expect(edgeWords(AGE, 0.1 + 0.2)).toBe("0.3");
		expect(stepOf([20, 30, 80])).toBe(1);
		expect(stepOf([0.12, 0.5, 0.99])).toBe(0.01);
	});
});

describe("cutting a number into bands", () => {
	it("proposes cuts, moves them by key, and makes a variable of them", async () => {
		const { user } = bench();
		const first = await screen.findByRole("slider", { name: "Cut 1" });
		first.focus();
		await user.keyboard("{ArrowRight}{ArrowRight}");
		expect(screen.getByRole("slider", { name: "Cut 1" }).getAttribute("aria-valuetext")).toBe("36");
		await user.click(screen.getByRole("button", { name: "Make the variable" }));
		await waitFor(() =>
			expect(calls("POST /variables")).toEqual([{ name: "Age, bands", of: "case", definition: { kind: "bands", of: 12, cuts: [36, 61] } }]),
		);
		expect(await screen.findByText("“Age, bands” is made; it can be compared by.")).toBeTruthy();
	});

	it("never lets one cut pass another", async () => {
		const { user } = bench();
		const first = await screen.findByRole("slider", { name: "Cut 1" });
		first.focus();
		await user.keyboard("{PageUp}{PageUp}{PageUp}");
		expect(Number(screen.getByRole("slider", { name: "Cut 1" }).getAttribute("aria-valuenow"))).toBeLessThan(61);
	});

	it("takes typed cuts and shows how many are in each band", async () => {
		const { user } = bench();
		const field = await screen.findByRole("textbox", { name: "Cut points of Age" });
		await user.clear(field);
		await user.type(field, "50{Enter}");
		const table = screen.getByRole("table", { name: "Bands and how many are in each" });
		expect(texts(table.querySelectorAll("tr"))).toEqual(["under 502", "50 and over1"]);
	});

	it("follows the pointer to a whole number", async () => {
		bench();
		const handle = await screen.findByRole("slider", { name: "Cut 1" });
		const drawing = screen.getByRole("group", { name: "Histogram of Age" });
		drawing.getBoundingClientRect = () => ({ left: 0, width: 700, top: 0, height: 100 }) as DOMRect;
		fireEvent.pointerDown(handle);
		fireEvent.pointerMove(window, { clientX: 203 });
		fireEvent.pointerUp(window);
		expect(screen.getByRole("slider", { name: "Cut 1" }).getAttribute("aria-valuetext")).toBe("20");
	});

	it("changes the cuts of bands that are there", async () => {
		const bands = variable(30, "Age, bands", { kind: "ordered", definition: { kind: "bands", of: 12, cuts: [40] } });
		const { user } = bench(bands, [...variables, bands]);
		expect(screen.getByText("bands of Age")).toBeTruthy();
		const field = await screen.findByRole("textbox", { name: "Cut points of Age" });
		await user.clear(field);
		await user.type(field, "45{Enter}");
		await user.click(screen.getByRole("button", { name: "Keep these cuts" }));
		await waitFor(() => expect(calls("PATCH /variables/30")).toEqual([{ definition: { kind: "bands", of: 12, cuts: [45] } }]));
	});
});

describe("categories", () => {
	const changed = () => calls("POST /variables/11/categories");

	it("are renamed in place, merged and made missing", async () => {
		const { user } = bench(ISLAND);
		await user.click(screen.getByRole("button", { name: "Label of Holm" }));
		await user.clear(screen.getByRole("textbox", { name: "Label of Holm" }));
		await user.type(screen.getByRole("textbox", { name: "Label of Holm" }), "Holme{Enter}");
		await waitFor(() => expect(changed().at(-1)).toMatchObject({ do: "rename", labels: ["Holm"], name: "Holme" }));
		await user.click(screen.getByRole("checkbox", { name: "Choose Holm" }));
		await user.click(screen.getByRole("checkbox", { name: "Choose Strand" }));
		await user.click(screen.getByRole("button", { name: "Merge into “Holm”" }));
		await waitFor(() => expect(changed().at(-1)).toMatchObject({ do: "merge", labels: ["Holm", "Strand"], name: "Holm" }));
		await user.click(screen.getByRole("checkbox", { name: "Choose Strand" }));
		await user.click(screen.getByRole("button", { name: /Strand is really missing/ }));
		await user.click(await screen.findByRole("option", { name: "not applicable" }));
		await waitFor(() => expect(changed().at(-1)).toMatchObject({ do: "missing", labels: ["Strand"], reason: "not_applicable" }));
	});

	it("are split by choosing who goes", async () => {
		const { user } = bench(ISLAND);
		await user.click(screen.getByRole("checkbox", { name: "Choose Holm" }));
		await user.click(screen.getByRole("button", { name: "Split" }));
		const dialog = await screen.findByRole("dialog");
		expect(within(dialog).queryByRole("checkbox", { name: "P2" })).toBeNull();
		await user.type(within(dialog).getByLabelText("New category"), "North Holm");
		await user.click(within(dialog).getByRole("checkbox", { name: "P10" }));
		await user.click(within(dialog).getByRole("button", { name: "Split off 1" }));
		await waitFor(() => expect(changed().at(-1)).toMatchObject({ do: "split", labels: ["Holm"], name: "North Holm", cases: [21] }));
	});
});

describe("making a variable", () => {
	const make = (all = [...variables, variable(14, "Crosses")]) => show(<MakeVariable variables={all} onClose={vi.fn()} onMade={vi.fn()} />);

	it("of two crossed, named after both", async () => {
		const { user } = make();
		await user.click(screen.getByRole("button", { name: "Two crossed" }));
		await user.click(screen.getByRole("button", { name: "Make the variable" }));
		await waitFor(() =>
			expect(calls("POST /variables")).toEqual([
				{ name: "Island × Crosses", of: "case", kind: "category", definition: { kind: "crossing", of: [11, 14] } },
			]),
		);
	});

	it("of a count of a code’s passages", async () => {
		const { user } = make();
		await user.click(screen.getByRole("button", { name: "A count" }));
		await user.click(screen.getByRole("button", { name: "Of which code: of any code" }));
		await user.click(await screen.findByRole("option", { name: /^Waiting/ }));
		await user.click(screen.getByRole("button", { name: "Make the variable" }));
		await waitFor(() =>
			expect(calls("POST /variables").at(-1)).toMatchObject({
				name: "Passages: Waiting",
				definition: { kind: "count", what: "passages", code: 3 },
			}),
		);
	});

	it("of a cohort, and by hand only with a name", async () => {
		const { user } = make();
		expect(screen.getByLabelText<HTMLInputElement>("Name").required).toBe(true);
		await screen.findByRole("button", { name: "A cohort" });
		await user.click(screen.getByRole("button", { name: "A cohort" }));
		await user.click(await screen.findByRole("button", { name: /^Cohort: From Holm/ }));
		await user.click(await screen.findByRole("option", { name: "From Holm" }));
		await user.click(screen.getByRole("button", { name: "Make the variable" }));
		await waitFor(() =>
			expect(calls("POST /variables").at(-1)).toMatchObject({ name: "From Holm", definition: { kind: "cohort", cohort: 5 } }),
		);
	});
});

describe("a distribution", () => {
	const found = {
		values: ["Holm", "Strand"],
		groups: ["Everyone", "never", "daily"],
		bases: [3, 1, 2],
		shares: [
			[
				{ count: 1, share: 0.333, low: 0.06, high: 0.79 },
				{ count: 0, share: 0, low: 0, high: 0.79 },
				{ count: 1, share: 0.5, low: 0.1, high: 0.9 },
			],
			[
				{ count: 2, share: 0.667, low: 0.2, high: 0.94 },
				{ count: 1, share: 1, low: 0.2, high: 1 },
				{ count: 1, share: 0.5, low: 0.1, high: 0.9 },
			],
		],
		missing: [{ reason: "not_asked", counts: [1, 0, 1] }],
		summaries: [null, null, null],
	};

	it("shows shares with counts, missing apart, and sorts by size", async () => {
		nowServe("POST /variables/11/distribution", { ...found, groups: ["Everyone"] });
		nowServe("POST /variables/11/distribution/export", new Response("Island", { headers: { "Content-Disposition": 'filename="d.csv"' } }));
		URL.createObjectURL = vi.fn(() => "blob:here");
		URL.revokeObjectURL = vi.fn();
		const { user } = show(<DistributionView variable={ISLAND} variables={variables} onClose={vi.fn()} />);
		const rows = () => texts(screen.getAllByRole("row"));
		await screen.findByText("Strand");
		expect(rows().slice(1)).toEqual(["Holm33 1", "Strand67 2", "not asked1"]);
		await user.click(screen.getByRole("button", { name: "By size" }));
		expect(rows()[1]).toBe("Strand67 2");
		await user.click(screen.getByRole("button", { name: "Export .csv" }));
		await waitFor(() => expect(URL.createObjectURL).toHaveBeenCalled());
		expect(calls("POST /variables/11/distribution/export")).toEqual([{ by: 0, cases: null }]);
	});

	it("is of those in scope, and so is its file", async () => {
		nowServe("POST /variables/11/distribution", { ...found, groups: ["Everyone"] });
		nowServe("POST /compare/scopes/count", { play_cases: [21], play_documents: [5] });
		const at = "/projects/7/people?spread=11&cases=21.22&since=2026-01-01";
		show(<DistributionView variable={ISLAND} variables={variables} onClose={vi.fn()} />, { at });
		await screen.findByText("Strand");
		expect(calls("POST /compare/scopes/count")).toEqual([{ cases: [21, 22], since: "2026-01-01" }]);
		expect(calls("POST /variables/11/distribution")).toEqual([{ by: 0, cases: [21] }]);
	});
});

describe("a pasted block", () => {
	it("is taken apart by tabs and line breaks, quotes kept whole", () => {
		expect(blockOf('Holm\t34\r\n"two\nlines"\t"a ""b"""\n')).toEqual([
			["Holm", "34"],
			["two\nlines", 'a "b"'],
		]);
		expect(blockOf("one")).toEqual([["one"]]);
	});

	it("goes from the first cell on, and tells what reaches beyond", () => {
		const block = [
			["Holm", "34", "x"],
			["Strand", "35", "y"],
		];
		const found = placed(block, cases, variables, { case: 23, variable: 11 });
		expect(found.cells).toEqual([
			{ subject: 23, variable: 11, text: "Holm" },
			{ subject: 23, variable: 12, text: "34" },
		]);
		expect(found.beyond).toBe(4);
	});
});
