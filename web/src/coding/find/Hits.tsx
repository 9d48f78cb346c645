import { useState } from "react";
import { Link } from "react-router";
import { CodePicker } from "../../codes/CodePicker";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { languageOf, ours } from "../../ui/language";
import { Segments } from "../../ui/Segments";
import { useToasts } from "../../ui/toasts";
import { type FindRequest, type Found, useOverviewWrites } from "../overview";
import { keyOf, useTicked } from "./ticked";
import { WhoSaysIt } from "./WhoSaysIt";

type Extent = "hit" | "sentence" | "turn";
/** Hits that the server lists at once. */
const PAGE = 300;
const EXTENTS: { value: Extent; label: string }[] = [
	{ value: "hit", label: say("the words found") },
	{ value: "sentence", label: say("the sentence") },
	{ value: "turn", label: say("the turn") },
];

/** Who says it, and every hit to be read and ticked; what is ticked is coded at once. */
export function Hits({
	asked,
	found,
	variable,
	onVariable,
	person,
	onPerson,
	onMore,
	reading,
}: {
	asked: FindRequest;
	found: Found;
	variable: number | null;
	onVariable: (variable: number | null) => void;
	person: string | null;
	onPerson: (person: string | null) => void;
	onMore: () => void;
	/** Whether more is on its way. */
	reading: boolean;
}) {
	const project = useProject();
	const mayCode = useMayCode();
	const { tell } = useToasts();
	const codebook = useCodebook().data;
	const { codeHits } = useOverviewWrites();
	const [extent, setExtent] = useState<Extent>("sentence");
	const shown = found.hits.filter((hit) => person === null || String(hit.case) === person);
	const total = person === null ? found.total : (found.people.find((one) => String(one.case) === person)?.count ?? 0);
	const ticked = useTicked(shown, total, person);
	// Of somebody who is linked to nobody no question can be asked.
	const askable = total > shown.length && person !== "null";
	if (!found.total) return <p className="quiet-line">{say("No hit. Other forms of the word, or interviewers’ words, may hold it.")}</p>;
	return (
		<div className="grid min-h-0 flex-1 cols-[210px_minmax(0,1fr)] gap-4">
			<WhoSaysIt found={found} variable={variable} onVariable={onVariable} person={person} onPerson={onPerson} />
			<div className="flex min-h-0 flex-col">
				{mayCode && (
					<div className="mb-2 flex flex-wrap items-center gap-2 rounded-lg border border-line bg-card px-3 py-1.5 text-[13.4px]">
						<label className="flex items-center gap-1.5">
							<input type="checkbox" checked={ticked.all} onChange={ticked.turnAll} />
							{say("tick all shown")}
						</label>
						{ticked.all && !ticked.every && askable && (
							<Button onClick={ticked.takeEvery}>{say("Tick all {total, number} hits, listed or not", { total })}</Button>
						)}
						<span className="text-quiet" role="status">
							{say("{ticked, number} ticked. Mark", { ticked: ticked.count })}
						</span>
						<Segments name={say("What becomes the passage")} value={extent} options={EXTENTS} onChange={setExtent} />
						<span className="text-quiet">{say("with")}</span>
						<CodePicker
							codes={codebook?.codes ?? []}
							disabled={!ticked.count || codeHits.isPending}
							onPick={(codes, names) =>
								codeHits.mutate(
									{
										...ticked.asked(person === null ? asked : { ...asked, cases: [Number(person)] }),
										extent,
										codes,
										new_codes: names.map((name) => ({ name, parent: null })),
									},
									{
										onSuccess: ({ count }) => {
											tell(
												say(
													"{passages, plural, one {# passage} other {# passages}} coded. Ctrl Z takes {passages, plural, one {it} other {them}} back.",
													{ passages: count },
												),
											);
											ticked.none();
										},
									},
								)
							}
						/>
					</div>
				)}
				<ol className="flex-1 pane rounded-t-lg border border-b-0 border-line bg-card">
					{shown.map((hit) => (
						<li key={keyOf(hit)} className="flex gap-2.5 border-b border-line2 px-3 py-2">
							{mayCode && (
								<input
									type="checkbox"
									className="mt-1.5"
									aria-label={say("Tick “{before}{text}{after}”", {
										before: hit.before.slice(-20),
										text: hit.text,
										after: hit.after.slice(0, 20),
									})}
									checked={ticked.has(hit)}
									onChange={() => ticked.turn(hit)}
								/>
							)}
							<p className="min-w-0 font-serif leading-snug" dir="auto" lang={languageOf(hit.before + hit.text + hit.after)}>
								<span className="text-quiet">{hit.before}</span>
								<mark className="rounded-sm bg-apricot-soft px-0.5 font-semibold">{hit.text}</mark>
								<span className="text-quiet">{hit.after}</span>
								<Link
									className="block font-sans text-xs text-spruce hover:underline"
									lang={ours()}
									to={`/projects/${project.id}/code/${hit.document}?at=${hit.start}`}
								>
									{say("{which}{title}, turn {turn}", {
										which: hit.speaker === hit.title ? "" : `${hit.speaker}, `,
										title: hit.title,
										turn: hit.turn,
									})}
								</Link>
							</p>
						</li>
					))}
					{found.more > 0 && (
						<li className="flex items-center gap-3 px-3 py-2 quiet-line">
							<span>
								{say("{more, plural, one {# more hit} other {# more hits}} not listed yet; the counts at the left hold them all.", {
									more: found.more,
								})}
							</span>
							<Button onClick={onMore} disabled={reading}>
								{reading ? say("Reading …") : say("List the next {more}", { more: Math.min(found.more, PAGE) })}
							</Button>
						</li>
					)}
				</ol>
			</div>
		</div>
	);
}
