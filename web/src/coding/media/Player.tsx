import { Pause, Play, Repeat } from "lucide-react";
import { type RefObject, useEffect, useMemo, useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { capOf, usePageKeys } from "../../project/keys";
import { useMayCode, useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { CardList } from "../cards/Cards";
import type { DeskDocument, Passage, Span } from "../data";
import { useCaptions } from "./captions";
import { clock } from "./clock";
import { Lanes } from "./Lanes";
import { codeLanes, speakerLanes, topsOf } from "./lanes";
import { Waveform } from "./Waveform";

export const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 2];
const BACK = 3;

interface Props {
	document: DeskDocument;
	codes: Code[];
	player: RefObject<HTMLMediaElement | null>;
	active: number | null;
	/** The span being marked: until it has an end it grows as one listens. */
	marked: Partial<Span> | null;
	/** Where what is in hand begins and ends: it is what the loop plays. */
	held: Span | null;
	/** The turns that the words in hand stand in. */
	turns: Span | null;
	/** Who types listens: nothing is marked, no codes are shown. */
	typing?: boolean;
	/** To the typing desk; missing where one is there, or may not. */
	onTyping?: () => void;
	mine: (passage: Passage) => boolean;
	onMove?: (passage: number, span: Span) => void;
	onTurn: (number: number | null) => void;
	onMark: (span: Partial<Span> | null) => void;
	onActive: (passage: Passage) => void;
}

/** The player of a recording: it says which turn it is at, goes where a turn is clicked, and marks spans while one listens. */
export function Player(props: Props) {
	const { document, codes, player, active, marked, held, turns, typing = false, onTyping, mine, onMove, onTurn, onMark, onActive } = props;
	const { id } = useProject();
	const mayCode = useMayCode() && !typing;
	const [playing, setPlaying] = useState(false);
	const [now, setNow] = useState(0);
	const [speed, setSpeed] = useState(1);
	const [loop, setLoop] = useState(false);
	const [problem, setProblem] = useState("");
	const [captions, setCaptions] = useState(true);
	useCaptions(player, document, captions);
	const medium = document.media.find((one) => one.role === "recording");
	const length = document.seconds ?? 0;
	const spans = document.passages.filter((passage) => passage.span && !typing);
	const [branch, setBranch] = useState<number | null>(null);
	const speakers = useMemo(() => speakerLanes(document), [document]);
	const coded = useMemo(() => (typing ? [] : codeLanes(document, codes, mine, null)), [document, codes, mine, typing]);
	const lanes = useMemo(
		() => [...speakers, ...(branch === null ? coded : codeLanes(document, codes, mine, branch))],
		[speakers, coded, branch, document, codes, mine],
	);
	useEffect(() => {
		const turn = document.turns.filter((one) => one.begin !== null && one.begin <= now + 0.05).at(-1);
		const over = turn?.finish !== null && turn?.finish !== undefined && now > turn.finish + 4;
		onTurn(turn && !over && now > 0 ? turn.number : null);
	}, [now, document.turns, onTurn]);
	const go = (to: number) => {
		if (player.current) player.current.currentTime = Math.max(0, Math.min(length || to, to));
		setNow(Math.max(0, to));
	};
	const toggle = () => (playing ? player.current?.pause() : void player.current?.play());
	const at = () => player.current?.currentTime ?? now;
	const begin = () => onMark({ begin: at() });
	const finish = () => marked?.begin !== undefined && onMark({ begin: Math.min(marked.begin, at()), finish: Math.max(marked.begin, at()) });
	usePageKeys({ play: toggle, back: () => go(at() - BACK), loop: () => setLoop(!loop), ...(mayCode && { begin, finish }) });
	if (!medium) return null;
	const looped = marked?.begin !== undefined && marked.finish !== undefined ? { begin: marked.begin, finish: marked.finish } : held;
	const common = {
		src: `/api/projects/${id}/documents/${document.id}/media/recording/1`,
		preload: "metadata",
		onPlay: () => setPlaying(true),
		onPause: () => setPlaying(false),
		onTimeUpdate: (event: React.SyntheticEvent<HTMLMediaElement>) => {
			const time = event.currentTarget.currentTime;
			if (loop && looped && (time >= looped.finish || time < looped.begin - 0.3)) go(looped.begin);
			else setNow(time);
		},
		// By a key elsewhere, too.
		onRateChange: (event: React.SyntheticEvent<HTMLMediaElement>) => setSpeed(event.currentTarget.playbackRate),
		onError: () => setProblem(say("This browser can’t play the recording.")),
	} as const;
	const timed = document.turns.some((turn) => turn.begin !== null);
	const film = medium.content_type.startsWith("video");
	return (
		<section aria-label={say("Recording")} className="shrink-0 border-b border-line bg-card px-4.5 py-1.5">
			{film ? (
				<video ref={player as RefObject<HTMLVideoElement>} {...common} className="mx-auto mb-1.5 max-h-56 rounded" />
			) : (
				<audio ref={player as RefObject<HTMLAudioElement>} {...common} />
			)}
			<div className="flex items-center gap-3">
				<button
					type="button"
					aria-label={playing ? say("Pause") : say("Play")}
					title={say("Alt P")}
					className="grid size-7 shrink-0 place-items-center rounded-full bg-spruce text-on-spruce"
					onClick={toggle}
				>
					{playing ? <Pause size={14} /> : <Play size={14} />}
				</button>
				<button
					type="button"
					className="shrink-0 text-[12.6px] text-spruce hover:underline"
					title={say("Alt B")}
					onClick={() => go(at() - BACK)}
				>
					{say("back {back} s", { back: BACK })}
				</button>
				<span className="w-24 shrink-0 text-[12.6px] text-quiet tabular-nums">
					{clock(now)} / {clock(length)}
				</span>
				<input
					type="range"
					aria-label={say("Place in the recording")}
					aria-valuetext={say("{clock} of {clock2}", { clock: clock(now), clock2: clock(length) })}
					className="min-w-24 flex-1 accent-spruce"
					min={0}
					max={length || 1}
					step={0.1}
					value={now}
					onChange={(event) => go(Number(event.target.value))}
				/>
				<span className="w-20 shrink-0">
					<Choice
						name={say("Speed")}
						as="small"
						value={speed}
						options={SPEEDS.map((value) => ({ value, label: `${value} ×` }))}
						onChange={(value) => {
							setSpeed(value);
							if (player.current) player.current.playbackRate = value;
						}}
					/>
				</span>
				<button
					type="button"
					aria-pressed={loop}
					title={say("Play the span, or the passage in hand, over and over ({key})", { key: capOf("loop") })}
					className={`inline-flex shrink-0 items-center gap-1 rounded-md border px-1.5 text-[12.6px] ${loop ? "border-spruce bg-spruce-soft font-semibold text-spruce" : "border-line text-quiet"}`}
					onClick={() => setLoop(!loop)}
				>
					<Repeat size={13} />
					{say(" Loop")}
				</button>
				{film && timed && (
					<button
						type="button"
						aria-pressed={captions}
						title={say("What is said, on the film")}
						className={`shrink-0 rounded-md border px-1.5 text-[12.6px] ${captions ? "border-spruce bg-spruce-soft font-semibold text-spruce" : "border-line text-quiet"}`}
						onClick={() => setCaptions(!captions)}
					>
						{say("Captions")}
					</button>
				)}
			</div>
			<Waveform document={document} player={player} length={length} onSeek={setNow}>
				{(view) => (
					<Lanes
						lanes={lanes}
						view={view}
						length={length}
						active={active}
						marked={marked}
						now={now}
						onPlay={(begin) => {
							go(begin);
							void player.current?.play();
						}}
						onActive={(id) => {
							const passage = document.passages.find((one) => one.id === id);
							if (passage) onActive(passage);
						}}
						{...(mayCode && { onMark })}
						{...(mayCode && onMove && { onMove })}
					/>
				)}
			</Waveform>
			<div className="mt-1 flex flex-wrap items-center gap-x-3 text-[12.6px]">
				{problem && <span className="text-danger">{problem}</span>}
				{mayCode && (
					<>
						<button type="button" className="text-spruce hover:underline" title={say("Alt I")} onClick={begin}>
							{say("Span begins here")}
						</button>
						<button
							type="button"
							className="text-spruce hover:underline disabled:text-quiet disabled:no-underline"
							title={say("Alt O")}
							disabled={marked?.begin === undefined}
							onClick={finish}
						>
							{say("and ends here")}
						</button>
						{turns && (
							<button type="button" className="text-spruce hover:underline" onClick={() => onMark(turns)}>
								{say("Span of these turns, {clock}–{clock2}", { clock: clock(turns.begin), clock2: clock(turns.finish) })}
							</button>
						)}
						{marked?.begin !== undefined && (
							<span className="font-semibold">
								{clock(marked.begin)}–{marked.finish === undefined ? "…" : clock(marked.finish)}{" "}
								<button
									type="button"
									aria-label={say("Forget the span")}
									className="sign text-quiet hover:text-danger"
									onClick={() => onMark(null)}
								>
									×
								</button>
							</span>
						)}
					</>
				)}
				<span className="ml-auto flex items-center gap-3 text-quiet">
					{onTyping && (
						<button type="button" className="text-spruce hover:underline" onClick={onTyping}>
							{say("Type or bring its text")}
						</button>
					)}
					{topsOf(codes, coded).length > 1 && <LanesChoice codes={topsOf(codes, coded)} value={branch} onChange={setBranch} />}
					{timed && !typing && say("▸ at a turn plays it")}
				</span>
			</div>
			{spans.length > 0 && (
				<div className="mt-1.5 max-h-36 pane pb-1.5">
					<CardList
						name={say("Spans of the recording")}
						passages={spans}
						codes={codes}
						active={active}
						placeOf={(passage) => `${clock(passage.span?.begin ?? 0)}–${clock(passage.span?.finish ?? 0)}`}
						onActive={onActive}
						onPlay={(passage) => {
							go(passage.span?.begin ?? 0);
							void player.current?.play();
						}}
					/>
				</div>
			)}
		</section>
	);
}

/** Which codes have a lane. */
function LanesChoice({ codes, value, onChange }: { codes: Code[]; value: number | null; onChange: (value: number | null) => void }) {
	return (
		<Choice<number | null>
			name={say("Lanes")}
			as="small"
			value={codes.some((code) => code.id === value) ? value : null}
			options={[
				{ value: null, label: say("Lanes of all codes here") },
				...codes.map((code) => ({ value: code.id, label: say("Lanes beneath {name}", { name: code.name }) })),
			]}
			onChange={onChange}
		/>
	);
}
