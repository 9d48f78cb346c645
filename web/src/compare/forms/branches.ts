import type { Code } from "../../codes/data";
import type { Row } from "../data";

/** What stands over or beside a row: the way to fold its branch into one row, or to open it out. `codes` are the rows' codes then. */
export interface Branch {
	/** Over the first of several rows of one branch that isn’t a row itself. */
	heading?: { name: string; rows: number; codes: number[] };
	/** Of a row: whether what lies beneath it are rows now. */
	turn?: { open: boolean; beneath: number; codes: number[] };
}

/** For each of the rows in their order. A folded branch is counted anew as one row: each person and passage once. */
export function branchesOf(codes: readonly Code[], rows: readonly Row[]): Branch[] {
	const byId = new Map(codes.map((code) => [code.id, code]));
	const shown = rows.filter((row) => row.kind === "code").map((row) => row.id);
	const among = new Set(shown);
	const parentOf = (row: Row | undefined) => (row?.kind === "code" ? (byId.get(row.id)?.parent ?? null) : null);
	return rows.map((row, at) => {
		if (row.kind !== "code") return {};
		const found: Branch = {};
		const parent = parentOf(row);
		if (parent !== null && !among.has(parent) && parentOf(rows[at - 1]) !== parent) {
			const siblings = rows.filter((one) => parentOf(one) === parent).map((one) => one.id);
			if (siblings.length > 1)
				found.heading = { name: byId.get(parent)?.name ?? "", rows: siblings.length, codes: instead(shown, siblings, [parent]) };
		}
		const beneath = codes.filter((code) => code.parent === row.id).map((code) => code.id);
		const below = shown.filter((id) => under(byId, id, row.id));
		if (below.length) found.turn = { open: true, beneath: below.length, codes: shown.filter((id) => !below.includes(id)) };
		else if (beneath.length) found.turn = { open: false, beneath: beneath.length, codes: instead(shown, [row.id], beneath) };
		return found;
	});
}

/** Some taken out, and others put in where the first of them was. */
function instead(shown: number[], out: number[], put: number[]): number[] {
	const first = shown.findIndex((id) => out.includes(id));
	return [...shown.slice(0, first), ...put, ...shown.slice(first)].filter((id) => !out.includes(id));
}

function under(byId: ReadonlyMap<number, Code>, id: number, above: number): boolean {
	let parent = byId.get(id)?.parent ?? null;
	while (parent !== null && parent !== above) parent = byId.get(parent)?.parent ?? null;
	return parent === above;
}
