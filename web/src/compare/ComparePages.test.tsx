import { screen, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { squares } from "../charts/nesting";
import { address, show, texts } from "../tests/harness";
import { CODEBOOK, COMPARISON, ROSTER } from "../tests/samples";
import { calls, nowServe, serve } from "../tests/server";
import { FrozenPage } from "./frozen/FrozenPage";
import { followed } from "./kept/Gone";
import type { Kept } from "./kept/kept";
import { broken } from "./overview/Holdings";
import { OverviewPage } from "./overview/OverviewPage";
import { complete, FRESH, replaced } from "./passages/blocks";
import { PassagesPage } from "./passages/PassagesPage";
import { TogetherPage } from "./together/TogetherPage";

const QUOTE = {
	id: 91,
	document: 5,
	title: "P10 pier",
	turn: 4,
	speaker: "P10",
	before: "So ",
	text: "the boat had gone",
	after: " again.",
	region: null,
	span: null,
	picture: "",
};
const FOUND = {
	counts: { count: 2, so_far: 2, parts: [{ count: 2, so_far: 2, parts: [] }] },
	emptied_by: null,
	people: 1,
	passages: 2,
	more: 0,
	persons: [{ case: 21, identifier: "P10", facts: [], total: 2, passages: [QUOTE] }],
};
const TABLE = {
	counts: [
		[4, 1],
		[1, 3],
	],
	likeness: [
		[1, 0.167],
		[0.167, 1],
	],
};
const TOGETHER = {
	revision: 1,
	sentence: "2 codes",
	measure: "people",
	codes: [
		{ id: 2, name: "Missed boats", colour: 2 },
		{ id: 3, name: "Waiting", colour: 3 },
	],
	lineage: [],
	whole: TABLE,
	groups: [],
	variable: "",
	passages_left_out: 1,
};
const THEN = { id: 95, document: 5, title: "P11 net loft", text: "nobody told us", people: ["P11"], why: "" };
const BEFORE = { figure: 0.8, count: 8, base: 10, people: 8, passages: 9 };
const FROZEN = {
	kind: "comparison",
	id: 4,
	name: "March",
	comparison: 6,
	author: "Rana",
	made_at: "2026-03-31T10:00:00Z",
	asked: { codes: [2, 3] },
	shown: {},
	result: COMPARISON,
	changes: {
		problem: "",
		gone: [],
		now: COMPARISON,
		cells: [{ kind: "code", id: 2, group: "Holm", before: BEFORE, now: { ...BEFORE, count: 9 }, gained: 1, lost: 0, joined: 0, left: 0 }],
	},
};

beforeEach(() =>
	serve({
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /variables": [],
		"GET /cohorts": { cohorts: [], of_documents: [], in_none: [], in_several: [] },
		"GET /documents": [],
		"GET /themes": { questions: [], themes: [] },
		"GET /compare/queries": [
			{ id: 8, name: "Late ones", blocks: { join: "all", parts: [{ what: "text", text: "late" }] }, author: "Rana", made_at: "" },
		],
		"POST /compare/queries": { count: 9 },
		"POST /compare/search": FOUND,
		"POST /compare/together": TOGETHER,
		"POST /compare/together/meetings": {
			total: 1,
			more: 0,
			meetings: [{ first: { ...QUOTE, people: ["P10"] }, second: { ...QUOTE, id: 92, text: "I waited", people: ["P10"] } }],
		},
		"GET /compare/frozen": [FROZEN],
		"GET /compare/frozen/4": FROZEN,
		"POST /compare/frozen/4/cell": {
			gained: [{ ...QUOTE, people: ["P10"], why: "Missed boats, by Mika on 2026-04-02" }],
			lost: [],
			as_it_was: [THEN],
		},
		"POST /compare/frozen/passages": { count: 4 },
		"DELETE /compare/frozen/4": {},
	}),
);

describe("passages by conditions", () => {
	it("are built from blocks, counted, and saved", async () => {
		const { user } = show(<PassagesPage />, { at: "/projects/7/compare/passages" });
		await user.click(await screen.findByRole("button", { name: /^Add a condition/ }));
		await user.click(await screen.findByRole("option", { name: /^whose words hold/ }));
		expect(calls("POST /compare/search")).toEqual([]);
		await user.type(screen.getByLabelText("Words of the passage"), "boat");
		expect(await screen.findByText("the boat had gone")).toBeTruthy();
		expect(calls("POST /compare/search").at(-1)).toEqual({
			blocks: { join: "all", parts: [{ what: "text", text: "boat" }] },
			scope: {},
			limit: 100,
		});
		await user.click(screen.getByRole("button", { name: "Save this query" }));
		await user.type(screen.getByLabelText("Name of the query"), "Boats{Enter}");
		expect(calls("POST /compare/queries")).toEqual([{ name: "Boats", blocks: { join: "all", parts: [{ what: "text", text: "boat" }] } }]);
	});

	it("are opened as they were saved, and name the condition that left nothing", async () => {
		nowServe("POST /compare/search", {
			...FOUND,
			counts: { count: 0, so_far: 0, parts: [{ count: 0, so_far: 0, parts: [] }] },
			emptied_by: [0],
			people: 0,
			passages: 0,
			persons: [],
		});
		const { user } = show(<PassagesPage />, { at: "/projects/7/compare/passages" });
		await user.click(await screen.findByRole("button", { name: "Late ones" }));
		expect(await screen.findByText("Saved · live")).toBeTruthy();
		expect(await screen.findByText("Condition 1 left nothing.")).toBeTruthy();
		await user.clear(screen.getByLabelText("Words of the passage"));
		await user.type(screen.getByLabelText("Words of the passage"), "x");
		expect(screen.getByText("Saved · changed here")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Take this condition out" }));
		expect(screen.getByText("Which passages?")).toBeTruthy();
	});

	it("are frozen as they are found today", async () => {
		const { user } = show(<PassagesPage />, { at: "/projects/7/compare/passages?saved=8" });
		await user.click(await screen.findByRole("button", { name: "Freeze" }));
		const name = screen.getByLabelText("Name of the frozen result");
		expect((name as HTMLInputElement).value).toBe("Late ones");
		await user.type(name, ", March{Enter}");
		expect(await screen.findByText(/“Late ones, March” is frozen/)).toBeTruthy();
		expect(calls("POST /compare/frozen/passages")).toEqual([
			{ name: "Late ones, March", asked: { blocks: { join: "all", parts: [{ what: "text", text: "late" }] }, scope: {} } },
		]);
		expect(address()).toBe("/projects/7/compare/frozen/4");
	});

	it("asks only what is complete, and puts blocks where they belong", () => {
		expect(complete(FRESH.coded())).toBe(false);
		expect(complete({ ...FRESH.coded(), codes: [1] } as never)).toBe(true);
		expect(complete(FRESH.said())).toBe(false);
		expect(complete({ what: "within", variable: 3, groups: ["x"] })).toBe(true);
		const inner = { join: "any" as const, parts: [FRESH.text()] };
		const outer = { join: "all" as const, parts: [FRESH.memo(), inner] };
		expect(replaced(outer, [1, 0], null).parts[1]).toEqual({ join: "any", parts: [] });
		expect(replaced(outer, [0], FRESH.text()).parts[0]).toEqual({ what: "text", text: "" });
	});
});

describe("codes with codes", () => {
	it("shows how often they meet, opens both passages, and keeps the view in the address", async () => {
		const { user } = show(<TogetherPage />, { at: "/projects/7/compare/together?codes=2.3" });
		await user.click(await screen.findByRole("button", { name: /^Missed boats with Waiting: 1, likeness 0.17/ }));
		const drawer = await screen.findByRole("complementary", { name: "Evidence" });
		expect(await within(drawer).findByText("I waited")).toBeTruthy();
		expect(calls("POST /compare/together/meetings")[0]).toMatchObject({ row: 0, column: 1, group: null, codes: [2, 3] });
		await user.click(screen.getByRole("button", { name: /^How near/ }));
		await user.click(await screen.findByRole("option", { name: "at most some turns apart" }));
		expect(address()).toContain("unit=turns");
		expect(calls("POST /compare/together").at(-1)).toMatchObject({ unit: "turns", within: 1 });
		expect(screen.getByText(/1 passage of these codes nobody in scope said/)).toBeTruthy();
	});

	it("names the pairs that meet most, and opens the cell that the address names", async () => {
		const { user } = show(<TogetherPage />, { at: "/projects/7/compare/together?codes=2.3&open=1~0~all" });
		expect(await screen.findByRole("complementary", { name: "Evidence" })).toBeTruthy();
		expect(calls("POST /compare/together/meetings")[0]).toMatchObject({ row: 1, column: 0 });
		const most = screen.getByRole("region", { name: "Meet most" });
		await user.click(within(most).getByRole("button", { name: /^Missed boats with Waiting: 1, \.17 likeness/ }));
		expect(address()).toContain("open=0%7E1%7Eall");
		await user.click(screen.getByRole("button", { name: "Close the evidence" }));
		expect(address()).not.toContain("open=");
	});

	it("stands side by side by group, with the largest differences, and leaves out what meets by itself", async () => {
		const group = (name: string, mark: number, like: number) => ({
			...TABLE,
			name,
			label: name,
			outer: "",
			mark,
			likeness: [
				[1, like],
				[like, 1],
			],
		});
		nowServe("POST /compare/together", { ...TOGETHER, groups: [group("Holm", 0, 0.6), group("Strand", 1, 0.2)], variable: "Island" });
		const { unmount } = show(<TogetherPage />, { at: "/projects/7/compare/together?codes=2.3&variable=11" });
		expect(await screen.findByText("+.40")).toBeTruthy();
		unmount();
		nowServe("POST /compare/together", { ...TOGETHER, lineage: [[0, 1]] });
		show(<TogetherPage />, { at: "/projects/7/compare/together?codes=2.3&rollup=1" });
		expect((await screen.findAllByTitle("One lies beneath the other")).length).toBe(2);
	});
});

describe("frozen results", () => {
	it("show what they were, mark what differs today, and say which coding did it", async () => {
		const { user } = show(<FrozenPage />, { at: "/projects/7/compare/frozen/4", path: "/projects/:projectId/compare/frozen/:frozenId" });
		await user.click(await screen.findByRole("button", { name: /^Missed boats, Holm: 80 %, 8 of 10; now 80 9 of 10/ }));
		expect(await screen.findByText("Missed boats, by Mika on 2026-04-02")).toBeTruthy();
		expect(screen.getByText(/One cell differs today/)).toBeTruthy();
		expect(texts(screen.getAllByRole("rowheader"))).toEqual(["Missed boats", "Waiting"]);
		// A cell that is as it was opens its passages of then.
		await user.click(screen.getByRole("button", { name: "Missed boats, Strand: 20 %, 2 of 10 then. Its passages" }));
		expect(await screen.findByText("nobody told us")).toBeTruthy();
		expect(calls("POST /compare/frozen/4/cell").at(-1)).toEqual({ kind: "code", id: 2, group: "Strand" });
	});

	it("of passages show them in their words of then, and what came and went", async () => {
		nowServe("GET /compare/frozen", [{ ...FROZEN, kind: "passages", comparison: null }]);
		nowServe("GET /compare/frozen/4/found", {
			sentence: "Passages coded with “Waiting”.",
			passages: 2,
			people: 2,
			now: { passages: 1, people: 1 },
			problem: "",
			as_it_was: [THEN, { ...THEN, id: 96, text: "I just stood there", people: [] }],
			gained: [],
			lost: [{ ...THEN, why: "the conditions don’t find it any more" }],
		});
		show(<FrozenPage />, { at: "/projects/7/compare/frozen", path: "/projects/:projectId/compare/frozen" });
		expect(await screen.findByText("Then 2 passages by 2 people; today 1 passage by 1 person.")).toBeTruthy();
		const then = screen.getByRole("region", { name: "Found then" });
		expect(within(then).getByText("I just stood there")).toBeTruthy();
		expect(within(then).getByText("Nobody linked")).toBeTruthy();
		const changed = screen.getByRole("region", { name: "What changed" });
		expect(texts(within(changed).getAllByRole("heading"))).toEqual(["Went out"]);
		expect(within(changed).getByText("the conditions don’t find it any more")).toBeTruthy();
	});

	it("are deleted, and the list is shown again", async () => {
		const { user } = show(<FrozenPage />, { at: "/projects/7/compare/frozen/4", path: "/projects/:projectId/compare/frozen/:frozenId" });
		await user.click(await screen.findByRole("button", { name: "Delete" }));
		expect(await screen.findByText(/“March” is deleted. Ctrl Z brings it back./)).toBeTruthy();
		expect(address()).toBe("/projects/7/compare/frozen");
	});

	it("say that nothing changed, or why they can't be asked again", async () => {
		nowServe("GET /compare/frozen/4", { ...FROZEN, changes: { ...FROZEN.changes, cells: [] } });
		const { unmount } = show(<FrozenPage />, { at: "/projects/7/compare/frozen/4", path: "/projects/:projectId/compare/frozen/:frozenId" });
		expect(await screen.findByText(/Nothing has changed since/)).toBeTruthy();
		unmount();
		nowServe("GET /compare/frozen/4", { ...FROZEN, changes: { problem: "The variable is gone.", gone: ["code:3"], now: null, cells: [] } });
		show(<FrozenPage />, { at: "/projects/7/compare/frozen/4", path: "/projects/:projectId/compare/frozen/:frozenId" });
		expect(await screen.findByText(/It can’t be asked again: The variable is gone. 1 row no longer/)).toBeTruthy();
		expect(screen.getByText("not in the project any more")).toBeTruthy();
	});

	it("invite where there are none", async () => {
		nowServe("GET /compare/frozen", []);
		show(<FrozenPage />, { at: "/projects/7/compare/frozen" });
		expect(await screen.findByText("Nothing is frozen yet")).toBeTruthy();
	});
});

describe("what a kept comparison asks about and is gone", () => {
	const gone = (what: string, id: number, name: string, now: number | null, became: string) => ({ what, id, name, now, became });
	const kept = (list: unknown[]) =>
		({ asked: { codes: [2, 3], groups: ["Holm", "Strand"], difference: ["Holm", "Strand"] }, gone: list }) as unknown as Kept;

	it("is followed to what it became, or left out", () => {
		expect(followed(kept([gone("code", 3, "Waiting", 2, "Missed boats")])).codes).toEqual([2]);
		expect(followed(kept([gone("code", 3, "Waiting", null, "")])).codes).toEqual([2]);
		const renamed = followed(kept([gone("category", 11, "Strand", null, "Shore")]));
		expect(renamed.groups).toEqual(["Holm", "Shore"]);
		expect(renamed.difference).toBeNull();
	});
});

describe("overview", () => {
	const held = (id: number, name: string, parent: number | null, passages: number) => ({
		id,
		name,
		parent,
		colour: 1,
		passages,
		people: 1,
		branch_passages: passages + (parent ? 0 : 5),
		branch_people: 1,
		by_group: [],
	});
	const progress = {
		documents: [{ document: 5, title: "P10 pier", codings: 4, codes: 2, words: 2000 }],
		days: [{ day: "2026-03-31", codings: 4, new_codes: 2 }],
		coders: [{ coder: 1, name: "Rana", codings: 4 }],
		saturation: [
			{ name: "everyone", titles: ["a", "b", "c"], fresh: [3, 1, 0], heard: [3, 4, 4], ratio: [null, null, 0], base_codes: 3, reached: 2 },
		],
	};

	it("nests tiles whose areas add up, or bends them to a ring", async () => {
		nowServe("POST /compare/holdings", { groups: [], group_people: [3], codes: [held(2, "Crossing", null, 0), held(3, "Waiting", 2, 5)] });
		const { user } = show(<OverviewPage />, { at: "/projects/7/compare/overview" });
		expect(await screen.findByRole("button", { name: /^Crossing: 5/ })).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "ring" }));
		expect(address()).toContain("form=ring");
		await user.click(screen.getByRole("button", { name: /^Waiting: 5/ }));
		expect(address()).toContain("/compare?codes=3");
		const nodes = [6, 3, 2, 1].map((size) => ({ code: held(size, `${size}`, null, size), size, own: size, branch: size, children: [] }));
		const placed = squares(nodes, { x: 0, y: 0, w: 120, h: 100 });
		expect(placed.map(({ w, h }) => Math.round(w * h))).toEqual([6000, 3000, 2000, 1000]);
		expect(broken("Health appointments moved 13", 15, 4)).toEqual(["Health", "appointments", "moved 13"]);
		expect(broken("Old days compared 9", 6, 9)).toEqual(["Old", "days", "compa…", "9"]);
		expect(broken("Health appointments moved 13", 15, 1)).toEqual(["Health appo… 13"]);
	});

	it("tells how coding went along, and whether enough was heard", async () => {
		nowServe("POST /compare/progress", progress);
		const { user } = show(<OverviewPage />, { at: "/projects/7/compare/overview?part=went" });
		const row = (await screen.findByRole("link", { name: "P10 pier" })).closest("tr");
		expect(texts(row?.querySelectorAll("td") ?? [])).toEqual(["P10 pier", "4", "2", "2.0"]);
		await user.click(screen.getByRole("button", { name: "Heard enough?" }));
		expect(await screen.findByText("reached at interview 3")).toBeTruthy();
		await user.clear(screen.getByLabelText("Base size"));
		await user.type(screen.getByLabelText("Base size"), "6");
		expect(calls("POST /compare/progress").at(-1)).toMatchObject({ threshold: 0.05, run: 2 });
	});
});
