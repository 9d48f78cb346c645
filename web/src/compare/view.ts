import type { Shape } from "../api/client";
import { SHOWN } from "../api/grammar.gen";
import { say } from "../language/say";
import { readAsked } from "../project/grammar";

type Comparison = Shape<"ComparisonOut">;
type Row = Comparison["rows"][number];

export const FORMS = SHOWN[0].words;
export type Form = Shape<"ShownIn">["form"];

export const ORDERS: Record<Shape<"ShownIn">["order"], string> = {
	codebook: say("as in the codebook"),
	size: say("largest first"),
	difference: say("largest difference first"),
	likeness: say("like ones together"),
};
export type Order = keyof typeof ORDERS;

export const TINTS: Record<Shape<"ShownIn">["tint"], string> = {
	expected: say("above / below expected"),
	share: say("by size"),
	none: say("none"),
};
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
	/** Whom one by one shows. */
	each: Each;
	/** The number of the form that spreads people by it. */
	number: number | null;
}

export type Each = Shape<"ShownIn">["each"];

export const SCALES: Record<Shape<"ShownIn">["scaled"], string> = {
	all: say("the whole table"),
	row: say("each row"),
	column: say("each group"),
};
export type Scaled = keyof typeof SCALES;
/** What each form is called. */
export const CALLED: Record<Form, string> = {
	table: say("table"),
	bars: say("bars"),
	gaps: say("gaps"),
	flow: say("flow"),
	tiles: say("tiles"),
	matrix: say("matrix"),
	map: say("map"),
	people: say("one by one"),
	spread: say("by a number"),
	waves: say("waves"),
};

export function readView(params: URLSearchParams): View {
	return readAsked(SHOWN, params) as unknown as View;
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
