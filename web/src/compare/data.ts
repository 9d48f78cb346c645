import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { useProject } from "../project/project";
import { type Opened, type Question, rowsAsked } from "./spec";

export type Comparison = Shape<"ComparisonOut">;
export type Row = Shape<"ComparedRow">;
export type Cell = Shape<"ComparedCell">;
export type LeftOutReason = NonNullable<Shape<"EvidenceInRequest">["left_out"]>;

const within = (id: number) => ({ params: { path: { project_id: id } } });

/** The comparison itself, the differences that stand out, and the map: asked for by who shows them, and already while the page is fetched. */
export const comparing = (id: number, question: Question) =>
	queryOptions({
		queryKey: ["project", id, "compare", question],
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare", { ...within(id), body: question })),
	});
export const standingOut = (id: number, question: Question) =>
	queryOptions({
		queryKey: ["project", id, "stands out", question],
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/stands-out", { ...within(id), body: question })),
	});
export const mapping = (id: number, question: Question) =>
	queryOptions({
		queryKey: ["project", id, "map", question],
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/map", { ...within(id), body: question })),
	});

export function useComparison(question: Question | null) {
	const { id } = useProject();
	return useQuery({
		...comparing(id, question as Question),
		enabled: question !== null && rowsAsked(question) > 0,
		placeholderData: keepPreviousData,
	});
}

export type Finding = Shape<"FindingOut">;

/** The differences that stand out, in words; asked beside the table, since it tries other facts too. */
export function useStandsOut(question: Question) {
	const { id } = useProject();
	return useQuery({ ...standingOut(id, question), enabled: rowsAsked(question) > 0, placeholderData: keepPreviousData });
}

export type Standing = Shape<"StandsOut">;

/** How steady what stands out is: asked for when somebody wants to know. */
export function useSteady(question: Question, wanted: boolean) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "steady", question],
		enabled: wanted && rowsAsked(question) > 0,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/compare/stands-out/steady", { params: { path: { project_id: id } }, body: question })),
	});
}

/** The shares that groups would have if they were alike in the facts held. */
export function useAdjusted(question: Question) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "adjusted", question],
		enabled: rowsAsked(question) > 0 && (question.adjusted?.length ?? 0) > 0,
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/adjusted", { params: { path: { project_id: id } }, body: question })),
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

/** What else is coded around the passages of a number. */
export function useAround(question: Question, opened: Opened, wanted: boolean) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "around", question, opened],
		enabled: wanted,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/evidence/around", {
					params: { path: { project_id: id } },
					body: { ...question, row: opened.row, group: opened.group },
				}),
			),
	});
}

/** Rows and groups on two axes, and the order in which like rows stand together. */
export function useMap(question: Question, wanted: boolean) {
	const { id } = useProject();
	return useQuery({ ...mapping(id, question), enabled: wanted && rowsAsked(question) > 0, placeholderData: keepPreviousData });
}

/** Each person of the base, or each document in scope, with its groups and its passages by row. */
export function useOneByOne(question: Question, each: Shape<"ShownIn">["each"] = "people") {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "persons", question, each],
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/one-by-one", {
					params: { path: { project_id: id } },
					body: { ...question, each },
				}),
			),
	});
}

/** A number among those who mention each row and those who don't. */
export function useSpread(question: Question, number: number | null) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "spread", question, number],
		enabled: number !== null,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/spread", {
					params: { path: { project_id: id } },
					body: { ...question, number: number ?? 0 },
				}),
			),
	});
}
