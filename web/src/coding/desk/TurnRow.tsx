import { memo } from "react";
import { labelOf, WHOLE } from "../../gather/labels";
import { say } from "../../language/say";
import { useMayCode } from "../../project/project";
import { languageOf } from "../../ui/language";
import type { DeskDocument, Passage, Stretch } from "../data";
import { clock } from "../media/clock";
import type { Edge } from "./ends";
import { cutBy, lineStyle, type Segment } from "./segments";
import { TurnNumber } from "./TurnMenu";

type Turn = DeskDocument["turns"][number];

interface Props {
	document: DeskDocument;
	turn: Turn;
	speaker: DeskDocument["speakers"][number] | undefined;
	known: string[] | undefined;
	headings: string[];
	/** The turn cut at its passages, and the same in one word: it is drawn again when that changes. */
	segments: Segment[];
	signature: string;
	selection: Stretch | null;
	active: number | null;
	/** The passage in hand whose ends can be dragged. */
	held: Passage | null;
	playing: boolean;
	colourOf: (code: number) => string;
	onPlay: (begin: number) => void;
	onActive: (passage: number) => void;
	onDrag: (edge: Edge, x: number, y: number, done: boolean) => void;
}

/** One turn with its passages shown in it. In a long text only the turns that have changed are drawn again. */
export const TurnRow = memo(function TurnRow(props: Props) {
	const { document, turn, speaker, known, headings, segments, selection, active, held, playing, colourOf, onPlay, onActive, onDrag } =
		props;
	const mayCode = useMayCode();
	const quieter = speaker?.role !== "participant";
	return (
		<div
			id={`turn-${turn.number}`}
			className={`grid grid-cols-[104px_var(--text-width)] gap-x-4 rounded-md [contain:content] in-[.slim]:block print:grid print:grid-cols-[104px_minmax(0,1fr)] ${quieter ? "mb-2" : "mb-3.5"} ${playing ? "bg-spruce-soft" : ""}`}
		>
			{headings.map((title) => (
				<h3 key={title} className="col-start-2 mt-1 mb-0.5 text-[12.8px] font-semibold text-spruce">
					{title}
				</h3>
			))}
			<div
				className="col-start-1 pt-1 text-right text-[12.6px] leading-snug text-quiet select-none in-[.slim]:flex in-[.slim]:gap-2 in-[.slim]:text-left"
				title={known?.join("\n")}
			>
				<span className={quieter ? "" : "font-semibold text-voice"}>
					{!speaker || speaker.label === WHOLE ? "" : labelOf(speaker.label)}
				</span>
				{speaker?.case_name && speaker.case_name !== speaker.label && <span className="block">{speaker.case_name}</span>}
				{speaker?.role === "participant" && speaker.case === null && <span className="block text-apricot-deep">{say("not linked")}</span>}
				<span className="flex items-center justify-end gap-1">
					{turn.begin !== null && document.kind === "recording" && (
						<button
							type="button"
							aria-label={say("Play turn {number}", { number: turn.number })}
							title={say("Play from {clock}", { clock: clock(turn.begin) })}
							className="sign text-spruce hover:text-ink"
							onClick={() => onPlay(turn.begin ?? 0)}
						>
							▸
						</button>
					)}
					{mayCode ? (
						<TurnNumber document={document} turn={turn} selection={selection} />
					) : (
						<span className="text-[11.5px]">{turn.time || turn.number}</span>
					)}
				</span>
			</div>
			<div
				className={`reading ${quieter ? "quieter" : ""} before:text-[13px] before:text-quiet before:content-[attr(data-untyped)]`}
				data-untyped={document.kind === "recording" && turn.words === 0 && turn.begin !== null ? say("nothing typed yet") : undefined}
				dir="auto"
				lang={languageOf(document.text.slice(turn.start, turn.end)) ?? languageOf(document.text)}
			>
				{cutBy(segments, selection).flatMap((segment) => {
					const current = active !== null && segment.passages.includes(active);
					const handle = (edge: Edge) =>
						held?.[edge] === segment[edge] ? <Handle key={`${edge}${segment.start}`} edge={edge} onDrag={onDrag} /> : null;
					return [
						handle("start"),
						// biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the card beside it is the keyboard's way in
						<span
							key={segment.start}
							data-at={segment.start}
							data-passages={segment.passages.join(" ") || undefined}
							className={`${segment.lines.length ? "coded" : ""} ${segment.selected ? "selected-words" : ""} ${current ? "font-[520]" : ""}`}
							style={lineStyle(segment.lines, colourOf)}
							onClick={() => {
								const first = segment.passages[0];
								if (first !== undefined && window.getSelection()?.isCollapsed) onActive(first);
							}}
						>
							{document.text.slice(segment.start, segment.end)}
						</span>,
						handle("end"),
					];
				})}
			</div>
		</div>
	);
}, alike);

/** Two turns that look the same: the document as a whole may have changed elsewhere. */
function alike(before: Props, now: Props): boolean {
	return (
		before.document.text === now.document.text &&
		before.document.positions === now.document.positions &&
		before.document.turns.length === now.document.turns.length &&
		before.document.speakers === now.document.speakers &&
		before.turn === now.turn &&
		before.speaker === now.speaker &&
		before.known === now.known &&
		before.headings.join("\n") === now.headings.join("\n") &&
		before.signature === now.signature &&
		before.selection?.start === now.selection?.start &&
		before.selection?.end === now.selection?.end &&
		before.active === now.active &&
		before.held?.start === now.held?.start &&
		before.held?.end === now.held?.end &&
		before.playing === now.playing &&
		before.colourOf === now.colourOf
	);
}

/** The end of the passage in hand, to be dragged over the words. */
function Handle({ edge, onDrag }: { edge: Edge; onDrag: Props["onDrag"] }) {
	return (
		<span
			aria-hidden="true"
			title={say("Drag to move this end; Alt with the arrows does it by key")}
			className={`edge-handle ${edge === "start" ? "-ml-[5px]" : "-mr-[5px]"}`}
			onPointerDown={(event) => {
				event.preventDefault();
				event.stopPropagation();
				event.currentTarget.setPointerCapture(event.pointerId);
			}}
			onPointerMove={(event) => event.buttons === 1 && onDrag(edge, event.clientX, event.clientY, false)}
			onPointerUp={(event) => {
				event.stopPropagation();
				onDrag(edge, event.clientX, event.clientY, true);
			}}
			onMouseUp={(event) => event.stopPropagation()}
		/>
	);
}
