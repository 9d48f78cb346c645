import type { Cell, Comparison, Row } from "../data";
import type { Tint } from "../view";

export function rowsAt(result: Comparison, places: number[]): { row: Row; place: number }[] {
	return places.flatMap((place) => {
		const row = result.rows[place];
		return row ? [{ row, place }] : [];
	});
}

const AMOUNTS = ["", "bg-[#E8F0EF]", "bg-[#D3E3E2]", "bg-[#B9D2D1]", "bg-[#9DBFBE]"];

/** Plum below what would be expected, moss above (the residual itself stands in the title); or one hue by size. */
export function tintOf(cell: Cell, tint: Tint, scale: number): string {
	if (tint === "none") return "";
	if (tint === "share") return AMOUNTS[Math.min(4, Math.floor((5 * (cell.figure ?? 0)) / scale))] ?? "";
	const { residual } = cell;
	if (residual === null) return "";
	if (residual <= -2) return "bg-[#EBD6E6]";
	if (residual <= -1) return "bg-[#F6ECF3]";
	if (residual >= 2) return "bg-[#D9E8C8]";
	return residual >= 1 ? "bg-[#EDF3E4]" : "";
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
