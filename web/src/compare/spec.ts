import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Shape } from "../api/client";
import type { Code } from "../coding/data";
import type { Variable } from "../people/data";
import { useAddress } from "../shell/address";
import { type Scope, scopeAddress, scopeRequest, useScope } from "../shell/scope";
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

export const COMPARABLE = new Set(["category", "ordered", "yes_no", "number"]);

/** The whole view lives in the address: it can be linked, reloaded and gone back from. */
export function useQuestion(codes: Code[], variables: Variable[], ofDocuments: Variable[]) {
	const [params, change] = useAddress();
	const [, setParams] = useSearchParams();
	const { scope } = useScope();
	const question = useMemo(() => read(params, codes, variables, ofDocuments, scope), [params, codes, variables, ofDocuments, scope]);
	// Another question closes the drawer: its number may not exist any more.
	const set = (changes: Record<string, string | null>, keep = false) => change(keep ? changes : { open: null, ...changes }, keep);
	return {
		question,
		set,
		view: readView(params),
		kept: Number(params.get("kept")) || null,
		bare: !params.has("codes"),
		/** Another address as a whole. */
		go: useCallback((address: Record<string, string>) => setParams(address), [setParams]),
		opened: readOpened(params.get("open")),
	};
}

function read(params: URLSearchParams, codes: Code[], variables: Variable[], ofDocuments: Variable[], scope: Scope): Question | null {
	const known = new Set(codes.map((code) => code.id));
	const asked = params.get("codes");
	const rows =
		asked === null
			? usualRows(codes)
			: asked
					.split(".")
					.map(Number)
					.filter((id) => known.has(id));
	const comparable = variables.filter((variable) => COMPARABLE.has(variable.kind));
	const ids = (name: string) => params.get(name)?.split(".").filter(Boolean).map(Number).filter(Number.isFinite) ?? [];
	const documentVariables = ofDocuments.filter((variable) => COMPARABLE.has(variable.kind));
	const variable =
		[...comparable, ...documentVariables].find((one) => one.id === Number(params.get("variable"))) ??
		comparable.find((one) => one.kind === "ordered") ??
		comparable[0];
	if (!variable) return null;
	const measure = (params.get("measure") as Measure) || "people";
	const across = params.get("variable") ?? "";
	const columns = (["cohorts", "cases", "documents"] as const).find((one) => one === across) ?? "variable";
	const second = [...comparable, ...documentVariables].find((one) => one.id === Number(params.get("second")));
	return {
		codes: rows,
		...(params.has("themes") && { themes: ids("themes") }),
		...(params.has("queries") && { queries: ids("queries") }),
		columns,
		variable: columns === "variable" ? variable.id : null,
		second: second?.id ?? null,
		second_as: params.get("as") === "layers" ? "layers" : "nested",
		roll_up: params.get("rollup") !== "0",
		groups: list(params.get("groups")),
		cuts: params.get("cuts")?.split("~").map(Number).filter(Number.isFinite) ?? null,
		measure,
		base: (params.get("base") as Base) || undefined,
		difference: list(params.get("difference")),
		scope: scopeRequest(scope),
		permutations: true,
		...(params.has("adjusted") && { adjusted: ids("adjusted") }),
	};
}

/** The address of a question and how it is shown; what is usual is left out. */
export function addressOf(question: Question, view: View): Record<string, string> {
	const { scope = {} } = question;
	const said: [string, string | null | undefined | false][] = [
		// Without codes the usual ones would come: said even where there are none.
		["codes", question.codes.join(".") || "0"],
		["themes", question.themes?.join(".")],
		["queries", question.queries?.join(".")],
		["variable", question.columns && question.columns !== "variable" ? question.columns : String(question.variable)],
		["second", question.second ? String(question.second) : null],
		["as", question.second_as === "layers" && "layers"],
		["rollup", question.roll_up === false && "0"],
		["groups", question.groups && JSON.stringify(question.groups)],
		["cuts", question.cuts?.join("~")],
		["measure", question.measure !== "people" && question.measure],
		["base", question.base],
		["adjusted", question.adjusted?.join(".")],
		["difference", question.difference && JSON.stringify(question.difference)],
		...(Object.entries(scopeAddress(scope)) as [string, string][]),
		["form", view.form !== "table" && view.form],
		["order", view.order !== "codebook" && view.order],
		["tint", view.tint !== "expected" && view.tint],
		["least", view.least > 0 && String(view.least)],
		["stack", view.stack && "1"],
		["swap", view.swap && "1"],
		["figures", view.figures === false && "0"],
		["scaled", view.scaled !== "all" && view.scaled],
		["number", view.number ? String(view.number) : null],
	];
	return Object.fromEntries(said.filter((part): part is [string, string] => typeof part[1] === "string" && part[1] !== ""));
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

export function list(text: string | null): string[] | null {
	return text === null ? null : (JSON.parse(decode(text)) as string[]);
}

function decode(text: string): string {
	try {
		const found: unknown = JSON.parse(text);
		return Array.isArray(found) ? JSON.stringify(found.map(String)) : "[]";
	} catch {
		return "[]";
	}
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
