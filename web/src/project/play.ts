import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, take } from "../api/client";
import { useProject } from "./project";
import { type Scope, scopeRequest, useScope } from "./scope";

/** How much a scope leaves in play, and of whom. */
export function useScopeCounts(scope: Scope, asked = true) {
	const { id } = useProject();
	const body = scopeRequest(scope);
	return useQuery({
		queryKey: ["project", id, "scope counts", body],
		enabled: asked,
		placeholderData: (before) => before,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/scopes/count", { params: { path: { project_id: id } }, body })),
	});
}

/** What lists show of a project: those in scope. ``null``: all. */
export interface Play {
	/** Whether it is known yet; until then nothing is asked that rests on it. */
	known: boolean;
	cases: ReadonlySet<number> | null;
	documents: ReadonlySet<number> | null;
	/** As the API is asked, where anything is left out. */
	asked: { cases?: number[]; documents?: number[] };
}

const ALL: Play = { known: true, cases: null, documents: null, asked: {} };

export function usePlay(): Play {
	const { scope, narrowed } = useScope();
	const counts = useScopeCounts(scope, narrowed).data;
	return useMemo(() => {
		if (!narrowed) return ALL;
		if (!counts) return { ...ALL, known: false };
		const { play_cases: cases, play_documents: documents } = counts;
		return {
			known: true,
			cases: cases && new Set(cases),
			documents: documents && new Set(documents),
			asked: { ...(cases && { cases }), ...(documents && { documents }) },
		};
	}, [narrowed, counts]);
}

/** Those of a list that are in play. */
export function among<Row>(rows: readonly Row[], ids: ReadonlySet<number> | null, id: (row: Row) => number): Row[] {
	return ids ? rows.filter((row) => ids.has(id(row))) : [...rows];
}

/** The passages of a document that are in play; ``null`` while all are, or while that isn’t known. */
export function usePassagesInPlay(document: number): ReadonlySet<number> | null {
	const { id } = useProject();
	const { scope, narrowed } = useScope();
	const body = scopeRequest(scope);
	const found = useQuery({
		queryKey: ["project", id, "passages in play", document, body],
		enabled: narrowed,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/scopes/passages/{document_id}", {
					params: { path: { project_id: id, document_id: document } },
					body,
				}),
			),
	}).data;
	return useMemo(() => (narrowed && found ? new Set(found.passages) : null), [narrowed, found]);
}
