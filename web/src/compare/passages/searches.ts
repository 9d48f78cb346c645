import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import { read } from "../../project/reads";
import { scopeRequest, useScope } from "../../project/scope";
import { type Blocks, complete } from "./blocks";

export type SavedQuery = Shape<"SavedQueryOut">;

export function useQueries() {
	const { id } = useProject();
	return useQuery(read("queries", id));
}

export function useQueryWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	const one = "/api/projects/{project_id}/compare/queries/{query_id}" as const;
	return {
		save: useWrite((body: { name: string; blocks: Blocks }) =>
			take(api.POST("/api/projects/{project_id}/compare/queries", { params: { path }, body })),
		),
		change: useWrite(({ id: query_id, ...body }: { id: number; name?: string; blocks?: Blocks }) =>
			take(api.PATCH(one, { params: { path: { ...path, query_id } }, body })),
		),
		remove: useWrite((query_id: number) => take(api.DELETE(one, { params: { path: { ...path, query_id } } }))),
	};
}

/** The passages that blocks keep, with the live count of each; unfinished blocks aren't asked. */
export function useFound(blocks: Blocks, limit: number) {
	const { id } = useProject();
	const { scope } = useScope();
	const body = { blocks, scope: scopeRequest(scope), limit };
	return useQuery({
		queryKey: ["project", id, "search", body],
		enabled: blocks.parts.length > 0 && complete(blocks),
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/search", { params: { path: { project_id: id } }, body })),
	});
}
