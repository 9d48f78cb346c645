import { useRef, useState } from "react";
import { Link } from "react-router";
import { say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loading } from "../../ui/Empty";
import { useLong } from "../../ui/virtual";
import { type AskedTurn, type GuideQuestion, type Language, useAskedTurns, useGuideWrites, usePerhaps } from "./data";

/** Turns that ask one question, or none, each read and, where it is wrong, put right; several at once. */
export function AskedTurns({
	question,
	questions,
	language,
	all,
}: {
	question: GuideQuestion | null;
	/** How many there are; a list has the first of them. */
	all: number;
	questions: GuideQuestion[];
	language: Language;
}) {
	const found = useAskedTurns(question?.id ?? null);
	const mayCode = useMayCode();
	const { put } = useGuideWrites();
	const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
	const rows = found.data ?? [];
	const own = rows.filter((row) => ticked.has(row.id)).map((row) => row.id);
	const frame = useRef<HTMLDivElement>(null);
	const { items, before, after, measure } = useLong(rows.length, frame, 64);
	const give = (to: number | null) => put.mutate({ turns: own, question: to }, { onSuccess: () => setTicked(new Set()) });
	const turn = (id: number) => {
		const next = new Set(ticked);
		if (!next.delete(id)) next.add(id);
		setTicked(next);
	};
	return (
		<section aria-label={say("Turns")} className="flex min-h-0 flex-col rounded-lg border border-line bg-card">
			<div className="border-b border-line px-3.5 py-2">
				<h3 className="font-semibold">{question ? question.text : say("Turns that ask nothing of the guide")}</h3>
				{found.data && rows.length < all && (
					<p className="text-[12.6px] text-quiet">{say("The first {shown, number} of {all, number}.", { shown: rows.length, all })}</p>
				)}
				{mayCode && rows.length > 0 && (
					<div className="mt-1 flex flex-wrap items-center gap-3 text-[13px]">
						<label className="flex items-center gap-1.5">
							<input
								type="checkbox"
								className="accent-spruce"
								checked={own.length === rows.length}
								onChange={(event) => setTicked(event.target.checked ? new Set(rows.map((row) => row.id)) : new Set())}
							/>
							{say("All {rows, number}", { rows: rows.length })}
						</label>
						{own.length > 0 && (
							<Choice<number | null>
								name={say("What the {own, plural, one {turn} other {# turns}} ticked asks", { own: own.length })}
								as="small"
								value={-1}
								shown={say("{own, plural, one {It asks} other {They ask}} …", { own: own.length })}
								options={[
									...(question ? [{ value: null as number | null, label: say("nothing of the guide") }] : []),
									...questions.filter((one) => one.id !== question?.id).map((one) => ({ value: one.id as number | null, label: one.text })),
								]}
								onChange={give}
							/>
						)}
					</div>
				)}
			</div>
			{!found.data ? (
				<Loading what={say("the turns")} />
			) : rows.length === 0 ? (
				<p className="p-4 quiet-line">
					{question
						? say("No turn asks it yet. Match the turns, or say it of turns that ask nothing of the guide.")
						: say("Every turn of an interviewer asks something of the guide.")}
				</p>
			) : (
				<div ref={frame} className="min-h-0 flex-1 overflow-y-auto">
					<ul style={{ paddingTop: before, paddingBottom: after }}>
						{items.map(({ index }) => {
							const row = rows[index] as AskedTurn;
							return (
								<li key={row.id} ref={measure} data-index={index} className="flex gap-2 border-b border-line2 px-3.5 py-1.5">
									{mayCode && (
										<input
											type="checkbox"
											aria-label={say("Tick turn {number} of {title}", { number: row.number, title: row.title })}
											className="mt-1 accent-spruce"
											checked={ticked.has(row.id)}
											onChange={() => turn(row.id)}
										/>
									)}
									<Asked row={row} />
								</li>
							);
						})}
					</ul>
				</div>
			)}
			{question && mayCode && <Perhaps question={question} language={language} />}
		</section>
	);
}

/** Turns that may ask it too, to be read: none is taken by itself. */
function Perhaps({ question, language }: { question: GuideQuestion; language: Language }) {
	const rows = usePerhaps(question.id, language);
	const { put } = useGuideWrites();
	if (!rows?.length) return null;
	return (
		<section aria-label={say("Perhaps these too")} className="max-h-[45%] shrink-0 overflow-y-auto border-t border-line bg-paper">
			<p className="px-3.5 pt-1.5 text-[13px] font-semibold text-quiet">{say("Perhaps these too: somewhat like it")}</p>
			<ul>
				{rows.map((row) => (
					<li key={row.id} className="flex items-start justify-between gap-2 px-3.5 py-1">
						<Asked row={row} />
						<Button
							look="plain"
							aria-label={say("It asks this: {text}", { text: row.text })}
							disabled={put.isPending}
							onClick={() => put.mutate({ turns: [row.id], question: question.id })}
						>
							{say("It asks this")}
						</Button>
					</li>
				))}
			</ul>
		</section>
	);
}

function Asked({ row }: { row: AskedTurn }) {
	const { id } = useProject();
	return (
		<div className="min-w-0">
			<p className="font-serif text-[14.5px]" dir="auto">
				{row.text}
			</p>
			<p className="text-[12.6px] text-quiet">
				<Link className="text-spruce underline underline-offset-2" to={`/projects/${id}/code/${row.document}?at=${row.start}`}>
					{row.title}
				</Link>
				{say(", turn {number}", { number: row.number })}
				{row.by_hand && say(", said by hand")}
			</p>
		</div>
	);
}
