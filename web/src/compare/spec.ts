import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Shape } from "../api/client";
import { QUESTION, SHOWN } from "../api/grammar.gen";
import type { Code } from "../codes/data";
import type { Variable } from "../people/data";
import { useAddress } from "../project/address";
import { readAsked, scopeAddress, writtenAsked } from "../project/grammar";
import { type Scope, scopeRequest, useScope } from "../project/scope";
import { readView, type View } from "./view";

export type Question = Shape<"ComparisonInRequest">;
export type Measure = Question["measure"];
export type Base = Shape<"BaseOfShare">;

/** Which number is open in the drawer. */
export interface Opened {
	row: number | null;
	group: number | null;
	left_out: string | null;
}

export const COMPARABLE = new Set(["category", "ordered", "yes_no", "number", "date"]);

/** The whole view lives in the address: it can be linked, reloaded and gone back from. */
export function useQuestion(codes: Code[], variables: Variable[], ofDocuments: Variable[]) {
	const [params, change] = useAddress();
	const [, setParams] = useSearchParams();
	const { scope } = useScope();
	const question = useMemo(() => questionIn(params, codes, variables, ofDocuments, scope), [params, codes, variables, ofDocuments, scope]);
	// Another question closes the drawer: its number may not exist any more.
	const set = (changes: Record<string, string | null>, keep = false) =>
		change({ ...(keep ? {} : AFRESH), ...("open" in changes ? DRAWER : {}), ...changes }, keep);
	return {
		question,
		set,
		view: readView(params),
		kept: Number(params.get("kept")) || null,
		bare: !params.has("codes"),
		touched: params.has("kept") || ASKED.some((word) => params.has(word)),
		/** Another address as a whole. */
		go: useCallback((address: Record<string, string>) => setParams(address), [setParams]),
		opened: readOpened(params.get("open")),
	};
}

/** What an address asks; null where there are no variables to make groups of. */
export function questionIn(
	params: URLSearchParams,
	codes: Code[],
	variables: Variable[],
	ofDocuments: Variable[],
	scope: Scope,
): Question | null {
	const said = readAsked(QUESTION, params) as unknown as Question;
	const known = new Set(codes.map((code) => code.id));
	const rows = params.has("codes") ? said.codes.filter((id) => known.has(id)) : usualRows(codes);
	const comparable = variables.filter((variable) => COMPARABLE.has(variable.kind));
	const documentVariables = ofDocuments.filter((variable) => COMPARABLE.has(variable.kind));
	const variable =
		[...comparable, ...documentVariables].find((one) => one.id === said.variable) ??
		comparable.find((one) => one.kind === "ordered") ??
		comparable[0];
	if (!variable) return null;
	const second = [...comparable, ...documentVariables].find((one) => one.id === said.second);
	const named = Object.entries(said).filter(([name, value]) => value !== null || !LISTS.has(name));
	return {
		...(Object.fromEntries(named) as unknown as Question),
		codes: rows,
		variable: said.columns === "variable" ? variable.id : null,
		second: second?.id ?? null,
		scope: scopeRequest(scope),
	};
}

/** Words of the address that say what is asked and how it is shown. */
const ASKED = [...QUESTION, ...SHOWN].map((part) => part.address).filter(Boolean);
/** How far the drawer is read, and which side of it. */
const DRAWER = { up: null, seen: null };
/** What names a place in the result. */
const AFRESH = { open: null, line: null, ...DRAWER };

/** What is left out of a question, rather than said to be nothing. */
const LISTS = new Set<string>([...QUESTION.filter((part) => part.way === "ids").map((part) => part.name), "base", "period"]);

/** The address of a question and how it is shown; what is usual is left out. */
export function addressOf(question: Question, view: View): Record<string, string> {
	const said = {
		...writtenAsked(QUESTION, { ...question }),
		...scopeAddress(question.scope ?? {}),
		...writtenAsked(SHOWN, { ...view }),
		// Without codes the usual ones would come: said even where there are none.
		codes: question.codes.join(".") || "0",
	};
	return Object.fromEntries(Object.entries(said).filter((part): part is [string, string] => !!part[1]));
}

/** How many rows are asked for. */
export const rowsAsked = ({ codes, themes, queries }: Question) => codes.length + (themes?.length ?? 0) + (queries?.length ?? 0);

/** To begin with: the codes of the first branch that hold something, or the top codes where nothing lies beneath. */
function usualRows(codes: Code[]): number[] {
	const held = (code: Code): boolean => code.passages > 0 || codes.some((child) => child.parent === code.id && held(child));
	const under = (parent: number | null) => codes.filter((code) => code.parent === parent);
	const tops = under(null).filter((code) => under(code.id).length > 0);
	const branch = tops.map((code) => under(code.id)).find((children) => children.some(held)) ?? under(null);
	const filled = branch.filter(held);
	return (filled.length > 0 ? filled : branch).map((code) => code.id).slice(0, 40);
}

export function writeOpened({ row, group, left_out }: Opened): string {
	return [row ?? "all", left_out ?? group ?? "all"].join("~");
}

export function readOpened(text: string | null): Opened | null {
	if (text === null) return null;
	const [row, column] = text.split("~") as [string, string | undefined];
	const number = (said: string | undefined) => (said !== undefined && /^\d+$/.test(said) ? Number(said) : null);
	return {
		row: number(row),
		group: number(column),
		left_out: column && column !== "all" && number(column) === null ? column : null,
	};
}
