import { useState } from "react";
import type { Shape } from "../api/client";
import { phrase, say } from "../language/say";
import { Choice } from "../ui/Choice";
import { Segments } from "../ui/Segments";
import { number } from "../ui/words";
import { type Staged, type StagedChoices, useStagedWrites } from "./data";
import { BEFORE_FIRST } from "./labels";

const FORMS: Record<string, string> = {
	colon: say("a label and a colon"),
	bracket: say("labels in square brackets"),
	bold: say("labels in bold type"),
	upper: say("labels in capitals"),
	dash: say("labels before a dash"),
	tab: say("labels before a tab"),
	alone: say("labels on a line of their own"),
	voice: say("the voices that the file names"),
	none: say("no labels: the whole document is one turn"),
};
type Role = Shape<"RoleOfSpeaker">;
export const ROLES: { value: Role; label: string }[] = [
	{ value: "participant", label: say("participant") },
	{ value: "interviewer", label: say("interviewer") },
	{ value: "other", label: say("other") },
];

/** Speakers as found, each correctable, with the first turns as they will be. */
export function TranscriptReading({ row, transcript }: { row: Staged; transcript: Shape<"FoundTranscript"> }) {
	const { correct } = useStagedWrites();
	const [title, setTitle] = useState(transcript.title);
	const choices = row.choices;
	const change = (part: StagedChoices) => correct.mutate({ id: row.id, choices: { ...choices, ...part } });
	const rename = (speaker: Shape<"FoundSpeakerOut">, label: string) => {
		const wanted = label.trim();
		if (!wanted || wanted === speaker.label) return;
		const renamed = { ...choices.renamed };
		for (const written of speaker.written) renamed[written] = wanted;
		const roles = { ...choices.roles };
		if (!roles[wanted]) roles[wanted] = speaker.role;
		change({ renamed, roles });
	};
	return (
		<div className="space-y-3">
			<div className="rounded-lg border border-line bg-card p-4">
				<label className="block text-[13px] font-semibold">
					{say("Name of the document")}
					<input
						className="field mt-1 w-full font-normal"
						value={title}
						onChange={(event) => setTitle(event.target.value)}
						onBlur={() => title !== transcript.title && change({ title })}
					/>
				</label>
				<p className="mt-2 quiet-line">
					{say(
						"{words, plural, one {# word} other {# words}} in {turns, plural, one {# turn} other {# turns}}, read as {format}. Speakers found by {forms}.",
						{ words: transcript.words, turns: transcript.turns, format: row.format, forms: FORMS[transcript.form] },
					)}
				</p>
				{(transcript.sections > 0 || transcript.pages > 0) && (
					<p className="mt-1 quiet-line">
						{[
							transcript.sections > 0 &&
								say("{headings, plural, one {# heading} other {# headings}} kept as sections", { headings: transcript.sections }),
							transcript.pages > 0 &&
								say("{pages, plural, one {# page} other {# pages}}, each with its picture beside the text", { pages: transcript.pages }),
						]
							.filter(Boolean)
							.join("; ")}
						.
					</p>
				)}
				{transcript.comments > 0 && (
					<div className="mt-2 rounded-md border border-line p-2.5 text-[13px]">
						<p className="mb-1.5">
							{phrase(
								"<b>{comments, plural, one {# comment} other {# comments}}</b> in the file, such as “{first_comments}”. They become",
								{ b: (inner) => <b>{inner}</b>, comments: transcript.comments, first_comments: transcript.first_comments[0] },
							)}
						</p>
						<Segments
							name={say("Comments become")}
							value={choices.comments ?? "memos"}
							options={[
								{ value: "memos", label: say("Memos on their words") },
								{ value: "codes", label: say("Codes, where short") },
								{ value: "leave_out", label: say("Nothing") },
							]}
							onChange={(comments) => change({ comments })}
						/>
					</div>
				)}
				{row.already && (
					<p className="mt-1 text-[13px] text-apricot-deep">
						{say("The same file was brought in before, as “{already}”. It is left out unless you tick it.", { already: row.already })}
					</p>
				)}
				<label className="mt-2 flex items-center gap-2">
					<input
						type="checkbox"
						className="accent-spruce"
						checked={Boolean(choices.one_turn)}
						onChange={(event) => change({ one_turn: event.target.checked })}
					/>
					{say("Nobody is labelled here: read the whole as one turn")}
				</label>
			</div>
			<div className="rounded-lg border border-line bg-card">
				<table className="w-full">
					<thead>
						<tr className="border-b border-line text-left text-[13px]">
							<th className="px-3 py-2 font-semibold">{say("Speaker")}</th>
							<th className="px-2 font-semibold">{say("Role")}</th>
							<th className="px-2 text-right font-semibold">{say("Turns")}</th>
							<th className="px-2 text-right font-semibold">{say("Words")}</th>
							<th className="px-3 font-semibold">{say("First words")}</th>
							<th className="px-2" />
						</tr>
					</thead>
					<tbody>
						{transcript.speakers.map((speaker) => (
							<tr key={speaker.label} className="border-b border-line2 last:border-0">
								<td className="px-3 py-1.5">
									<input
										aria-label={say("Name of speaker {label}", { label: speaker.label })}
										className="field min-w-36 max-w-64 font-semibold [field-sizing:content]"
										defaultValue={speaker.label}
										onBlur={(event) => rename(speaker, event.target.value)}
										onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
									/>
								</td>
								<td className="w-40 px-2">
									<Choice
										name={say("Role of {label}", { label: speaker.label })}
										value={speaker.role}
										options={ROLES}
										onChange={(role) => change({ roles: { ...choices.roles, [speaker.label]: role } })}
									/>
									{speaker.reason && <span className="block quiet-line">{speaker.reason}</span>}
								</td>
								<td className="px-2 text-right">{speaker.turns}</td>
								<td className="px-2 text-right">{number(speaker.words)}</td>
								<td className="max-w-52 truncate px-3 text-quiet" title={speaker.first_words}>
									{speaker.first_words}
								</td>
								<td className="px-2 text-right whitespace-nowrap">
									{transcript.form !== "none" && speaker.label !== BEFORE_FIRST && (
										<button
											type="button"
											className="text-[12.6px] font-semibold text-spruce hover:underline"
											onClick={() => change({ ignored: [...(choices.ignored ?? []), ...speaker.written] })}
										>
											{say("Not a speaker")}
										</button>
									)}
								</td>
							</tr>
						))}
					</tbody>
				</table>
				<p className="px-3 py-2 quiet-line">
					{say("Give two labels one name to make them one speaker.")}
					{(choices.ignored?.length ?? 0) > 0 && (
						<>
							{" "}
							{say("Read as plain speech: {ignored}.", { ignored: choices.ignored?.join(", ") })}{" "}
							<button type="button" className="font-semibold text-spruce hover:underline" onClick={() => change({ ignored: [] })}>
								{say("As found")}
							</button>
						</>
					)}
				</p>
			</div>
			<div className="rounded-lg border border-line bg-card p-4">
				<h2 className="mb-2">{say("How it begins")}</h2>
				{transcript.first_turns.map((turn, place) => (
					// biome-ignore lint/suspicious/noArrayIndexKey: turns have no other identity yet
					<div key={place} className="mb-2 grid cols-[110px_1fr] gap-3">
						<span className="text-right text-[12.6px] text-quiet">
							{turn.speaker}
							{turn.time && <span className="block">{turn.time}</span>}
						</span>
						<span className="font-serif text-[14.5px]" dir="auto">
							{turn.text}
						</span>
					</div>
				))}
			</div>
		</div>
	);
}
