import { memo, useCallback, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useProject } from "../shell/project";
import { useSession } from "../shell/session";
import { useStable } from "../ui/stable";
import { useToasts } from "../ui/toasts";
import { Card, useCardWrites } from "./Cards";
import { type Code, type DeskDocument, type Passage, useCodingWrites } from "./data";

const GAP = 6;

interface Props {
	document: DeskDocument;
	codes: Code[];
	tops: Map<number, number>;
	noted: (passage: Passage) => boolean;
	active: number | null;
	onActive: (passage: Passage) => void;
}

/** A card a passage, level with it; cards make room for each other. */
export const Margin = memo(function Margin({ document, codes, tops, noted, active, onActive }: Props) {
	const { role } = useProject();
	const me = useSession().data?.account?.id;
	const writes = useCardWrites();
	const { changeCode } = useCodingWrites();
	const { tell } = useToasts();
	const takeExample = useStable((id: number, passage: Passage) => {
		const turn = document.turns.find((one) => one.start < passage.end && one.end > passage.start);
		const speaker = document.speakers.find((one) => one.id === turn?.speaker);
		const example = `“${document.text.slice(passage.start, passage.end).trim()}” ${speaker?.case_name ?? speaker?.label ?? ""}`.trim();
		changeCode.mutate(
			{ id, example: example.slice(0, 5000) },
			{ onSuccess: () => tell(`“${byId.get(id)?.name}” has these words as its example. Ctrl Z takes it back.`) },
		);
	});
	const [writing, setWriting] = useState<number | null>(null);
	const shown = document.passages.filter(noted);
	const cards = useRef(new Map<number, HTMLDivElement>());
	const [places, setPlaces] = useState<Map<number, number>>(new Map());
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	const measured = useCallback((passage: number, card: HTMLDivElement | null) => {
		if (card) cards.current.set(passage, card);
		else cards.current.delete(passage);
	}, []);
	// biome-ignore lint/correctness/useExhaustiveDependencies: a memo being written makes its card longer
	useLayoutEffect(() => {
		let free = 0;
		const found = new Map<number, number>();
		const order = document.passages
			.filter((passage) => tops.has(passage.id) && noted(passage))
			.sort((a, b) => (tops.get(a.id) ?? 0) - (tops.get(b.id) ?? 0) || a.start - b.start);
		for (const passage of order) {
			const top = Math.max(free, tops.get(passage.id) ?? 0);
			found.set(passage.id, top);
			free = top + (cards.current.get(passage.id)?.offsetHeight ?? 40) + GAP;
		}
		setPlaces(found);
	}, [document.passages, tops, noted, writing, active]);
	const bottom = Math.max(0, ...[...places].map(([id, top]) => top + (cards.current.get(id)?.offsetHeight ?? 0)));
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
