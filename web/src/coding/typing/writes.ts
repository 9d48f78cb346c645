import { useQuery } from "@tanstack/react-query";
import { api, type Shape, send, take } from "../../api/client";
import type { Decisions } from "../../gather/Lost";
import { useProject, useWrite } from "../../project/project";
import { useTurnWrites } from "../turns/writes";

/** What can be done at the typing desk; positions are code points, as on the wire. */
export function useTypingWrites(document: number) {
	const { id } = useProject();
	const path = { project_id: id, document_id: document };
	const at = (number: number) => ({ params: { path: { ...path, number } } });
	return {
		...useTurnWrites(document),
		retime: useWrite(({ number, ...body }: { number: number; begin: number; finish: number }) =>
			take(api.PATCH("/api/projects/{project_id}/documents/{document_id}/turns/{number}", { ...at(number), body })),
		),
		cut: useWrite(({ number, ...body }: { number: number; at: number; time: number }) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/{number}/split-at", { ...at(number), body })),
		),
		add: useWrite((body: { begin: number; finish: number }) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns", { params: { path }, body })),
		),
		remove: useWrite((number: number) => take(api.DELETE("/api/projects/{project_id}/documents/{document_id}/turns/{number}", at(number)))),
		lay: useWrite(() => take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/laid", { params: { path } }))),
		transcribe: useWrite(() => take(api.POST("/api/projects/{project_id}/documents/{document_id}/transcribe", { params: { path } }))),
	};
}

/** Who would make a text of a recording. */
export function useTranscriber(): Shape<"TranscriberOut"> | undefined {
	const { id } = useProject();
	return useQuery({
		queryKey: ["transcriber", id],
		staleTime: 60_000,
		queryFn: () => take(api.GET("/api/projects/{project_id}/transcriber", { params: { path: { project_id: id } } })),
	}).data;
}

/** A text in a file for a recording: what it would do, and doing it. */
export function useGivenText(document: number) {
	const { id } = useProject();
	const path = `/api/projects/${id}/documents/${document}/text`;
	const form = (file: File, decisions?: Decisions) => {
		const made = new FormData();
		made.append("file", file);
		if (decisions) made.append("decisions", JSON.stringify(decisions));
		return made;
	};
	return {
		preview: async (file: File): Promise<Shape<"TextOut">> => (await send(`${path}/preview`, form(file))).json(),
		give: useWrite(({ file, decisions }: { file: File; decisions: Decisions }) => send(path, form(file, decisions))),
	};
}
