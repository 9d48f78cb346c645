/**
 * The server counts code points, the browser UTF-16 units. This is the one place where
 * one becomes the other.
 */
export interface Positions {
	toUnits(codePoints: number): number;
	toCodePoints(units: number): number;
}

const SURROGATES = /[\ud800-\udbff][\udc00-\udfff]/g;

export function positionsOf(text: string): Positions {
	// Unit offsets at which a character of two units starts; few or none in most texts.
	const wide = Array.from(text.matchAll(SURROGATES), (match) => match.index);
	if (wide.length === 0) return { toUnits: (at) => at, toCodePoints: (at) => at };
	const widePoints = wide.map((unit, before) => unit - before);
	return {
		toUnits: (at) => at + countBelow(widePoints, at),
		// A position inside a wide character counts as its start: the unit before it is the surplus.
		toCodePoints: (at) => at - countBelow(wide, at),
	};
}

/** How many of the ascending numbers lie below `limit`. */
function countBelow(ascending: number[], limit: number): number {
	let low = 0;
	let high = ascending.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if ((ascending[middle] as number) < limit) low = middle + 1;
		else high = middle;
	}
	return low;
}
