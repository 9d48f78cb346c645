import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { useProject, useWrite } from "../shell/project";

export type Case = Shape<"CaseOut">;
export type Variable = Shape<"VariableOut">;
export type Unlinked = Shape<"UnlinkedOut">;

export function useRoster() {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "roster"],
		queryFn: () => take(api.GET("/api/projects/{project_id}/roster", { params: { path: { project_id: id } } })),
	});
}

export function useUnlinked() {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "unlinked"],
		queryFn: () => take(api.GET("/api/projects/{project_id}/unlinked", { params: { path: { project_id: id } } })),
	});
}

export function usePeopleWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		addCase: useWrite((identifier: string) =>
			take(api.POST("/api/projects/{project_id}/cases", { params: { path }, body: { identifier } })),
		),
		renameCase: useWrite((row: { id: number; identifier: string }) =>
			take(
				api.PATCH("/api/projects/{project_id}/cases/{case_id}", {
					params: { path: { ...path, case_id: row.id } },
					body: { identifier: row.identifier },
				}),
			),
		),
		deleteCase: useWrite((case_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/cases/{case_id}", { params: { path: { ...path, case_id } } })),
		),
		setValue: useWrite((cell: { case: number; variable: number } & Shape<"ValueInRequest">) =>
			take(
				api.PUT("/api/projects/{project_id}/cases/{case_id}/values/{variable_id}", {
					params: { path: { ...path, case_id: cell.case, variable_id: cell.variable } },
					body: { text: cell.text, missing: cell.missing },
				}),
			),
		),
		changeVariable: useWrite((row: { id: number } & Shape<"PatchedVariableInRequest">) => {
			const { id: variable_id, ...body } = row;
			return take(
				api.PATCH("/api/projects/{project_id}/variables/{variable_id}", {
					params: { path: { ...path, variable_id } },
					body,
				}),
			);
		}),
		deleteVariable: useWrite((variable_id: number) =>
			take(
				api.DELETE("/api/projects/{project_id}/variables/{variable_id}", {
					params: { path: { ...path, variable_id } },
				}),
			),
		),
		changeSpeaker: useWrite((row: { id: number } & Shape<"PatchedSpeakerInRequest">) => {
			const { id: speaker_id, ...body } = row;
			return take(
				api.PATCH("/api/projects/{project_id}/speakers/{speaker_id}", {
					params: { path: { ...path, speaker_id } },
					body,
				}),
			);
		}),
		linkSure: useWrite(() => take(api.POST("/api/projects/{project_id}/unlinked", { params: { path } }))),
	};
}
