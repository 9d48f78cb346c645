import { memo, useMemo, useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { useMemoWrites } from "../../memos/data";
import { plainly } from "../../memos/linked";
import { NewMemo } from "../../memos/NewMemo";
import { useProject } from "../../project/project";
import { decides, type Role, works } from "../../project/roles";
import { useSession } from "../../project/session";
import { codeColour } from "../../ui/palette";
import { useStable } from "../../ui/stable";
import { type Passage, useCodingWrites } from "../data";
import { LikeDialog } from "./LikeDialog";

/** What a card does: the same in the margin, beneath a picture and beneath a player. */
export function useCardWrites() {
	const { removeCoding, rate } = useCodingWrites();
	const { remove: removeMemo } = useMemoWrites();
	return {
		onRemove: useStable((coding: number) => removeCoding.mutate(coding)),
		onForget: useStable((memo: number) => removeMemo.mutate(memo)),
		onRate: useStable((coding: number, rating: number | null) => rate.mutate({ coding, rating })),
	};
}

/** Cards one after the other: of the regions of a page, or the spans of a recording. */
export function CardList({
	name,
	passages,
	codes,
	active,
	placeOf,
	onActive,
	onPlay,
}: {
	name: string;
	passages: Passage[];
	codes: Code[];
	active: number | null;
	placeOf: (passage: Passage) => string;
	onActive: (passage: Passage) => void;
	onPlay?: (passage: Passage) => void;
}) {
	const { role } = useProject();
	const me = useSession().data?.account?.id;
	const writes = useCardWrites();
	const [writing, setWriting] = useState<number | null>(null);
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	if (!passages.length) return null;
	return (
		<section aria-label={name} className="flex flex-wrap gap-1.5">
			{passages.map((passage) => (
				<div key={passage.id} className="w-56">
					<Card
						passage={passage}
						byId={byId}
						place={placeOf(passage)}
						onPlay={onPlay && (() => onPlay(passage))}
						current={active === passage.id}
						writing={active === passage.id && writing === passage.id}
						said={placeOf(passage)}
						role={role}
						me={me}
						onWriting={setWriting}
						onActive={onActive}
						{...writes}
					/>
				</div>
			))}
		</section>
	);
}

/** One passage’s codes, ratings and memos. */
export const Card = memo(function Card({
	passage,
	byId,
	top,
	place,
	onPlay,
	onExample,
	current,
	writing,
	said,
	measured,
	role,
	me,
	onRemove,
	onForget,
	onRate,
	onWriting,
	onActive,
}: {
	passage: Passage;
	byId: Map<number, Code>;
	/** How far down it stands; without, it follows what is before it. */
	top?: number;
	/** Where and when, for what has no words of its own. */
	place?: string;
	onPlay?: () => void;
	/** Give a code these words as its example. */
	onExample?: (code: number, passage: Passage) => void;
	current: boolean;
	writing: boolean;
	said: string;
	measured?: (passage: number, card: HTMLDivElement | null) => void;
	role: Role;
	me: number | undefined;
	onRemove: (coding: number) => void;
	onForget: (memo: number) => void;
	onRate: (coding: number, rating: number | null) => void;
	onWriting: (passage: number | null) => void;
	onActive: (passage: Passage) => void;
}) {
	const [likening, setLikening] = useState(false);
	return (
		<div
			ref={measured && ((card) => measured(passage.id, card))}
			className={`${top === undefined ? "relative" : "absolute"} w-full rounded-lg border bg-card [contain:layout_style] px-2.5 py-1.5 text-[12.8px] leading-snug ${current ? "z-10 border-spruce shadow-[0_0_0_2px_var(--color-halo)]" : "border-line"}`}
			style={{ top }}
		>
			{place && (
				<div className="flex items-center gap-1.5 text-[11.8px] text-quiet">
					<button type="button" className="hover:text-ink" onClick={() => onActive(passage)}>
						{place}
					</button>
					{onPlay && (
						<button type="button" aria-label={say("Play {place}", { place })} className="sign text-spruce hover:text-ink" onClick={onPlay}>
							▸
						</button>
					)}
				</div>
			)}
			{grouped(passage).map(({ code, codings }) => {
				const known = byId.get(code);
				const removable = codings.find((coding) => coding.coder === me) ?? (decides(role) ? codings[0] : undefined);
				return (
					<div key={code} className="flex flex-wrap items-center gap-x-1.5">
						<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(known?.colour ?? 0) }} />
						<button
							type="button"
							className="min-w-0 flex-1 truncate text-left font-semibold"
							title={known?.definition || known?.name}
							aria-label={say("{name} on “{said}”", { name: known?.name ?? say("Code"), said })}
							onClick={() => onActive(passage)}
						>
							{known?.name ?? "…"}
						</button>
						<span className="text-[11.5px] text-quiet" title={codings.map(whose).join(", ")}>
							{codings.map((coding) => coding.initials).join(" ")}
							{codings.every((coding) => coding.by_words) && say(", by words")}
						</span>
						{removable && works(role) && (
							<button
								type="button"
								aria-label={say("Take {name} off", { name: known?.name })}
								disabled={removable.id < 0}
								className="sign text-quiet hover:text-danger"
								onClick={() => onRemove(removable.id)}
							>
								×
							</button>
						)}
						{current && known && onExample && works(role) && (
							<button
								type="button"
								className="w-full pl-4 text-left text-[11.8px] text-spruce hover:underline"
								title={
									known.example ? say("Instead of: {example}", { example: known.example }) : say("These words become the code’s example")
								}
								onClick={() => onExample(known.id, passage)}
							>
								{say("Take as its example")}
							</button>
						)}
						{known?.scale_low && (
							<Rating
								code={known}
								codings={codings}
								mine={!works(role) ? undefined : codings.find((coding) => coding.coder === me && coding.id > 0)}
								onRate={onRate}
							/>
						)}
					</div>
				);
			})}
			{passage.memos.map((memo) => (
				<div key={memo.id} className="mt-0.5 flex gap-1.5 first:mt-0">
					<button
						type="button"
						className="min-w-0 flex-1 text-left whitespace-pre-line text-quiet"
						aria-label={say("Memo on “{said}”: {text}", { said, text: plainly(memo.text) })}
						onClick={() => onActive(passage)}
					>
						{plainly(memo.text)} <span className="text-[11.5px]">— {memo.source || memo.author}</span>
					</button>
					{works(role) && (
						<button
							type="button"
							aria-label={say("Delete the memo")}
							className="self-start text-quiet hover:text-danger"
							onClick={() => onForget(memo.id)}
						>
							×
						</button>
					)}
				</div>
			))}
			{current &&
				works(role) &&
				passage.id > 0 &&
				(writing ? (
					<NewMemo small on={{ passage: passage.id }} kind="analytic" onDone={() => onWriting(null)} />
				) : (
					<div className="mt-0.5 flex flex-wrap gap-x-2.5 text-[12.2px] text-spruce">
						<button type="button" className="hover:underline" onClick={() => onWriting(passage.id)}>
							{say("Write a memo")}
						</button>
						{passage.end > passage.start && (
							<button type="button" className="hover:underline" onClick={() => setLikening(true)}>
								{say("Turns like it")}
							</button>
						)}
					</div>
				))}
			{likening && <LikeDialog passage={passage} onClose={() => setLikening(false)} />}
		</div>
	);
});

/** Who put it there, or accepted what words proposed. */
function whose({ coder_name, by_words }: Passage["codings"][number]): string {
	return by_words ? say("proposed by words, accepted by {name}", { name: coder_name }) : coder_name;
}

/** A coding’s place on its code’s scale; one’s own can be set, others’ are read. */
function Rating({
	code,
	codings,
	mine,
	onRate,
}: {
	code: Code;
	codings: Passage["codings"];
	mine: Passage["codings"][number] | undefined;
	onRate: (coding: number, rating: number | null) => void;
}) {
	const rating = (mine ?? codings[0])?.rating ?? null;
	return (
		<fieldset className="flex w-full items-center pl-4 text-[11.5px] text-quiet">
			<legend className="sr-only">
				{say("{name}, from {scale_low} to {scale_high}", { name: code.name, scale_low: code.scale_low, scale_high: code.scale_high })}
			</legend>
			{code.scale_low}
			{[1, 2, 3, 4, 5].map((place) => (
				<button
					key={place}
					type="button"
					disabled={!mine}
					aria-label={place === rating ? say("{place} of 5, as it is rated", { place }) : say("{place} of 5", { place })}
					aria-pressed={place === rating}
					title={place === rating ? say("Click again to take the rating off") : say("{place} of 5", { place })}
					className="sign grid place-items-center"
					onClick={() => mine && onRate(mine.id, place === rating ? null : place)}
				>
					<span
						className={`size-3 rounded-full border ${rating !== null && place <= rating ? "border-spruce bg-spruce" : "border-edge bg-card"}`}
					/>
				</button>
			))}
			{code.scale_high}
		</fieldset>
	);
}

/** A passage's codings by code: two coders' same code stands once, with both. */
function grouped(passage: Passage): { code: number; codings: Passage["codings"] }[] {
	const found = new Map<number, Passage["codings"]>();
	for (const coding of passage.codings) found.set(coding.code, [...(found.get(coding.code) ?? []), coding]);
	return [...found].map(([code, codings]) => ({ code, codings }));
}
