import type { Code } from "../../codes/data";
import { branches, flat } from "../../codes/tree";
import { labelOf, WHOLE } from "../../gather/labels";
import { say } from "../../language/say";
import { codeColour } from "../../ui/palette";
import type { DeskDocument, Passage, Span, Stretch } from "../data";
import type { Lane, Piece } from "./Lanes";

/** When the turns begin and end that a stretch of the text stands in. */
export function timesOf(document: DeskDocument, stretch: Stretch): Span | null {
	const turns = document.turns.filter((turn) => turn.start < stretch.end && turn.end > stretch.start && turn.begin !== null);
	const first = turns[0];
	const last = turns.at(-1);
	if (document.kind !== "recording" || first?.begin == null || last?.finish == null) return null;
	return { begin: first.begin, finish: last.finish };
}

/** Each speaker’s turns along the recording, one lane a speaker. */
export function speakerLanes(document: DeskDocument): Lane[] {
	return document.speakers
		.map((speaker) => {
			const name = speaker.label === WHOLE ? (speaker.case_name ?? say("Turns")) : labelOf(speaker.label);
			const pieces = document.turns
				.filter((turn) => turn.speaker === speaker.id)
				.flatMap(({ number, begin, finish, words }): Piece[] =>
					begin === null || finish === null
						? []
						: [{ key: `turn ${number}`, begin, finish, name: say("Turn {number}", { number }), empty: words === 0 }],
				);
			const colour = speaker.role === "participant" ? "var(--color-voice)" : "var(--color-absent)";
			return { key: `speaker ${speaker.id}`, name, colour, pieces };
		})
		.filter((lane) => lane.pieces.length > 0);
}

/** Each code’s passages along the recording, in the codebook’s order: marked on it, or in words whose turns have times.
 * `above`: only codes beneath this one, and itself. */
export function codeLanes(document: DeskDocument, codes: Code[], mine: (passage: Passage) => boolean, above: number | null): Lane[] {
	const timed = document.passages.flatMap((passage) => {
		const span = passage.span ?? timesOf(document, passage);
		return span ? [{ passage, span }] : [];
	});
	return inOrder(codes)
		.filter((code) => above === null || lineOf(codes, code.id).includes(above))
		.map((code) => ({
			key: `code ${code.id}`,
			name: code.name,
			colour: codeColour(code.colour),
			pieces: timed
				.filter(({ passage }) => passage.codings.some((coding) => coding.code === code.id))
				.map(
					({ passage, span }): Piece => ({
						key: `passage ${passage.id}`,
						...span,
						name: passage.span ? say("a span") : say("words of it"),
						passage: passage.id,
						span: passage.span !== null,
						memos: passage.memos.length,
						mine: mine(passage),
					}),
				),
		}))
		.filter((lane) => lane.pieces.length > 0);
}

function inOrder(codes: Code[]): Code[] {
	return flat(branches(codes)).map((branch) => branch.code);
}

/** A code and those above it. */
function lineOf(codes: Code[], id: number): number[] {
	const code = codes.find((one) => one.id === id);
	return code ? [code.id, ...(code.parent === null ? [] : lineOf(codes, code.parent))] : [];
}

/** Codes at the top of the tree beneath which something is coded here. */
export function topsOf(codes: Code[], lanes: Lane[]): Code[] {
	const tops = new Set(lanes.map((lane) => lineOf(codes, Number(lane.key.slice("code ".length))).at(-1)));
	return codes.filter((code) => code.parent === null && tops.has(code.id));
}
