import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Shape, send, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import { read } from "../../project/reads";
import { scopeRequest, useScope } from "../../project/scope";

export type GuideQuestion = Shape<"GuideQuestionOut">;
export type AskedTurn = Shape<"AskedTurnOut">;
export type Language = NonNullable<Shape<"MatchInRequest">["language"]>;
export type Who = Shape<"WhoOut">;

/** The interview guide: its questions in order. */
export function useGuide() {
	const { id } = useProject();
	return useQuery(read("guide", id));
}

/** Turns that ask a question, or (null) interviewers’ turns that ask nothing of the guide. */
export function useAskedTurns(question: number | null) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "guide turns", question],
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/guide/turns", {
					params: { path: { project_id: id }, query: question === null ? {} : { question } },
				}),
			),
	});
}

/** Turns that ask nothing yet, and may ask this question, most like first. */
export function usePerhaps(question: number | null, language: Language) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "guide perhaps", question, language],
		enabled: question !== null,
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/guide/questions/{question_id}/perhaps", {
					params: { path: { project_id: id, question_id: question ?? 0 }, query: { language } },
				}),
			),
	}).data;
}

/** Who was asked what, by the groups of a fact about people. */
export function useWho(variable: number | null, within: number) {
	const { id } = useProject();
	const { scope } = useScope();
	const body = { variable: variable ?? 0, within, scope: scopeRequest(scope) };
	return useQuery({
		queryKey: ["project", id, "guide who", body],
		enabled: variable !== null,
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/guide/who", { params: { path: { project_id: id } }, body })),
	});
}

export function useGuideWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		set: useWrite((questions: Shape<"GuideInRequest">["questions"]) =>
			take(api.PUT("/api/projects/{project_id}/guide", { params: { path }, body: { questions } })),
		),
		match: useWrite((language: Language) =>
			take(api.POST("/api/projects/{project_id}/guide/match", { params: { path }, body: { language } })),
		),
		put: useWrite((body: Shape<"AskedInRequest">) => take(api.POST("/api/projects/{project_id}/guide/turns", { params: { path }, body }))),
		tie: useWrite(({ question, codes }: { question: number; codes: number[] }) =>
			take(
				api.PATCH("/api/projects/{project_id}/guide/questions/{question_id}", {
					params: { path: { ...path, question_id: question } },
					body: { codes },
				}),
			),
		),
	};
}

/** The questions that stand in a file. */
export function useGuideFile() {
	const { id } = useProject();
	return async (file: File): Promise<string[]> => {
		const form = new FormData();
		form.append("file", file);
		return (await (await send(`/api/projects/${id}/guide/file`, form)).json()).questions;
	};
}
