import {
	type CSSProperties,
	type DragEvent,
	type KeyboardEvent,
	type MouseEvent,
	type RefObject,
	useCallback,
	useEffect,
	useMemo,
	useRef,
	useState,
} from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { useMayCode } from "../../project/project";
import { isSingle, singleKeys } from "../../project/singleKeys";
import { codeColour } from "../../ui/palette";
import { usePrinting } from "../../ui/printing";
import { useStable } from "../../ui/stable";
import { Margin } from "../cards/Margin";
import type { DeskDocument, Passage, Stretch } from "../data";
import { byWord, dragged, type Edge, toSentences, toTurns } from "./ends";
import { OnPaper } from "./OnPaper";
import { cutTurns, lanes } from "./segments";
import { drawnIn, type Move, moved, offsetAt, selectedStretch, wholeWords, wordsOf } from "./selection";
import { TurnRow } from "./TurnRow";

const MOVES: Record<string, [Move, Move]> = {
	ArrowRight: ["next", "longer"],
	ArrowLeft: ["previous", "shorter"],
	ArrowDown: ["down", "down"],
	ArrowUp: ["up", "up"],
};

/** Pinned keys, the same code as last time, the proposed ones, and the words themselves as a name. */
export const SHORTCUT = /^[1-9=+']$/;

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
	onStretch: (passage: Passage, stretch: Stretch) => void;
	/** Whether a card stands in the margin for a passage. */
	noted: (passage: Passage) => boolean;
	mine: (passage: Passage) => boolean;
	playing: number | null;
	onPlay: (begin: number) => void;
	/** Pixels that text and cards share; SLIM is too little for both. */
	width: number;
}

export const SLIM = 660;

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
		noted,
		mine,
		playing,
		onPlay,
		width,
	} = props;
	const mayCode = useMayCode();
	const body = useRef<HTMLDivElement>(null);
	const colours = useMemo(() => new Map(codes.map((code) => [code.id, codeColour(code.colour)])), [codes]);
	const colourOf = useCallback((code: number) => colours.get(code) ?? "var(--color-code-15)", [colours]);
	const laneOf = useMemo(() => lanes(document.passages), [document.passages]);
	const words = useMemo(() => wordsOf(document.text), [document.text]);
	const speakers = useMemo(() => new Map(document.speakers.map((speaker) => [speaker.id, speaker])), [document.speakers]);
	const cut = useMemo(() => cutTurns(document.turns, document.sections, document.passages, laneOf), [document, laneOf]);
	const printing = usePrinting();
	const tops = useTops(body, document);

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
	const jumps: Record<string, () => void> = {
		u: () =>
			goTo(
				document.turns.filter(
					(turn) =>
						speakers.get(turn.speaker)?.role === "participant" &&
						!document.passages.some((passage) => passage.codings.length > 0 && passage.start < turn.end && passage.end > turn.start),
				),
			),
		c: () => {
			const codes = new Set(held?.codings.map((coding) => coding.code));
			goTo(document.passages.filter((passage) => passage.codings.some((coding) => codes.has(coding.code))));
		},
		s: () => {
			const at = from?.start ?? held?.start ?? -1;
			const speaker = document.turns.find((turn) => turn.start <= at && at < turn.end)?.speaker;
			// With nothing in hand, whoever takes part first.
			const own = speaker ?? document.speakers.find((one) => one.role === "participant")?.id;
			goTo(document.turns.filter((turn) => turn.speaker === own));
		},
	};
	const onAlt = (event: KeyboardEvent) => {
		const jump = jumps[event.key.toLowerCase()];
		if (jump) {
			event.preventDefault();
			jump();
			return;
		}
		if (!held || !mine(held) || !mayCode) return;
		const edge: Edge = event.shiftKey ? "start" : "end";
		const ways: Record<string, () => Stretch | null> = {
			ArrowRight: () => byWord(words, held, edge, 1),
			ArrowLeft: () => byWord(words, held, edge, -1),
			ArrowDown: () => (event.shiftKey ? toTurns : toSentences)(document.text, document.turns, held),
		};
		const way = ways[event.key];
		if (!way) return;
		event.preventDefault();
		const next = way();
		if (!next || (next.start === held.start && next.end === held.end)) return;
		onSelect(next, false);
		onStretch(held, next);
	};
	const onKey = (event: KeyboardEvent) => {
		if (event.ctrlKey || event.metaKey) return;
		// What is typed in a dialog or menu opened from here isn't meant for the text.
		if (!ref.current?.contains(event.target as Node) || (event.target as HTMLElement).closest("[aria-haspopup], textarea, input")) return;
		if (event.altKey) {
			onAlt(event);
			return;
		}
		if (isSingle(event) && !singleKeys()) return;
		const jumpTo = selection ? undefined : jumps[event.key.toLowerCase()];
		if (jumpTo) {
			event.preventDefault();
			jumpTo();
			return;
		}
		const move = MOVES[event.key];
		if (move) {
			event.preventDefault();
			const next = moved(words, document.turns, from, move[event.shiftKey ? 1 : 0]);
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
	return (
		// biome-ignore lint/a11y/useSemanticElements: a text that answers to the keys that ? lists is no form
		<div
			ref={ref}
			// biome-ignore lint/a11y/noNoninteractiveTabindex: reading and selecting by keyboard starts here
			tabIndex={0}
			aria-label={say("Text of {title}. Arrow keys choose words, Shift with arrows more of them, T a whole turn; then type a code.", {
				title: document.title,
			})}
			role="group"
			className="relative flex-1 pane focus-visible:outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-spruce)] print:shadow-none!"
			onKeyDown={onKey}
			onDragOver={(event) => event.dataTransfer.types.includes("application/x-code") && event.preventDefault()}
			onDrop={onDrop}
		>
			{/* biome-ignore lint/a11y/noStaticElementInteractions: selecting by mouse; keys do the same above */}
			<div
				ref={body}
				className={`text-width relative py-4 pr-4 pl-3 ${width < SLIM ? "slim" : width >= 1200 ? "broad" : ""}`}
				style={{ "--desk-width": `${width}px` } as CSSProperties}
				onMouseUp={onMouseUp}
			>
				{cut.map(({ turn, segments: own, signature, headings, first, last }) => {
					const speaker = speakers.get(turn.speaker);
					const chosen = selection && selection.start < turn.end && selection.end > turn.start ? selection : null;
					const touched = held && held.start < turn.end && held.end > turn.start ? held : null;
					const row = (
						<TurnRow
							key={turn.number}
							document={document}
							turn={turn}
							speaker={speaker}
							known={speaker?.case ? facts.get(speaker.case) : undefined}
							headings={headings}
							segments={own}
							signature={signature}
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
					if (!printing) return row;
					return [row, <OnPaper key={`paper ${turn.number}`} document={document} codes={codes} turn={turn} />];
				})}
				{width >= SLIM && !printing && (
					<Margin frame={ref} document={document} codes={codes} tops={tops} noted={noted} active={active} onActive={takeUp} />
				)}
			</div>
		</div>
	);
}

/** How far down the first word of each passage stands, measured after every change of the text has been seen: to
 * measure before would hold the change up by laying all of a long text out. */
function useTops(body: RefObject<HTMLDivElement | null>, document: DeskDocument): Map<number, number> {
	const [tops, setTops] = useState<Map<number, number>>(new Map());
	// biome-ignore lint/correctness/useExhaustiveDependencies: passages cut the text anew
	useEffect(() => {
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
		// A frame’s own callbacks still come before it is painted: after it, then.
		let later = 0;
		const soon = requestAnimationFrame(() => {
			later = window.setTimeout(measure);
		});
		// An observer calls once as it begins to watch, before the paint too.
		let watching = false;
		const watch = new ResizeObserver(() => {
			if (watching) measure();
			watching = true;
		});
		if (body.current) watch.observe(body.current);
		return () => {
			cancelAnimationFrame(soon);
			window.clearTimeout(later);
			watch.disconnect();
		};
	}, [body, document.passages, document.text]);
	return tops;
}
