import { say } from "../language/say";
import type { Comparison, Standing } from "./data";

/** What one row has that is sure, or worth a look: the strongest of its marks, and all of them in words. */
export interface RowStanding {
	standing: "sure" | "look";
	words: string;
	/** The standing of each pair of groups, by their places. */
	pairs: Map<string, "sure" | "look">;
}

export const pairKey = (one: number, other: number) => (one < other ? `${one} ${other}` : `${other} ${one}`);

/** The marks of a table by row. */
export function standings(result: Comparison, found: Standing | undefined): Map<number, RowStanding> {
	const rows = new Map<number, RowStanding>();
	for (const mark of found?.marks ?? []) {
		const [one = 0, other = 0] = mark.groups;
		const name = (place: number) => (result.layered ? result.groups[place]?.label : result.groups[place]?.name) ?? "";
		const kind = mark.standing === "sure" ? "sure" : "look";
		const words =
			kind === "sure"
				? say("{name} and {name2} differ: sure", { name: name(one), name2: name(other) })
				: say("{name} and {name2} differ: worth a look, not sure", { name: name(one), name2: name(other) });
		const before = rows.get(mark.row);
		const pairs = before?.pairs ?? new Map<string, "sure" | "look">();
		pairs.set(pairKey(one, other), kind);
		rows.set(mark.row, {
			standing: before?.standing === "sure" ? "sure" : kind,
			words: before ? `${before.words}; ${words}` : words,
			pairs,
		});
	}
	return rows;
}

/** The edge of a row: green where something is sure, orange where it is worth a look, always with its word beside it. */
export function edge(standing: "sure" | "look" | undefined): string {
	if (standing === undefined) return "";
	return standing === "sure" ? "shadow-[inset_3px_0_0_var(--color-spruce)]" : "shadow-[inset_3px_0_0_var(--color-apricot)]";
}
