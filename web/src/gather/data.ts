import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";

export type ShelfDocument = Shape<"ShelfDocument">;
export type Staged = Shape<"StagedOut">;
export type StagedChoices = Shape<"StagedChoices">;

export function useDocuments() {
	const { id } = useProject();
	return useQuery(read("documents", id));
}

export function useStaged() {
	const { id } = useProject();
	return useQuery(read("staged", id));
}

export function useStagedWrites() {
	const { id } = useProject();
	const one = (staged_id: number) => ({ params: { path: { project_id: id, staged_id } } });
	return {
		correct: useWrite((row: { id: number; included?: boolean; choices?: StagedChoices }) =>
			take(
				api.PATCH("/api/projects/{project_id}/staged/{staged_id}", {
					...one(row.id),
					body: { included: row.included, choices: row.choices },
				}),
			),
		),
		correctSpeakers: useWrite((changes: Record<string, Shape<"SpeakerChangeRequest">>) =>
			take(api.POST("/api/projects/{project_id}/staged/speakers", { params: { path: { project_id: id } }, body: { changes } })),
		),
		discard: useWrite((staged_id: number) => take(api.DELETE("/api/projects/{project_id}/staged/{staged_id}", one(staged_id)))),
		discardAll: useWrite(() => take(api.DELETE("/api/projects/{project_id}/staged", { params: { path: { project_id: id } } }))),
	};
}
