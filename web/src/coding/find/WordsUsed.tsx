import type { Shape } from "../../api/client";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { Segments } from "../../ui/Segments";
import { counted, decimal } from "../../ui/words";
import { useOverviewWrites, useWordsUsed } from "../overview";
import { LeftOut } from "./LeftOut";
import { LANGUAGES } from "./languages";
import { WordCloud } from "./WordCloud";

/** The words that participants use most, by group; any of them opens its hits. */
export function WordsUsed({
	variable,
	by,
	everybodys,
	idle,
	cloud,
	onChange,
	onWord,
}: {
	variable: number | null;
	by: string;
	everybodys: boolean;
	/** The language whose words that say nothing are left out; `none` for none. */
	idle: string;
	cloud: boolean;
	onChange: (part: Record<string, string | null>) => void;
	onWord: (word: string) => void;
}) {
	const project = useProject();
	const play = usePlay();
	const mayCode = useMayCode();
	const { dropWords } = useOverviewWrites();
	const variables = (useRoster().data?.variables ?? []).filter((one) => one.kind !== "text" && one.kind !== "date");
	const used = useWordsUsed(
		{
			everybodys,
			...(idle !== "none" && { idle: idle as NonNullable<Shape<"WordsInRequest">["idle"]> }),
			...(variable && { variable }),
			...(variable && by && { by }),
			...play.asked,
		},
		play.known,
	);
	const hindered = hindrance(used);
	if (hindered) return <Problem error={hindered} />;
	if (!used.data) return <Loading what={say("all the words")} />;
	const { groups, words } = used.data;
	const leaveOut = (word: string) => dropWords.mutate({ drop: [word] });
	const longest = Math.max(1e-9, ...words.flatMap((word) => word.rates));
	return (
		<section aria-label={say("Words used most")} className="flex min-h-80 flex-1 flex-col">
			<div className="mb-2 flex flex-wrap items-center gap-2 text-[13.4px]">
				<b className="font-semibold">{say("Words used most")}</b>
				<span className="text-quiet">{say("by", undefined, "kind of group")}</span>
				<span className="w-52">
					<Choice
						name={say("Groups")}
						value={variable}
						options={[
							{ value: null as number | null, label: say("all {many} together", { many: project.case_many }) },
							...variables.map((one) => ({ value: one.id as number | null, label: one.name })),
						]}
						onChange={(value) => onChange({ groups: value ? String(value) : null, first: null })}
					/>
				</span>
				{variable && (
					<>
						<span className="text-quiet">{say("first")}</span>
						<span className="w-56">
							<Choice
								name={say("First")}
								value={by}
								options={[
									{ value: "", label: say("the most frequent") },
									...groups.map((group) => ({ value: group.name, label: say("what sets {name} apart", { name: group.name }) })),
								]}
								onChange={(value) => onChange({ first: value || null })}
							/>
						</span>
					</>
				)}
				<span className="text-quiet">{say("without")}</span>
				<span className="w-64">
					<Choice
						name={say("Words that say nothing")}
						value={idle}
						options={[
							...LANGUAGES.map(({ value, label }) => ({ value, label: say("what says nothing in {language}", { language: label }) })),
							{ value: "none", label: say("nothing: every word listed") },
						]}
						onChange={(value) => onChange({ idle: value })}
					/>
				</span>
				<label className="flex items-center gap-1.5">
					<input type="checkbox" checked={everybodys} onChange={() => onChange({ common: everybodys ? null : "shown" })} />
					{say("words that nearly everybody uses, too")}
				</label>
				<span className="ml-auto">
					<Segments
						name={say("Shown as")}
						value={cloud ? "cloud" : "table"}
						options={[
							{ value: "table", label: say("Table") },
							{ value: "cloud", label: say("Cloud") },
						]}
						onChange={(value) => onChange({ as: value === "cloud" ? "cloud" : null })}
					/>
				</span>
			</div>
			<div className="mb-2 flex flex-wrap items-baseline gap-x-3 quiet-line">
				<span>
					{say("{different, plural, one {# different word} other {# different words}} by {people}", {
						different: used.data.different,
						people: counted(used.data.people, project.case_one, project.case_many),
					})}
					{used.data.left_out > 0 && say(", {left_out} of nearly everybody’s left out", { left_out: used.data.left_out })}
					{used.data.unsaid > 0 && say(", {unsaid} that say nothing or were left out by hand", { unsaid: used.data.unsaid })}
				</span>
				{used.data.dropped.length > 0 && <LeftOut words={used.data.dropped} />}
			</div>
			{cloud && <WordCloud groups={variable ? groups.map((group) => group.name) : []} words={words} onWord={onWord} />}
			{!cloud && (
				<div className="min-h-56 flex-1 pane rounded-t-lg border border-b-0 border-line bg-card">
					<table className="w-full border-separate border-spacing-0 text-[13.4px]">
						<thead className="sticky top-0 z-10 bg-card">
							<tr className="[&>th]:border-b [&>th]:border-line [&>th]:px-2.5 [&>th]:py-1.5 [&>th]:text-left [&>th]:align-bottom [&>th]:font-semibold">
								<th>{say("Word")}</th>
								<th className="!text-right">{say("Times")}</th>
								<th className="!text-right capitalize">{project.case_many}</th>
								{groups.map((group) => (
									<th key={group.name} title={say("{words, number} words in all", { words: group.words })}>
										{group.name}
										<span className="block text-xs font-normal text-quiet">{say("times in 1,000 words")}</span>
									</th>
								))}
								{mayCode && (
									<th>
										<span className="sr-only">{say("Leave out")}</span>
									</th>
								)}
							</tr>
						</thead>
						<tbody>
							{words.map((word) => (
								<tr key={word.word} className="[&>td]:border-b [&>td]:border-line2 [&>td]:px-2.5 [&>td]:py-0.5">
									<td>
										<button
											type="button"
											className="font-serif text-[15px] text-spruce hover:underline"
											title={say("Read where it is said")}
											onClick={() => onWord(word.word)}
										>
											{word.word}
										</button>
									</td>
									<td className="text-right tabular-nums">{word.count}</td>
									<td className="text-right tabular-nums">{word.people}</td>
									{groups.map((group, at) => {
										const rate = word.rates[at] ?? 0;
										const stands = word.stands_out[at] ?? 0;
										return (
											<td
												key={group.name}
												title={
													stands
														? say("{by_group} times; {which} than the others, {apart} standard errors", {
																by_group: word.by_group[at],
																which: stands > 0 ? say("more") : say("less"),
																apart: decimal(Math.abs(word.apart[at] ?? 0), 1),
															})
														: say("{by_group} times; not set apart", { by_group: word.by_group[at] })
												}
											>
												<span className="flex items-center gap-2">
													<span className="w-9 text-right tabular-nums">{decimal(rate, rate < 10 ? 1 : 0)}</span>
													<span className="h-2 rounded-sm bg-spruce/60" style={{ width: `${(90 * rate) / longest}px` }} />
													{variable && stands !== 0 && (
														<span className="text-xs text-quiet">{stands > 0 ? say("▲ more") : say("▼ less")}</span>
													)}
												</span>
											</td>
										);
									})}
									{mayCode && (
										<td className="text-right">
											<button
												type="button"
												className="min-h-6 text-[12.6px] font-semibold text-spruce hover:underline"
												aria-label={say("Leave out “{word}”", { word: word.word })}
												onClick={() => leaveOut(word.word)}
											>
												{say("Leave out")}
											</button>
										</td>
									)}
								</tr>
							))}
						</tbody>
					</table>
					{words.length === 0 && <p className="p-3 quiet-line">{say("Nobody linked says anything in this scope.")}</p>}
				</div>
			)}
			{variable && (
				<p className="py-1 quiet-line">
					{say(
						"▲ ▼ and places in the cloud: more or less than in the other groups by two standard errors (log-odds with a Dirichlet prior), and so in at most 1 of 20 ways of dealing these {many} out anew. Even where groups don’t differ about {chance} such marks would stand among these words: worth a look, not sure.",
						{ many: project.case_many, chance: used.data.by_chance },
					)}
				</p>
			)}
		</section>
	);
}
