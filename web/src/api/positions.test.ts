import { describe, expect, it } from "vitest";
import { positionsOf } from "./positions";

describe("positions", () => {
	const text = "a🚢b é 👩‍👩‍👧 שלום 𝒳";

	it("are the same in a text of narrow characters", () => {
		const { toUnits, toCodePoints } = positionsOf("plain — naïve");
		expect([0, 5, 13].map(toUnits)).toEqual([0, 5, 13]);
		expect([0, 5, 13].map(toCodePoints)).toEqual([0, 5, 13]);
	});

	it("agree with counting every character, both ways", () => {
		const { toUnits, toCodePoints } = positionsOf(text);
		const points = [...text];
		let unit = 0;
		points.forEach((character, point) => {
			expect(toUnits(point)).toBe(unit);
			expect(toCodePoints(unit)).toBe(point);
			unit += character.length;
		});
		expect(toUnits(points.length)).toBe(text.length);
		expect(toCodePoints(text.length)).toBe(points.length);
	});

	it("cut out the same words in both ways of counting", () => {
		const { toUnits } = positionsOf(text);
		const points = [...text];
		const start = points.indexOf("ש");
		expect(text.slice(toUnits(start), toUnits(start + 4))).toBe(points.slice(start, start + 4).join(""));
	});
});
