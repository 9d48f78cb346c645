import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";

/** What can be done to a turn of a document; positions are code points, as on the wire. */
export function useTurnWrites(document: number) {
	const { id } = useProject();
	const path = (number: number) => ({ params: { path: { project_id: id, document_id: document, number } } });
	return {
		split: useWrite(({ number, at }: { number: number; at: number }) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/{number}/split", { ...path(number), body: { at } })),
		),
		join: useWrite((number: number) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/{number}/join", path(number))),
		),
		give: useWrite(({ number, ...body }: { number: number } & Shape<"GiveInRequest">) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/{number}/give", { ...path(number), body })),
		),
		preview: useWrite(({ number, text }: { number: number; text: string }) =>
			take(api.POST("/api/projects/{project_id}/documents/{document_id}/turns/{number}/text", { ...path(number), body: { text } })),
		),
		/** The same, where whoever asks says what can't be done. */
		keep: useWrite(
			({ number, ...body }: { number: number } & Shape<"EditTurnInRequest">) =>
				take(api.PUT("/api/projects/{project_id}/documents/{document_id}/turns/{number}/text", { ...path(number), body })),
			{ quiet: true },
		),
		edit: useWrite(({ number, ...body }: { number: number } & Shape<"EditTurnInRequest">) =>
			take(api.PUT("/api/projects/{project_id}/documents/{document_id}/turns/{number}/text", { ...path(number), body })),
		),
	};
}
