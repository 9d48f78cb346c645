import type { ReactNode, RefObject } from "react";
import { say } from "../../language/say";
import type { KeyName } from "../../project/keymap";
import { useCaps } from "../../project/keys";
import type { Job } from "../../project/project";
import { Button } from "../../ui/Button";
import type { DeskDocument } from "../data";
import { useSound } from "../media/sound";
import { hundredths } from "../media/spans";
import { useTranscriber, type useTypingWrites } from "./writes";

/** Seconds of a turn that is added by hand where nothing follows soon. */
const ADDED = 5;

interface Props {
	document: DeskDocument;
	/** The one in hand. */
	turn: DeskDocument["turns"][number] | undefined;
	plays: boolean;
	job: Job | undefined;
	writes: ReturnType<typeof useTypingWrites>;
	player: RefObject<HTMLMediaElement | null>;
	onPlays: (plays: boolean) => void;
	onTranscribe: () => void;
	onCut: () => void;
	onJoin: () => void;
	onRemove: () => void;
	onRetime: (part: "begin" | "finish") => void;
	onText: () => void;
	onRead: () => void;
}

/** How far the typing is, and what can be done but typing. */
export function TypingBar(props: Props) {
	const { document, turn, plays, job, writes, player, onPlays, onTranscribe, onCut, onJoin, onRemove, onRetime, onText, onRead } = props;
	const sound = useSound(document);
	const typed = document.turns.filter((one) => one.words > 0).length;
	const timed = document.turns.some((one) => one.begin !== null);
	const unlaid = document.words === 0 && sound !== undefined && sound.stretches.length > 0 && !timed;
	const add = () => {
		const begin = hundredths(player.current?.currentTime ?? 0);
		const next = document.turns.find((one) => one.begin !== null && one.begin > begin);
		const end = Math.min(begin + ADDED, next?.begin ?? Number.POSITIVE_INFINITY, document.seconds ?? Number.POSITIVE_INFINITY);
		writes.add.mutate({ begin, finish: hundredths(Math.max(end, begin + 0.5)) });
	};
	return (
		<div className="shrink-0 border-b border-line bg-card px-4.5 py-1.5 text-[13px]">
			<div className="flex flex-wrap items-center gap-x-4 gap-y-1">
				<b>{say("{typed, number} of {turns, plural, one {# turn} other {# turns}} typed", { typed, turns: document.turns.length })}</b>
				<label className="flex items-center gap-1.5">
					<input type="checkbox" className="accent-spruce" checked={plays} onChange={(event) => onPlays(event.target.checked)} />
					{say("Play each turn as one comes to it")}
				</label>
				<span className="ml-auto flex flex-wrap items-center gap-2">
					{document.words === 0 && <Transcribing job={job} onTranscribe={onTranscribe} />}
					<Button onClick={onText}>{document.words ? say("Bring another text …") : say("Bring a text …")}</Button>
					<Button onClick={onRead}>{say("Read and code")}</Button>
				</span>
			</div>
			<div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-0.5">
				{unlaid && (
					<Button look="plain" disabled={writes.lay.isPending} onClick={() => writes.lay.mutate(undefined)}>
						{say("Lay empty turns where somebody speaks ({stretches, number})", { stretches: sound.stretches.length })}
					</Button>
				)}
				<Act name="cut" disabled={turn?.begin == null} onClick={onCut}>
					{say("Cut the turn here")}
				</Act>
				<Act name="beginsHere" disabled={turn?.begin == null} onClick={() => onRetime("begin")}>
					{say("It begins here")}
				</Act>
				<Act name="endsHere" disabled={turn?.begin == null} onClick={() => onRetime("finish")}>
					{say("It ends here")}
				</Act>
				<Act disabled={!turn || turn.number >= document.turns.length} onClick={onJoin}>
					{say("Join with the next")}
				</Act>
				<Act disabled={!turn || turn.words > 0 || document.turns.length < 2} onClick={onRemove}>
					{say("Take the empty turn away")}
				</Act>
				<Act onClick={add}>{say("Add a turn where it plays")}</Act>
			</div>
		</div>
	);
}

function Act({
	name,
	disabled = false,
	onClick,
	children,
}: {
	name?: KeyName;
	disabled?: boolean;
	onClick: () => void;
	children: ReactNode;
}) {
	const capOf = useCaps();
	return (
		<button
			type="button"
			disabled={disabled}
			// The field keeps the keys, and its cursor.
			onMouseDown={(event) => event.preventDefault()}
			onClick={onClick}
			className="inline-flex items-center gap-1 text-[12.6px] text-spruce hover:underline disabled:text-quiet disabled:no-underline"
		>
			{children}
			{name && <kbd>{capOf(name)}</kbd>}
		</button>
	);
}

/** Whoever is set up to make a text of it; a stand-in is said to be one. */
function Transcribing({ job, onTranscribe }: { job: Job | undefined; onTranscribe: () => void }) {
	const transcriber = useTranscriber();
	if (job) return <span role="status">{say("Transcribing: {done} %", { done: job.done })}</span>;
	if (!transcriber?.there) return null;
	return (
		<Button
			title={
				transcriber.stand_in
					? say(
							"This stand-in understands nothing: it says only when somebody speaks. A real transcriber is set up by whoever looks after the server.",
						)
					: say("The recording is sent to {name}.", { name: transcriber.name })
			}
			onClick={onTranscribe}
		>
			{transcriber.stand_in ? say("Have it transcribed by the stand-in") : say("Have it transcribed by {name}", { name: transcriber.name })}
		</Button>
	);
}
