import { say } from "../language/say";
import type { Code } from "./data";
import { KINDS } from "./kinds";

export interface Branch {
	code: Code;
	depth: number;
	children: Branch[];
}

/** The codebook as a tree, siblings in their order. */
export function branches(codes: Code[]): Branch[] {
	const made = new Map<number, Branch>(codes.map((code) => [code.id, { code, depth: 0, children: [] }]));
	const tops: Branch[] = [];
	for (const branch of made.values()) {
		const parent = branch.code.parent === null ? undefined : made.get(branch.code.parent);
		if (parent) parent.children.push(branch);
		else tops.push(branch);
	}
	const settle = (branch: Branch, depth: number) => {
		branch.depth = depth;
		for (const child of branch.children) settle(child, depth + 1);
	};
	for (const top of tops) settle(top, 0);
	return tops;
}

export function flat(tree: Branch[]): Branch[] {
	return tree.flatMap((branch) => [branch, ...flat(branch.children)]);
}

/** Where a code goes to stand one place higher or lower among its siblings: before which, null for the end; undefined where it can’t. */
export function stepped(codes: Code[], id: number, by: 1 | -1): number | null | undefined {
	const parent = codes.find((code) => code.id === id)?.parent;
	const siblings = codes.filter((code) => code.parent === parent);
	const at = siblings.findIndex((code) => code.id === id);
	if (at + by < 0 || at + by >= siblings.length) return undefined;
	return by < 0 ? siblings[at - 1]?.id : (siblings[at + 2]?.id ?? null);
}

/** Names of a code's ancestors, from the top. */
export function pathOf(code: Code, byId: Map<number, Code>): string[] {
	const path: string[] = [];
	let above = code.parent === null ? undefined : byId.get(code.parent);
	while (above && path.length < 50) {
		path.unshift(above.name);
		above = above.parent === null ? undefined : byId.get(above.parent);
	}
	return path;
}

/** All that a code is found by: its name, what is said of it, and whether it describes or interprets. */
export function wordsOf(code: Code): string {
	return `${code.name} ${code.definition} ${code.covers} ${code.kind ? KINDS[code.kind] : ""}`.toLowerCase();
}

/** Codes that answer to what is typed: by name first, then by definition; recent and pinned lead. */
export function matching(codes: Code[], typed: string, leading: number[]): Code[] {
	const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
	const scored = codes.flatMap((code) => {
		const name = code.name.toLowerCase();
		const all = wordsOf(code);
		if (!wanted.every((word) => all.includes(word))) return [];
		const inName = wanted.every((word) => name.includes(word));
		const starts = wanted.length > 0 && name.startsWith(wanted[0] as string);
		const lead = leading.indexOf(code.id);
		return [{ code, score: (starts ? 0 : inName ? 100 : 200) + (lead < 0 ? 50 : lead) }];
	});
	return scored.sort((a, b) => a.score - b.score).map(({ code }) => code);
}

/** Where a code may stand, as choices: at the top (0), or beneath one of these. */
export function placesAmong(beneath: Branch[]): { value: number; label: string }[] {
	return [
		{ value: 0, label: say("At the top") },
		...beneath.map(({ code, depth }) => ({ value: code.id, label: `${"\u2003".repeat(depth)}${code.name}` })),
	];
}
