import { useState } from "react";
import { Link } from "react-router";
import { say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Empty } from "../ui/Empty";
import { type Case, type Unlinked, usePeopleWrites, type Variable } from "./data";

const NOT_PARTICIPANT = -1;
const INTERVIEWER = -2;
const CERTAINTIES = { sure: "sure", likely: "likely", possible: "possible" } as const;

/** The tray of speakers without a case: the sure ones in one click, likely ones after a look, the rest by hand. */
export function Linking({ rows, cases, variables }: { rows: Unlinked[]; cases: Case[]; variables: Variable[] }) {
	const project = useProject();
	const mayCode = useMayCode();
	const { changeSpeaker, linkSure, linkChosen } = usePeopleWrites();
	const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
	const sure = rows.filter((row) => row.certainty === "sure").length;
	const chosen = rows.filter((row) => ticked.has(row.speaker) && row.case !== null);
	const hint = (row: Case) =>
		variables
			.slice(0, 3)
			.map((variable) => row.values[variable.id]?.text)
			.filter(Boolean)
			.join(", ");
	const options = [
		{ value: NOT_PARTICIPANT, label: say("Nobody in particular"), hint: say("kept, counted for nobody") },
		{ value: INTERVIEWER, label: say("An interviewer") },
		...cases.map((row) => ({ value: row.id, label: row.identifier, hint: hint(row) })),
	];
	const choose = (row: Unlinked, value: number | null) => {
		if (value === NOT_PARTICIPANT) changeSpeaker.mutate({ id: row.speaker, role: "other" });
		else if (value === INTERVIEWER) changeSpeaker.mutate({ id: row.speaker, role: "interviewer" });
		else if (value !== null) changeSpeaker.mutate({ id: row.speaker, case: value });
	};
	if (!rows.length)
		return (
			<Empty title={say("Every speaker is linked to a {one}", { one: project.case_one })}>
				<p>{say("Passages by participants count for their {many} in every comparison.", { many: project.case_many })}</p>
				<Link to="../code" className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-on-spruce">
					{say("Go on to code")}
				</Link>
			</Empty>
		);
	return (
		<section className="max-w-5xl rounded-lg border border-apricot-line bg-card" aria-label={say("Speakers without a link")}>
			<div className="flex flex-wrap items-center gap-3 rounded-t-lg bg-apricot-soft px-3.5 py-2">
				<b>
					{say("{speakers, plural, one {# speaker} other {# speakers}} without a {one}", { speakers: rows.length, one: project.case_one })}
				</b>
				<span className="quiet-line">
					{say("their {passages, plural, one {# passage} other {# passages}} are in no comparison yet", {
						passages: rows.reduce((sum, row) => sum + row.passages, 0),
					})}
				</span>
				{mayCode && (
					<span className="ml-auto flex gap-2">
						{chosen.length > 0 && (
							<Button
								onClick={() =>
									linkChosen.mutate(
										chosen.map((row) => ({ speaker: row.speaker, case: row.case as number })),
										{ onSuccess: () => setTicked(new Set()) },
									)
								}
							>
								{say("Link the {chosen} ticked", { chosen: chosen.length })}
							</Button>
						)}
						{sure > 0 && (
							<Button look="main" onClick={() => linkSure.mutate(undefined)}>
								{say("Accept the {sure} sure {sure, plural, one {one} other {ones}}", { sure })}
							</Button>
						)}
					</span>
				)}
			</div>
			<table className="w-full">
				<tbody>
					{rows.map((row) => (
						<tr key={row.speaker} className="border-t border-line2">
							{mayCode && (
								<td className="w-8 pl-3.5">
									{row.case !== null && (
										<input
											type="checkbox"
											className="accent-spruce"
											aria-label={say("Tick {label} in {title}", { label: row.label, title: row.title })}
											checked={ticked.has(row.speaker)}
											onChange={(event) => {
												const next = new Set(ticked);
												if (event.target.checked) next.add(row.speaker);
												else next.delete(row.speaker);
												setTicked(next);
											}}
										/>
									)}
								</td>
							)}
							<td className="px-2 py-2.5">
								<b>{row.label}</b> <span className="text-quiet">{say("in ")}</span>
								<Link className="text-spruce underline" to={`../code/${row.document}`}>
									{row.title}
								</Link>
								<span className="block quiet-line">
									{say("{passages, plural, one {# passage} other {# passages}}", { passages: row.passages })}
								</span>
							</td>
							<td className="px-2 whitespace-nowrap">
								{row.case_name ? (
									<>
										→ <b>{row.case_name}</b>
										{row.certainty && <Certain certainty={row.certainty} />}
									</>
								) : (
									<span className="text-quiet">→ ?</span>
								)}
							</td>
							<td className={`px-2 ${row.conflict ? "text-apricot-deep" : "text-quiet"}`}>
								{row.conflict ? say("Conflict: {reason}", { reason: row.reason }) : row.reason}
							</td>
							<td className="w-64 px-3.5">
								{mayCode && (
									<span className="flex items-center justify-end gap-2">
										{row.case !== null && <Button onClick={() => choose(row, row.case)}>{say("Accept")}</Button>}
										<span className="w-32">
											<Choice
												name={say("Link {label} in {title}", { label: row.label, title: row.title })}
												value={null as number | null}
												shown={say("Choose …")}
												options={options}
												onChange={(value) => choose(row, value)}
											/>
										</span>
									</span>
								)}
							</td>
						</tr>
					))}
				</tbody>
			</table>
		</section>
	);
}

/** How certain a suggestion is: a word and as many dots. */
function Certain({ certainty }: { certainty: keyof typeof CERTAINTIES }) {
	const dots = { sure: "●●●", likely: "●●○", possible: "●○○" }[certainty];
	return (
		<span className="block text-[12px] text-quiet">
			<span aria-hidden="true" className="tracking-tight text-spruce">
				{dots}
			</span>{" "}
			{CERTAINTIES[certainty]}
		</span>
	);
}
