/** Where things within things have their room; by d3-hierarchy. */

import { hierarchy, partition, treemap, treemapSquarify } from "d3-hierarchy";

export interface Box {
	x: number;
	y: number;
	w: number;
	h: number;
}

interface Sized {
	size: number;
}

/** Tiles side by side in a box, as near to squares as they come. Source: Bruls, Huizing & van Wijk 2000, Squarified treemaps. */
export function squares<Of extends Sized>(nodes: Of[], { x, y, w, h }: Box): (Box & { node: Of })[] {
	if (w <= 0 || h <= 0) return [];
	const root = hierarchy<{ size?: number; nodes?: Of[] }>({ nodes }, (one) => one.nodes).sum((one) => one.size ?? 0);
	const placed = treemap<{ size?: number; nodes?: Of[] }>().tile(treemapSquarify.ratio(1)).size([w, h])(root);
	return (placed.children ?? []).map(({ data, x0, x1, y0, y1 }) => ({ node: data as Of, x: x + x0, y: y + y0, w: x1 - x0, h: y1 - y0 }));
}

interface Nested<Of> extends Sized {
	/** What of its size isn’t its children’s. */
	own: number;
	children: Of[];
}

/** Pieces of rings, one ring a level: each within its parent’s, what is left of the parent’s after them. Angles in radians. */
export function rings<Of extends Nested<Of>>(roots: Of[]): { node: Of; from: number; to: number; level: number }[] {
	const root = hierarchy<{ own?: number; children?: Of[] }>({ children: roots }, (one) => one.children).sum((one) => one.own ?? 0);
	const placed = partition<{ own?: number; children?: Of[] }>().size([2 * Math.PI, root.height + 1])(root);
	return placed
		.descendants()
		.filter((one) => one.depth > 0)
		.map(({ data, x0, x1, depth }) => ({ node: data as Of, from: x0, to: x1, level: depth - 1 }));
}
