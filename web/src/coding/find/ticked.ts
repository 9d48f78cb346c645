import { useState } from "react";
import type { FindRequest, Hit } from "../overview";

export function keyOf(hit: Hit): string {
	return `${hit.document} ${hit.start} ${hit.end}`;
}

const bare = ({ document, start, end }: Hit) => ({ document, start, end });

/** Which hits are ticked: some of those listed, or every one there is but some. `total` counts those that aren’t listed too. */
export function useTicked(shown: Hit[], total: number, whose: string | null) {
	const [some, setSome] = useState<ReadonlyMap<string, Hit>>(new Map());
	const [every, setEvery] = useState<{ whose: string | null; but: ReadonlyMap<string, Hit> } | null>(null);
	// All of one person’s hits are no longer all where somebody else’s are looked at.
	const but = every && every.whose === whose ? every.but : null;
	const has = (hit: Hit) => (but ? !but.has(keyOf(hit)) : some.has(keyOf(hit)));
	const turned = (from: ReadonlyMap<string, Hit>, hits: Hit[], on: boolean) => {
		const next = new Map(from);
		for (const hit of hits) on ? next.set(keyOf(hit), hit) : next.delete(keyOf(hit));
		return next;
	};
	const all = shown.length > 0 && shown.every(has);
	return {
		has,
		all,
		every: but !== null,
		count: but ? total - but.size : some.size,
		turn: (hit: Hit) => (but ? setEvery({ whose, but: turned(but, [hit], has(hit)) }) : setSome(turned(some, [hit], !has(hit)))),
		turnAll: () => {
			setEvery(null);
			setSome(turned(but ? new Map() : some, shown, !all));
		},
		takeEvery: () => setEvery({ whose, but: new Map() }),
		none: () => {
			setEvery(null);
			setSome(new Map());
		},
		/** What the server is told: the hits, or the question and what of its answer is left out. */
		asked: (question: FindRequest) =>
			but ? { hits: [...but.values()].map(bare), all_of: question } : { hits: [...some.values()].map(bare) },
	};
}
