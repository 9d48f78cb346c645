import type { Shape } from "../api/client";

/** A part of a picture; edges in ten-thousandths of the upright picture, whatever its zoom and rotation here. */
export type Region = Shape<"RegionOut">;
/** Quarter turns clockwise. */
export type Turns = 0 | 1 | 2 | 3;
export type Corner = "left top" | "right top" | "left bottom" | "right bottom";

export type Point = { x: number; y: number };

export const FULL = 10_000;
export const SMALLEST = 40;

/** A point of the picture as it is shown (0 to 1 from its left and top) on the upright picture. */
export function unturned(across: number, down: number, turns: Turns): Point {
	const [x, y] =
		turns === 1 ? [down, 1 - across] : turns === 2 ? [1 - across, 1 - down] : turns === 3 ? [1 - down, across] : [across, down];
	return { x: inside(Math.round(x * FULL)), y: inside(Math.round(y * FULL)) };
}

/** A point of the upright picture as it is seen. */
export function turned({ x, y }: Point, turns: Turns): Point {
	if (turns === 1) return { x: FULL - y, y: x };
	if (turns === 2) return { x: FULL - x, y: FULL - y };
	if (turns === 3) return { x: y, y: FULL - x };
	return { x, y };
}

/** A step as it is seen, on the upright picture. */
export function unturnedStep(across: number, down: number, turns: Turns): Point {
	if (turns === 1) return { x: down, y: -across };
	if (turns === 2) return { x: -across, y: -down };
	if (turns === 3) return { x: -down, y: across };
	return { x: across, y: down };
}

function inside(edge: number): number {
	return Math.min(FULL, Math.max(0, edge));
}

/** The region between two points. */
export function between(page: number, a: Point, b: Point): Region {
	return { page, left: Math.min(a.x, b.x), top: Math.min(a.y, b.y), right: Math.max(a.x, b.x), bottom: Math.max(a.y, b.y) };
}

export function largeEnough(region: Region): boolean {
	return region.right - region.left >= SMALLEST && region.bottom - region.top >= SMALLEST;
}

/** Moved as a whole, within the picture. */
export function shifted(region: Region, x: number, y: number): Region {
	const across = Math.min(FULL - region.right, Math.max(-region.left, x));
	const down = Math.min(FULL - region.bottom, Math.max(-region.top, y));
	return {
		...region,
		left: region.left + across,
		right: region.right + across,
		top: region.top + down,
		bottom: region.bottom + down,
	};
}

/** One corner elsewhere; the region keeps a least size and stays within the picture. */
export function resized(region: Region, corner: Corner, to: Point): Region {
	const [side, end] = corner.split(" ");
	const next = { ...region };
	if (side === "left") next.left = inside(Math.min(to.x, region.right - SMALLEST));
	else next.right = inside(Math.max(to.x, region.left + SMALLEST));
	if (end === "top") next.top = inside(Math.min(to.y, region.bottom - SMALLEST));
	else next.bottom = inside(Math.max(to.y, region.top + SMALLEST));
	return next;
}

export function alike(a: Region | null, b: Region | null): boolean {
	if (!a || !b) return a === b;
	return a.page === b.page && a.left === b.left && a.top === b.top && a.right === b.right && a.bottom === b.bottom;
}

const STEP = 100;
const ARROWS: Record<string, [number, number]> = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] };

/** What an arrow key makes of a region: moves it a hundredth (Alt: a fifth of that), with Shift its far corner. */
export function byArrow(region: Region, key: string, turns: Turns, shift: boolean, fine: boolean): Region | null {
	const arrow = ARROWS[key];
	if (!arrow) return null;
	const step = fine ? STEP / 5 : STEP;
	const { x, y } = unturnedStep(arrow[0] * step, arrow[1] * step, turns);
	if (!shift) return shifted(region, x, y);
	// The corner that is seen at the right and the foot.
	const side = turns === 0 || turns === 1 ? "right" : "left";
	const end = turns === 0 || turns === 3 ? "bottom" : "top";
	return resized(region, `${side} ${end}` as Corner, { x: region[side] + x, y: region[end] + y });
}
