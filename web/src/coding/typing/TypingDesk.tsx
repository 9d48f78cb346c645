import { type KeyboardEvent, type RefObject, useEffect, useRef, useState } from "react";
import { ApiError } from "../../api/client";
import { say } from "../../language/say";
import { dropDraft } from "../../project/draft";
import { doKey, isKey } from "../../project/keys";
import { useToldJob } from "../../project/project";
import { useGrowing } from "../../ui/growing";
import { useStable } from "../../ui/stable";
import { useToasts } from "../../ui/toasts";
import type { DeskDocument } from "../data";
import { SPEEDS } from "../media/Player";
import { hundredths } from "../media/spans";
import { EditText } from "../turns/EditText";
import { NewSpeaker } from "../turns/NewSpeaker";
import { GivenText } from "./GivenText";
import { type Doing, draftOf, TypedTurn } from "./TypedTurn";
import { TypingBar } from "./TypingBar";
import { useTypingWrites } from "./writes";

type Turn = DeskDocument["turns"][number];

interface Props {
	document: DeskDocument;
	player: RefObject<HTMLMediaElement | null>;
	/** The turn that plays. */
	playing: number | null;
	onRead: () => void;
}

/** A recording becomes text: its turns with their times, each with a field; the keys play, go on, cut, and say who speaks. */
export function TypingDesk({ document, player, playing, onRead }: Props) {
	const writes = useTypingWrites(document.id);
	const { warn } = useToasts();
	const [inHand, setInHand] = useState<number | null>(null);
	const [plays, setPlays] = useState(true);
	const [asking, setAsking] = useState<{ what: "speaker" | "lost"; turn: Turn; said?: string } | "text" | null>(null);
	const [job, follow] = useToldJob();
	const until = useRef<number | null>(null);
	const list = useRef<HTMLOListElement>(null);
	const shown = useGrowing(document.turns.length, inHand ?? 0);
	usePause(player, until);

	const play = (turn: Turn, from = turn.begin ?? 0) => {
		if (!player.current || turn.begin === null) return;
		until.current = turn.finish;
		player.current.currentTime = from;
		void player.current.play();
	};
	const saidIn = (turn: Turn) => document.text.slice(turn.start, turn.end).trim();
	const sent = useSent(document);
	/** Whether it is kept now, or was; passages that would lose their words are decided about before. */
	const keep = async (turn: Turn, said: string, inPassing = false): Promise<boolean> => {
		const name = draftOf(document.id, turn);
		if (said.trim() === (sent.get(name) ?? saidIn(turn))) return true;
		sent.set(name, said.trim());
		try {
			const { number, begin } = turn;
			await writes.keep.mutateAsync({ number, text: said, decisions: {}, ...(begin !== null && { begin }) });
			return true;
		} catch (error) {
			sent.delete(name);
			if (inPassing) return false;
			if (error instanceof ApiError && error.status === 409) setAsking({ what: "lost", turn, said });
			else warn((error as Error).message);
			return false;
		}
	};
	const fieldOf = (number: number) => list.current?.querySelector<HTMLTextAreaElement>(`[data-typed="${number}"]`);
	/** Do something to a turn once what stands in its field is kept: then that is what the turn has become. */
	const settled = async (turn: Turn, act: (done: () => void) => void) => {
		const said = fieldOf(turn.number)?.value ?? saidIn(turn);
		if (await keep(turn, said)) act(() => dropDraft(draftOf(document.id, turn)));
	};
	const go = (number: number) => {
		const field = fieldOf(number);
		field?.focus();
		field?.setSelectionRange(field.value.length, field.value.length);
	};
	const faster = (by: number) => {
		if (!player.current) return;
		const at = SPEEDS.indexOf(player.current.playbackRate);
		const next = SPEEDS[Math.min(SPEEDS.length - 1, Math.max(0, (at < 0 ? 2 : at) + by))];
		if (next) player.current.playbackRate = next;
	};
	const retime = (turn: Turn, part: "begin" | "finish") => {
		const at = hundredths(player.current?.currentTime ?? 0);
		const { number, begin, finish } = turn;
		if (begin === null || finish === null) return;
		void settled(turn, (done) => writes.retime.mutate({ number, begin, finish, [part]: at }, { onSuccess: done }));
	};
	const cut = (turn: Turn) => {
		const time = hundredths(player.current?.currentTime ?? 0);
		const field = fieldOf(turn.number);
		const at = [...(field?.value.slice(0, field.selectionStart) ?? "").trimStart()].length;
		void settled(turn, (done) => writes.cut.mutate({ number: turn.number, at, time }, { onSuccess: done }));
	};
	const give = (turn: Turn, speaker: number | null) => {
		if (speaker === null) setAsking({ what: "speaker", turn });
		else if (speaker !== turn.speaker) writes.give.mutate({ number: turn.number, speaker });
	};
	const keys = (event: KeyboardEvent<HTMLTextAreaElement>, turn: Turn) => {
		if (event.nativeEvent.isComposing) return;
		if (isKey(event.nativeEvent, "speakerOf")) {
			event.preventDefault();
			const speaker = document.speakers[Number(event.nativeEvent.code.slice(-1)) - 1];
			if (speaker) give(turn, speaker.id);
			return;
		}
		doKey(event.nativeEvent, {
			typedNext: () => (turn.number < document.turns.length ? go(turn.number + 1) : void keep(turn, event.currentTarget.value)),
			typedDown: () => go(turn.number + 1),
			typedUp: () => go(turn.number - 1),
			replay: () => play(turn),
			slower: () => faster(-1),
			faster: () => faster(1),
			cut: () => cut(turn),
			beginsHere: () => retime(turn, "begin"),
			endsHere: () => retime(turn, "finish"),
		});
	};
	const doing = useRef<Doing>({} as Doing);
	doing.current = {
		keep: (turn, said, inPassing) => void keep(turn, said, inPassing),
		play,
		keys,
		give,
		take: (turn) => {
			if (inHand === turn.number) return;
			setInHand(turn.number);
			if (plays && turn.begin !== null) play(turn);
		},
	};
	// Whoever comes here types: the keys are those of the first turn without a word, and nothing plays yet.
	const begin = useStable(() => {
		const first = document.turns.find((turn) => turn.words === 0) ?? document.turns[0];
		if (!first) return;
		setInHand(first.number);
		requestAnimationFrame(() => go(first.number));
	});
	useEffect(() => {
		if (!window.document.activeElement?.closest("input, textarea, [role=dialog]")) begin();
	}, [begin]);

	const turn = document.turns.find((one) => one.number === inHand);
	return (
		<>
			<TypingBar
				document={document}
				turn={turn}
				plays={plays}
				onPlays={setPlays}
				job={job}
				writes={writes}
				player={player}
				onTranscribe={() => writes.transcribe.mutate(undefined, { onSuccess: follow })}
				onCut={() => turn && cut(turn)}
				onJoin={() => turn && void settled(turn, (done) => writes.join.mutate(turn.number, { onSuccess: done }))}
				onRemove={() => turn && void settled(turn, (done) => writes.remove.mutate(turn.number, { onSuccess: done }))}
				onRetime={(part) => turn && retime(turn, part)}
				onText={() => setAsking("text")}
				onRead={onRead}
			/>
			<ol ref={list} aria-label={say("Turns of the recording")} className="min-h-0 flex-1 overflow-y-auto px-4 py-2">
				{document.turns.slice(0, shown).map((one) => (
					<TypedTurn
						key={one.number}
						documentId={document.id}
						turn={one}
						said={saidIn(one)}
						speakers={document.speakers}
						inHand={one.number === inHand}
						playing={one.number === playing}
						doing={doing}
					/>
				))}
			</ol>
			{asking === "text" && <GivenText document={document} onClose={() => setAsking(null)} />}
			{asking !== null && asking !== "text" && asking.what === "speaker" && (
				<NewSpeaker
					onClose={() => setAsking(null)}
					onGive={(label, role) => {
						writes.give.mutate({ number: asking.turn.number, speaker: null, label, role });
						setAsking(null);
					}}
				/>
			)}
			{asking !== null && asking !== "text" && asking.what === "lost" && (
				<EditText document={document} turn={asking.turn} typed={asking.said} onClose={() => setAsking(null)} />
			)}
		</>
	);
}

/** What was sent of each turn and isn’t in the document that is shown yet. Without it the same words would be sent again, after the
 * turn was cut by them, say. */
function useSent(document: DeskDocument): Map<string, string> {
	const [sent] = useState(() => new Map<string, string>());
	const shown = useRef(document);
	if (shown.current !== document) {
		shown.current = document;
		sent.clear();
	}
	return sent;
}

/** What plays stops where its turn ends: whoever types has heard enough for now. */
function usePause(player: RefObject<HTMLMediaElement | null>, until: RefObject<number | null>): void {
	useEffect(() => {
		const { current } = player;
		if (!current) return;
		const stop = () => {
			if (until.current === null || current.currentTime < until.current) return;
			until.current = null;
			current.pause();
		};
		// Whoever plays on, or from elsewhere, isn’t stopped.
		const free = () => {
			if (until.current !== null && current.currentTime >= until.current - 0.05) until.current = null;
		};
		current.addEventListener("timeupdate", stop);
		current.addEventListener("play", free);
		return () => {
			current.removeEventListener("timeupdate", stop);
			current.removeEventListener("play", free);
		};
	}, [player, until]);
}
