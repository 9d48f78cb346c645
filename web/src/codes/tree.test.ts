import { describe, expect, it } from "vitest";
import { readOpened, writeOpened } from "../compare/spec";
import { percent, pValue } from "../ui/words";
import type { Code } from "./data";
import { branches, flat, matching, pathOf, stepped } from "./tree";

const code = (id: number, parent: number | null, name: string, definition = ""): Code => ({
	id,
	parent,
	name,
	definition,
	colour: 0,
	covers: "",
	excludes: "",
	example: "",
	scale_low: "",
	scale_high: "",
	kind: "" as const,
	parked: false,
	passages: 0,
	branch_passages: 0,
	people: 0,
	documents: 0,
});
const codes = [
	code(1, null, "Getting across"),
	code(2, 1, "Missed connections"),
	code(3, 2, "Who waits"),
	code(4, null, "Who decided", "the bus company"),
];

describe("the codebook", () => {
	it("is a tree with depths and paths", () => {
		expect(flat(branches(codes)).map((branch) => [branch.code.id, branch.depth])).toEqual([
			[1, 0],
			[2, 1],
			[3, 2],
			[4, 0],
		]);
		expect(pathOf(codes[2] as Code, new Map(codes.map((one) => [one.id, one])))).toEqual(["Getting across", "Missed connections"]);
	});

	it("finds codes by any part of name or definition, names and recent ones first", () => {
		expect(matching(codes, "who", []).map((one) => one.id)).toEqual([3, 4]);
		expect(matching(codes, "who", [4]).map((one) => one.id)).toEqual([4, 3]);
		expect(matching(codes, "bus comp", []).map((one) => one.id)).toEqual([4]);
		expect(matching(codes, "zebra", [])).toEqual([]);
	});
});

describe("the address", () => {
	it("says which number is open, and survives nonsense", () => {
		for (const opened of [
			{ row: 3, group: 1, left_out: null },
			{ row: null, group: null, left_out: "not_linked" },
			{ row: 0, group: null, left_out: null },
		])
			expect(readOpened(writeOpened(opened))).toEqual(opened);
	});
});

describe("figures in words", () => {
	it("never round a small p to nothing, nor a missing share to 0", () => {
		expect([pValue(0.0002), pValue(0.041), pValue(0.3), pValue(0.999), pValue(null)]).toEqual(["<.001", ".041", ".30", "1", "–"]);
		expect([percent(0.456), percent(null)]).toEqual(["46", "–"]);
	});
});

it("steps a code up and down among its siblings, and not beyond them", () => {
	const codes = [code(1, null, "A"), code(2, 1, "B"), code(3, 1, "C"), code(4, null, "D"), code(5, 1, "E")];
	expect(stepped(codes, 3, -1)).toBe(2);
	expect(stepped(codes, 2, 1)).toBe(5);
	expect(stepped(codes, 3, 1)).toBeNull();
	expect(stepped(codes, 2, -1)).toBeUndefined();
	expect(stepped(codes, 5, 1)).toBeUndefined();
	expect(stepped(codes, 4, -1)).toBe(1);
});
