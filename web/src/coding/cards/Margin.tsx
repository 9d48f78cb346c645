import { memo, type RefObject, useCallback, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Code } from "../../codes/data";
import { useCodeWrites } from "../../codes/data";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { useSession } from "../../project/session";
import { useStable } from "../../ui/stable";
import { useToasts } from "../../ui/toasts";
import type { DeskDocument, Passage } from "../data";
import { Card, useCardWrites } from "./Cards";

const GAP = 6;
/** How far beyond what is seen cards are drawn, and after how much scrolling that is looked at again. */
const BEYOND = 500;
const STEP = 200;
/** Cards up to which all are drawn, so that the browser finds words in them. */
const FEW = 150;

interface Props {
	document: DeskDocument;
	codes: Code[];
	tops: Map<number, number>;
	noted: (passage: Passage) => boolean;
	active: number | null;
	/** What scrolls: only the cards near what it shows are drawn. */
	frame: RefObject<HTMLElement | null>;
	onActive: (passage: Passage) => void;
}

/** A card a passage, level with it; cards make room for each other. */
export const Margin = memo(function Margin({ document, codes, tops, noted, active, frame, onActive }: Props) {
	const { role } = useProject();
	const me = useSession().data?.account?.id;
	const writes = useCardWrites();
	const { changeCode } = useCodeWrites();
	const { tell } = useToasts();
	const takeExample = useStable((id: number, passage: Passage) => {
		const turn = document.turns.find((one) => one.start < passage.end && one.end > passage.start);
		const speaker = document.speakers.find((one) => one.id === turn?.speaker);
		const example = `“${document.text.slice(passage.start, passage.end).trim()}” ${speaker?.case_name ?? speaker?.label ?? ""}`.trim();
		changeCode.mutate(
			{ id, example: example.slice(0, 5000) },
			{ onSuccess: () => tell(say("“{name}” has these words as its example. Ctrl Z takes it back.", { name: byId.get(id)?.name })) },
		);
	});
	const [writing, setWriting] = useState<number | null>(null);
	const heights = useRef(new Map<number, number>());
	const [places, setPlaces] = useState<Map<number, number>>(new Map());
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	const view = useView(frame);
	const order = useMemo(
		() =>
			document.passages
				.filter((passage) => tops.has(passage.id) && noted(passage))
				.sort((a, b) => (tops.get(a.id) ?? 0) - (tops.get(b.id) ?? 0) || a.start - b.start),
		[document.passages, tops, noted],
	);
	const shown = order.filter((passage) => {
		if (order.length <= FEW) return true;
		const top = places.get(passage.id) ?? tops.get(passage.id) ?? 0;
		return passage.id === active || (top > view.top - BEYOND && top < view.bottom + BEYOND);
	});
	const measured = useCallback((passage: number, card: HTMLDivElement | null) => {
		if (card?.offsetHeight) heights.current.set(passage, card.offsetHeight);
	}, []);
	// Cards that come into view are measured, and those beneath make room.
	useLayoutEffect(() => {
		let free = 0;
		const found = new Map<number, number>();
		for (const passage of order) {
			const top = Math.max(free, tops.get(passage.id) ?? 0);
			found.set(passage.id, top);
			free = top + (heights.current.get(passage.id) ?? guessed(passage)) + GAP;
		}
		setPlaces((before) => (same(before, found) ? before : found));
	});
	const last = order.at(-1);
	const bottom = last ? (places.get(last.id) ?? 0) + (heights.current.get(last.id) ?? guessed(last)) : 0;
	return (
		<div className="absolute top-0 left-[calc(var(--text-width)+160px)] w-[var(--card-width)]" style={{ height: bottom + 20 }}>
			{shown.map((passage) => (
				<Card
					key={passage.id}
					passage={passage}
					byId={byId}
					top={places.get(passage.id) ?? tops.get(passage.id) ?? 0}
					current={active === passage.id}
					writing={active === passage.id && writing === passage.id}
					said={document.text.slice(passage.start, Math.min(passage.end, passage.start + 60))}
					measured={measured}
					role={role}
					me={me}
					onExample={takeExample}
					onWriting={setWriting}
					onActive={onActive}
					{...writes}
				/>
			))}
		</div>
	);
});

/** A card’s height until it is measured: a line a code, more for memos. */
function guessed(passage: Passage): number {
	return 14 + 20 * Math.max(1, new Set(passage.codings.map((coding) => coding.code)).size) + 40 * passage.memos.length;
}

function same(a: Map<number, number>, b: Map<number, number>): boolean {
	if (a.size !== b.size) return false;
	for (const [id, top] of b) if (a.get(id) !== top) return false;
	return true;
}

/** What of the text is seen, in steps. */
function useView(frame: RefObject<HTMLElement | null>): { top: number; bottom: number } {
	const [view, setView] = useState({ top: 0, bottom: 0 });
	useLayoutEffect(() => {
		const held = frame.current;
		if (!held) return;
		const look = () => {
			const top = Math.floor(held.scrollTop / STEP) * STEP;
			// Where nothing has a height, as in a test, all is in view.
			const bottom = held.clientHeight ? top + Math.ceil(held.clientHeight / STEP + 1) * STEP : Number.POSITIVE_INFINITY;
			setView((before) => (before.top === top && before.bottom === bottom ? before : { top, bottom }));
		};
		look();
		held.addEventListener("scroll", look, { passive: true });
		const watch = new ResizeObserver(look);
		watch.observe(held);
		return () => {
			held.removeEventListener("scroll", look);
			watch.disconnect();
		};
	}, [frame]);
	return view;
}
