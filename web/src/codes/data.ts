import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, type Shape, take } from "../api/client";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { scopeRequest, useScope } from "../project/scope";

export type Code = Shape<"CodeOut">;

/** The codebook; its counts are those in scope. */
export function useCodebook() {
	const { id } = useProject();
	const { scope } = useScope();
	const asked = scopeRequest(scope);
	const path = { params: { path: { project_id: id } } };
	const whole = useQuery(read("codebook", id));
	const narrowed = Object.keys(asked).length > 0;
	const counts = useQuery({
		queryKey: ["project", id, "codebook counts", asked],
		enabled: narrowed,
		queryFn: () => take(api.POST("/api/projects/{project_id}/codebook/counts", { ...path, body: asked })),
	}).data;
	const data = useMemo(() => {
		if (!whole.data || !narrowed || !counts) return whole.data;
		const byCode = new Map(counts.map(({ code, ...figures }) => [code, figures]));
		return { ...whole.data, codes: whole.data.codes.map((code) => ({ ...code, ...byCode.get(code.id) })) };
	}, [whole.data, narrowed, counts]);
	return { error: whole.error, data };
}

export function useCodeWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		createCode: useWrite((body: Shape<"CodeInRequest">) =>
			take(api.POST("/api/projects/{project_id}/codebook", { params: { path }, body })),
		),
		changeCode: useWrite((row: { id: number } & Shape<"PatchedCodeChangeRequest">) => {
			const { id: code_id, ...body } = row;
			return take(
				api.PATCH("/api/projects/{project_id}/codes/{code_id}", {
					params: { path: { ...path, code_id } },
					body,
				}),
			);
		}),
		changeCodes: useWrite((body: Shape<"PatchedCodesInRequest">) =>
			take(api.PATCH("/api/projects/{project_id}/codebook", { params: { path }, body })),
		),
		deleteCode: useWrite((code_id: number) =>
			take(api.DELETE("/api/projects/{project_id}/codes/{code_id}", { params: { path: { ...path, code_id } } })),
		),
		pin: useWrite(({ key, code }: { key: number; code: number | null }) =>
			take(
				api.PUT("/api/projects/{project_id}/pins/{key}", {
					params: { path: { ...path, key } },
					body: { code },
				}),
			),
		),
	};
}
