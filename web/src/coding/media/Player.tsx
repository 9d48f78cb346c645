import { Pause, Play, Repeat } from "lucide-react";
import { type RefObject, useEffect, useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { capOf, usePageKeys } from "../../project/keys";
import { useMayCode, useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { CardList } from "../cards/Cards";
import type { DeskDocument, Passage, Span } from "../data";
import { useCaptions } from "./captions";

const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 2];
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
	onTurn: (number: number | null) => void;
	onMark: (span: Partial<Span> | null) => void;
	onActive: (passage: Passage) => void;
}

/** The player of a recording: it says which turn it is at, goes where a turn is clicked, and marks spans while one listens. */
export function Player({ document, codes, player, active, marked, held, turns, onTurn, onMark, onActive }: Props) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const [playing, setPlaying] = useState(false);
	const [now, setNow] = useState(0);
	const [speed, setSpeed] = useState(1);
	const [loop, setLoop] = useState(false);
	const [problem, setProblem] = useState("");
	const [captions, setCaptions] = useState(true);
	useCaptions(player, document, captions);
	const medium = document.media.find((one) => one.role === "recording");
	const length = document.seconds ?? 0;
	const spans = document.passages.filter((passage) => passage.span);
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
				<span className="relative min-w-24 flex-1">
					<Track spans={spans} marked={marked} now={now} length={length} active={active} />
					<input
						type="range"
						aria-label={say("Place in the recording")}
						aria-valuetext={say("{clock} of {clock2}", { clock: clock(now), clock2: clock(length) })}
						className="relative w-full accent-spruce"
						min={0}
						max={length || 1}
						step={0.1}
						value={now}
						onChange={(event) => go(Number(event.target.value))}
					/>
				</span>
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
				{timed && <span className="ml-auto text-quiet">{say("▸ at a turn plays it")}</span>}
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

/** Where the spans lie along the recording. */
function Track({
	spans,
	marked,
	now,
	length,
	active,
}: {
	spans: Passage[];
	marked: Partial<Span> | null;
	now: number;
	length: number;
	active: number | null;
}) {
	const place = ({ begin, finish }: Span) => ({
		left: `${(begin / (length || 1)) * 100}%`,
		width: `${Math.max(0.4, ((finish - begin) / (length || 1)) * 100)}%`,
	});
	return (
		<span aria-hidden="true" className="pointer-events-none absolute inset-x-0 -top-0.5 h-1.5">
			{spans.map((passage) => (
				<span
					key={passage.id}
					className={`absolute h-1.5 rounded-sm ${passage.id === active ? "bg-spruce" : "bg-spruce/45"}`}
					style={place(passage.span as Span)}
				/>
			))}
			{marked?.begin !== undefined && (
				<span
					className="absolute h-1.5 rounded-sm bg-apricot"
					style={place({ begin: Math.min(marked.begin, marked.finish ?? now), finish: marked.finish ?? Math.max(now, marked.begin) })}
				/>
			)}
		</span>
	);
}

/** When the turns begin and end that a stretch of the text stands in. */
export function timesOf(document: DeskDocument, stretch: { start: number; end: number }): Span | null {
	const turns = document.turns.filter((turn) => turn.start < stretch.end && turn.end > stretch.start && turn.begin !== null);
	const first = turns[0];
	const last = turns.at(-1);
	if (document.kind !== "recording" || first?.begin == null || last?.finish == null) return null;
	return { begin: first.begin, finish: last.finish };
}

export function clock(seconds: number): string {
	const whole = Math.floor(seconds);
	const rest = `${Math.floor((whole % 3600) / 60)}:${String(whole % 60).padStart(2, "0")}`;
	return whole >= 3600 ? `${Math.floor(whole / 3600)}:${rest.padStart(5, "0")}` : rest;
}
