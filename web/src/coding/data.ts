import { useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";
import { type Positions, positionsOf } from "../api/positions";
import { useProject, useWrite } from "../project/project";
import { alike, type Region } from "./regions";

export type Passage = Shape<"PassageOut">;
type WireDocument = Shape<"DocumentOut">;

/** A document with all positions in the browser's units. */
export interface DeskDocument extends WireDocument {
	positions: Positions;
}

/** A stretch of the text, in the browser's units, half-open. */
export interface Stretch {
	start: number;
	end: number;
}

/** Seconds of a recording. */
export type Span = Shape<"SpanOut">;
/** What codes are put on. */
export type Place = Stretch | { region: Region } | { span: Span };

export function inUnits<T extends Stretch>(positions: Positions, rows: T[]): T[] {
	return rows.map((row) => ({
		...row,
		start: positions.toUnits(row.start),
		end: positions.toUnits(row.end),
	}));
}

export function useDocument(document_id: number | null) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "document", document_id],
		enabled: document_id !== null,
		queryFn: async (): Promise<DeskDocument> => {
			const wire = await take(
				api.GET("/api/projects/{project_id}/documents/{document_id}", {
					params: { path: { project_id: id, document_id: document_id ?? 0 } },
				}),
			);
			const positions = positionsOf(wire.text);
			return {
				...wire,
				positions,
				turns: inUnits(positions, wire.turns),
				sections: inUnits(positions, wire.sections),
				passages: inUnits(positions, wire.passages),
			};
		},
	});
}

export type Application = Place & {
	codes: number[];
	newCodes: { name: string; parent: number | null }[];
};

/** A place as the server takes it: positions are code points. */
export function onWire(positions: Positions, place: Place): Place {
	if (!("start" in place)) return place;
	return { start: positions.toCodePoints(place.start), end: positions.toCodePoints(place.end) };
}

export function fromWire(positions: Positions, place: Shape<"CodingInRequest">): Place {
	if (place.region) return { region: place.region };
	if (place.span) return { span: place.span };
	return { start: positions.toUnits(place.start ?? 0), end: positions.toUnits(place.end ?? 0) };
}

function isAt(passage: Passage, place: Place): boolean {
	if ("region" in place) return alike(passage.region, place.region);
	if ("span" in place) return passage.span?.begin === place.span.begin && passage.span?.finish === place.span.finish;
	return passage.start === place.start && passage.end === place.end;
}

/** The document as it will be once the codes are saved. */
export function withCodes(
	document: DeskDocument,
	place: Place,
	put: { codes: number[]; new_codes?: unknown[] },
	account: Shape<"AccountOut">,
): DeskDocument {
	// A code that is being made has no number yet.
	const codes = [...put.codes, ...(put.new_codes ?? []).map((_, at) => -1 - at)];
	const held = document.passages.find((passage) => isAt(passage, place));
	// What the server hasn’t numbered yet is numbered downwards, each once, the same at every drawing.
	let lowest = Math.min(0, ...document.passages.flatMap((passage) => [passage.id, ...passage.codings.map((coding) => coding.id)]));
	const next = () => --lowest;
	const passage: Passage = held ?? { id: next(), start: 0, end: 0, region: null, span: null, ...place, codings: [], memos: [] };
	const fresh = codes.filter((code) => !passage.codings.some((coding) => coding.code === code && coding.coder === account.id));
	const codings = [
		...passage.codings,
		...fresh.map((code) => ({
			id: next(),
			code,
			coder: account.id,
			initials: account.initials,
			coder_name: account.display_name,
			rating: null,
			by_words: false,
		})),
	];
	return withPassage(document, { ...passage, codings });
}

/** The document with one passage as it is now. */
export function withPassage(document: DeskDocument, passage: Passage): DeskDocument {
	const others = document.passages.filter((one) => one.id !== passage.id);
	return { ...document, passages: [...others, passage].sort((a, b) => a.start - b.start || a.end - b.end) };
}

export function useCodingWrites() {
	const { id } = useProject();
	const path = { project_id: id };
	return {
		/** Move a passage; positions in the text are code points, as on the wire. */
		move: useWrite(({ passage, ...body }: Place & { passage: number }) =>
			take(
				api.PATCH("/api/projects/{project_id}/passages/{passage_id}", {
					params: { path: { ...path, passage_id: passage } },
					body,
				}),
			),
		),
		propose: useWrite(({ document, ...body }: { document: number } & Shape<"ProposedInRequest">) =>
			take(
				api.PUT("/api/projects/{project_id}/documents/{document_id}/proposed", {
					params: { path: { ...path, document_id: document } },
					body,
				}),
			),
		),
		rate: useWrite(({ coding, rating }: { coding: number; rating: number | null }) =>
			take(
				api.PATCH("/api/projects/{project_id}/codings/{coding_id}", {
					params: { path: { ...path, coding_id: coding } },
					body: { rating },
				}),
			),
		),
		removeCoding: useWrite((coding_id: number) =>
			take(
				api.DELETE("/api/projects/{project_id}/codings/{coding_id}", {
					params: { path: { ...path, coding_id } },
				}),
			),
		),
	};
}
