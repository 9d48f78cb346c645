import {
	type CSSProperties,
	type DragEvent,
	type KeyboardEvent,
	type MouseEvent,
	type ReactNode,
	type RefObject,
	useCallback,
	useEffect,
	useMemo,
	useRef,
	useState,
} from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { type Doings, doKey, passOn, useCaps } from "../../project/keys";
import { useMayCode } from "../../project/project";
import { useGrowing } from "../../ui/growing";
import { codeColour } from "../../ui/palette";
import { usePrinting } from "../../ui/printing";
import { useStable } from "../../ui/stable";
import { Margin } from "../cards/Margin";
import type { DeskDocument, Passage, Stretch } from "../data";
import { dragged, type Edge, END_MOVES, type EndMove } from "./ends";
import { OnPaper } from "./OnPaper";
import { type CutTurn, cutTurns, type Lanes, lanes } from "./segments";
import { drawnIn, type Move, moved, offsetAt, selectedStretch, wholeWords } from "./selection";
import { TurnRow } from "./TurnRow";
import { useTops } from "./tops";

type Turn = DeskDocument["turns"][number];

interface Props {
	ref: RefObject<HTMLDivElement | null>;
	document: DeskDocument;
	codes: Code[];
	facts: Map<number, string[]>;
	selection: Stretch | null;
	active: number | null;
	onActive: (passage: number | null) => void;
	onSelect: (stretch: Stretch | null, byMouse: boolean) => void;
	onType: (key?: KeyboardEvent) => void;
	onDropCode: (code: number, stretch: Stretch) => void;
	onStretch: (passage: Passage, stretch: Stretch) => void;
	/** Moves an end of the passage in hand. */
	onEnds: (move: EndMove) => void;
	words: Stretch[];
	/** Whether a card stands in the margin for a passage. */
	noted: (passage: Passage) => boolean;
	mine: (passage: Passage) => boolean;
	playing: number | null;
	onPlay: (begin: number) => void;
	/** Pixels that text and cards share; SLIM is too little for both. */
	width: number;
}

export const SLIM = 660;

/** Turns drawn below what is gone to, so that it can stand in the middle. */
const AFTER = 20;

/** The text turn by turn, passages shown in it, cards beside it. */
export function Transcript(props: Props) {
	const {
		ref,
		document,
		codes,
		facts,
		selection,
		active,
		onActive,
		onSelect,
		onType,
		onDropCode,
		onStretch,
		onEnds,
		words,
		noted,
		mine,
		playing,
		onPlay,
		width,
	} = props;
	const mayCode = useMayCode();
	const capOf = useCaps();
	const body = useRef<HTMLDivElement>(null);
	const colours = useMemo(() => new Map(codes.map((code) => [code.id, codeColour(code.colour)])), [codes]);
	const colourOf = useCallback((code: number) => colours.get(code) ?? "var(--color-code-15)", [colours]);
	const drawn = useRef<{ lanes: Lanes; cut: CutTurn<Turn>[] }>({ lanes: new Map(), cut: [] });
	const speakers = useMemo(() => new Map(document.speakers.map((speaker) => [speaker.id, speaker])), [document.speakers]);
	const cut = useMemo(() => {
		const laneOf = lanes(document.passages, drawn.current.lanes);
		const next = cutTurns(document.turns, document.sections, document.passages, laneOf, drawn.current.cut);
		drawn.current = { lanes: laneOf, cut: next };
		return next;
	}, [document.turns, document.sections, document.passages]);
	const printing = usePrinting();
	const needed = Math.max(selection?.end ?? 0, document.passages.find((passage) => passage.id === active)?.end ?? 0);
	const grown = useGrowing(
		cut.length,
		printing ? cut.length : needed > 0 ? cut.findLastIndex(({ first }) => first < needed) + 1 + AFTER : 0,
	);
	const tops = useTops(body, cut, grown);

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

	// What a link points at is brought into view when the text opens.
	const pointed = useRef(selection);
	useEffect(() => {
		if (pointed.current) body.current?.querySelector(".selected-words")?.scrollIntoView({ block: "center" });
	}, []);

	// The turn that is heard stays in view.
	useEffect(() => {
		if (playing !== null) body.current?.querySelector(`#turn-${playing}`)?.scrollIntoView({ block: "nearest" });
	}, [playing]);

	/** A step keeps the words in view; after a jump, what stands around them is seen too. */
	const keepInView = (stretch: Stretch | null, jumped = false) => {
		if (!stretch) return;
		requestAnimationFrame(() => {
			const words = body.current?.querySelector(".selected-words");
			const [box, frame] = [words?.getBoundingClientRect(), ref.current?.getBoundingClientRect()];
			const near = box && frame && box.top > frame.top + frame.height / 8 && box.bottom < frame.bottom - frame.height / 4;
			if (!near) words?.scrollIntoView({ block: jumped ? "center" : "nearest" });
		});
	};
	const selectTurn = () => {
		const at = from?.start ?? document.turns.find((turn) => speakers.get(turn.speaker)?.role === "participant")?.start ?? 0;
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
		keepInView(next, true);
	};
	const held = document.passages.find((passage) => passage.id === active);
	// After words were coded or left, the keys go on from them.
	const left = useRef<Stretch | null>(null);
	if (selection) left.current = selection;
	const from = selection ?? left.current;
	/** Go on to the next place after what is in hand; from the end to the beginning again. */
	const goTo = (places: Stretch[]) => {
		const after = from?.start ?? held?.start ?? -1;
		const next = places.find((one) => one.start > after) ?? places[0];
		const stretch = next && drawnIn(document.text, next.start, next.end);
		if (!stretch) return;
		onActive(document.passages.find((one) => one.start === stretch.start && one.end === stretch.end)?.id ?? null);
		onSelect(stretch, false);
		keepInView(stretch, true);
	};
	const go = (move: Move) => {
		const next = moved(words, document.turns, from, move);
		onSelect(next, false);
		keepInView(next);
	};
	const uncoded = () =>
		goTo(
			document.turns.filter(
				(turn) =>
					speakers.get(turn.speaker)?.role === "participant" &&
					!document.passages.some((passage) => passage.codings.length > 0 && passage.start < turn.end && passage.end > turn.start),
			),
		);
	const sameCode = () => {
		const codes = new Set(held?.codings.map((coding) => coding.code));
		goTo(document.passages.filter((passage) => passage.codings.some((coding) => codes.has(coding.code))));
	};
	const sameSpeaker = () => {
		const at = from?.start ?? held?.start ?? -1;
		const speaker = document.turns.find((turn) => turn.start <= at && at < turn.end)?.speaker;
		// With nothing in hand, whoever takes part first.
		const own = speaker ?? document.speakers.find((one) => one.role === "participant")?.id;
		goTo(document.turns.filter((turn) => turn.speaker === own));
	};
	const ends: Doings = Object.fromEntries(END_MOVES.map((move) => [move, () => onEnds(move)]));
	const onKey = (event: KeyboardEvent) => {
		// What is typed in a dialog or menu opened from here isn't meant for the text.
		if (!ref.current?.contains(event.target as Node) || (event.target as HTMLElement).closest("[aria-haspopup], textarea, input")) return;
		const doings: Doings = {
			nextWord: () => go("next"),
			previousWord: () => go("previous"),
			longer: () => go("longer"),
			shorter: () => go("shorter"),
			nextTurn: () => go("down"),
			previousTurn: () => go("up"),
			wholeTurn: selectTurn,
			nextPassage: () => jump(1),
			previousPassage: () => jump(-1),
			uncoded,
			sameCode,
			sameSpeaker,
			...(held && mine(held) && mayCode && ends),
			leaveWords: () => onSelect(null, false),
		};
		if (!doKey(event.nativeEvent, doings, selection !== null) && selection) passOn(event, onType);
	};
	const play = useStable(onPlay);
	const choose = useStable(onActive);
	const takeUp = useStable((passage: Passage) => {
		onActive(passage.id);
		onSelect({ start: passage.start, end: passage.end }, true);
	});
	const drag = useStable((edge: Edge, x: number, y: number, done: boolean) => {
		const to = body.current && offsetAt(body.current, x, y);
		if (to === null || !held) return;
		const next = dragged(words, held, edge, to);
		onSelect(next, false);
		if (done && (next.start !== held.start || next.end !== held.end)) onStretch(held, next);
	});
	const onMouseUp = (event: MouseEvent) => {
		if (!body.current) return;
		const stretch = selectedStretch(body.current, document.text);
		if (!stretch) return;
		window.getSelection()?.removeAllRanges();
		onSelect(event.altKey ? stretch : wholeWords(words, stretch), true);
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
	// Of a long text a few turns have something chosen or in hand: the others stay the very same.
	// biome-ignore lint/correctness/useExhaustiveDependencies: what any of them shows
	const plain = useMemo(
		() => new WeakMap<CutTurn<Turn>, ReactNode>(),
		[document.text, document.positions, document.turns, document.speakers, facts, colourOf],
	);
	const rowOf = (one: CutTurn<Turn>) => {
		const { turn, first, last } = one;
		const speaker = speakers.get(turn.speaker);
		const chosen = selection && selection.start < turn.end && selection.end > turn.start ? selection : null;
		const touched = held && held.start < turn.end && held.end > turn.start ? held : null;
		const quiet = !chosen && !touched && playing !== turn.number;
		const known = quiet && plain.get(one);
		if (known) return known;
		const row = (
			<TurnRow
				key={turn.number}
				document={document}
				turn={turn}
				speaker={speaker}
				known={speaker?.case ? facts.get(speaker.case) : undefined}
				headings={one.headings}
				segments={one.segments}
				signature={one.signature}
				selection={chosen && { start: Math.max(chosen.start, first), end: Math.min(chosen.end, last) }}
				active={touched?.id ?? null}
				held={touched && mayCode && mine(touched) ? touched : null}
				playing={playing === turn.number}
				colourOf={colourOf}
				onPlay={play}
				onActive={choose}
				onDrag={drag}
			/>
		);
		if (quiet) plain.set(one, row);
		return row;
	};
	return (
		// biome-ignore lint/a11y/useSemanticElements: a text that answers to the keys that ? lists is no form
		<div
			ref={ref}
			// biome-ignore lint/a11y/noNoninteractiveTabindex: reading and selecting by keyboard starts here
			tabIndex={0}
			aria-label={say("Text of {title}. Arrow keys choose words, Shift with arrows more of them, {key} a whole turn; then type a code.", {
				title: document.title,
				key: capOf("wholeTurn"),
			})}
			role="group"
			className="relative flex-1 pane focus-visible:outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-spruce)] print:shadow-none!"
			onKeyDown={onKey}
			onDragOver={(event) => event.dataTransfer.types.includes("application/x-code") && event.preventDefault()}
			onDrop={onDrop}
		>
			<Chosen text={document.text} selection={selection} />
			{/* biome-ignore lint/a11y/noStaticElementInteractions: selecting by mouse; keys do the same above */}
			<div
				ref={body}
				className={`text-width relative py-4 pr-4 pl-3 ${width < SLIM ? "slim" : width >= 1200 ? "broad" : ""}`}
				style={{ "--desk-width": `${width}px` } as CSSProperties}
				onMouseUp={onMouseUp}
			>
				{cut.slice(0, grown).map((one) => {
					if (!printing) return rowOf(one);
					return [rowOf(one), <OnPaper key={`paper ${one.turn.number}`} document={document} codes={codes} turn={one.turn} />];
				})}
				{width >= SLIM && !printing && (
					<Margin frame={ref} document={document} codes={codes} tops={tops} noted={noted} active={active} onActive={takeUp} />
				)}
			</div>
		</div>
	);
}

const SAID = 200;
/** After the last step: whoever holds an arrow key isn't told of every word. */
const RESTED = 400;

/** What is chosen, said aloud (WCAG 4.1.3). */
function Chosen({ text, selection }: { text: string; selection: Stretch | null }) {
	const [said, setSaid] = useState("");
	const words = selection ? text.slice(selection.start, selection.end).replace(/\s+/g, " ").trim() : "";
	useEffect(() => {
		const timer = window.setTimeout(() => {
			const count = words.split(" ").filter(Boolean).length;
			setSaid(count ? say("{count, plural, one {# word} other {# words}} chosen: {words}", { count, words: words.slice(0, SAID) }) : "");
		}, RESTED);
		return () => window.clearTimeout(timer);
	}, [words]);
	return (
		<p role="status" className="sr-only">
			{said}
		</p>
	);
}
