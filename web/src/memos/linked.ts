import type { Shape } from "../api/client";

export type MemoLink = Shape<"MemoLinkInRequest">;
type Sort = MemoLink["thing"];

/** Something that a memo can speak of. */
export interface Thing {
	thing: Sort;
	id: number;
	name: string;
	/** What it is, in words. */
	kind: string;
}

const BRACKETS = /\[\[([^[\]\n]{1,200})\]\]/g;
const SHOWN = 8;
const LONGEST = 200;

/** The first words of a memo, as its name. */
export function beginning(text: string): string {
	const words = text.replace(/[[\]]/g, "").replace(/\s+/g, " ").trim();
	return words.length > 60 ? `${words.slice(0, 58)}…` : words;
}

/** What is being typed in brackets that aren’t closed yet, and where it begins; null outside of them. */
export function openBrackets(text: string, caret: number): { start: number; typed: string } | null {
	const before = text.slice(0, caret);
	const start = before.lastIndexOf("[[");
	if (start < 0) return null;
	const typed = before.slice(start + 2);
	return /[[\]\n]/.test(typed) || typed.length > 60 ? null : { start, typed };
}

/** Things whose names hold what is typed, those that begin with it first. */
export function matching(things: Thing[], typed: string): Thing[] {
	const wanted = typed.trim().toLowerCase();
	const holds = things.filter((one) => one.name.toLowerCase().includes(wanted));
	const first = holds.filter((one) => one.name.toLowerCase().startsWith(wanted));
	return [...first, ...holds.filter((one) => !first.includes(one))].slice(0, SHOWN);
}

/** The text with a thing put in where brackets were opened, and the links with it: by a name that means nothing else here. */
export function putIn(
	text: string,
	links: MemoLink[],
	{ start, caret }: { start: number; caret: number },
	thing: Thing,
): { text: string; links: MemoLink[]; caret: number } {
	const plain = thing.name
		.replace(/[[\]\n]/g, " ")
		.replace(/\s+/g, " ")
		.trim()
		.slice(0, LONGEST);
	const taken = links.some((one) => one.said === plain && (one.thing !== thing.thing || one.id !== thing.id));
	const said = taken ? `${plain} (${thing.kind})` : plain;
	const after = text.slice(caret);
	const put = `${text.slice(0, start)}[[${said}]]`;
	const others = links.filter((one) => one.said !== said);
	return {
		text: put + (after.startsWith("]]") ? after.slice(2) : after),
		links: [...others, { said, thing: thing.thing, id: thing.id }],
		caret: put.length,
	};
}

/** A text in pieces: words as they are, and what stands in brackets. */
export function pieces(text: string): { words: string; said: string | null }[] {
	const found: { words: string; said: string | null }[] = [];
	let at = 0;
	for (const one of text.matchAll(BRACKETS)) {
		if (one.index > at) found.push({ words: text.slice(at, one.index), said: null });
		const words = String(one[1]);
		found.push({ words, said: words.split(/\s+/).filter(Boolean).join(" ") });
		at = one.index + one[0].length;
	}
	if (at < text.length) found.push({ words: text.slice(at), said: null });
	return found;
}

/** Where, within the project, a thing opens. */
export function placeOf(thing: Sort, id: number): string {
	return {
		code: `code/codebook?open=${id}&show=card`,
		theme: `code/themes?open=${id}`,
		document: `code/${id}`,
		case: `people?case=${id}`,
		comparison: `compare?kept=${id}`,
		memo: `code/memos?open=${id}`,
	}[thing];
}

/** Without the brackets, where nothing can be opened. */
export const plainly = (text: string): string => text.replace(BRACKETS, "$1");
