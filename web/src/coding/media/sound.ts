import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { useProject, useWrite } from "../../project/project";
import type { DeskDocument } from "../data";

export type Sound = Shape<"SoundOut">;

/** What was heard in a recording: where somebody speaks, and whether its waveform can be drawn. */
export function useSound(document: DeskDocument): Sound | undefined {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "sound", document.id],
		enabled: document.kind === "recording",
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/documents/{document_id}/sound", {
					params: { path: { project_id: id, document_id: document.id } },
				}),
			),
	}).data;
}

/** How loud it is along the recording, 0 to 1, evenly; it never changes. */
export function usePeaks(document: DeskDocument, ready: boolean): Float32Array | undefined {
	const { id } = useProject();
	return useQuery({
		queryKey: ["peaks", id, document.id],
		enabled: ready,
		staleTime: Number.POSITIVE_INFINITY,
		queryFn: async () => {
			const answer = await fetch(`/api/projects/${id}/documents/${document.id}/sound/peaks`);
			const bytes = answer.ok ? new Uint8Array(await answer.arrayBuffer()) : new Uint8Array();
			return Float32Array.from(bytes, (loud) => loud / 255);
		},
	}).data;
}

/** Have a recording listened to, as a job. */
export function useListen(document: DeskDocument) {
	const { id } = useProject();
	return useWrite(() =>
		take(
			api.POST("/api/projects/{project_id}/documents/{document_id}/sound", {
				params: { path: { project_id: id, document_id: document.id } },
			}),
		),
	);
}
