import { language } from "../language/say";
import type { Unlinked } from "./data";

/** What somebody can be other than a case that is there; cases have positive numbers. */
export const NOBODY = -1;
export const INTERVIEWER = -2;
export const NEW_PERSON = -3;

/** Speakers who are settled together: a name is one person in all documents it stands in. */
export interface UnlinkedGroup {
	key: string;
	label: string;
	rows: Unlinked[];
	/** What is proposed for all of them, or for none. */
	proposed: Unlinked | null;
	passages: number;
}

const CERTAIN = { sure: 0, likely: 1, possible: 2 } as const;

/** One group a name, one a speaker for labels that anybody may have; what is most certain first, conflicts before what nothing points at. */
export function grouped(rows: Unlinked[]): UnlinkedGroup[] {
	const found = new Map<string, Unlinked[]>();
	for (const row of rows) {
		// Of whom several are called so may be another in each document.
		const key = row.named && !row.conflict ? `${row.label.toLowerCase()} ${row.case}` : `${row.speaker}`;
		found.set(key, [...(found.get(key) ?? []), row]);
	}
	const groups = [...found].map(([key, those]): UnlinkedGroup => {
		const first = those[0] as Unlinked;
		return {
			key,
			label: first.label,
			rows: those,
			proposed: those.every((row) => row.case === first.case && row.certainty === first.certainty) ? first : null,
			passages: those.reduce((sum, row) => sum + row.passages, 0),
		};
	});
	return groups.sort((a, b) => rank(a) - rank(b) || a.label.localeCompare(b.label, language(), { numeric: true }));
}

function rank({ proposed, rows }: UnlinkedGroup): number {
	if (proposed?.certainty) return CERTAIN[proposed.certainty];
	return rows.some((row) => row.conflict) ? 3 : 4;
}
