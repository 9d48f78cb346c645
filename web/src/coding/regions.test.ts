import { expect, it } from "vitest";
import { between, byArrow, FULL, largeEnough, type Region, resized, shifted, type Turns, turned, unturned } from "./regions";

const region: Region = { page: 1, left: 1000, top: 2000, right: 3000, bottom: 2500 };

it("finds the same point of the picture however it is turned", () => {
	// The upright point (0.2, 0.1) as it is seen after each quarter turn clockwise.
	const seen: [number, number][] = [
		[0.2, 0.1],
		[0.9, 0.2],
		[0.8, 0.9],
		[0.1, 0.8],
	];
	seen.forEach(([across, down], turns) => {
		expect(unturned(across, down, turns as Turns)).toEqual({ x: 2000, y: 1000 });
	});
	for (const turns of [0, 1, 2, 3] as const) {
		const there = turned({ x: 2000, y: 1000 }, turns);
		expect(unturned(there.x / FULL, there.y / FULL, turns)).toEqual({ x: 2000, y: 1000 });
	}
	expect(unturned(-0.3, 1.4, 0)).toEqual({ x: 0, y: FULL });
});

it("draws between any two points, and tells a slip from a region", () => {
	const drawn = between(2, { x: 500, y: 40 }, { x: 20, y: 90 });
	expect(drawn).toEqual({ page: 2, left: 20, top: 40, right: 500, bottom: 90 });
	expect(largeEnough(drawn)).toBe(true);
	expect(largeEnough({ ...drawn, right: 50 })).toBe(false);
});

it("moves within the picture and keeps its size", () => {
	expect(shifted(region, -5000, 9000)).toEqual({ page: 1, left: 0, top: 9500, right: 2000, bottom: FULL });
});

it("is resized by a corner that can’t pass the other", () => {
	expect(resized(region, "left top", { x: 5000, y: 0 })).toEqual({ ...region, left: 2960, top: 0 });
	expect(resized(region, "right bottom", { x: 12_000, y: 2001 })).toEqual({ ...region, right: FULL, bottom: 2040 });
});

it("goes by key as it is seen, also on a turned picture", () => {
	expect(byArrow(region, "ArrowRight", 0, false, false)).toMatchObject({ left: 1100, top: 2000 });
	// Turned once clockwise, what is seen to the right is up on the upright picture.
	expect(byArrow(region, "ArrowRight", 1, false, false)).toMatchObject({ left: 1000, top: 1900 });
	expect(byArrow(region, "ArrowDown", 0, true, true)).toEqual({ ...region, bottom: 2520 });
	expect(byArrow(region, "ArrowRight", 1, true, false)).toEqual({ ...region, top: 1900 });
	expect(byArrow(region, "ArrowRight", 2, true, false)).toEqual({ ...region, left: 900 });
	expect(byArrow(region, "x", 0, false, false)).toBeNull();
});
