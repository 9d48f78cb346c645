import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";

export type Exhibit = Shape<"ExhibitListed">;
export type Piece = Shape<"PieceOut">;
export type Digest = Shape<"DigestOut">;

export function useExhibits() {
	const { id } = useProject();
	return useQuery(read("exhibits", id));
}

export function useExhibit(exhibit_id: number) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "exhibits", exhibit_id],
		queryFn: () => take(api.GET("/api/projects/{project_id}/exhibits/{exhibit_id}", { params: { path: { project_id: id, exhibit_id } } })),
	});
}

export function useExhibitWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	const one = "/api/projects/{project_id}/exhibits/{exhibit_id}" as const;
	const piece = "/api/projects/{project_id}/exhibits/{exhibit_id}/pieces/{piece_id}" as const;
	return {
		make: useWrite((body: Shape<"ExhibitInRequest">) => take(api.POST("/api/projects/{project_id}/exhibits", { params: { path }, body }))),
		change: useWrite(({ exhibit_id, ...body }: { exhibit_id: number } & Shape<"PatchedExhibitChangeRequest">) =>
			take(api.PATCH(one, { params: { path: { ...path, exhibit_id } }, body })),
		),
		remove: useWrite((exhibit_id: number) => take(api.DELETE(one, { params: { path: { ...path, exhibit_id } } }))),
		changePiece: useWrite(
			({ exhibit_id, piece_id, ...body }: { exhibit_id: number; piece_id: number } & Shape<"PatchedPieceChangeRequest">) =>
				take(api.PATCH(piece, { params: { path: { ...path, exhibit_id, piece_id } }, body })),
		),
		takeOut: useWrite(({ exhibit_id, piece_id }: { exhibit_id: number; piece_id: number }) =>
			take(api.DELETE(piece, { params: { path: { ...path, exhibit_id, piece_id } } })),
		),
	};
}

/** Passages, or all that a saved query finds, put at the end of an exhibit. */
export function useAddToExhibit() {
	const { id } = useProject();
	return useWrite(({ exhibit_id, ...body }: { exhibit_id: number; passages?: number[]; query?: number }) =>
		take(api.POST("/api/projects/{project_id}/exhibits/{exhibit_id}/pieces", { params: { path: { project_id: id, exhibit_id } }, body })),
	);
}

/** What a digest is of, beside its person: a code or a theme. */
export type DigestOf = { code: number } | { theme: number };

export function useDigests() {
	const { id } = useProject();
	return useQuery(read("digests", id));
}

export function digestOf(digests: Digest[] | undefined, person: number, of: DigestOf): Digest | undefined {
	return digests?.find((one) => one.case === person && ("code" in of ? one.code === of.code : one.theme === of.theme));
}

export function useWriteDigest() {
	const { id } = useProject();
	return useWrite((body: Shape<"DigestInRequest">) =>
		take(api.PUT("/api/projects/{project_id}/digests", { params: { path: { project_id: id } }, body })),
	);
}
