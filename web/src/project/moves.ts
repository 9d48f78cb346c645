import { type QueryClient, type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { drop } from "../api/early";
import { onWrite } from "../api/written";

const TEXTS = ["gather.", "people.case"];
const COUNTED = ["coding.", "gather.", "people."];
const COMPARED = [...COUNTED, "compare.savedquery", "report.memo"];
const ANYTHING = [""];

/** Of each thing that pages ask for (the third part of its key), the kinds of rows that it rests on. The one place that says so. */
const RESTS_ON: Record<string, string[]> = {
	status: ANYTHING,
	trail: ANYTHING,
	documents: COUNTED,
	document: [...TEXTS, "coding.", "report.memo"],
	staged: ["gather.", "people."],
	names: ["gather."],
	codebook: ["coding.", ...TEXTS],
	"codebook counts": COMPARED,
	themes: COMPARED,
	look: ["coding.", ...TEXTS],
	reading: COMPARED,
	merge: ["coding."],
	"memo kinds": ["report.ownmemokind", "report.memo"],
	memos: ["report.memo", "coding.", "gather.document", "people.case", "compare.keptcomparison"],
	find: ["gather.", "people."],
	words: ["gather.", "people.", "coding.droppedword"],
	like: ["gather.", "coding."],
	answers: COUNTED,
	roster: COUNTED,
	unlinked: [...TEXTS, "coding.passage"],
	check: ["gather.", "people."],
	variables: ["people.", "gather.document"],
	cohorts: COUNTED,
	histogram: COUNTED,
	distribution: COMPARED,
	count: COUNTED,
	"scope counts": COMPARED,
	"passages in play": COMPARED,
	compare: COMPARED,
	"stands out": COMPARED,
	steady: COMPARED,
	adjusted: COMPARED,
	evidence: COMPARED,
	around: COMPARED,
	map: COMPARED,
	persons: COMPARED,
	spread: COMPARED,
	together: COMPARED,
	meetings: COMPARED,
	search: COMPARED,
	holdings: COMPARED,
	progress: COMPARED,
	scopes: ["compare.savedscope"],
	queries: ["compare.savedquery"],
	kept: ["compare.", ...COUNTED],
	frozen: ["compare.", ...COUNTED],
	exhibits: ["report.exhibit", ...COUNTED],
	digests: ["report.digest", ...COUNTED],
	members: ["projects.", "accounts."],
	invitations: ["projects.", "accounts."],
	forget: ANYTHING,
	job: [],
};

/** Whether what stands under a key may be another after rows of these kinds were touched. */
export function restsOn(key: QueryKey, touched: string[] | null): boolean {
	if (key[0] !== "project") return false;
	// The project itself, its name and limits, has no third part.
	const kinds = key.length < 3 ? ["projects."] : (RESTS_ON[String(key[2])] ?? ANYTHING);
	if (!touched || touched.some((kind) => kind.startsWith("projects."))) return true;
	return kinds.some((begins) => touched.some((kind) => kind.startsWith(begins)));
}

/** Read again what rests on what was touched. */
export function readAgain(client: QueryClient, project: number, touched: string[] | null, but: string[] = []): void {
	drop();
	const concerns = (key: QueryKey) => key[1] === project && restsOn(key, touched);
	void client.invalidateQueries({ predicate: ({ queryKey }) => concerns(queryKey) && !but.includes(String(queryKey[2])) });
	if (but.length) {
		const byHand = (key: QueryKey) => concerns(key) && but.includes(String(key[2]));
		// An answer that is on its way was given before the write, and would take back what is put in by hand: asked for again.
		void client.invalidateQueries({
			predicate: ({ queryKey, state }) => byHand(queryKey) && state.fetchStatus !== "idle",
			refetchType: "all",
		});
		void client.invalidateQueries({
			predicate: ({ queryKey, state }) => byHand(queryKey) && state.fetchStatus === "idle",
			refetchType: "none",
		});
	}
}

/** Every page of a project: what a write touched is read again, and nothing else. */
export function useMoves(project: number): void {
	const client = useQueryClient();
	useEffect(
		() =>
			onWrite((move) => {
				if (move.project === project) readAgain(client, project, move.touched, move.byHand);
			}),
		[client, project],
	);
}
