import { StickyNote } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { say } from "../../language/say";
import { type Doings, doKey } from "../../project/keys";
import type { Span } from "../data";
import { clock } from "./clock";
import { byArrow, hundredths, LEAST, type Part, placeIn, shiftedSpan } from "./spans";

/** Points that the pointer goes before a press is a drag. */
const DRAG = 4;

/** One stretch of a lane. */
export interface Piece extends Span {
	key: string;
	/** What it is, in words. */
	name: string;
	/** The passage that it shows; none where it is a turn. */
	passage?: number;
	/** Marked along the recording itself, rather than in its words. */
	span?: boolean;
	memos?: number;
	mine?: boolean;
	/** Nothing typed yet. */
	empty?: boolean;
}

export interface Lane {
	key: string;
	name: string;
	colour: string;
	pieces: Piece[];
}

interface Props {
	lanes: Lane[];
	view: Span;
	length: number;
	active: number | null;
	/** The span being marked. */
	marked: Partial<Span> | null;
	now: number;
	onPlay: (begin: number) => void;
	onActive: (passage: number) => void;
	/** Missing for whoever doesn’t code. */
	onMark?: (span: Span) => void;
	onMove?: (passage: number, span: Span) => void;
}

/** What runs along a recording: the turns of each speaker, the passages of each code. Dragging over them marks a span; one that is
 * in hand is moved and trimmed by pointer and by key. */
export function Lanes(props: Props) {
	const { lanes, view, now, marked, onMark } = props;
	const frame = useRef<HTMLDivElement>(null);
	const [drawn, setDrawn] = useState<Span | null>(null);
	const from = useRef<number | null>(null);
	const timeAt = (x: number) => {
		const box = frame.current?.getBoundingClientRect();
		if (!box?.width) return view.begin;
		const share = Math.min(1, Math.max(0, (x - box.left) / box.width));
		return hundredths(view.begin + share * (view.finish - view.begin));
	};
	const begin = (event: PointerEvent) => {
		if (!onMark || event.button !== 0 || (event.target as HTMLElement).closest("button")) return;
		from.current = timeAt(event.clientX);
		frame.current?.setPointerCapture(event.pointerId);
	};
	const go = (event: PointerEvent) => {
		if (from.current === null) return;
		const to = timeAt(event.clientX);
		setDrawn({ begin: Math.min(from.current, to), finish: Math.max(from.current, to) });
	};
	const end = () => {
		if (drawn && drawn.finish - drawn.begin >= LEAST) onMark?.(drawn);
		from.current = null;
		setDrawn(null);
	};
	if (!lanes.length && !marked) return null;
	const shown =
		drawn ?? (marked?.begin === undefined ? null : { begin: marked.begin, finish: marked.finish ?? Math.max(now, marked.begin) });
	return (
		<section aria-label={say("Along the recording")} className="mt-0.5 flex max-h-32 overflow-y-auto">
			<div aria-hidden="true" className="w-(--lane-names) shrink-0 pr-2">
				{lanes.map((lane) => (
					<p key={lane.key} className="h-4.5 truncate text-right text-[11.5px] leading-4.5 text-quiet" title={lane.name}>
						{lane.name}
					</p>
				))}
			</div>
			<div
				ref={frame}
				className={`relative min-w-0 flex-1 self-start ${onMark ? "cursor-crosshair" : ""}`}
				onPointerDown={begin}
				onPointerMove={go}
				onPointerUp={end}
				onPointerCancel={end}
			>
				{lanes.map((lane) => (
					<LaneRow key={lane.key} {...props} lane={lane} timeAt={timeAt} />
				))}
				<Over view={view} span={shown} className="bg-apricot/35 border-x border-apricot" />
				<Over view={view} span={{ begin: now, finish: now }} className="border-l-2 border-apricot" />
			</div>
		</section>
	);
}

/** Over all lanes: what is being marked, and where it plays. */
function Over({ view, span, className }: { view: Span; span: Span | null; className: string }) {
	const place = span && placeIn(view, span);
	if (!place) return null;
	return <span aria-hidden="true" className={`pointer-events-none absolute inset-y-0 ${className}`} style={place} />;
}

function LaneRow({ lane, timeAt, ...props }: Props & { lane: Lane; timeAt: (x: number) => number }) {
	const { view } = props;
	return (
		<div className="relative h-4.5 border-t border-line2">
			{lane.pieces.map((piece) => {
				const place = placeIn(view, piece);
				return place && <PieceButton key={piece.key} {...props} lane={lane} piece={piece} timeAt={timeAt} />;
			})}
		</div>
	);
}

/** One piece: a press plays it and takes it in hand; one’s own span is moved by dragging it, and trimmed at its ends. */
function PieceButton({
	lane,
	piece,
	view,
	length,
	active,
	timeAt,
	onPlay,
	onActive,
	onMove,
}: Props & { lane: Lane; piece: Piece; timeAt: (x: number) => number }) {
	const [edited, setEdited] = useState<Span | null>(null);
	const grip = useRef<{ part: Part; from: number; x: number } | null>(null);
	const held = piece.passage !== undefined && piece.passage === active;
	const movable = piece.span && piece.mine && piece.passage !== undefined && onMove !== undefined;
	const at = edited ?? piece;
	// What was moved is shown where it is put until the server says so too.
	useEffect(() => {
		if (edited && edited.begin === piece.begin && edited.finish === piece.finish) setEdited(null);
	}, [edited, piece.begin, piece.finish]);
	const keep = (to: Span) => {
		setEdited(to);
		if (piece.passage !== undefined) onMove?.(piece.passage, to);
	};
	const take = () => {
		if (piece.passage !== undefined) onActive(piece.passage);
		onPlay(at.begin);
	};
	const keys = (event: KeyboardEvent) => {
		const by = (trim: boolean, fine: boolean) => () => {
			const to = byArrow(at, event.key, trim, fine, length);
			if (to) keep(to);
		};
		const doings: Doings = { playSpan: take };
		if (movable && held)
			Object.assign(doings, {
				moveSpan: by(false, false),
				moveSpanFinely: by(false, true),
				trimSpan: by(true, false),
				trimSpanFinely: by(true, true),
			});
		if (doKey(event.nativeEvent, doings)) event.stopPropagation();
	};
	const press = (part: Part) => (event: PointerEvent<HTMLElement>) => {
		if (!movable || !held || event.button !== 0) return;
		event.stopPropagation();
		grip.current = { part, from: timeAt(event.clientX), x: event.clientX };
		event.currentTarget.setPointerCapture(event.pointerId);
	};
	const drag = (event: PointerEvent) => {
		const { current } = grip;
		if (!current || (edited === null && Math.abs(event.clientX - current.x) < DRAG)) return;
		setEdited(shiftedSpan(piece, current.part, timeAt(event.clientX) - current.from, length));
	};
	const release = () => {
		const moved = grip.current !== null && edited !== null;
		grip.current = null;
		if (moved && edited) keep(edited);
		return moved;
	};
	const moved = useRef(false);
	const place = placeIn(view, at);
	if (!place) return null;
	const said = `${lane.name}: ${piece.name}, ${clock(at.begin)}–${clock(at.finish)}`;
	const grips = movable && held ? (["begin", "finish"] as const) : [];
	return (
		<button
			type="button"
			aria-label={piece.memos ? `${said}, ${say("{memos, plural, one {# memo} other {# memos}}", { memos: piece.memos })}` : said}
			aria-pressed={held}
			title={said}
			className={`absolute top-0.5 min-h-0 rounded-sm ${piece.span ? "h-3.5" : "h-2 mt-0.75"} ${held ? "outline-2 outline-ink z-10" : ""} ${movable && held ? "cursor-grab" : ""} ${piece.empty ? "border border-dashed border-edge" : ""}`}
			style={{ ...place, background: piece.empty ? "transparent" : lane.colour }}
			onKeyDown={keys}
			onClick={() => {
				if (!moved.current) take();
				moved.current = false;
			}}
			onPointerDown={press("whole")}
			onPointerMove={drag}
			onPointerUp={() => {
				moved.current = release();
			}}
		>
			{piece.memos ? <StickyNote aria-hidden="true" size={11} className="absolute right-0.5 top-0.5 text-over" /> : null}
			{grips.map((part) => (
				<span
					key={part}
					aria-hidden="true"
					className={`absolute inset-y-0 w-1.5 cursor-ew-resize bg-ink ${part === "begin" ? "left-0" : "right-0"}`}
					onPointerDown={press(part)}
				/>
			))}
		</button>
	);
}
