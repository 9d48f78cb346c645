import { describe, expect, it } from "vitest";
import { apart } from "./apart";

describe("labels of lines", () => {
	it("stand where their lines end, where there is room", () => {
		expect(apart([100, 20, 60], 14, 0, 300)).toEqual([100, 20, 60]);
	});

	it("make room for each other about where they belong", () => {
		expect(apart([100, 100, 100], 14, 0, 300)).toEqual([86, 100, 114]);
		expect(apart([50, 90, 92], 14, 0, 300)).toEqual([50, 84, 98]);
	});

	it("stay within the drawing", () => {
		expect(apart([298, 299, 300], 14, 0, 300)).toEqual([272, 286, 300]);
		expect(apart([0, 1], 14, 0, 300)).toEqual([0, 14]);
	});

	it("never cover each other, however many", () => {
		const wanted = Array.from({ length: 60 }, (_, at) => (at * 37) % 50);
		const found = apart(wanted, 14, 20, 300).sort((a, b) => a - b);
		const least = Math.min(...found.slice(1).map((place, at) => place - (found[at] ?? 0)));
		expect(least).toBeGreaterThanOrEqual(14 - 1e-9);
		expect(found[0]).toBeGreaterThanOrEqual(20);
	});
});
