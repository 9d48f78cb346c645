import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { type Doings, doKey, passOn } from "../../project/keys";
import { codeColour } from "../../ui/palette";
import type { Passage } from "../data";
import {
	alike,
	between,
	byArrow,
	type Corner,
	FULL,
	largeEnough,
	type Point,
	type Region,
	resized,
	shifted,
	type Turns,
	turned,
	unturned,
} from "../regions";

const CORNERS: Corner[] = ["left top", "right top", "left bottom", "right bottom"];

type Grip = { kind: "draw" | "move"; from: Point } | { kind: "resize"; corner: Corner };

interface Props {
	page: number;
	turns: Turns;
	passages: Passage[];
	byId: Map<number, Code>;
	/** Drawn and not coded yet. */
	marked: Region | null;
	active: number | null;
	mayDraw: boolean;
	movable: (passage: Passage) => boolean;
	onMark: (region: Region | null) => void;
	onActive: (passage: Passage) => void;
	onMove: (passage: Passage, region: Region) => void;
	onType: (key?: KeyboardEvent) => void;
}

/** Regions over a picture: drawn, moved and resized by pointer and by key. Its box is the picture as it is shown. */
export function Regions(props: Props) {
	const { page, turns, passages, byId, marked, active, mayDraw, movable, onMark, onActive, onMove, onType } = props;
	const frame = useRef<HTMLDivElement>(null);
	const grip = useRef<Grip | null>(null);
	const [edited, setEdited] = useState<{ id: number | null; region: Region } | null>(null);
	const own = passages.filter((passage) => passage.region?.page === page);
	const held = own.find((passage) => passage.id === active);
	// What was moved is shown where it is put until the server says so too.
	useEffect(() => {
		if (edited?.id && alike(own.find((one) => one.id === edited.id)?.region ?? null, edited.region)) setEdited(null);
	}, [own, edited]);
	const shownRegion = (passage: Passage) => (edited?.id === passage.id ? edited.region : (passage.region as Region));
	const pointOf = (event: { clientX: number; clientY: number }): Point => {
		const box = frame.current?.getBoundingClientRect();
		if (!box?.width || !box.height) return { x: 0, y: 0 };
		return unturned((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height, turns);
	};
	const target = (): { id: number | null; region: Region } | null => {
		if (marked?.page === page) return { id: null, region: marked };
		return held && movable(held) ? { id: held.id, region: shownRegion(held) } : null;
	};
	const settle = (to: { id: number | null; region: Region }) => {
		if (to.id === null) onMark(to.region);
		else if (held && !alike(held.region, to.region)) onMove(held, to.region);
	};
	const onDown = (event: PointerEvent, next: Grip) => {
		if (!mayDraw || event.button !== 0) return;
		event.preventDefault();
		event.stopPropagation();
		frame.current?.setPointerCapture?.(event.pointerId);
		grip.current = next;
	};
	const onPointerMove = (event: PointerEvent) => {
		const now = grip.current;
		if (!now) return;
		const at = pointOf(event);
		if (now.kind === "draw") {
			onMark(between(page, now.from, at));
			return;
		}
		const to = edited ?? target();
		if (!to) return;
		const region = now.kind === "resize" ? resized(to.region, now.corner, at) : shifted(to.region, at.x - now.from.x, at.y - now.from.y);
		if (now.kind === "move")
			grip.current = {
				kind: "move",
				from: { x: now.from.x + region.left - to.region.left, y: now.from.y + region.top - to.region.top },
			};
		if (to.id === null) onMark(region);
		else setEdited({ id: to.id, region });
	};
	const onPointerUp = () => {
		const now = grip.current;
		grip.current = null;
		if (now?.kind === "draw") {
			if (marked && !largeEnough(marked)) onMark(null);
			else if (marked) onType();
		} else if (edited) settle(edited);
	};
	const onKey = (event: KeyboardEvent, passage: Passage | null) => {
		if (passage && passage.id !== active) {
			doKey(event.nativeEvent, { takeRegion: () => onActive(passage) });
			return;
		}
		const to = edited && edited.id === (passage?.id ?? null) ? edited : target();
		const move = (resize: boolean, fine: boolean) => () => {
			const next = to && byArrow(to.region, event.key, turns, resize, fine);
			if (!to || !next) return;
			event.stopPropagation();
			if (to.id === null) onMark(next);
			else setEdited({ id: to.id, region: next });
		};
		const doings: Doings = {
			...(to &&
				mayDraw &&
				(to.id !== null || !passage) && {
					moveRegion: move(false, false),
					moveRegionFinely: move(false, true),
					resizeRegion: move(true, false),
					resizeRegionFinely: move(true, true),
				}),
			leaveRegion: () => onMark(null),
		};
		if (!doKey(event.nativeEvent, doings)) passOn(event, onType);
	};
	const onKeyUp = () => {
		if (edited) settle(edited);
	};
	return (
		<div
			ref={frame}
			className={`absolute inset-0 touch-none ${mayDraw ? "cursor-crosshair" : ""}`}
			onPointerDown={(event) => onDown(event, { kind: "draw", from: pointOf(event) })}
			onPointerMove={onPointerMove}
			onPointerUp={onPointerUp}
		>
			{own.map((passage) => {
				const region = shownRegion(passage);
				const names = [...new Set(passage.codings.map((coding) => byId.get(coding.code)?.name ?? "…"))];
				const first = passage.codings[0];
				const current = passage.id === active;
				return (
					<button
						key={passage.id}
						type="button"
						data-region={passage.id}
						aria-pressed={current}
						aria-label={say("Region with {names}", { names: names.join(", ") || say("a memo") })}
						title={names.join(", ")}
						className={`absolute border-2 bg-over/10 ${current ? "z-10 shadow-[0_0_0_2px_var(--color-over),0_0_0_4px_var(--color-spruce)]" : ""} ${current && movable(passage) ? "cursor-move" : "cursor-pointer"}`}
						style={{ ...boxOf(region, turns), borderColor: first ? codeColour(byId.get(first.code)?.colour ?? 0) : "var(--color-spruce)" }}
						onPointerDown={(event) => {
							if (current && movable(passage)) onDown(event, { kind: "move", from: pointOf(event) });
							else event.stopPropagation();
						}}
						onClick={() => onActive(passage)}
						onKeyDown={(event) => onKey(event, passage)}
						onKeyUp={onKeyUp}
					>
						<span className="absolute top-0 left-0 max-w-full truncate bg-card/90 px-1 text-[11px] leading-4 text-ink">
							{names.join(", ")}
						</span>
						{current && movable(passage) && <Grips turns={turns} onDown={onDown} />}
					</button>
				);
			})}
			{marked?.page === page && (
				<button
					ref={(box) => {
						if (box && grip.current?.kind !== "draw" && document.activeElement?.tagName !== "INPUT") box.focus({ preventScroll: true });
					}}
					type="button"
					aria-label={say("The region drawn. Arrow keys move it, Shift with arrows resizes it, Alt makes small steps; then type a code.")}
					className="absolute z-20 cursor-move border-2 border-dashed border-apricot bg-apricot/15"
					style={boxOf(marked, turns)}
					onPointerDown={(event) => onDown(event, { kind: "move", from: pointOf(event) })}
					onKeyDown={(event) => onKey(event, null)}
				>
					<Grips turns={turns} onDown={onDown} />
				</button>
			)}
		</div>
	);
}

function Grips({ turns, onDown }: { turns: Turns; onDown: (event: PointerEvent, grip: Grip) => void }) {
	return CORNERS.map((corner) => {
		const [side, end] = corner.split(" ");
		const { x, y } = turned({ x: side === "left" ? 0 : FULL, y: end === "top" ? 0 : FULL }, turns);
		return (
			<span
				key={corner}
				aria-hidden="true"
				className="absolute size-2.5 -translate-1/2 cursor-nwse-resize rounded-full border border-over bg-spruce"
				style={{ left: `${x / 100}%`, top: `${y / 100}%` }}
				onPointerDown={(event) => onDown(event, { kind: "resize", corner })}
			/>
		);
	});
}

/** Where a region stands in the picture as it is shown. */
function boxOf(region: Region, turns: Turns) {
	const a = turned({ x: region.left, y: region.top }, turns);
	const b = turned({ x: region.right, y: region.bottom }, turns);
	return {
		left: `${Math.min(a.x, b.x) / 100}%`,
		top: `${Math.min(a.y, b.y) / 100}%`,
		width: `${Math.abs(a.x - b.x) / 100}%`,
		height: `${Math.abs(a.y - b.y) / 100}%`,
	};
}
