import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Shape, send, take } from "../api/client";
import { useProject } from "../shell/project";
import type { Opened, Question } from "./spec";

export type Comparison = Shape<"ComparisonOut">;
export type Row = Shape<"ComparedRow">;
export type Cell = Shape<"ComparedCell">;
export type LeftOutReason = NonNullable<Shape<"EvidenceInRequest">["left_out"]>;

export function useComparison(question: Question | null) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "compare", question],
		enabled: question !== null && question.codes.length > 0,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare", {
					params: { path: { project_id: id } },
					body: question as Question,
				}),
			),
	});
}

export type Finding = Shape<"FindingOut">;

/** The differences that stand out, in words; asked beside the table, since it tries other facts too. */
export function useStandsOut(question: Question) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "stands out", question],
		enabled: question.codes.length > 0,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/compare/stands-out", { params: { path: { project_id: id } }, body: question })),
	});
}

export function useEvidence(question: Question, opened: Opened, limit: number) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "evidence", question, opened, limit],
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/evidence", {
					params: { path: { project_id: id } },
					body: {
						...question,
						row: opened.row,
						group: opened.group,
						left_out: opened.left_out as LeftOutReason | null,
						limit,
					},
				}),
			),
	});
}

/** Fetch the exported file and hand it to the browser under the name the server gave it. */
export async function download(projectId: number, question: Question, format: "xlsx" | "csv"): Promise<void> {
	const response = await send(`/api/projects/${projectId}/compare/export`, JSON.stringify({ ...question, format }), {
		"Content-Type": "application/json",
	});
	const name = response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? `comparison.${format}`;
	const link = document.createElement("a");
	link.href = URL.createObjectURL(await response.blob());
	link.download = name;
	link.click();
	URL.revokeObjectURL(link.href);
}
