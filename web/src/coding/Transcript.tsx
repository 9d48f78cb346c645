import { type DragEvent, type KeyboardEvent, type RefObject, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useMayCode } from "../shell/project";
import { codeColour } from "../ui/palette";
import type { Code, DeskDocument, Stretch } from "./data";
import { Margin } from "./Margin";
import { clock } from "./MediaPanel";
import { lanes, lineStyle, segments } from "./segments";
import { drawnIn, type Move, moved, selectedStretch, wordsOf } from "./selection";
import { TurnMenu } from "./TurnMenu";

const MOVES: Record<string, [Move, Move]> = {
	ArrowRight: ["next", "longer"],
	ArrowLeft: ["previous", "shorter"],
	ArrowDown: ["down", "down"],
	ArrowUp: ["up", "up"],
};

/** Pinned keys, the same code as last time, and the words themselves as a name. */
export const SHORTCUT = /^[1-9=']$/;

interface Props {
	ref: RefObject<HTMLDivElement | null>;
	document: DeskDocument;
	codes: Code[];
	facts: Map<number, string[]>;
	selection: Stretch | null;
	active: number | null;
	onActive: (passage: number | null) => void;
	onSelect: (stretch: Stretch | null, byMouse: boolean) => void;
	onType: (key: string) => void;
	onDropCode: (code: number, stretch: Stretch) => void;
	playing: number | null;
	onPlay: (begin: number) => void;
}

/** The text turn by turn, passages shown in it, cards beside it. */
export function Transcript(props: Props) {
	const { ref, document, codes, facts, selection, active, onActive, onSelect, onType, onDropCode, playing, onPlay } = props;
	const mayCode = useMayCode();
	const body = useRef<HTMLDivElement>(null);
	const colours = useMemo(() => new Map(codes.map((code) => [code.id, codeColour(code.colour)])), [codes]);
	const colourOf = (code: number) => colours.get(code) ?? "#9B8573";
	const laneOf = useMemo(() => lanes(document.passages), [document.passages]);
	const words = useMemo(() => wordsOf(document.text), [document.text]);
	const speakers = useMemo(() => new Map(document.speakers.map((speaker) => [speaker.id, speaker])), [document.speakers]);
	const headings = (turn: DeskDocument["turns"][number]) =>
		document.sections.filter((section) => section.kind === "question" && turn.start <= section.start && section.start < turn.end);
	const tops = useTops(body, document, selection);

	// A passage named in the address, or chosen on its card, is brought into view once.
	const shown = useRef<number | null>(null);
	useEffect(() => {
		if (active === null || shown.current === active) return;
		shown.current = active;
		const passage = document.passages.find((one) => one.id === active);
		const span = passage && body.current?.querySelector(`[data-at="${passage.start}"]`);
		const box = span?.getBoundingClientRect();
		const frame = ref.current?.getBoundingClientRect();
		if (span && box && frame && (box.top < frame.top || box.bottom > frame.bottom)) span.scrollIntoView({ block: "center" });
	}, [active, document.passages, ref]);

	// The turn that is heard stays in view.
	useEffect(() => {
		if (playing !== null) body.current?.querySelector(`#turn-${playing}`)?.scrollIntoView({ block: "nearest" });
	}, [playing]);

	const keepInView = (stretch: Stretch | null) => {
		if (!stretch) return;
		requestAnimationFrame(() => body.current?.querySelector(".selected-words")?.scrollIntoView({ block: "nearest" }));
	};
	const selectTurn = () => {
		const at = selection?.start ?? document.turns.find((turn) => speakers.get(turn.speaker)?.role === "participant")?.start ?? 0;
		const turn = document.turns.find((one) => one.start <= at && at < one.end);
		if (turn) onSelect(drawnIn(document.text, turn.start, turn.end), false);
	};
	const jump = (by: 1 | -1) => {
		const all = document.passages;
		const now = all.findIndex((passage) => passage.id === active);
		const next = all[now < 0 ? (by > 0 ? 0 : all.length - 1) : now + by];
		if (!next) return;
		onActive(next.id);
		onSelect({ start: next.start, end: next.end }, false);
		keepInView(next);
	};
	const onKey = (event: KeyboardEvent) => {
		if (event.ctrlKey || event.metaKey || event.altKey) return;
		// What is typed in a dialog or menu opened from here isn't meant for the text.
		if (!ref.current?.contains(event.target as Node) || (event.target as HTMLElement).closest("[aria-haspopup]")) return;
		const move = MOVES[event.key];
		if (move) {
			event.preventDefault();
			const next = moved(words, document.turns, selection, move[event.shiftKey ? 1 : 0]);
			onSelect(next, false);
			keepInView(next);
		} else if (event.key === "Escape") onSelect(null, false);
		else if (event.key === "]" || event.key === "[") jump(event.key === "]" ? 1 : -1);
		else if (event.key.toLowerCase() === "t" && (!selection || event.shiftKey)) {
			event.preventDefault();
			selectTurn();
		} else if (event.key.length === 1 && event.key !== " " && event.key !== "?" && selection) {
			// A key that is a shortcut in the coding line mustn't be typed into it.
			if (SHORTCUT.test(event.key)) event.preventDefault();
			onType(event.key);
		}
	};
	const onMouseUp = () => {
		if (!body.current) return;
		const stretch = selectedStretch(body.current, document.text);
		if (!stretch) return;
		window.getSelection()?.removeAllRanges();
		onSelect(stretch, true);
	};
	const onDrop = (event: DragEvent) => {
		const code = Number(event.dataTransfer.getData("application/x-code"));
		if (!code) return;
		event.preventDefault();
		const over = (event.target as HTMLElement).closest<HTMLElement>("[data-passages]")?.dataset.passages?.split(" ")[0];
		const passage = document.passages.find((one) => String(one.id) === over);
		const stretch = selection ?? passage;
		if (stretch) onDropCode(code, { start: stretch.start, end: stretch.end });
	};
	return (
		// biome-ignore lint/a11y/useSemanticElements: a text that answers to the keys that ? lists is no form
		<div
			ref={ref}
			// biome-ignore lint/a11y/noNoninteractiveTabindex: reading and selecting by keyboard starts here
			tabIndex={0}
			aria-label={`Text of ${document.title}. Arrow keys choose words, Shift with arrows more of them, T a whole turn; then type a code.`}
			role="group"
			className="@container relative min-h-0 flex-1 overflow-auto focus-visible:outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-spruce)]"
			onKeyDown={onKey}
			onDragOver={(event) => event.dataTransfer.types.includes("application/x-code") && event.preventDefault()}
			onDrop={onDrop}
		>
			{/* biome-ignore lint/a11y/noStaticElementInteractions: selecting by mouse; keys do the same above */}
			<div ref={body} className="text-width relative w-fit py-4 pr-4 pl-3" onMouseUp={onMouseUp}>
				{document.turns.map((turn) => {
					const speaker = speakers.get(turn.speaker);
					const quieter = speaker?.role !== "participant";
					const known = speaker?.case ? facts.get(speaker.case) : undefined;
					return (
						<div
							key={turn.number}
							id={`turn-${turn.number}`}
							className={`grid grid-cols-[104px_var(--text-width)] gap-x-4 rounded-md ${quieter ? "mb-2" : "mb-3.5"} ${playing === turn.number ? "bg-spruce-soft" : ""}`}
						>
							{headings(turn).map((section) => (
								<h3 key={`${section.kind}${section.start}`} className="col-start-2 mt-1 mb-0.5 text-[12.8px] font-semibold text-spruce">
									{section.title}
								</h3>
							))}
							<div className="col-start-1 pt-1 text-right text-[12.6px] leading-snug text-quiet select-none" title={known?.join("\n")}>
								<span className={quieter ? "" : "font-semibold text-[#0F5C8C]"}>
									{speaker?.label === "Whole document" ? "" : speaker?.label}
								</span>
								{speaker?.case_name && speaker.case_name !== speaker.label && <span className="block">{speaker.case_name}</span>}
								{speaker?.role === "participant" && speaker.case === null && <span className="block text-apricot-deep">not linked</span>}
								<span className="flex items-center justify-end gap-1">
									{turn.begin !== null && document.kind === "recording" && (
										<button
											type="button"
											aria-label={`Play turn ${turn.number}`}
											title={`Play from ${clock(turn.begin)}`}
											className="text-spruce hover:text-ink"
											onClick={() => onPlay(turn.begin ?? 0)}
										>
											▸
										</button>
									)}
									{mayCode ? (
										<TurnMenu document={document} turn={turn} selection={selection} />
									) : (
										<span className="text-[11.5px]">{turn.time || turn.number}</span>
									)}
								</span>
							</div>
							<div className={`reading ${quieter ? "quieter" : ""}`} dir="auto">
								{segments(turn, document.passages, laneOf, selection).map((segment) => {
									const current = active !== null && segment.passages.includes(active);
									return (
										// biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the card beside it is the keyboard's way in
										<span
											key={segment.start}
											data-at={segment.start}
											data-passages={segment.passages.join(" ") || undefined}
											className={`${segment.lines.length ? "coded" : ""} ${segment.selected ? "selected-words" : ""} ${current ? "font-[520]" : ""}`}
											style={lineStyle(segment.lines, colourOf)}
											onClick={() => segment.passages.length && window.getSelection()?.isCollapsed && onActive(segment.passages[0] ?? null)}
										>
											{document.text.slice(segment.start, segment.end)}
										</span>
									);
								})}
							</div>
						</div>
					);
				})}
				<Margin
					document={document}
					codes={codes}
					tops={tops}
					active={active}
					onActive={(passage) => {
						onActive(passage.id);
						onSelect({ start: passage.start, end: passage.end }, true);
					}}
				/>
			</div>
		</div>
	);
}

/** How far down the first word of each passage stands, measured after every change of the text. */
function useTops(body: RefObject<HTMLDivElement | null>, document: DeskDocument, selection: Stretch | null): Map<number, number> {
	const [tops, setTops] = useState<Map<number, number>>(new Map());
	// biome-ignore lint/correctness/useExhaustiveDependencies: passages and a new selection cut the text anew
	useLayoutEffect(() => {
		const measure = () => {
			if (!body.current) return;
			const base = body.current.getBoundingClientRect().top;
			const starts = new Map<number, number>();
			for (const span of body.current.querySelectorAll<HTMLElement>("[data-passages]")) {
				const top = (span.getClientRects()[0] ?? span.getBoundingClientRect()).top - base;
				for (const id of (span.dataset.passages ?? "").split(" ")) if (!starts.has(Number(id))) starts.set(Number(id), top);
			}
			setTops(starts);
		};
		measure();
		const watch = new ResizeObserver(measure);
		if (body.current) watch.observe(body.current);
		return () => watch.disconnect();
	}, [body, document, selection]);
	return tops;
}
