import { describe, expect, it } from "vitest";
import { COMPARISON, QUESTION } from "../tests/samples";
import type { Cell, Row, Standing } from "./data";
import { tintOf } from "./forms/rows";
import { edge, pairKey, standings } from "./marks";
import { addressOf } from "./spec";
import { readView } from "./view";

const found = (marks: Standing["marks"]): Standing => ({
	findings: [],
	marks,
	share: true,
	looked_at: 6,
	sure: 0,
	look: 0,
	by_chance: 0.3,
	otherwise: "",
	methods: "",
	sources: [],
});

describe("what a row has that is sure or worth a look", () => {
	it("is nothing before it is known", () => {
		expect(standings(COMPARISON, undefined).size).toBe(0);
		expect(standings(COMPARISON, found([])).size).toBe(0);
	});

	it("is its strongest mark, with all pairs in words", () => {
		const rows = standings(
			{ ...COMPARISON, groups: [...COMPARISON.groups, { ...COMPARISON.groups[0], name: "Ytter", label: "Ytter" }] as never },
			found([
				{ row: 1, groups: [0, 1], standing: "look", p: 0.2 },
				{ row: 1, groups: [1, 2], standing: "sure", p: 0.01 },
				{ row: 0, groups: [0, 2], standing: "look", p: null },
			]),
		);
		expect(rows.get(1)?.standing).toBe("sure");
		expect(rows.get(1)?.words).toBe("Holm and Strand differ: worth a look, not sure; Strand and Ytter differ: sure");
		expect(rows.get(0)?.standing).toBe("look");
		expect(rows.get(1)?.pairs.get(pairKey(1, 0))).toBe("look");
		expect(rows.get(1)?.pairs.get(pairKey(2, 1))).toBe("sure");
		expect(rows.get(1)?.pairs.get(pairKey(0, 2))).toBeUndefined();
	});

	it("names groups of layers by their label", () => {
		const groups = COMPARISON.groups.map((group) => ({ ...group, name: `North · ${group.label}`, outer: "North" }));
		const rows = standings({ ...COMPARISON, layered: true, groups }, found([{ row: 0, groups: [0, 1], standing: "sure", p: 0.01 }]));
		expect(rows.get(0)?.words).toBe("Holm and Strand differ: sure");
	});

	it("has an edge of its own for each, and none without", () => {
		expect(edge("sure")).toContain("spruce");
		expect(edge("look")).toContain("apricot");
		expect(edge(undefined)).toBe("");
	});
});

describe("the tint of a cell", () => {
	const row = (holm: number | null) => ({ ...COMPARISON.rows[0], test: { ...COMPARISON.rows[0]?.test, holm } }) as Row;
	const cell = (residual: number | null, base = 20, figure = 0.9) => ({ ...COMPARISON.rows[0]?.cells[0], residual, base, figure }) as Cell;

	it("is strong only where the row's own test bears it and there are people", () => {
		expect(tintOf(cell(2.4), row(0.01), "expected", 1)).toBe("bg-above-more");
		expect(tintOf(cell(-2.4), row(0.01), "expected", 1)).toBe("bg-below-more");
		expect(tintOf(cell(2.4), row(0.3), "expected", 1)).toBe("bg-above");
		expect(tintOf(cell(2.4, 4), row(0.01), "expected", 1)).toBe("bg-above");
		expect(tintOf(cell(2.4), row(0.8), "expected", 1)).toBe("");
		expect(tintOf(cell(0.4), row(0.01), "expected", 1)).toBe("");
		expect(tintOf(cell(null), row(0.01), "expected", 1)).toBe("");
	});

	it("by size is pale for few, and palest for one person", () => {
		const tints = [1, 3, 20].map((base) => tintOf(cell(0, base, 1), row(1), "share", 1));
		expect(tints).toEqual(["bg-amount-1", "bg-amount-2", "bg-amount-4"]);
		expect(tintOf(cell(0, 20, 0), row(1), "share", 1)).toBe("");
		expect(tintOf(cell(3), row(0.001), "none", 1)).toBe("");
	});
});

describe("the address of a question", () => {
	const question = { ...QUESTION, adjusted: [12, 13] };

	it("holds the facts that are held at once", () => {
		const address = addressOf(question, readView(new URLSearchParams()));
		expect(address).toMatchObject({ codes: "2.3", variable: "11", adjusted: "12.13" });
		expect(addressOf({ ...question, adjusted: [] }, readView(new URLSearchParams())).adjusted).toBeUndefined();
	});
});
