import { counted, percent } from "../ui/words";
import type { Comparison } from "./data";
import type { Measure } from "./spec";

/** A share is shown in per cent; a mean or a rate as it is. */
export const isShare = (measure: Measure) => measure === "people" || measure === "passages" || measure === "words";

const UNITS: Partial<Record<Measure, string>> = {
	rate: "passages per 1,000 words",
	per_person: "passages a person",
	rating: "mean rating",
};

export function unitOf(result: Comparison, one: string): string {
	const unit = UNITS[result.measure]?.replace("person", one);
	return unit ?? `% of ${result.bases.find((base) => base.id === result.base)?.words ?? ""}`;
}

export function fixed(figure: number | null): string {
	return figure === null ? "–" : figure.toFixed(figure < 10 ? 2 : 1);
}

/** As in a cell. */
export function short(measure: Measure, figure: number | null): string {
	return isShare(measure) ? percent(figure) : fixed(figure);
}

/** As it is read out. */
export function inWords(measure: Measure, figure: number | null): string {
	if (figure === null) return "no base";
	return isShare(measure) ? `${percent(figure)} %` : `${fixed(figure)} ${UNITS[measure]}`;
}

/** What the figure is made of: small beside it. */
export function madeOf(measure: Measure, count: number, base: number): string {
	if (measure === "rate") return counted(count, "passage");
	if (measure === "rating") return `of ${count}`;
	return measure === "per_person" ? `${count} over ${base}` : `${count} of ${base}`;
}

/** Five to ten round numbers within the ends, at even steps of 1, 2 or 5 times a power of ten. */
export function roundTicks(low: number, high: number): number[] {
	if (!(high > low)) return Number.isFinite(low) ? [low] : [];
	const rough = (high - low) / 8;
	const power = 10 ** Math.floor(Math.log10(rough));
	const step = power * ([1, 2, 5].find((times) => times * power >= rough) ?? 10);
	const first = Math.ceil(low / step);
	return Array.from({ length: Math.floor(high / step) - first + 1 }, (_, at) => Number(((first + at) * step).toPrecision(12)));
}

/** The longest bar: 1 for shares, else the largest figure or end of an interval. */
export function largest(result: Comparison): number {
	if (isShare(result.measure)) return 1;
	return Math.max(0.01, ...result.rows.flatMap((row) => row.cells.map((cell) => cell.high ?? cell.figure ?? 0)));
}
