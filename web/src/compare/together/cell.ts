import type { Shape } from "../../api/client";

export type Together = Shape<"TogetherOut">;

export interface Cell {
	row: number;
	column: number;
	group: number | null;
}

export function readCell(said: string | null): Cell | null {
	const [row, column, group] = said?.split("~") ?? [];
	if (!/^\d+$/.test(row ?? "") || !/^\d+$/.test(column ?? "")) return null;
	return { row: Number(row), column: Number(column), group: /^\d+$/.test(group ?? "") ? Number(group) : null };
}

/** An address may name a cell that this table doesn’t have. */
export const there = (cell: Cell, data: Together) =>
	cell.row < data.codes.length && cell.column < data.codes.length && (cell.group === null || cell.group < data.groups.length);

export const writeCell = ({ row, column, group }: Cell) => [row, column, group ?? "all"].join("~");
