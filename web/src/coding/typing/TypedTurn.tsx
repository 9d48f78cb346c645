import { Play } from "lucide-react";
import { type KeyboardEvent, memo, type RefObject, useEffect, useRef } from "react";
import { labelOf, WHOLE } from "../../gather/labels";
import { say } from "../../language/say";
import { useDraft } from "../../project/draft";
import { Choice } from "../../ui/Choice";
import type { DeskDocument } from "../data";
import { clock } from "../media/clock";

type Turn = DeskDocument["turns"][number];
type Speaker = DeskDocument["speakers"][number];

/** Milliseconds without a key after which what is typed is kept. */
const RESTS = 3000;

/** What is typed of a turn is kept under its beginning: its number may become another’s. */
export const draftOf = (document: number, turn: Turn): string => `typed ${turn.begin ?? turn.number} of ${document}`;

/** What can be asked of a turn from its row; `said` is what stands in its field. */
export interface Doing {
	/** `inPassing`: while somebody goes on typing, who isn’t asked anything then. */
	keep: (turn: Turn, said: string, inPassing?: boolean) => void;
	take: (turn: Turn) => void;
	play: (turn: Turn) => void;
	keys: (event: KeyboardEvent<HTMLTextAreaElement>, turn: Turn) => void;
	give: (turn: Turn, speaker: number | null) => void;
}

interface Props {
	documentId: number;
	turn: Turn;
	said: string;
	speakers: Speaker[];
	inHand: boolean;
	playing: boolean;
	doing: RefObject<Doing>;
}

/** One turn at the typing desk: when, who, and a field for what is said. */
export const TypedTurn = memo(function TypedTurn({ documentId, turn, said, speakers, inHand, playing, doing }: Props) {
	const field = useRef<HTMLTextAreaElement>(null);
	const [text, setText] = useDraft(draftOf(documentId, turn), said);
	// A long turn isn’t lost with the page.
	useEffect(() => {
		if (text.trim() === said) return;
		const resting = window.setTimeout(() => doing.current.keep(turn, text, true), RESTS);
		return () => window.clearTimeout(resting);
	}, [text, said, turn, doing]);
	// As high as what stands in it.
	useEffect(() => {
		if (!field.current || text === null) return;
		field.current.style.height = "auto";
		field.current.style.height = `${field.current.scrollHeight + 2}px`;
	}, [text]);
	const speaker = speakers.find((one) => one.id === turn.speaker);
	const times = turn.begin === null ? "" : `${clock(turn.begin)}–${clock(turn.finish ?? turn.begin)}`;
	return (
		<li
			id={`typed-${turn.number}`}
			className={`grid grid-cols-[92px_118px_minmax(0,1fr)] items-start gap-x-3 rounded-md px-2 py-1 ${inHand ? "bg-spruce-soft" : playing ? "bg-paper2" : ""}`}
		>
			<button
				type="button"
				disabled={turn.begin === null}
				aria-label={say("Play turn {number}, {times}", { number: turn.number, times })}
				title={say("Play this turn")}
				className="mt-0.5 inline-flex items-center justify-end gap-1 text-[12.6px] text-quiet tabular-nums hover:text-spruce"
				onClick={() => doing.current.play(turn)}
			>
				<Play size={11} aria-hidden="true" /> {times || turn.number}
			</button>
			<Choice<number | null>
				name={say("Speaker of turn {number}", { number: turn.number })}
				as="small"
				value={turn.speaker}
				shown={!speaker || speaker.label === WHOLE ? say("Who?") : labelOf(speaker.label)}
				options={[
					...speakers.map((one, at) => ({
						value: one.id as number | null,
						label: labelOf(one.label),
						...(at < 9 && { hint: say("Alt {number}", { number: at + 1 }) }),
					})),
					{ value: null, label: say("Somebody new …") },
				]}
				onChange={(id) => doing.current.give(turn, id)}
			/>
			<textarea
				ref={field}
				data-typed={turn.number}
				aria-label={say("What is said in turn {number}, {times}", { number: turn.number, times })}
				rows={1}
				dir="auto"
				spellCheck
				placeholder={say("Nothing typed yet")}
				className="field w-full resize-none overflow-hidden font-serif text-[15px] leading-snug"
				value={text}
				onChange={(event) => setText(event.target.value)}
				onFocus={() => doing.current.take(turn)}
				onBlur={() => doing.current.keep(turn, text)}
				onKeyDown={(event) => doing.current.keys(event, turn)}
			/>
		</li>
	);
});
