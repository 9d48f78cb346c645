import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";

/** Milliseconds that hands rest before what they typed is in the address. */
const REST = 300;

/** What a page shows, in its address: parts are set or taken away, all others stay (the scope among them). */
export function useAddress() {
	const [params, setParams] = useSearchParams();
	const set = useCallback(
		(part: Record<string, string | null>, replace = true) =>
			setParams(
				(before) => {
					const next = new URLSearchParams(before);
					for (const [name, value] of Object.entries(part)) value === null ? next.delete(name) : next.set(name, value);
					return next;
				},
				{ replace },
			),
		[setParams],
	);
	return [params, set] as const;
}

/** One word of the address as a state; what is usual isn’t said. */
export function useAddressed(name: string, usual: string): readonly [string, (next: string) => void];
export function useAddressed<Word extends string>(name: string, usual: Word, words: readonly Word[]): readonly [Word, (next: Word) => void];
export function useAddressed<Word extends string>(name: string, usual: Word, words?: readonly Word[]) {
	const [params, set] = useAddress();
	const said = params.get(name) as Word | null;
	const value = said !== null && (!words || words.includes(said)) ? said : usual;
	const change = useCallback((next: Word) => set({ [name]: next === usual ? null : next }), [set, name, usual]);
	return [value, change] as const;
}

/** One number of the address as a state. */
export function useAddressedNumber(name: string, usual: number) {
	const [said, change] = useAddressed(name, String(usual));
	const value = Number.isFinite(Number(said)) ? Number(said) : usual;
	return [value, useCallback((next: number) => change(String(next)), [change])] as const;
}

/** What changes at every key: shown at once, in the address when the hands rest; another address brings its own. */
export function useRested<Value extends string | number | null>(said: Value, write: (value: Value) => void) {
	const [value, setValue] = useState(said);
	const written = useRef(said);
	useEffect(() => {
		if (said === written.current) return;
		written.current = said;
		setValue(said);
	}, [said]);
	const last = useRef(write);
	last.current = write;
	useEffect(() => {
		if (value === written.current) return;
		const { pathname } = window.location;
		const later = window.setTimeout(() => {
			// Whoever has gone on meanwhile, while the next page is fetched, isn’t called back.
			if (window.location.pathname !== pathname) return;
			written.current = value;
			last.current(value);
		}, REST);
		return () => window.clearTimeout(later);
	}, [value]);
	return [value, setValue] as const;
}

/** What is typed to narrow a list. */
export function useTyped(name: string) {
	const [params, set] = useAddress();
	return useRested(params.get(name) ?? "", (words) => set({ [name]: words || null }));
}

/** By what a list is sorted, and whether downwards, as one word of the address (`words`, `-words`). */
export function useSorted<By extends string>(usual: By) {
	const [said, change] = useAddressed("sort", usual);
	const order = useMemo(() => ({ by: said.replace(/^-/, "") as By, down: said.startsWith("-") }), [said]);
	return [order, useCallback((next: { by: By; down: boolean }) => change(`${next.down ? "-" : ""}${next.by}`), [change])] as const;
}
