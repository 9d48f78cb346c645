import type { Shape } from "../api/client";
import type { Comparison, Row } from "./data";

export const FORMS = ["table", "bars", "gaps", "flow", "tiles", "matrix", "map", "people", "spread", "waves"] as const;
export type Form = (typeof FORMS)[number];

export const ORDERS = {
	codebook: "as in the codebook",
	size: "largest first",
	difference: "largest difference first",
	likeness: "like ones together",
} as const;
export type Order = keyof typeof ORDERS;

export const TINTS = { expected: "above / below expected", share: "by size", none: "none" } as const;
export type Tint = keyof typeof TINTS;

/** How a result is shown; nothing of it changes what is counted. */
export interface View {
	form: Form;
	order: Order;
	tint: Tint;
	/** Rows of fewer people than this are not shown; 0 shows all. */
	least: number;
	/** Bars stacked to 100 %. */
	stack: boolean;
	/** Groups as rows. */
	swap: boolean;
	/** Figures beside the shapes of the matrix. */
	figures: boolean;
	/** What the marks of the matrix are scaled within. */
	scaled: Scaled;
	/** The number of the form that spreads people by it. */
	number: number | null;
}

export const SCALES = { all: "the whole table", row: "each row", column: "each group" } as const;
export type Scaled = keyof typeof SCALES;
/** What each form is called, where not by its own name. */
export const CALLED: Partial<Record<Form, string>> = { people: "one by one", spread: "by a number" };

export function readView(params: URLSearchParams): View {
	return {
		form: one(FORMS, params.get("form"), "table"),
		order: one(Object.keys(ORDERS) as Order[], params.get("order"), "codebook"),
		tint: one(Object.keys(TINTS) as Tint[], params.get("tint"), "expected"),
		least: Math.max(0, Math.floor(Number(params.get("least")) || 0)),
		stack: params.get("stack") === "1",
		swap: params.get("swap") === "1",
		figures: params.get("figures") !== "0",
		scaled: one(Object.keys(SCALES) as Scaled[], params.get("scaled"), "all"),
		number: Number(params.get("number")) || null,
	};
}

function one<T extends string>(known: readonly T[], said: string | null, usual: T): T {
	return known.find((name) => name === said) ?? usual;
}

/** The rows that are shown, in their order: places in the result, since a number is opened by its place. */
export function placesShown(result: Comparison, view: View, likeness?: number[]): number[] {
	const places = result.rows.map((_, place) => place).filter((place) => (result.rows[place]?.total.people ?? 0) >= view.least);
	if (view.order === "codebook") return places;
	if (view.order === "likeness") return likeness ? likeness.filter((place) => places.includes(place)) : places;
	const weight = view.order === "size" ? sizeOf : spreadOf;
	const weights = result.rows.map(weight);
	return places.sort((a, b) => (weights[b] ?? 0) - (weights[a] ?? 0) || a - b);
}

const sizeOf = (row: Row) => row.total.figure ?? -1;

/** The difference asked for, whichever way; without one, the gap between the largest and the smallest figure. */
function spreadOf(row: Row): number {
	if (row.difference?.difference != null) return Math.abs(row.difference.difference);
	const figures = row.cells.flatMap((cell) => (cell.figure === null ? [] : [cell.figure]));
	return figures.length > 1 ? Math.max(...figures) - Math.min(...figures) : -1;
}

export const shownOf = (view: View): Shape<"ShownInRequest"> => ({ ...view });
