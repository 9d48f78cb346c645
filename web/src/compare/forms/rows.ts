import type { Cell, Comparison, Row } from "../data";
import type { Tint } from "../view";

export function rowsAt(result: Comparison, places: number[]): { row: Row; place: number }[] {
	return places.flatMap((place) => {
		const row = result.rows[place];
		return row ? [{ row, place }] : [];
	});
}

const AMOUNTS = ["", "bg-amount-1", "bg-amount-2", "bg-amount-3", "bg-amount-4"];

const FEW = 5;

/** Plum below what would be expected, moss above, as strong as the figure bears: nothing where the row's own test says
 * chance would do as much, and never the strong tint for a handful of people; or one hue by size, pale for few. */
export function tintOf(cell: Cell, row: Row, tint: Tint, scale: number): string {
	if (tint === "none") return "";
	if (tint === "share") {
		const most = cell.base <= 1 ? 1 : cell.base < FEW ? 2 : 4;
		return AMOUNTS[Math.min(most, Math.floor((5 * (cell.figure ?? 0)) / scale))] ?? "";
	}
	const { residual } = cell;
	const holm = row.test.holm ?? 0;
	if (residual === null || holm > 0.5) return "";
	const strong = Math.abs(residual) >= 2 && holm <= 0.05 && cell.base >= FEW;
	if (residual <= -1) return strong ? "bg-below-more" : "bg-below";
	if (residual >= 1) return strong ? "bg-above-more" : "bg-above";
	return "";
}

/** What the column of differences holds: a difference of shares, an odds ratio over layers, or who changed. */
export type Size = "gap" | "layers" | "changes" | null;

export function sizeOf(result: Comparison): Size {
	if (result.measure !== "people" || result.groups.length < 2) return null;
	if (result.rows.some((row) => row.layers)) return "layers";
	if (result.rows.some((row) => row.changes)) return "changes";
	return result.shared_people > 0 || result.layered ? null : "gap";
}

/** A line at the left of the first group of each outer one. */
export function begins(result: Comparison, place: number): string {
	return result.outer.length > 0 && result.groups[place]?.outer !== result.groups[place - 1]?.outer ? "border-l border-l-line" : "";
}
