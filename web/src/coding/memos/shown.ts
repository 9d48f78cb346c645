import type { Memo } from "../../memos/data";
import { type AnyKind, MEMO_ON, type MemoOn } from "../../memos/memos";
import type { Play } from "../../project/play";

/** Which memos are shown, and in which order; null leaves a thing open. */
export interface Looked {
	words: string;
	kind: AnyKind | "none" | null;
	by: string | null;
	on: MemoOn | null;
	since: string | null;
	until: string | null;
	sort: Sort;
}

export const SORTS = ["newest", "oldest", "on", "by", "kind"] as const;
export type Sort = (typeof SORTS)[number];

/** What the address says of it. */
export function lookedIn(params: URLSearchParams, words: string): Looked {
	const kind = params.get("kind");
	const own = Number(kind);
	return {
		words: words.trim().toLowerCase(),
		kind: kind === null ? null : own > 0 ? own : (kind as AnyKind | "none"),
		by: params.get("by"),
		on: MEMO_ON.find((one) => one === params.get("on")) ?? null,
		since: params.get("since"),
		until: params.get("until"),
		sort: SORTS.find((one) => one === params.get("sort")) ?? "newest",
	};
}

/** Whoever wrote it: the author, or who is named in the file that it came with. */
export const writer = (memo: Memo): string => memo.source || memo.author;

export function shownOf(memos: Memo[], looked: Looked, play: Play, named: (kinds: AnyKind[]) => string): Memo[] {
	const { words, kind, by, on, since, until, sort } = looked;
	const found = memos.filter((memo) => {
		const day = memo.made_at.slice(0, 10);
		return (
			(kind === null || (kind === "none" ? !memo.kinds.length : memo.kinds.includes(kind))) &&
			(by === null || writer(memo) === by) &&
			(on === null || memo.on === on) &&
			(!since || day >= since) &&
			(!until || day <= until) &&
			inPlay(memo, play) &&
			(!words || `${memo.text} ${memo.name} ${writer(memo)} ${memo.links.map((one) => one.name).join(" ")}`.toLowerCase().includes(words))
		);
	});
	const byName = (key: (memo: Memo) => string) => (a: Memo, b: Memo) => key(a).localeCompare(key(b), undefined, { numeric: true });
	const orders: Record<Sort, (a: Memo, b: Memo) => number> = {
		newest: () => 0,
		oldest: (a, b) => a.made_at.localeCompare(b.made_at),
		on: byName((memo) => `${MEMO_ON.indexOf(memo.on)} ${memo.name}`),
		by: byName(writer),
		kind: byName((memo) => named(memo.kinds)),
	};
	return sort === "newest" ? found : [...found].sort(orders[sort]);
}

/** What is on a person or in a document that the scope leaves out stays out; the rest is of the project. */
function inPlay(memo: Memo, play: Play): boolean {
	if (memo.on === "case") return !play.cases || play.cases.has(memo.on_id ?? 0);
	return !play.documents || memo.document === null || play.documents.has(memo.document);
}

/** Where, within the project, what a memo is on opens; null for the project itself. */
export function placeOn(memo: Memo): string | null {
	const places: Record<MemoOn, string | null> = {
		passage: `code/${memo.document}?passage=${memo.on_id}`,
		document: `code/${memo.document}`,
		code: `code/codebook?open=${memo.on_id}&show=card`,
		theme: `code/themes?open=${memo.on_id}`,
		comparison: `compare?kept=${memo.on_id}`,
		case: `people?case=${memo.on_id}`,
		project: null,
	};
	return places[memo.on];
}
