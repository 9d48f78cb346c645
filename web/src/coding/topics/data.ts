import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import { scopeRequest, useScope } from "../../project/scope";

export type Topic = Shape<"TopicOut">;
export type Topics = Shape<"TopicsOut">;
export type TopicHit = Shape<"TopicHitOut">;
export type Proposing = Shape<"ProposeInRequest">;

/** All topics that words proposed, counted in what is in play, by the groups of a fact about people where one is chosen. */
export function useTopics(variable: number | null) {
	const { id } = useProject();
	const { scope } = useScope();
	const body = { scope: scopeRequest(scope), variable };
	return useQuery({
		queryKey: ["project", id, "topics", body],
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/topics", { params: { path: { project_id: id } }, body })),
	});
}

/** A topic’s hits in play, a page at a time. */
export function useTopicHits(topic: number) {
	const { id } = useProject();
	const { scope } = useScope();
	const body = { scope: scopeRequest(scope) };
	return useInfiniteQuery({
		queryKey: ["project", id, "topic hits", topic, body],
		initialPageParam: 0,
		queryFn: ({ pageParam }) =>
			take(
				api.POST("/api/projects/{project_id}/topics/{topic_id}/hits", {
					params: { path: { project_id: id, topic_id: topic } },
					body: { ...body, ...(pageParam > 0 && { skip: pageParam }) },
				}),
			),
		getNextPageParam: (last, pages) => (last.more > 0 ? pages.reduce((listed, page) => listed + page.hits.length, 0) : undefined),
		select: ({ pages }) => ({ hits: pages.flatMap((page) => page.hits), more: pages.at(-1)?.more ?? 0 }),
	});
}

export function useTopicWrites() {
	const { id } = useProject();
	const { scope } = useScope();
	const path = { project_id: id };
	const inPlay = { scope: scopeRequest(scope) };
	return {
		propose: useWrite((asked: Omit<Proposing, "scope">) =>
			take(api.POST("/api/projects/{project_id}/topics/propose", { params: { path }, body: { ...asked, ...inPlay } })),
		),
		rename: useWrite(({ topic, name }: { topic: number; name: string }) =>
			take(api.PATCH("/api/projects/{project_id}/topics/{topic_id}", { params: { path: { ...path, topic_id: topic } }, body: { name } })),
		),
		merge: useWrite((topics: number[]) =>
			take(api.POST("/api/projects/{project_id}/topics/merge", { params: { path }, body: { topics } })),
		),
		drop: useWrite((body: Shape<"DropInRequest">) => take(api.POST("/api/projects/{project_id}/topics/drop", { params: { path }, body }))),
		leaveOut: useWrite(({ phrase, left_out }: { phrase: number; left_out: boolean }) =>
			take(
				api.PATCH("/api/projects/{project_id}/topics/phrases/{phrase_id}", {
					params: { path: { ...path, phrase_id: phrase } },
					body: { left_out },
				}),
			),
		),
		tick: useWrite(({ topic, ...body }: { topic: number } & Pick<Shape<"TicksInRequest">, "hits" | "every" | "ticked">) =>
			take(
				api.PUT("/api/projects/{project_id}/topics/{topic_id}/hits", {
					params: { path: { ...path, topic_id: topic } },
					body: { ...body, ...inPlay },
				}),
			),
		),
		keep: useWrite(({ topic, ...body }: { topic: number } & Pick<Shape<"KeepInRequest">, "name" | "parent" | "into">) =>
			take(
				api.POST("/api/projects/{project_id}/topics/{topic_id}/keep", {
					params: { path: { ...path, topic_id: topic } },
					body: { ...body, ...inPlay },
				}),
			),
		),
	};
}
