/** Shapes of charts, as the paths of drawings; by d3-shape. */

import { arc, area, curveBumpX, line } from "d3-shape";

type Place = [number, number];

/** A piece of a ring around 0, 0; angles clockwise from the top, in radians. */
export function ringPiece(inner: number, outer: number, from: number, to: number): string {
	return arc()({ innerRadius: inner, outerRadius: outer, startAngle: from, endAngle: Math.max(to, from) }) ?? "";
}

/** From place to place in straight lines. */
export const straight = (places: Place[]): string => line()(places) ?? "";

/** A band of even width that leaves one side level and comes to the other level. */
export function band([x, y]: Place, [otherX, otherY]: Place, thick: number): string {
	const shape = area<Place>()
		.x(([at]) => at)
		.y0(([, at]) => at)
		.y1(([, at]) => at + thick)
		.curve(curveBumpX);
	return shape([
		[x, y],
		[otherX, otherY],
	]) as string;
}
