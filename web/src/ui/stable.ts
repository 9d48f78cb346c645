import { useCallback, useLayoutEffect, useRef } from "react";

/** A function that stays the same one while what it does may change: for parts that are drawn only when they must. */
export function useStable<Input extends unknown[], Output>(does: (...input: Input) => Output): (...input: Input) => Output {
	const latest = useRef(does);
	useLayoutEffect(() => {
		latest.current = does;
	});
	return useCallback((...input: Input) => latest.current(...input), []);
}
