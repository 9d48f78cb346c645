import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Shape, send, sendOnly, take } from "../api/client";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { scopeRequest, useScope } from "../project/scope";

export type Theme = Shape<"ThemeOut">;
export type Question = Shape<"QuestionOut">;
export type Reading = Shape<"ReadingOut">;
export type Found = Shape<"FoundOut">;
export type Hit = Shape<"HitOut">;
export type FindRequest = Shape<"FindInRequest">;

/** Themes and questions; their counts are those in scope. */
export function useThemes() {
	const { id } = useProject();
	const { scope, narrowed } = useScope();
	const path = { params: { path: { project_id: id } } };
	const body = scopeRequest(scope);
	const whole = useQuery(read("themes", id));
	const counts = useQuery({
		queryKey: ["project", id, "themes", "counts", body],
		enabled: narrowed && (whole.data?.themes.length ?? 0) > 0,
		queryFn: () => take(api.POST("/api/projects/{project_id}/themes/counts", { ...path, body })),
	}).data;
	const data = useMemo(() => {
		if (!whole.data || !narrowed || !counts) return whole.data;
		const byTheme = new Map(counts.map(({ theme, ...figures }) => [theme, figures]));
		return { ...whole.data, themes: whole.data.themes.map((theme) => ({ ...theme, ...byTheme.get(theme.id) })) };
	}, [whole.data, narrowed, counts]);
	return { error: whole.error, data };
}

/** Codes that want a look: unused, one person’s, undefined, nearly alike. */
export function useLook() {
	const { id } = useProject();
	return useQuery(read("look", id));
}

/** All passages of a code or theme by person: those in scope, or where that can’t be what is meant, all. */
export function useReading(of: "code" | "theme", which: number | null, whole = false) {
	const { id } = useProject();
	const { scope } = useScope();
	const body = whole ? {} : scopeRequest(scope);
	return useQuery({
		queryKey: ["project", id, "reading", of, which, body],
		enabled: which !== null,
		queryFn: () =>
			of === "code"
				? take(
						api.POST("/api/projects/{project_id}/codes/{code_id}/passages", {
							params: { path: { project_id: id, code_id: which ?? 0 } },
							body,
						}),
					)
				: take(
						api.POST("/api/projects/{project_id}/themes/{theme_id}/passages", {
							params: { path: { project_id: id, theme_id: which ?? 0 } },
							body,
						}),
					),
	});
}

export function useMergePreview(into: number | null, codes: number[]) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "merge", into, codes],
		enabled: into !== null && codes.length > 0,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/codes/{code_id}/merge", {
					params: { path: { project_id: id, code_id: into ?? 0 } },
					body: { codes },
				}),
			),
	});
}

export function useFind(asked: FindRequest | null) {
	const { id } = useProject();
	return useInfiniteQuery({
		queryKey: ["project", id, "find", asked],
		enabled: asked !== null,
		retry: false,
		initialPageParam: 0,
		queryFn: ({ pageParam }) =>
			take(
				api.POST("/api/projects/{project_id}/find", {
					params: { path: { project_id: id } },
					body: { ...(asked ?? { text: "" }), ...(pageParam > 0 && { skip: pageParam }) },
				}),
			),
		getNextPageParam: (last, pages) => (last.more > 0 ? pages.reduce((listed, page) => listed + page.hits.length, 0) : undefined),
		select: ({ pages }): Found | undefined => {
			const last = pages.at(-1);
			return last && { ...last, hits: pages.flatMap((page) => page.hits) };
		},
	});
}

export function useWordsUsed(asked: Shape<"WordsInRequest">, known: boolean) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "words", asked],
		enabled: known,
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/words", { params: { path: { project_id: id } }, body: asked })),
	});
}

/** Turns whose words are most like a passage’s. */
export function useLike(passage_id: number) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "like", passage_id],
		queryFn: () =>
			take(api.GET("/api/projects/{project_id}/passages/{passage_id}/like", { params: { path: { project_id: id, passage_id } } })),
	});
}

export type CodebookHow = "merge" | "replace";

/** What a file with a codebook would do, and bringing it in as it was shown. */
export function useCodebookFile(file: File | null, how: CodebookHow) {
	const { id } = useProject();
	const path = `/api/projects/${id}/codebook/file`;
	const body = (more: Record<string, string> = {}) => {
		const form = new FormData();
		if (file) form.append("file", file);
		for (const [name, value] of Object.entries({ how, ...more })) form.append(name, value);
		return form;
	};
	const preview = useQuery({
		queryKey: ["codebook file", id, file?.name, file?.size, file?.lastModified, how],
		enabled: file !== null,
		retry: false,
		gcTime: 0,
		queryFn: async (): Promise<Shape<"CodebookPreview">> => (await send(path, body())).json(),
	});
	const bringIn = useWrite((revision: number) => sendOnly(path, body({ revision: String(revision) }), {}, "PUT"));
	return { preview, bringIn };
}

export type Answer = Shape<"AnswerOut">;
export type AnswersRequest = Shape<"AnswersInRequest">;

export const answerKey = (answer: Answer) => `${answer.document} ${answer.start}`;

export function useOpenQuestions() {
	const { id } = useProject();
	return useQuery(read("answers", id));
}

/** The answers to one question, in the order asked for. */
export function useAnswers(asked: AnswersRequest | null) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "answers", asked],
		enabled: asked !== null,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/answers", { params: { path: { project_id: id } }, body: asked ?? { question: "" } })),
	});
}

/** What can be done to the codebook as a whole: merge, split, themes, questions, memos, coding what was found. */
export function useOverviewWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		merge: useWrite(({ into, ...body }: { into: number } & Shape<"MergeCodesInRequest">) =>
			take(api.PUT("/api/projects/{project_id}/codes/{code_id}/merge", { params: { path: { ...path, code_id: into } }, body })),
		),
		split: useWrite(({ code, ...body }: { code: number } & Shape<"SplitCodeInRequest">) =>
			take(api.POST("/api/projects/{project_id}/codes/{code_id}/split", { params: { path: { ...path, code_id: code } }, body })),
		),
		createTheme: useWrite((body: Shape<"ThemeInRequest">) =>
			take(api.POST("/api/projects/{project_id}/themes", { params: { path }, body })),
		),
		changeTheme: useWrite(({ id: theme_id, ...body }: { id: number } & Shape<"PatchedThemeInRequest">) =>
			take(api.PATCH("/api/projects/{project_id}/themes/{theme_id}", { params: { path: { ...path, theme_id } }, body })),
		),
		deleteTheme: useWrite((theme_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/themes/{theme_id}", { params: { path: { ...path, theme_id } } })),
		),
		createQuestion: useWrite((text: string) =>
			take(api.POST("/api/projects/{project_id}/questions", { params: { path }, body: { text } })),
		),
		changeQuestion: useWrite(({ id: question_id, text }: { id: number; text: string }) =>
			take(api.PATCH("/api/projects/{project_id}/questions/{question_id}", { params: { path: { ...path, question_id } }, body: { text } })),
		),
		deleteQuestion: useWrite((question_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/questions/{question_id}", { params: { path: { ...path, question_id } } })),
		),
		dropWords: useWrite((body: Shape<"DroppingInRequest">) =>
			take(api.PUT("/api/projects/{project_id}/words", { params: { path }, body })),
		),
		codeHits: useWrite((body: Shape<"CodeHitsInRequest">) => take(api.PUT("/api/projects/{project_id}/find", { params: { path }, body }))),
	};
}
