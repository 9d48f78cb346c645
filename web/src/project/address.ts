import { useCallback } from "react";
import { useSearchParams } from "react-router";

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
