import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";

export type Memo = Shape<"MemoOut">;

export function useMemos() {
	const { id } = useProject();
	return useQuery(read("memos", id));
}

export function useMemoWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		write: useWrite((body: Shape<"NewMemoInRequest">) => take(api.POST("/api/projects/{project_id}/memos", { params: { path }, body }))),
		intoDocument: useWrite((memo_id: number) =>
			take(api.POST("/api/projects/{project_id}/memos/{memo_id}/document", { params: { path: { ...path, memo_id } } })),
		),
		change: useWrite(({ id: memo_id, ...body }: { id: number } & Shape<"PatchedMemoInRequest">) =>
			take(api.PATCH("/api/projects/{project_id}/memos/{memo_id}", { params: { path: { ...path, memo_id } }, body })),
		),
		remove: useWrite((memo_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/memos/{memo_id}", { params: { path: { ...path, memo_id } } })),
		),
	};
}
