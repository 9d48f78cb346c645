import { useLayoutEffect, useRef, useState } from "react";
import { useProject } from "../shell/project";
import { useSession } from "../shell/session";
import { codeColour } from "../ui/palette";
import { type Code, type DeskDocument, type Passage, useCodingWrites } from "./data";

const GAP = 6;

interface Props {
	document: DeskDocument;
	codes: Code[];
	tops: Map<number, number>;
	active: number | null;
	onActive: (passage: Passage) => void;
}

/** A card a passage, level with it; cards make room for each other. */
export function Margin({ document, codes, tops, active, onActive }: Props) {
	const { role } = useProject();
	const me = useSession().data?.account?.id;
	const { removeCoding, deleteMemo } = useCodingWrites();
	const cards = useRef(new Map<number, HTMLDivElement>());
	const [places, setPlaces] = useState<Map<number, number>>(new Map());
	const byId = new Map(codes.map((code) => [code.id, code]));
	useLayoutEffect(() => {
		let free = 0;
		const found = new Map<number, number>();
		const order = document.passages
			.filter((passage) => tops.has(passage.id))
			.sort((a, b) => (tops.get(a.id) ?? 0) - (tops.get(b.id) ?? 0) || a.start - b.start);
		for (const passage of order) {
			const top = Math.max(free, tops.get(passage.id) ?? 0);
			found.set(passage.id, top);
			free = top + (cards.current.get(passage.id)?.offsetHeight ?? 40) + GAP;
		}
		setPlaces(found);
	}, [document.passages, tops]);
	const bottom = Math.max(0, ...[...places].map(([id, top]) => top + (cards.current.get(id)?.offsetHeight ?? 0)));
	return (
		<div
			className="absolute top-0 left-[calc(var(--text-width)+160px)] w-52 @min-[1000px]:w-60 @min-[1200px]:w-80"
			style={{ height: bottom + 20 }}
		>
			{document.passages.map((passage) => (
				<div
					key={passage.id}
					ref={(card) => {
						if (card) cards.current.set(passage.id, card);
						else cards.current.delete(passage.id);
					}}
					className={`absolute w-full rounded-lg border bg-white px-2.5 py-1.5 text-[12.8px] leading-snug ${active === passage.id ? "z-10 border-spruce shadow-[0_0_0_2px_#14555a22]" : "border-line"}`}
					style={{ top: places.get(passage.id) ?? tops.get(passage.id) ?? 0 }}
				>
					{grouped(passage).map(({ code, codings }) => {
						const known = byId.get(code);
						const removable = codings.find((coding) => coding.coder === me) ?? (role === "owner" ? codings[0] : undefined);
						return (
							<div key={code} className="flex items-center gap-1.5">
								<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(known?.colour ?? 0) }} />
								<button
									type="button"
									className="min-w-0 flex-1 truncate text-left font-semibold"
									title={known?.definition || known?.name}
									aria-label={`${known?.name ?? "Code"} on “${document.text.slice(passage.start, passage.end).slice(0, 60)}”`}
									onClick={() => onActive(passage)}
								>
									{known?.name ?? "…"}
								</button>
								<span className="text-[11.5px] text-quiet" title={codings.map((coding) => coding.coder_name).join(", ")}>
									{codings.map((coding) => coding.initials).join(" ")}
								</span>
								{removable && role !== "viewer" && (
									<button
										type="button"
										aria-label={`Take ${known?.name} off`}
										disabled={removable.id < 0}
										className="text-quiet hover:text-danger"
										onClick={() => removeCoding.mutate(removable.id)}
									>
										×
									</button>
								)}
							</div>
						);
					})}
					{passage.memos.map((memo) => (
						<div key={memo.id} className="mt-0.5 flex gap-1.5 first:mt-0">
							<button
								type="button"
								className="min-w-0 flex-1 text-left whitespace-pre-line text-quiet"
								aria-label={`Memo on “${document.text.slice(passage.start, passage.end).slice(0, 60)}”: ${memo.text}`}
								onClick={() => onActive(passage)}
							>
								{memo.text} <span className="text-[11.5px]">— {memo.source || memo.author}</span>
							</button>
							{role !== "viewer" && (
								<button
									type="button"
									aria-label="Delete the memo"
									className="self-start text-quiet hover:text-danger"
									onClick={() => deleteMemo.mutate(memo.id)}
								>
									×
								</button>
							)}
						</div>
					))}
				</div>
			))}
		</div>
	);
}

/** A passage's codings by code: two coders' same code stands once, with both. */
function grouped(passage: Passage): { code: number; codings: Passage["codings"] }[] {
	const found = new Map<number, Passage["codings"]>();
	for (const coding of passage.codings) found.set(coding.code, [...(found.get(coding.code) ?? []), coding]);
	return [...found].map(([code, codings]) => ({ code, codings }));
}
