import type { Shape } from "../api/client";
import { phrase, say } from "../language/say";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { number } from "../ui/words";
import { type Staged, useStagedWrites } from "./data";
import { useUploadPlace } from "./Uploading";
import { useOnWay } from "./uploads";

/** What "Bring in" would do, in counts and warnings, and the button that does it. */
export function Outcome({
	rows,
	job,
	onStart,
	starting,
}: {
	rows: Staged[];
	job?: Shape<"JobOut">;
	onStart: () => void;
	starting: boolean;
}) {
	const project = useProject();
	const { discardAll, correct } = useStagedWrites();
	const ticked = rows.filter((row) => row.included && !row.problem);
	// A text whose recording waits too comes in with it, as one document.
	const documents = ticked.filter((row) => row.kind !== "sheet" && !(row.kind === "transcript" && row.partner !== null));
	const transcripts = documents.flatMap((row) => row.transcript ?? []);
	const sheets = ticked.flatMap((row) => (row.sheet ? [{ row, sheet: row.sheet }] : []));
	const problems = sheets.flatMap(({ row, sheet }) => sheet.problems.map((problem) => ({ file: row.name, problem })));
	const sum = (pick: (sheet: Shape<"FoundSheet">) => number) => sheets.reduce((total, { sheet }) => total + pick(sheet), 0);
	const busy = job !== undefined || starting;
	const unread = useOnWay(useUploadPlace()).filter((one) => one.state !== "failed").length;
	const answers = sum((sheet) => sheet.answers);
	const comments = transcripts.reduce((total, found) => total + found.comments, 0);
	const words = transcripts.reduce((total, found) => total + found.words, 0);
	return (
		<div className="pane rounded-lg border border-line bg-card p-4">
			{documents.length > 0 && (
				<Figure
					n={documents.length}
					one={say("document")}
					many={say("documents")}
					more={`, ${say("{words, plural, one {# word} other {# words}}", { words })}`}
				/>
			)}
			{comments > 0 && <Figure n={comments} one={say("comment on words of the texts")} many={say("comments on words of the texts")} />}
			{sheets.length > 0 && (
				<>
					<Figure
						n={sum((sheet) => sheet.new_cases)}
						one={say("new {one}", { one: project.case_one })}
						many={say("new {many}", { many: project.case_many })}
						more={sum((sheet) => sheet.known_cases) ? say(", {sum} known already", { sum: sum((sheet) => sheet.known_cases) }) : ""}
					/>
					<Figure
						n={sum((sheet) => sheet.new_variables)}
						one={say("new variable")}
						many={say("new variables")}
						more={`, ${say("{values, plural, one {# value} other {# values}}", { values: sum((sheet) => sheet.values) })}`}
					/>
					{answers > 0 && (
						<Figure
							n={answers}
							one={say("document of answers to code")}
							many={say("documents of answers to code")}
							more={say(", each linked to its {one}", { one: project.case_one })}
						/>
					)}
					{sum((sheet) => sheet.same) > 0 && (
						<Figure
							n={sum((sheet) => sheet.same)}
							one={say("value here already")}
							many={say("values here already")}
							more={say(", unchanged")}
						/>
					)}
					{sum((sheet) => sheet.missing) > 0 && (
						<Figure
							n={sum((sheet) => sheet.missing)}
							one={say("value missing")}
							many={say("values missing")}
							more={say(", each with its reason")}
						/>
					)}
				</>
			)}
			{ticked.length === 0 && <p className="quiet-line">{say("No file is ticked.")}</p>}
			{sheets.map(({ row, sheet }) => (
				<div key={row.id}>
					{sheet.conflicts > 0 && (
						<Notice>
							<b>
								{say("{values, plural, one {# value} other {# values}} {values, plural, one {differs} other {differ}} from what is here.", {
									values: sheet.conflicts,
								})}
							</b>
							<table className="my-1 w-full text-[12.6px]">
								<thead>
									<tr className="text-left text-quiet">
										<th className="font-normal">{say("Whose")}</th>
										<th className="font-normal">{say("Here")}</th>
										<th className="font-normal">{say("In the sheet")}</th>
									</tr>
								</thead>
								<tbody>
									{sheet.conflict_examples.slice(0, 8).map((one) => (
										<tr key={`${one.who} ${one.variable}`}>
											<td>
												{one.who}, {one.variable}
											</td>
											<td className={row.choices.on_conflict === "overwrite" ? "line-through" : "font-semibold"}>{one.here}</td>
											<td className={row.choices.on_conflict === "overwrite" ? "font-semibold" : "line-through"}>{one.there}</td>
										</tr>
									))}
								</tbody>
							</table>
							{sheet.conflicts > 8 && <p>{say("… and {conflicts} more.", { conflicts: sheet.conflicts - 8 })}</p>}
							<label className="flex items-start gap-2">
								<input
									type="checkbox"
									className="mt-1 accent-spruce"
									checked={row.choices.on_conflict === "overwrite"}
									onChange={(event) =>
										correct.mutate({
											id: row.id,
											choices: { ...row.choices, on_conflict: event.target.checked ? "overwrite" : "keep" },
										})
									}
								/>
								{say("Take the sheet’s values; otherwise those here stay")}
							</label>
						</Notice>
					)}
					{sheet.unknown_documents.length > 0 && (
						<Notice>
							{phrase(
								"<b>{documents, plural, one {# document} other {# documents}} of the sheet aren’t here yet:</b> {unknown_documents}{which} Those that wait beside it come in first.",
								{
									b: (inner) => <b>{inner}</b>,
									documents: sheet.unknown_documents.length,
									unknown_documents: sheet.unknown_documents.slice(0, 5).join(", "),
									which: sheet.unknown_documents.length > 5 ? " …" : ".",
								},
							)}
						</Notice>
					)}
					{sheet.without_id > 0 && (
						<Notice>
							<label className="flex items-start gap-2">
								<input
									type="checkbox"
									className="mt-1 accent-spruce"
									checked={Boolean(row.choices.skip_without_id)}
									onChange={(event) =>
										correct.mutate({
											id: row.id,
											choices: { ...row.choices, skip_without_id: event.target.checked },
										})
									}
								/>
								{say("Leave out {rows, plural, one {# row} other {# rows}} without an ID", { rows: sheet.without_id })}
							</label>
						</Notice>
					)}
				</div>
			))}
			{problems.map(({ file, problem }) => (
				<p key={file + problem} role="alert" className="mt-2 rounded-md bg-danger-soft px-3 py-2 text-[13px] text-danger">
					{problem} <span className="text-quiet">({file})</span>
				</p>
			))}
			{rows.some((row) => row.problem) && (
				<p className="mt-2 text-[13px] text-danger">
					{say("{files, plural, one {# file} other {# files}} can’t be read and will be left out.", {
						files: rows.filter((row) => row.problem).length,
					})}
				</p>
			)}
			{transcripts.length > 0 && (
				<p className="mt-3 quiet-line">
					{say("Speakers whose {one} is certain, by label or file name, are linked at once. The rest are listed for you.", {
						one: project.case_one,
					})}
				</p>
			)}
			{job && (
				<div className="mt-3" role="status">
					<progress className="w-full accent-spruce" max={job.total || 1} value={job.done} aria-label={say("Bringing in")} />
					<p className="quiet-line">
						{say("{message} … {done} of {total}", {
							message: job.message || say("Waiting for its turn"),
							done: job.done,
							total: job.total,
						})}
					</p>
				</div>
			)}
			{unread > 0 && (
				<p className="mt-3 text-[13px] text-apricot-deep">
					{say("{unread, plural, one {# file is} other {# files are}} still being read; then all come in together.", { unread })}
				</p>
			)}
			<div className="mt-4 flex gap-2">
				<Button
					look="main"
					className="px-4! py-2!"
					disabled={busy || unread > 0 || ticked.length === 0 || problems.length > 0}
					onClick={onStart}
				>
					{say("Bring in")}
				</Button>
				<Button disabled={busy} onClick={() => discardAll.mutate(undefined)}>
					{say("Forget all")}
				</Button>
			</div>
		</div>
	);
}

function Figure({ n, one, many, more = "" }: { n: number; one: string; many: string; more?: string }) {
	return (
		<p className="flex items-baseline gap-2.5 border-b border-line2 py-2">
			<span className="font-serif text-[22px] font-semibold">{number(n)}</span> {n === 1 ? one : many}
			{more}
		</p>
	);
}

function Notice({ children }: { children: React.ReactNode }) {
	return <div className="mt-2 rounded-md bg-apricot-soft px-3 py-2 text-[13px]">{children}</div>;
}
