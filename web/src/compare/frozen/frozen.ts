import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import { read } from "../../project/reads";

export type FrozenListed = Shape<"FrozenListed">;
export type Frozen = Shape<"FrozenOut">;
export type CellChange = Shape<"CellChange">;
/** A cell of a frozen comparison, by what its row is and the name of its group. */
export type CellKey = Pick<CellChange, "kind" | "id" | "group">;

export function useFrozenList() {
	const { id } = useProject();
	return useQuery(read("frozen", id));
}

export function useFrozen(frozen_id: number) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "frozen", frozen_id],
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/compare/frozen/{frozen_id}", {
					params: { path: { project_id: id, frozen_id } },
				}),
			),
	});
}

export function useFrozenPassages(frozen_id: number) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "frozen", frozen_id, "found"],
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/compare/frozen/{frozen_id}/found", {
					params: { path: { project_id: id, frozen_id } },
				}),
			),
	});
}

export function useCellChange(frozen_id: number, cell: CellKey) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "frozen", frozen_id, "cell", cell],
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/compare/frozen/{frozen_id}/cell", {
					params: { path: { project_id: id, frozen_id } },
					body: cell,
				}),
			),
	});
}

export function useFrozenWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		freeze: useWrite((body: Shape<"FreezeInRequest">) =>
			take(api.POST("/api/projects/{project_id}/compare/frozen", { params: { path }, body })),
		),
		freezePassages: useWrite((body: Shape<"FreezePassagesInRequest">) =>
			take(api.POST("/api/projects/{project_id}/compare/frozen/passages", { params: { path }, body })),
		),
		remove: useWrite((frozen_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/compare/frozen/{frozen_id}", { params: { path: { ...path, frozen_id } } })),
		),
	};
}

export function useNoteWrites() {
	const { id } = useProject();
	const one = "/api/projects/{project_id}/compare/kept/{kept_id}/notes/{note_id}" as const;
	return {
		write: useWrite(({ kept_id, ...body }: { kept_id: number } & Shape<"CellNoteInRequest">) =>
			take(api.POST("/api/projects/{project_id}/compare/kept/{kept_id}/notes", { params: { path: { project_id: id, kept_id } }, body })),
		),
		remove: useWrite(({ kept_id, note_id }: { kept_id: number; note_id: number }) =>
			take(api.DELETE(one, { params: { path: { project_id: id, kept_id, note_id } } })),
		),
	};
}
