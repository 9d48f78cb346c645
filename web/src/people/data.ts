import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Shape, take } from "../api/client";
import { among, usePlay } from "../project/play";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";

export type Variable = Shape<"VariableOut">;
export type Unlinked = Shape<"UnlinkedOut">;
export type Cohort = Shape<"CohortOut">;
export type Definition = Shape<"Definition">;
export type Cell = Shape<"CellOut">;

/** A case with its values by variable. */
export interface Case extends Shape<"CaseOut"> {
	values: Record<string, Cell>;
}

export interface Roster {
	variables: Variable[];
	cases: Case[];
}

/** Columns on the wire, each different cell once; rows on the screen. */
export function rosterOf(wire: Shape<"RosterOut">): Roster {
	const cases = wire.cases.map((row) => ({ ...row, values: {} as Record<string, Cell> }));
	for (const column of wire.columns)
		column.codes.forEach((code, place) => {
			const row = cases[place];
			const cell = column.cells[code];
			if (row && cell) row.values[column.variable] = cell;
		});
	return { variables: wire.variables, cases };
}

export function useRoster() {
	const { id } = useProject();
	return useQuery({ ...read("roster", id), select: rosterOf });
}

export function useUnlinked() {
	const { id } = useProject();
	return useQuery(read("unlinked", id));
}

export function useCheck() {
	const { id } = useProject();
	return useQuery(read("check", id));
}

export function useDocumentVariables() {
	const { id } = useProject();
	return useQuery(read("variables", id));
}

/** Documents by name: what cohorts of documents are made of. */
export function useDocumentNames() {
	const { id } = useProject();
	return useQuery(read("documents", id)).data ?? [];
}

export function useCohorts() {
	const { id } = useProject();
	return useQuery(read("cohorts", id));
}

export function useHistogram(variable: Variable, wanted: boolean) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "histogram", variable.id],
		enabled: wanted,
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/variables/{variable_id}/histogram", {
					params: { path: { project_id: id, variable_id: variable.id } },
				}),
			),
	});
}

const NOBODY: Case[] = [];

/** Those in play, and how each variable spreads over them. */
export function useRosterInPlay() {
	const { id } = useProject();
	const roster = useRoster();
	const play = usePlay();
	const cases = play.asked.cases;
	const spreads = useQuery({
		queryKey: ["project", id, "distribution", "all", cases],
		enabled: cases !== undefined,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/variables/spreads", { params: { path: { project_id: id } }, body: { cases } })),
	}).data;
	const data = useMemo(() => {
		if (!roster.data || !play.cases) return roster.data;
		const byVariable = new Map(spreads?.map(({ variable, ...spread }) => [variable, spread]));
		return {
			cases: among(roster.data.cases, play.cases, (row) => row.id),
			variables: roster.data.variables.map((one) => ({ ...one, ...byVariable.get(one.id) })),
		};
	}, [roster.data, play.cases, spreads]);
	return { error: roster.error, data, every: roster.data?.cases ?? NOBODY };
}

/** How a variable spreads over those in play, by another one; `asked` is what was asked, for its file. */
export function useDistribution(variable: number, by: number) {
	const { id } = useProject();
	const play = usePlay();
	const asked = { by, cases: play.asked.cases ?? null };
	const found = useQuery({
		queryKey: ["project", id, "distribution", variable, asked],
		enabled: play.known,
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(
				api.POST("/api/projects/{project_id}/variables/{variable_id}/distribution", {
					params: { path: { project_id: id, variable_id: variable } },
					body: asked,
				}),
			),
	});
	return { ...found, asked };
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
		mergeCases: useWrite((row: { kept: number; other: number }) =>
			take(
				api.POST("/api/projects/{project_id}/cases/{case_id}/merge", {
					params: { path: { ...path, case_id: row.kept } },
					body: { other: row.other },
				}),
			),
		),
		setValue: useWrite((cell: { case: number; variable: number } & Shape<"ValueInRequest">) =>
			take(
				api.PUT("/api/projects/{project_id}/cases/{case_id}/values/{variable_id}", {
					params: { path: { ...path, case_id: cell.case, variable_id: cell.variable } },
					body: { text: cell.text, missing: cell.missing },
				}),
			),
		),
		setValues: useWrite((body: Shape<"PasteInRequest">) => take(api.PUT("/api/projects/{project_id}/values", { params: { path }, body }))),
		makeVariable: useWrite((body: Shape<"NewVariableRequest">) =>
			take(api.POST("/api/projects/{project_id}/variables", { params: { path }, body })),
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
		changeCategories: useWrite((row: { id: number } & Shape<"CategoriesInRequest">) => {
			const { id: variable_id, ...body } = row;
			return take(
				api.POST("/api/projects/{project_id}/variables/{variable_id}/categories", {
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
		linkChosen: useWrite((links: Shape<"LinkRequest">[]) =>
			take(api.POST("/api/projects/{project_id}/links", { params: { path }, body: { links } })),
		),
		settle: useWrite((body: Shape<"SettledInRequest">) =>
			take(api.POST("/api/projects/{project_id}/speakers/settle", { params: { path }, body })),
		),
		makeCohort: useWrite((body: Shape<"CohortInRequest">) =>
			take(api.POST("/api/projects/{project_id}/cohorts", { params: { path }, body })),
		),
		changeCohort: useWrite((row: { id: number } & Shape<"PatchedCohortInRequest">) => {
			const { id: cohort_id, ...body } = row;
			return take(api.PATCH("/api/projects/{project_id}/cohorts/{cohort_id}", { params: { path: { ...path, cohort_id } }, body }));
		}),
		deleteCohort: useWrite((cohort_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/cohorts/{cohort_id}", { params: { path: { ...path, cohort_id } } })),
		),
	};
}
