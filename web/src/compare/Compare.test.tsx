import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { address, show, texts } from "../tests/harness";
import { CODEBOOK, COMPARISON, ROSTER } from "../tests/samples";
import { asked, calls, nowServe, Refused, serve } from "../tests/server";
import { Compare } from "./Compare";
import { Bars } from "./forms/Bars";
import { Gaps } from "./forms/Gaps";
import { Table } from "./forms/Table";
import { LeftOut } from "./LeftOut";
import { placesShown, readView, type Tint } from "./view";

const WAVE = { ...ROSTER.variables[0], id: 31, name: "Wave", of: "document", kind: "ordered" };
const FINDINGS = ["Missed boats", "Waiting", "Other"].map((name, row) => ({
	row: row % 2,
	name,
	colour: 1,
	groups: [1, 0],
	standing: row < 2 ? "sure" : "one_voice",
	difference: 0.5,
	low: 0.1,
	high: 0.7,
	p: 0.01,
	text: `8 of 10 people of “Strand”, ${row} of 10 of “Holm”.`,
	cautions: [{ kind: "small_group", text: "“Holm” has only 4 people." }],
}));
const STANDS_OUT = {
	findings: FINDINGS,
	marks: [{ row: 0, groups: [0, 1], standing: "sure", p: 0.01 }],
	share: true,
	looked_at: 2,
	sure: 1,
	look: 0,
	by_chance: 0.1,
	otherwise: "",
	methods: "",
	sources: [],
};
const STEADY = {
	row: 0,
	groups: [1, 0],
	people: { count: 20, least: 0.55, least_without: "P07", most: 0.66, most_without: "P11" },
	documents: null,
	coders: null,
	holds: 3,
	choices: [
		{
			base: "with_material",
			roll_up: true,
			discussions: true,
			accord: "either",
			as_asked: true,
			difference: 0.6,
			holds: true,
			documents: null,
		},
		{
			base: "with_material",
			roll_up: true,
			discussions: false,
			accord: "either",
			as_asked: false,
			difference: 0.31,
			holds: false,
			documents: [4, 5],
		},
		{ base: "asked", roll_up: true, discussions: true, accord: "either", as_asked: false, difference: 0.5, holds: true, documents: null },
		{
			base: "with_material",
			roll_up: true,
			discussions: true,
			accord: "own_accord",
			as_asked: false,
			difference: 0.4,
			holds: true,
			documents: null,
		},
	],
};
const EVIDENCE = {
	people: 1,
	passages: 2,
	more: 3,
	persons: [
		{
			case: 21,
			identifier: "P10",
			facts: [{ variable: "Island", text: "Holm", missing: null }],
			total: 2,
			passages: [
				{ id: 91, document: 5, title: "P10 pier", turn: 4, speaker: "P10", before: "So ", text: "the boat had gone", after: " again." },
			],
		},
	],
	silent: [{ case: 22, identifier: "P2", facts: [{ variable: "Island", text: "Holm", missing: null }] }],
	asks: false,
	asked: [] as number[],
	not_asked: [] as number[],
	own_accord: [] as number[],
	when_asked: [] as number[],
};

function open(at = "/projects/7/compare") {
	serve({
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /variables": [WAVE],
		"GET /cohorts": {
			cohorts: [{ id: 3, name: "Early", description: "", condition: null, cases: [21], problem: "" }],
			of_documents: [],
			in_none: [],
			in_several: [],
		},
		"GET /compare/kept": [],
		"GET /themes": { questions: [{ id: 4, text: "Who waits?" }], themes: [] },
		"GET /memos": [],
		"POST /compare": COMPARISON,
		"POST /compare/evidence": EVIDENCE,
		"POST /compare/stands-out": STANDS_OUT,
		"POST /compare/stands-out/steady": [STEADY],
	});
	return show(<Compare />, { at });
}

/** The last question that the page asked. */
const question = () => calls("POST /compare").at(-1) as Record<string, unknown>;

it("says aloud what stands there, and again in another form", async () => {
	const { user } = open();
	await screen.findByRole("region", { name: "Result" });
	expect(texts(screen.getAllByRole("status"))).toEqual(["Shown as table: 2 rows in 2 groups, % of each group’s people with material"]);
	await user.click(screen.getByRole("button", { name: "bars" }));
	await waitFor(() => expect(texts(screen.getAllByRole("status"))[0]).toMatch(/^Shown as bars: 2 rows in 2 groups/));
});

describe("bars", () => {
	it("draws a bar a group with its figure in words, and opens it", async () => {
		const onOpen = vi.fn();
		serve({});
		const { user } = show(<Bars stack={false} result={COMPARISON} places={[0, 1]} onOpen={onOpen} />);
		const bar = screen.getByRole("button", { name: "Missed boats, Strand: 20 %, 2 of 10. Open the passages" });
		expect(bar.querySelector("i")?.style.width).toBe("20%");
		await user.click(bar);
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 1, left_out: null });
	});

	it("draws the interval only where there is one", () => {
		serve({});
		show(<Bars stack={false} result={COMPARISON} places={[0, 1]} onOpen={vi.fn()} />);
		expect(screen.getByRole("button", { name: /Waiting, Holm/ }).querySelector("u")).toBeTruthy();
		expect(screen.getByRole("button", { name: /Waiting, Strand/ }).querySelector("u")).toBeNull();
	});
});

describe("what is left out", () => {
	it("adds up, and each part opens its passages", async () => {
		const onOpen = vi.fn();
		serve({});
		const { user, container } = show(<LeftOut result={COMPARISON} onOpen={onOpen} />);
		expect(texts(container.querySelectorAll("p"))[0]).toBe("Adds up: 22 passages in scope = 19 in this table + 3 not linked.");
		await user.click(screen.getByRole("button", { name: "3 not linked" }));
		expect(onOpen).toHaveBeenCalledWith({ row: null, group: null, left_out: "not_linked" });
		expect(screen.getByText("Strand has fewer than five people.")).toBeTruthy();
	});
});

describe("the page", () => {
	it("asks first for the codes of the first branch, across the first variable that makes groups", async () => {
		open();
		await screen.findByText("2 codes under Crossing");
		expect(question()).toMatchObject({ codes: [2, 3], variable: 11, roll_up: true, measure: "people" });
	});

	it("keeps the question in the address and reads it from there", async () => {
		open("/projects/7/compare?codes=4&variable=12&rollup=0&measure=rate&cases=21.22&groups=%5B%22Holm%22%5D");
		await screen.findByLabelText("Result");
		expect(question()).toMatchObject({
			codes: [4],
			variable: 12,
			roll_up: false,
			measure: "rate",
			groups: ["Holm"],
			scope: { cases: [21, 22] },
		});
	});

	it("changes the measure through its part of the sentence", async () => {
		const { user } = open();
		await user.click(await screen.findByRole("button", { name: "Measure: people who mention it" }));
		await user.click(await screen.findByRole("option", { name: /^passages ?each/ }));
		await waitFor(() => expect(question()).toMatchObject({ measure: "passages" }));
		expect(address()).toContain("measure=passages");
	});

	it("takes rows out and whole branches in", async () => {
		const { user } = open();
		await user.click(await screen.findByRole("button", { name: "2 codes under Crossing" }));
		await user.click(await screen.findByRole("checkbox", { name: "Waiting" }));
		await waitFor(() => expect(question()).toMatchObject({ codes: [2] }));
		await user.click(screen.getByRole("button", { name: "Top level" }));
		await waitFor(() => expect(question()).toMatchObject({ codes: [1, 4] }));
		await user.click(screen.getByRole("button", { name: "only those beneath" }));
		await waitFor(() => expect(question()).toMatchObject({ codes: [2, 3] }));
		await user.click(screen.getByRole("button", { name: "None" }));
		expect(await screen.findByText(/Choose one or more codes in the sentence above/)).toBeTruthy();
	});

	it("opens the evidence by person, and who did not say it", async () => {
		const { user } = open();
		await user.click(await screen.findByRole("button", { name: /Missed boats, Holm/ }));
		const drawer = await screen.findByRole("complementary", { name: "Evidence" });
		expect(await within(drawer).findByText("the boat had gone")).toBeTruthy();
		expect(
			within(drawer)
				.getByRole("link", { name: /^Open in document: / })
				.getAttribute("href"),
		).toBe("/projects/7/code/5?passage=91");
		await user.click(within(drawer).getByRole("button", { name: "Didn’t · 1" }));
		expect(within(drawer).getByText("P2")).toBeTruthy();
		nowServe("POST /compare/evidence/around", { codes: [{ id: 3, name: "Waiting", colour: 3, people: 2, passages: 4 }] });
		await user.click(within(drawer).getByRole("button", { name: "Around it" }));
		const other = await within(drawer).findByRole("link", { name: /Waiting/ });
		expect(other.textContent).toContain("2 people, 4 passages");
		expect(other.getAttribute("href")).toBe("/projects/7/compare/together?codes=2.3&open=0~1~all");
		expect(calls("POST /compare/evidence/around")[0]).toMatchObject({ row: 0, group: 0 });
		expect(address()).toContain("open=0%7E0");
		expect(drawer.contains(document.activeElement)).toBe(true);
		await user.keyboard("{Escape}");
		expect(screen.queryByRole("complementary", { name: "Evidence" })).toBeNull();
		await waitFor(() => expect(document.activeElement?.closest("table")).toBeTruthy());
	});

	it("says who was asked, and what was said when asked, where a question of the guide asks about it", async () => {
		const { user } = open();
		nowServe("POST /compare/evidence", { ...EVIDENCE, asks: true, asked: [21], not_asked: [22], when_asked: [], own_accord: [91] });
		await user.click(await screen.findByRole("button", { name: /Missed boats, Holm/ }));
		const drawer = await screen.findByRole("complementary", { name: "Evidence" });
		expect(await within(drawer).findByText("was asked")).toBeTruthy();
		expect(within(drawer).getByText("of their own accord")).toBeTruthy();
		await user.click(within(drawer).getByRole("button", { name: "Didn’t · 1" }));
		expect(within(drawer).getByText("wasn’t asked")).toBeTruthy();
	});

	it("counts what was said of people’s own accord by a word of the sentence, where a guide says who was asked", async () => {
		const { user } = open();
		expect(await screen.findByRole("button", { name: /^Base/ })).toBeTruthy();
		expect(screen.queryByRole("button", { name: /^When asked or not/ })).toBeNull();
		expect(screen.getByRole("columnheader", { name: /Everyone/ }).textContent).toBe("Everyone20 people");
		const accords = [
			{ id: "either", words: "when asked or not" },
			{ id: "when_asked", words: "when asked" },
			{ id: "own_accord", words: "of their own accord" },
		];
		nowServe("POST /compare", { ...COMPARISON, base: "asked", accords });
		await user.click(screen.getByRole("button", { name: /^Base/ }));
		await user.click(await screen.findByRole("option", { name: /^all people/ }));
		await user.click(await screen.findByRole("button", { name: /^When asked or not/ }));
		expect(screen.getByText("20 people asked")).toBeTruthy();
		await user.click(await screen.findByRole("option", { name: /^of their own accord/ }));
		await waitFor(() => expect(calls("POST /compare").at(-1)).toMatchObject({ accord: "own_accord", base: "everyone" }));
		expect(address()).toContain("accord=own_accord");
	});

	it("asks for more passages when there are more", async () => {
		const { user } = open("/projects/7/compare?open=0~0");
		await user.click(await screen.findByRole("button", { name: "Show 3 more of 3" }));
		await waitFor(() => expect(calls("POST /compare/evidence").at(-1)).toMatchObject({ limit: 400, row: 0, group: 0 }));
	});

	it("closes the drawer when another question is asked: its number may be gone", async () => {
		const { user } = open("/projects/7/compare?open=0~0");
		await user.click(await screen.findByRole("button", { name: "Branches: rolled up" }));
		await user.click(await screen.findByRole("option", { name: /^not rolled up/ }));
		await waitFor(() => expect(address()).toBe("/projects/7/compare?rollup=0"));
	});

	it("says what stops it, in the server’s words", async () => {
		open();
		nowServe("POST /compare", new Refused("“Notes” is text: it doesn’t make groups."));
		expect((await screen.findByRole("alert")).textContent).toBe("“Notes” is text: it doesn’t make groups.");
	});

	it("says what is missing when there is nothing to compare yet, with the way there", async () => {
		serve({
			"GET /codebook": { codes: [], pins: [], coders: [] },
			"GET /roster": { variables: [], cases: [], columns: [] },
			"GET /variables": [],
		});
		show(<Compare />, { at: "/projects/7/compare" });
		expect((await screen.findByRole("link", { name: "Read and code" })).getAttribute("href")).toBe("/projects/7/code");
		expect(screen.getByRole("link", { name: "Bring in the sheet of people" })).toBeTruthy();
		expect(asked.some((one) => one.route === "POST /compare")).toBe(false);
	});

	it("cuts a number into bands at points that are typed, in order and once each", async () => {
		const { user } = open("/projects/7/compare?variable=12");
		nowServe("POST /compare", { ...COMPARISON, cuts: [40] });
		const cuts = await screen.findByRole("textbox", { name: "Cut points of the bands" });
		await user.clear(cuts);
		await user.type(cuts, "60; 40 60{Enter}");
		await waitFor(() => expect(question()).toMatchObject({ cuts: [40, 60] }));
	});
});

it("compares across facts of documents, cohorts, people and documents, and holds a second fact apart", async () => {
	const { user } = open();
	await user.click(await screen.findByRole("button", { name: "Variable: Island" }));
	expect(texts(await screen.findAllByRole("option")).map((text) => text.split(/of documents|groups of|a column/)[0])).toEqual([
		expect.stringMatching(/^Island/),
		expect.stringMatching(/^Age/),
		"Wave",
		"cohorts",
		"each person",
		"each document",
	]);
	await user.click(screen.getByRole("option", { name: /^Wave/ }));
	await waitFor(() => expect(question()).toMatchObject({ columns: "variable", variable: 31, second: null }));
	await user.click(screen.getByRole("button", { name: "Second variable: nothing else" }));
	await user.click(await screen.findByRole("option", { name: /^Island/ }));
	await waitFor(() => expect(question()).toMatchObject({ variable: 31, second: 11, second_as: "nested" }));
	await user.click(screen.getByRole("button", { name: "How the two go together: and, within each," }));
	await user.click(await screen.findByRole("option", { name: /^held apart by/ }));
	await waitFor(() => expect(question()).toMatchObject({ second: 11, second_as: "layers" }));
	await user.click(screen.getByRole("button", { name: "Variable: Wave" }));
	await user.click(await screen.findByRole("option", { name: /^cohorts/ }));
	await waitFor(() => expect(question()).toMatchObject({ columns: "cohorts", variable: null }));
	expect(address()).toContain("variable=cohorts");
});

it("says what stands out, two at first, and opens the cell that a sentence is about", async () => {
	const { user } = open();
	const region = await screen.findByRole("region", { name: "What stands out" });
	await waitFor(() => expect(within(region).getAllByRole("listitem")).toHaveLength(2));
	await user.click(within(region).getByRole("button", { name: "Show 1 more" }));
	expect(within(region).getAllByRole("listitem")).toHaveLength(3);
	await user.click(within(region).getByRole("button", { name: /^Waiting.*1 of 10 of “Holm”.*only 4 people/ }));
	await waitFor(() => expect(address()).toContain("open=1%7E1"));
	expect(calls("POST /compare/stands-out")[0]).toMatchObject({ variable: 11 });
});

it("says how steady a difference is, and opens each other way to ask it", async () => {
	const { user } = open();
	const region = await screen.findByRole("region", { name: "What stands out" });
	await user.click(await within(region).findByRole("button", { name: "How steady are they?" }));
	expect(await within(region).findByText(/Without any one person of 20/)).toBeTruthy();
	expect(within(region).getByText("3 of 4")).toBeTruthy();
	await user.click(within(region).getByRole("button", { name: /without group discussions 31 \(doesn’t hold\)/ }));
	await waitFor(() => expect(address()).toContain("documents=4.5"));
});

it("opens a difference among those who were asked, or of what was said of their own accord", async () => {
	const { user } = open();
	const region = await screen.findByRole("region", { name: "What stands out" });
	await user.click(await within(region).findByRole("button", { name: "How steady are they?" }));
	await user.click(await within(region).findByRole("button", { name: /^of those who were asked, rolled up 50/ }));
	await waitFor(() => expect(address()).toContain("base=asked"));
	await user.click(await within(region).findByRole("button", { name: /said of their own accord 40/ }));
	await waitFor(() => expect(address()).toContain("accord=own_accord"));
});

describe("how a result is shown", () => {
	const view = (query: string) => readView(new URLSearchParams(query));

	it("orders rows by size or difference and hides small ones, keeping their places", () => {
		expect(placesShown(COMPARISON, view(""))).toEqual([0, 1]);
		const small = {
			...COMPARISON,
			rows: COMPARISON.rows.map((row, at) => ({ ...row, total: { ...row.total, figure: at, people: 9 + at } })),
		};
		expect(placesShown(small, view("order=size"))).toEqual([1, 0]);
		expect(placesShown(small, view("order=difference"))).toEqual([0, 1]);
		expect(placesShown(small, view("least=10"))).toEqual([1]);
		expect(placesShown(small, view("order=likeness"), [1, 0])).toEqual([1, 0]);
		expect(view("order=nonsense&form=cake&tint=&least=-4")).toMatchObject({ form: "table", order: "codebook", tint: "expected", least: 0 });
	});

	it("tints by size in one hue, or not at all", () => {
		serve({});
		const shown = (tint: Tint) =>
			show(<Table result={COMPARISON} places={[1, 0]} tint={tint} opened={null} onOpen={vi.fn()} onPair={vi.fn()} />);
		const { container, unmount } = shown("share");
		const tints = [...container.querySelectorAll("td.relative")].map((td) => td.className.match(/bg-(?:above|below|amount)[\w-]*/)?.[0]);
		expect(tints).toEqual(["bg-amount-2", "bg-amount-2", "bg-amount-4", "bg-amount-1"]);
		unmount();
		expect(shown("none").container.querySelector("td.relative")?.className).not.toContain("bg-[");
	});

	it("draws a gap a row with its interval, and opens the higher group", async () => {
		serve({});
		const onOpen = vi.fn();
		const { user } = show(<Gaps result={COMPARISON} places={[1, 0]} onOpen={onOpen} onPair={vi.fn()} onPeople={vi.fn()} />);
		expect(texts(screen.getAllByRole("rowheader"))).toEqual(["Waiting", "Missed boats"]);
		expect(screen.getByRole("row", { name: /Missed boats/ }).textContent).toContain("60 18 to 80");
		expect(screen.getByRole("row", { name: /Waiting/ }).textContent).toContain("no base");
		await user.click(screen.getByRole("button", { name: /^Missed boats: 60 points/ }));
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 0, left_out: null });
	});

	it("offers the pairs of groups where none is chosen, and to count people where something else is", async () => {
		const [onPair, onPeople] = [vi.fn(), vi.fn()];
		const none = { ...COMPARISON, difference: null };
		const { user, unmount } = show(<Gaps result={none} places={[0]} onOpen={vi.fn()} onPair={onPair} onPeople={onPeople} />);
		const [first, second] = COMPARISON.groups.map((group) => group.name) as [string, string];
		await user.click(screen.getByRole("button", { name: /^Difference between/ }));
		await user.click(await screen.findByRole("option", { name: `${second} − ${first}` }));
		expect(onPair).toHaveBeenCalledWith([second, first]);
		unmount();
		show(<Gaps result={{ ...none, measure: "passages" }} places={[0]} onOpen={vi.fn()} onPair={onPair} onPeople={onPeople} />);
		await user.click(screen.getByRole("button", { name: "Count people" }));
		expect(onPeople).toHaveBeenCalled();
	});

	it("is kept in the address", async () => {
		const { user } = open();
		await user.click(await screen.findByRole("button", { name: "Order of rows: as in the codebook" }));
		await user.click(await screen.findByRole("option", { name: "largest difference first" }));
		await user.click(screen.getByRole("button", { name: "Small rows: all" }));
		await user.click(await screen.findByRole("option", { name: "of 10 people or more" }));
		await user.click(screen.getByRole("button", { name: "gaps" }));
		expect(address()).toMatch(/order=difference&least=10&form=gaps/);
		expect(await screen.findByRole("button", { name: "Small rows: 1 small hidden" })).toBeTruthy();
	});
});

it("ticks the groups of the first fact, whatever is nested in them", async () => {
	const { user } = open("/projects/7/compare?second=31");
	const groups = COMPARISON.all_groups.flatMap((outer) =>
		["winter", "spring"].map((label, mark) => ({ ...COMPARISON.groups[0], name: `${outer} · ${label}`, label, outer, mark })),
	);
	const rows = COMPARISON.rows.map((row) => ({ ...row, cells: [...row.cells, ...row.cells] }));
	nowServe("POST /compare", { ...COMPARISON, outer: COMPARISON.all_groups, groups, rows });
	await user.click(await screen.findByRole("button", { name: "all 2" }));
	const boxes = (await screen.findAllByRole("checkbox")) as HTMLInputElement[];
	expect(boxes.map((box) => box.checked)).toEqual([true, true]);
	await user.click(boxes[0] as HTMLElement);
	await waitFor(() => expect(question()).toMatchObject({ groups: ["Strand"], second: 31 }));
});

describe("a kept comparison", () => {
	const KEPT = {
		notes: [],
		gone: [],
		id: 6,
		name: "Who carries it",
		question: 4,
		asked: {
			codes: [2],
			columns: "variable",
			variable: 11,
			second_as: "nested",
			roll_up: true,
			measure: "passages",
			groups: null,
			scope: {},
		},
		shown: { form: "bars", order: "codebook", tint: "expected", least: 0 },
		author: "Rana",
		made_at: "2026-11-24T00:00:00Z",
	};

	it("is kept under a name with its research question", async () => {
		const { user } = open();
		await user.click(await screen.findByRole("button", { name: "Keep" }));
		const dialog = await screen.findByRole("dialog", { name: "Keep this comparison" });
		nowServe("POST /compare/kept", { count: 6 });
		await user.type(within(dialog).getByRole("textbox", { name: "Name" }), "Who carries it");
		await user.click(within(dialog).getByRole("button", { name: "Research question: none" }));
		await user.click(await screen.findByRole("option", { name: "Who waits?" }));
		await user.click(within(dialog).getByRole("button", { name: "Keep" }));
		await waitFor(() => expect(address()).toContain("kept=6"));
		expect(calls("POST /compare/kept")[0]).toMatchObject({
			name: "Who carries it",
			question: 4,
			asked: { variable: 11, measure: "people" },
			shown: { form: "table", order: "codebook" },
		});
	});

	it("opens as it was kept, says when it was changed, and takes the changes or leaves them", async () => {
		const { user } = open("/projects/7/compare?kept=6");
		nowServe("GET /compare/kept", [KEPT]);
		expect(await screen.findByText("Kept · live")).toBeTruthy();
		expect(address()).toContain("measure=passages");
		expect(address()).toContain("form=bars");
		expect(screen.getByText("Who waits?")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "gaps" }));
		expect(await screen.findByText("Kept · changed here")).toBeTruthy();
		nowServe("PATCH /compare/kept/6", {});
		await user.click(screen.getByRole("button", { name: "Keep these changes" }));
		await waitFor(() => expect(calls("PATCH /compare/kept/6")[0]).toMatchObject({ shown: { form: "gaps" } }));
		nowServe("DELETE /compare/kept/6", {});
		await user.click(screen.getByRole("button", { name: /^Kept 1/ }));
		await user.click(await screen.findByRole("menuitem", { name: "Let go of “Who carries it”" }));
		await waitFor(() => expect(address()).not.toContain("kept="));
	});
});
