/** Areas and angles of what is drawn, by geometry; the libraries' own shapes aren't gone over again. */
import { expect, it } from "vitest";
import { rings, squares } from "./nesting";
import { band, ringPiece, straight } from "./shapes";

const node = (own: number, ...children: ReturnType<typeof made>[]) => made(own, children);
function made(own: number, children: { size: number }[]): { own: number; size: number; children: never[] } {
	return { own, size: own + children.reduce((sum, one) => sum + one.size, 0), children: children as never[] };
}

it("tiles fill their box, each by its size", () => {
	const box = { x: 10, y: 20, w: 120, h: 100 };
	const placed = squares(
		[6, 3, 2, 1].map((own) => node(own)),
		box,
	);
	expect(placed.map(({ w, h }) => Math.round(w * h))).toEqual([6000, 3000, 2000, 1000]);
	for (const { x, y, w, h } of placed) {
		expect(x).toBeGreaterThanOrEqual(10);
		expect(y).toBeGreaterThanOrEqual(20);
		expect(x + w).toBeLessThanOrEqual(130.001);
		expect(y + h).toBeLessThanOrEqual(120.001);
	}
	expect(squares([], box)).toEqual([]);
	expect(squares([node(1)], { ...box, h: 0 })).toEqual([]);
});

it("a ring goes once round; children lie within their parent and leave what is its own", () => {
	const [whole, half, other, beneath] = rings([node(2, node(4)), node(6)]).sort((a, b) => a.level - b.level || a.from - b.from);
	expect([whole?.from, whole?.to]).toEqual([0, Math.PI]);
	expect([half?.from, half?.to]).toEqual([Math.PI, 2 * Math.PI]);
	expect(other?.level).toBe(1);
	expect((other?.to ?? 0) - (other?.from ?? 0)).toBeCloseTo((2 * Math.PI * 4) / 12);
	expect(beneath).toBeUndefined();
	expect(rings([])).toEqual([]);
});

it("a piece of a ring has its radius and its angle", () => {
	// A quarter from the top, clockwise: from (0, -10) to (10, 0).
	expect(ringPiece(0, 10, 0, Math.PI / 2)).toMatch(/^M0?-?0?,?-10A10,10,0,0,1,10,/);
	expect(ringPiece(0, 10, 0, 1.5 * Math.PI)).toContain("A10,10,0,1,1,");
	expect(ringPiece(5, 10, 1, 0.5)).not.toContain("NaN");
});

it("lines go through their places, bands leave and come level", () => {
	expect(
		straight([
			[0, 1],
			[2, 3],
		]),
	).toBe("M0,1L2,3");
	expect(straight([])).toBe("");
	expect(band([0, 10], [100, 30], 4)).toBe("M0,14C50,14,50,34,100,34L100,30C50,30,50,10,0,10Z");
});
