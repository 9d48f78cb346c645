import { X } from "lucide-react";
import { useMemo } from "react";
import { type Code, useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { codeColour, groupMark } from "../../ui/palette";
import { Seek } from "../../ui/Seek";
import { counted } from "../../ui/words";
import { type GuideQuestion, useGuideWrites, type Who } from "./data";

interface Props {
	questions: GuideQuestion[];
	who: Who | undefined;
	chosen: number | null;
	onChoose: (question: number | null) => void;
}

/** A row a question: what it asks about, and by group who was asked, who of them mentions it, who does of their own accord. */
export function WhoTable({ questions, who, chosen, onChoose }: Props) {
	const { case_one, case_many } = useProject();
	const groups = who?.groups ?? [];
	return (
		<div className="pane min-h-0 rounded-lg border border-line bg-card">
			<table className="w-full border-collapse text-[13.4px]">
				<thead className="sticky top-0 z-10 bg-card shadow-[0_1px_0_var(--color-line)]">
					<tr className="text-left align-bottom">
						<th className="px-3.5 py-2">{say("Question")}</th>
						<th className="px-2 py-2">{say("Asks about")}</th>
						{groups.map((group) => {
							const mark = groupMark(group.mark);
							return (
								<th key={group.name} className="min-w-28 px-2 py-2">
									<span aria-hidden="true" style={{ color: mark.colour }}>
										{mark.shape}{" "}
									</span>
									{group.name}
									<span className="block text-xs font-normal text-quiet">{counted(group.people, case_one, case_many)}</span>
								</th>
							);
						})}
					</tr>
				</thead>
				<tbody>
					{questions.map((question) => (
						<tr key={question.id} className={`border-t border-line2 align-top ${chosen === question.id ? "bg-spruce-soft" : ""}`}>
							<th scope="row" className="max-w-72 px-3.5 py-1.5 text-left font-normal">
								<button
									type="button"
									aria-pressed={chosen === question.id}
									className="text-left font-serif text-[15px] hover:text-spruce"
									onClick={() => onChoose(chosen === question.id ? null : question.id)}
								>
									{question.text}
								</button>
								<span className="block text-[12.6px] text-quiet">
									{say("{turns, plural, one {# turn} other {# turns}} in {documents, plural, one {# document} other {# documents}}", {
										turns: question.turns,
										documents: question.documents,
									})}
								</span>
							</th>
							<td className="max-w-56 px-2 py-1.5">
								<Ties question={question} />
							</td>
							{groups.map((group, place) => (
								<Cell
									key={group.name}
									cell={who?.rows.find((row) => row.question === question.id)?.cells[place]}
									of={group.people}
									tied={question.codes.length > 0}
								/>
							))}
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}

function Cell({ cell, of, tied }: { cell: Who["rows"][number]["cells"][number] | undefined; of: number; tied: boolean }) {
	if (!cell) return <td className="px-2 py-1.5 text-quiet">…</td>;
	if (of === 0) return <td className="px-2 py-1.5 text-quiet">{say("nobody there")}</td>;
	return (
		<td className="px-2 py-1.5 tabular-nums">
			<b className={cell.asked === 0 ? "text-apricot-deep" : ""}>
				{say("{asked, number} of {of, number} asked", { asked: cell.asked, of })}
			</b>
			{tied && (
				<span className="block text-[12.6px] text-quiet">
					{cell.asked > 0 && say("{mention, number} of these mention it", { mention: cell.asked_mention })}
					{cell.own_accord > 0 && (
						<span className="block">{say("{own, number} of all {of, number} of their own accord", { own: cell.own_accord, of })}</span>
					)}
				</span>
			)}
		</td>
	);
}

/** The codes that a question asks about; whoever codes chooses them. */
function Ties({ question }: { question: GuideQuestion }) {
	const codes = useCodebook().data?.codes;
	const mayCode = useMayCode();
	const { tie } = useGuideWrites();
	const byId = useMemo(() => new Map((codes ?? []).map((code) => [code.id, code])), [codes]);
	const own = question.codes.flatMap((id) => byId.get(id) ?? []);
	const set = (next: Code[]) => tie.mutate({ question: question.id, codes: next.map((code) => code.id) });
	return (
		<div className="flex flex-wrap items-center gap-1">
			{own.map((code) => (
				<span key={code.id} className="inline-flex items-center gap-1 rounded border border-line px-1.5 text-[12.6px]">
					<span aria-hidden="true" className="size-2 rounded-sm" style={{ background: codeColour(code.colour) }} />
					{code.name}
					{mayCode && (
						<button
							type="button"
							aria-label={say("“{text}” doesn’t ask about {name}", { text: question.text, name: code.name })}
							className="min-h-0 text-quiet hover:text-danger"
							onClick={() => set(own.filter((one) => one.id !== code.id))}
						>
							<X size={12} />
						</button>
					)}
				</span>
			))}
			{mayCode && (
				<Seek
					name={say("A code that “{text}” asks about", { text: question.text })}
					placeholder={say("+ code")}
					nothing={say("No code is called that.")}
					className="w-20"
					options={(codes ?? []).filter((code) => !question.codes.includes(code.id)).map((code) => ({ value: code.id, label: code.name }))}
					onChange={(id) => {
						const code = byId.get(id);
						if (code) set([...own, code]);
					}}
				/>
			)}
		</div>
	);
}
