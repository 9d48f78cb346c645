import { Link } from "react-router";
import { useMayCode, useProject } from "../shell/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Empty } from "../ui/Empty";
import { counted } from "../ui/words";
import { type Case, type Unlinked, usePeopleWrites, type Variable } from "./data";

const NOT_PARTICIPANT = -1;
const INTERVIEWER = -2;

/** The tray of speakers without a case: the sure ones in one click, the rest by hand. */
export function Linking({ rows, cases, variables }: { rows: Unlinked[]; cases: Case[]; variables: Variable[] }) {
	const project = useProject();
	const mayCode = useMayCode();
	const { changeSpeaker, linkSure } = usePeopleWrites();
	const sure = rows.filter((row) => row.case !== null).length;
	const silent = cases.filter((row) => row.documents === 0);
	const hint = (row: Case) =>
		variables
			.slice(0, 3)
			.map((variable) => row.values[variable.id]?.text)
			.filter(Boolean)
			.join(", ");
	const options = [
		{ value: NOT_PARTICIPANT, label: "Nobody in particular", hint: "kept, counted for nobody" },
		{ value: INTERVIEWER, label: "An interviewer" },
		...cases.map((row) => ({ value: row.id, label: row.identifier, hint: hint(row) })),
	];
	const choose = (row: Unlinked, value: number | null) => {
		if (value === NOT_PARTICIPANT) changeSpeaker.mutate({ id: row.speaker, role: "other" });
		else if (value === INTERVIEWER) changeSpeaker.mutate({ id: row.speaker, role: "interviewer" });
		else if (value !== null) changeSpeaker.mutate({ id: row.speaker, case: value });
	};
	return (
		<div className="max-w-5xl space-y-4">
			{rows.length === 0 ? (
				<Empty title={`Every speaker is linked to a ${project.case_one}`}>
					<p>Passages by participants count for their {project.case_many} in every comparison.</p>
					<Link to="../code" className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-white">
						Go on to code
					</Link>
				</Empty>
			) : (
				<section className="rounded-lg border border-[#efcfa9] bg-white" aria-label="Speakers without a link">
					<div className="flex items-center gap-3 rounded-t-lg bg-apricot-soft px-3.5 py-2">
						<b>
							{counted(rows.length, "speaker")} without a {project.case_one}
						</b>
						<span className="quiet-line">
							their{" "}
							{counted(
								rows.reduce((sum, row) => sum + row.passages, 0),
								"passage",
							)}{" "}
							are in no comparison yet
						</span>
						{sure > 0 && mayCode && (
							<Button look="main" className="ml-auto" onClick={() => linkSure.mutate(undefined)}>
								Accept the {sure} sure {sure === 1 ? "one" : "ones"}
							</Button>
						)}
					</div>
					<table className="w-full">
						<tbody>
							{rows.map((row) => (
								<tr key={row.speaker} className="border-t border-line2">
									<td className="px-3.5 py-2.5">
										<b>{row.label}</b> <span className="text-quiet">in </span>
										<Link className="text-spruce underline" to={`../code/${row.document}`}>
											{row.title}
										</Link>
										<span className="block quiet-line">{counted(row.passages, "passage")}</span>
									</td>
									<td className="px-2">
										{row.case_name ? (
											<>
												→ <b>{row.case_name}</b>
											</>
										) : (
											<span className="text-quiet">→ ?</span>
										)}
									</td>
									<td className={`px-2 ${row.conflict ? "text-apricot-deep" : "text-quiet"}`}>
										{row.conflict ? `Conflict: ${row.reason}` : row.reason}
									</td>
									<td className="w-72 px-3.5">
										{mayCode && (
											<span className="flex items-center justify-end gap-2">
												{row.case !== null && <Button onClick={() => choose(row, row.case)}>Accept</Button>}
												<span className="w-40">
													<Choice
														name={`Link ${row.label} in ${row.title}`}
														value={null as number | null}
														shown="Choose …"
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
			)}
			{silent.length > 0 && (
				<section className="rounded-lg border border-line bg-white px-3.5 py-2.5">
					<b>{counted(silent.length, project.case_one, project.case_many)} without material</b>
					<p className="quiet-line">
						In no document yet, so not in a base “with material”: {silent.map((row) => row.identifier).join(", ")}.
					</p>
				</section>
			)}
		</div>
	);
}
