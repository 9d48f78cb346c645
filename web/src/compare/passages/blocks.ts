import type { Group as PeopleGroup } from "../../project/condition";

/** Conditions on passages, as the server keeps them, and what the builder does with them. */
export interface Coded {
	what: "coded";
	how: "all" | "any" | "none" | "one";
	codes: number[];
	beneath: boolean;
}

export interface Placed {
	what: "placed";
	relation: "inside" | "contains" | "overlaps" | "near" | "before" | "after";
	codes: number[];
	beneath: boolean;
	unit: "overlap" | "turns" | "paragraphs" | "seconds";
	within: number;
}

export interface Said {
	what: "said";
	cohort?: number | null;
	condition?: PeopleGroup | null;
}

export interface Within {
	what: "within";
	documents?: number[];
	variable?: number;
	groups?: string[];
}

export interface Contains {
	what: "text" | "memo";
	text: string;
}

export interface Made {
	what: "made";
	coders?: number[];
	rating?: [number, number] | null;
	since?: string | null;
	until?: string | null;
}

export interface Blocks {
	join: "all" | "any";
	negated?: boolean;
	parts: Block[];
}

export type Condition = Coded | Placed | Said | Within | Contains | Made;
export type Block = Condition | Blocks;

export interface BlockCount {
	count: number;
	so_far: number;
	parts: BlockCount[];
}

export const isBlocks = (block: Block): block is Blocks => "parts" in block;

/** A new condition of each kind, to be filled in. */
export const FRESH: Record<Condition["what"], () => Condition> = {
	coded: () => ({ what: "coded", how: "any", codes: [], beneath: true }),
	placed: () => ({ what: "placed", relation: "near", codes: [], beneath: true, unit: "turns", within: 1 }),
	said: () => ({ what: "said", cohort: null, condition: { join: "all", parts: [] } }),
	within: () => ({ what: "within", documents: [] }),
	text: () => ({ what: "text", text: "" }),
	memo: () => ({ what: "memo", text: "" }),
	made: () => ({ what: "made", coders: [], rating: null, since: null, until: null }),
};

/** Whether every part says enough to be asked. */
export function complete(block: Block): boolean {
	if (isBlocks(block)) return block.parts.every(complete);
	if (block.what === "coded" || block.what === "placed") return block.codes.length > 0;
	if (block.what === "said") return block.cohort != null || (block.condition?.parts.length ?? 0) > 0;
	if (block.what === "within") return block.variable ? (block.groups?.length ?? 0) > 0 : (block.documents?.length ?? 0) > 0;
	if (block.what === "text") return block.text.trim().length > 0;
	return true;
}

/** The blocks with the one at `path` replaced, or taken out (null). */
export function replaced(blocks: Blocks, path: number[], block: Block | null): Blocks {
	const [at, ...rest] = path;
	if (at === undefined) return block && isBlocks(block) ? block : blocks;
	if (!rest.length && block === null) return { ...blocks, parts: blocks.parts.filter((_, place) => place !== at) };
	return {
		...blocks,
		parts: blocks.parts.map((one, place) => {
			if (place !== at) return one;
			if (!rest.length) return block as Block;
			return isBlocks(one) ? replaced(one, rest, block) : one;
		}),
	};
}
