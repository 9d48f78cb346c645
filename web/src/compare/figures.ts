import { say } from "../language/say";
import { apart, type Parts } from "../ui/copying";
import { counted, decimal, percent } from "../ui/words";
import type { Cell, Comparison } from "./data";

export type Figures = Comparison["figures"];

export function unitOf(result: Comparison): string {
	return result.figures.unit || say("% of {words}", { words: result.bases.find((base) => base.id === result.base)?.words ?? "" });
}

export function fixed(figure: number | null): string {
	return figure === null ? "–" : decimal(figure, figure < 10 ? 2 : 1);
}

/** As in a cell: a share in per cent, a mean or a rate as it is. */
export function short(figures: Figures, figure: number | null): string {
	return figures.share ? percent(figure) : fixed(figure);
}

/** As it is read out. */
export function inWords(figures: Figures, figure: number | null): string {
	if (figure === null) return say("no base");
	return figures.share ? `${percent(figure)} %` : `${fixed(figure)} ${figures.unit}`;
}

/** How many are in a group's base; where each row has people of its own, how many were asked about any of them. */
export function inBase(result: Pick<Comparison, "base">, people: number, one: string, many: string): string {
	const so = counted(people, one, many);
	return result.base === "asked" ? say("{people} asked", { people: so }) : so;
}

/** What the figure is made of: small beside it. */
export function madeOf(figures: Figures, count: number, base: number): string {
	// Hidden in what leaves the project: neither is known.
	if (count === 0 && base === 0 && figures.share) return "";
	return figures.cell
		.replace("{counted}", counted(count, figures.noun[0] ?? "", figures.noun[1]))
		.replace("{count}", String(count))
		.replace("{base}", String(base));
}

/** A cell as it is read out: what is seen of it, in that order (WCAG 2.5.3), with its unit. */
export function cellInWords(figures: Figures, cell: Pick<Cell, "figure" | "count" | "base">): string {
	return [inWords(figures, cell.figure), madeOf(figures, cell.count, cell.base)].filter(Boolean).join(", ");
}

/** What a cell is copied as: its figure (a share from 0 to 1), what it is made of, and its interval, each by itself. */
export function apartOf(figures: Figures, cell: Pick<Cell, "figure" | "count" | "base"> & Partial<Pick<Cell, "low" | "high">>) {
	const parts: Parts = [
		[figures.head, cell.figure],
		[figures.noun[1] ?? say("count"), cell.count],
		[say("base"), cell.base],
	];
	if (cell.low != null && cell.high != null) parts.push([say("low"), cell.low], [say("high"), cell.high]);
	return apart(parts);
}

/** The longest bar: 1 for shares, else the largest figure or end of an interval. */
export function largest(result: Comparison): number {
	if (result.figures.share) return 1;
	return Math.max(0.01, ...result.rows.flatMap((row) => row.cells.map((cell) => cell.high ?? cell.figure ?? 0)));
}
