import { useCallback, useState } from "react";

/** What somebody arranged for their own eyes, such as what is folded: kept in this tab, no part of what a link shows others. */
export function useHere<Value>(name: string, usual: Value) {
	const kept = `cohortia ${name}`;
	const [value, setValue] = useState<Value>(() => {
		try {
			const said = window.sessionStorage.getItem(kept);
			return said === null ? usual : JSON.parse(said);
		} catch {
			return usual;
		}
	});
	const change = useCallback(
		(next: Value) => {
			window.sessionStorage.setItem(kept, JSON.stringify(next));
			setValue(next);
		},
		[kept],
	);
	return [value, change] as const;
}
