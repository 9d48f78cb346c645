import { useEffect, useReducer } from "react";
import { useStable } from "../ui/stable";

/** What was typed and isn't kept yet, by what it is for. In the page's own memory: words of interviews may stand in it, and the browser keeps nothing of a project. */
const drafts = new Map<string, unknown>();

/** A value that is being typed: it is there again when its field is, though the page stumbled or was left meanwhile. ``done`` lets go of it. */
export function useDraft<Value>(name: string, start: Value): [Value, (next: Value) => void, () => void] {
	const [, drawAgain] = useReducer((times: number) => times + 1, 0);
	const typed = drafts.has(name);
	const value = typed ? (drafts.get(name) as Value) : start;
	// What was saved as it was typed is a draft no more.
	useEffect(() => {
		if (typed && alike(value, start)) drafts.delete(name);
	});
	const change = useStable((next: Value) => {
		if (alike(next, start)) drafts.delete(name);
		else drafts.set(name, next);
		drawAgain();
	});
	const done = useStable(() => {
		drafts.delete(name);
		drawAgain();
	});
	return [value, change, done];
}

function alike(one: unknown, other: unknown): boolean {
	return JSON.stringify(one) === JSON.stringify(other);
}

/** Let go of one from elsewhere: what it was for has become something else. Whoever shows it is drawn again with that. */
export function dropDraft(name: string): void {
	drafts.delete(name);
}

/** Whoever signs out leaves nothing behind. */
export function dropDrafts(): void {
	drafts.clear();
}

/** Whoever closes the page with something typed and not kept is asked first, by the browser. */
export function useAskBeforeLeaving(): void {
	useEffect(() => {
		const ask = (event: BeforeUnloadEvent) => {
			if (drafts.size > 0) event.preventDefault();
		};
		window.addEventListener("beforeunload", ask);
		return () => window.removeEventListener("beforeunload", ask);
	}, []);
}
