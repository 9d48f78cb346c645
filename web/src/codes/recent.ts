import { useMemo } from "react";
import { useHere } from "../project/here";
import { useProject } from "../project/project";
import type { Code } from "./data";

const MOST = 8;

/** The codes last put on, the newest first, on whatever document: one that was just made goes by its name until it has a number. */
export function useRecent(codes: readonly Code[]): [number[], (put: number[], made: string[]) => void] {
	const [held, setHeld] = useHere<(number | string)[]>(`recent codes ${useProject().id}`, []);
	const known = useMemo(
		() => [...new Set(held.flatMap((one) => codes.find((code) => code.id === one || code.name === one)?.id ?? []))],
		[held, codes],
	);
	const note = (put: number[], made: string[]) => {
		const now: (number | string)[] = [...put, ...made];
		setHeld([...now, ...held.filter((one) => !now.includes(one))].slice(0, MOST));
	};
	return [known, note];
}
