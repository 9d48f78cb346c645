import { type KeyboardEvent, memo, type RefObject, useEffect, useMemo } from "react";
import { Link } from "react-router";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { reasonOf } from "../../people/kinds";
import { useCaps } from "../../project/keys";
import { useMayCode, useProject } from "../../project/project";
import { decides } from "../../project/roles";
import { useSession } from "../../project/session";
import { languageOf } from "../../ui/language";
import { codeColour } from "../../ui/palette";
import { useStable } from "../../ui/stable";
import { useVirtual } from "../../ui/virtual";
import { useCodingWrites } from "../data";
import { type Answer, answerKey } from "../overview";

interface Props {
	ref: RefObject<HTMLDivElement | null>;
	answers: Answer[];
	codes: Code[];
	variable: string | undefined;
	emptied: string;
	ticked: ReadonlySet<string>;
	current: string | null;
	onKey: (event: KeyboardEvent) => void;
	onTick: (answer: Answer) => void;
	onCurrent: (answer: Answer) => void;
	onOffered: (answer: Answer) => void;
	/** Tick all that say the same. */
	onAlike: (answer: Answer) => void;
}

/** Answers one beneath the other; thousands scroll as smoothly as ten. */
export function AnswerList(props: Props) {
	const { ref, answers, codes, variable, emptied, ticked, current, onKey } = props;
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	const capOf = useCaps();
	const { removeCoding } = useCodingWrites();
	const remove = useStable((coding: number) => removeCoding.mutate(coding));
	const tick = useStable(props.onTick);
	const choose = useStable(props.onCurrent);
	const offer = useStable(props.onOffered);
	const tickAlike = useStable(props.onAlike);
	const shown = useVirtual({
		count: answers.length,
		getScrollElement: () => ref.current,
		estimateSize: () => 58,
		getItemKey: (index) => answerKey(answers[index] as Answer),
		overscan: 8,
		// The codes offered while typing cover the foot of the list.
		scrollPaddingEnd: 190,
		initialRect: { width: 1000, height: 700 },
	});
	const place = answers.findIndex((answer) => answerKey(answer) === current);
	// biome-ignore lint/correctness/useExhaustiveDependencies: when another answer is in hand, not when the list is drawn
	useEffect(() => {
		if (place >= 0 && current !== null) shown.to?.(place, { align: "auto" });
	}, [current]);
	return (
		// biome-ignore lint/a11y/useSemanticElements: a list that answers to keys is no form
		<div
			ref={ref}
			role="group"
			// biome-ignore lint/a11y/noNoninteractiveTabindex: reading and ticking by keyboard starts here
			tabIndex={0}
			aria-label={say(
				"Answers. Arrow keys go from one to the next, Space ticks, {all} ticks all; then type a code. {key} takes the codes of the same answer.",
				{ all: capOf("tickAll"), key: capOf("proposed") },
			)}
			className="mx-4.5 min-h-40 flex-1 pane flow:h-[70vh] flow:flex-none print:h-auto rounded-t-lg border border-b-0 border-line bg-card focus-visible:outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-spruce)]"
			onKeyDown={onKey}
		>
			{answers.length === 0 && <p className="p-3 quiet-line">{emptied}</p>}
			<ol className="relative" style={{ height: shown.total || undefined }}>
				{shown.items.map((item) => {
					const answer = answers[item.index] as Answer;
					const key = answerKey(answer);
					return (
						<li
							key={key}
							ref={shown.measure}
							data-index={item.index}
							className="top-0 left-0 w-full"
							style={shown.total ? { position: "absolute", transform: `translateY(${item.start}px)` } : undefined}
						>
							<Row
								answer={answer}
								byId={byId}
								variable={variable}
								ticked={ticked.has(key)}
								current={key === current}
								onTick={tick}
								onCurrent={choose}
								onOffered={offer}
								onAlike={tickAlike}
								onRemove={remove}
							/>
						</li>
					);
				})}
			</ol>
		</div>
	);
}

const Row = memo(function Row({
	answer,
	byId,
	variable,
	ticked,
	current,
	onTick,
	onCurrent,
	onOffered,
	onAlike,
	onRemove,
}: {
	answer: Answer;
	byId: Map<number, Code>;
	variable: string | undefined;
	ticked: boolean;
	current: boolean;
	onTick: (answer: Answer) => void;
	onCurrent: (answer: Answer) => void;
	onOffered: (answer: Answer) => void;
	onAlike: (answer: Answer) => void;
	onRemove: (coding: number) => void;
}) {
	const project = useProject();
	const mayCode = useMayCode();
	const me = useSession().data?.account?.id;
	const who = answer.identifier || answer.speaker;
	const capOf = useCaps();
	return (
		// biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the arrow keys of the list do the same
		<div
			aria-current={current || undefined}
			className={`grid grid-cols-[24px_120px_minmax(0,1fr)_minmax(220px,34%)] max-[720px]:grid-cols-[24px_minmax(0,1fr)] max-[720px]:*:not-first:col-start-2 gap-x-3 border-b border-line2 px-3 py-1.5 ${current ? "bg-spruce-soft" : ""}`}
			onClick={() => onCurrent(answer)}
		>
			<span className="pt-0.5">
				{mayCode && (
					<input type="checkbox" aria-label={say("Tick {who}’s answer", { who })} checked={ticked} onChange={() => onTick(answer)} />
				)}
			</span>
			<span className="pt-0.5 text-[12.8px] leading-snug">
				<Link
					className="font-semibold text-voice hover:underline"
					title={say("Open where it stands")}
					to={`/projects/${project.id}/code/${answer.document}?at=${answer.start}`}
				>
					{who}
				</Link>
				{variable && <span className="block text-quiet">{answer.value || reasonOf(answer.missing ?? "unknown")}</span>}
			</span>
			<p className="font-serif leading-snug whitespace-pre-line" dir="auto" lang={languageOf(answer.text)}>
				{answer.text}
			</p>
			<span className="flex flex-wrap content-start items-start gap-1 text-[12.6px]">
				{answer.codings.map((coding) => (
					<span
						key={coding.id}
						className="inline-flex max-w-full items-center gap-1 rounded-[5px] border border-line bg-card px-1.5 leading-5"
						title={
							coding.start === answer.start && coding.end === answer.end ? undefined : say("On a part of the answer, or reaching beyond it")
						}
					>
						<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(byId.get(coding.code)?.colour ?? 0) }} />
						<span className="truncate">{byId.get(coding.code)?.name ?? "…"}</span>
						{(coding.start !== answer.start || coding.end !== answer.end) && <span className="text-quiet">{say("in part")}</span>}
						<span className="text-[11.5px] text-quiet">{coding.initials}</span>
						{mayCode && (coding.coder === me || decides(project.role)) && (
							<button
								type="button"
								aria-label={say("Take {name} off {who}’s answer", { name: byId.get(coding.code)?.name, who })}
								className="sign text-quiet hover:text-danger"
								onClick={() => onRemove(coding.id)}
							>
								×
							</button>
						)}
					</span>
				))}
				{answer.same > 0 && (
					<span className="text-quiet">
						{say("{others, plural, one {# other} other {# others}} gave the same", { others: answer.same })}{" "}
						{mayCode && (
							<button type="button" className="text-spruce hover:underline" onClick={() => onAlike(answer)}>
								{say("Tick all {same}", { same: answer.same + 1 })}
							</button>
						)}
					</span>
				)}
				{answer.offered.length > 0 && mayCode && (
					<button
						type="button"
						className="rounded-[5px] border border-dashed border-spruce px-1.5 leading-5 text-spruce hover:bg-card"
						title={say("Put the codes of the same answer on this one too (the {key} key)", { key: capOf("proposed") })}
						onClick={() => onOffered(answer)}
					>
						+ {answer.offered.map((code) => byId.get(code)?.name).join(", ")}
					</button>
				)}
			</span>
		</div>
	);
});
