import type { Variable } from "./data";

const DAY = 86_400_000;
/** Days since year 1 of 1 January 1970, as the server counts days. */
const EPOCH = 719_163;

export function dayOf(days: number): string {
	return new Date((days - EPOCH) * DAY).toISOString().slice(0, 10);
}

export function daysOf(day: string): number {
	return Date.parse(day) / DAY + EPOCH;
}

/** How a cut point is written: a number, or for a date the day. */
export function edgeWords(variable: Variable, cut: number): string {
	return variable.kind === "date" ? dayOf(Math.round(cut)) : String(Number(cut.toPrecision(8)));
}

/** Names of the bands, each edge said exactly, as the server says them: data, by which groups are chosen, so the same in every language. */
export function bandNames(variable: Variable, cuts: number[]): string[] {
	const said = cuts.map((cut) => edgeWords(variable, cut));
	const dated = variable.kind === "date";
	if (!said.length) return ["all values"];
	const between = said.slice(1).map((high, place) => (dated ? `${said[place]} to before ${high}` : `${said[place]} to under ${high}`));
	return [dated ? `before ${said[0]}` : `under ${said[0]}`, ...between, dated ? `${said.at(-1)} and after` : `${said.at(-1)} and over`];
}

/** How many values lie in each band; a value on a cut belongs to the band above it. */
export function bandCounts(values: number[], cuts: number[]): number[] {
	const counts = new Array<number>(cuts.length + 1).fill(0);
	for (const value of values) {
		const place = cuts.filter((cut) => value >= cut).length;
		counts[place] = (counts[place] ?? 0) + 1;
	}
	return counts;
}

/** Cut points as typed: `25, 35, 50`, or days; null where one can't be read. */
export function typedCuts(variable: Variable, text: string): number[] | null {
	const parts = text.split(/[,;\s]+/).filter(Boolean);
	const numbers = parts.map((part) => (variable.kind === "date" ? daysOf(part) : Number(part)));
	if (!numbers.every(Number.isFinite)) return null;
	return [...new Set(numbers)].sort((a, b) => a - b);
}

/** A step that a cut moves by when dragged or moved by key: round, and fine enough for the scale. */
export function stepOf(values: number[]): number {
	const span = (values.at(-1) ?? 0) - (values[0] ?? 0);
	if (values.every(Number.isInteger)) return span > 400 ? 5 : 1;
	return 10 ** Math.floor(Math.log10(span / 50 || 1));
}
