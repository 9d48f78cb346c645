import { ChevronLeft, ChevronRight, Pause, Play } from "lucide-react";
import { type RefObject, useEffect, useRef, useState } from "react";
import { useProject } from "../shell/project";
import type { DeskDocument } from "./data";

/** What a document shows or plays beside its text. */
export function MediaPanel({ document, page, onPage }: { document: DeskDocument; page: number; onPage: (page: number) => void }) {
	const { id } = useProject();
	const home = `/api/projects/${id}/documents/${document.id}`;
	const pictures = document.media.filter((medium) => medium.role === "picture");
	const pages = document.pages || pictures.length;
	const [drawn, setDrawn] = useState("");
	if (!pages) return null;
	const source = document.pages ? `${home}/pages/${page}` : `${home}/media/picture/${page}`;
	return (
		<section aria-label="Pages" className="flex min-h-0 flex-col border-l border-line bg-paper2">
			{pages > 1 && (
				<div className="flex items-center justify-center gap-3 border-b border-line bg-white py-1 text-[13px]">
					<button
						type="button"
						aria-label="Previous page"
						disabled={page <= 1}
						className="disabled:opacity-30"
						onClick={() => onPage(page - 1)}
					>
						<ChevronLeft size={16} />
					</button>
					Page {page} of {pages}
					<button
						type="button"
						aria-label="Next page"
						disabled={page >= pages}
						className="disabled:opacity-30"
						onClick={() => onPage(page + 1)}
					>
						<ChevronRight size={16} />
					</button>
				</div>
			)}
			<div className="min-h-0 flex-1 overflow-auto p-3">
				{drawn !== source && <p className="py-2 text-center quiet-line">Drawing the page …</p>}
				<img
					key={source}
					src={source}
					alt={`${document.title}, page ${page}`}
					className="mx-auto w-full border border-line bg-white"
					onLoad={() => setDrawn(source)}
				/>
			</div>
		</section>
	);
}

/** The page on which a turn or passage stands. */
export function pageAt(document: DeskDocument, position: number): number {
	const pages = document.sections.filter((section) => section.kind === "page" && section.start <= position);
	return pages.at(-1)?.level ?? 1;
}

/** The player of a recording: it says which turn it is at, and goes where a turn is clicked. */
export function Player({
	document,
	player,
	onTurn,
}: {
	document: DeskDocument;
	player: RefObject<HTMLMediaElement | null>;
	onTurn: (number: number | null) => void;
}) {
	const { id } = useProject();
	const [playing, setPlaying] = useState(false);
	const [now, setNow] = useState(0);
	const [problem, setProblem] = useState("");
	const bar = useRef<HTMLInputElement>(null);
	const medium = document.media.find((one) => one.role === "recording");
	const length = document.seconds ?? 0;
	useEffect(() => {
		const turn = document.turns.filter((one) => one.begin !== null && one.begin <= now + 0.05).at(-1);
		const over = turn?.finish !== null && turn?.finish !== undefined && now > turn.finish + 4;
		onTurn(turn && !over && now > 0 ? turn.number : null);
	}, [now, document.turns, onTurn]);
	if (!medium) return null;
	const source = `/api/projects/${id}/documents/${document.id}/media/recording/1`;
	const common = {
		src: source,
		preload: "metadata",
		onPlay: () => setPlaying(true),
		onPause: () => setPlaying(false),
		onTimeUpdate: (event: React.SyntheticEvent<HTMLMediaElement>) => setNow(event.currentTarget.currentTime),
		onError: () => setProblem("This browser can’t play the recording."),
	} as const;
	return (
		<section aria-label="Recording" className="shrink-0 border-b border-line bg-white px-4.5 py-1.5">
			{medium.content_type.startsWith("video") ? (
				<video ref={player as RefObject<HTMLVideoElement>} {...common} className="mx-auto mb-1.5 max-h-56 rounded" />
			) : (
				<audio ref={player as RefObject<HTMLAudioElement>} {...common} />
			)}
			<div className="flex items-center gap-3">
				<button
					type="button"
					aria-label={playing ? "Pause" : "Play"}
					className="grid size-7 place-items-center rounded-full bg-spruce text-white"
					onClick={() => (playing ? player.current?.pause() : void player.current?.play())}
				>
					{playing ? <Pause size={14} /> : <Play size={14} />}
				</button>
				<span className="w-24 text-[12.6px] text-quiet tabular-nums">
					{clock(now)} / {clock(length)}
				</span>
				<input
					ref={bar}
					type="range"
					aria-label="Place in the recording"
					className="flex-1 accent-spruce"
					min={0}
					max={length || 1}
					step={0.1}
					value={now}
					onChange={(event) => {
						if (player.current) player.current.currentTime = Number(event.target.value);
						setNow(Number(event.target.value));
					}}
				/>
				{problem && <span className="text-danger">{problem}</span>}
				{document.turns.some((turn) => turn.begin !== null) && <span className="quiet-line">▸ at a turn plays it</span>}
			</div>
		</section>
	);
}

export function clock(seconds: number): string {
	const whole = Math.floor(seconds);
	const rest = `${Math.floor((whole % 3600) / 60)}:${String(whole % 60).padStart(2, "0")}`;
	return whole >= 3600 ? `${Math.floor(whole / 3600)}:${rest.padStart(5, "0")}` : rest;
}
