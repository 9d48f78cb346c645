import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import { read } from "../../project/reads";

export type Kept = Shape<"KeptComparisonOut">;

export function useKept() {
	const { id } = useProject();
	return useQuery(read("kept", id));
}

export function useKeptWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	const one = "/api/projects/{project_id}/compare/kept/{kept_id}" as const;
	return {
		keep: useWrite((body: Shape<"KeptComparisonInRequest">) =>
			take(api.POST("/api/projects/{project_id}/compare/kept", { params: { path }, body })),
		),
		change: useWrite(({ id: kept_id, ...body }: { id: number } & Shape<"PatchedKeptChangeInRequest">) =>
			take(api.PATCH(one, { params: { path: { ...path, kept_id } }, body })),
		),
		remove: useWrite((kept_id: number) => take(api.DELETE(one, { params: { path: { ...path, kept_id } } }))),
	};
}
