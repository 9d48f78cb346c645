import { useState } from "react";
import type { Shape } from "../api/client";
import { language, say } from "../language/say";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { number } from "../ui/words";
import { type Staged, useStagedWrites } from "./data";
import { ROLES } from "./TranscriptReading";

export interface BatchSpeaker {
	/** Every way that the label is written in the files. */
	written: string[];
	label: string;
	role: Shape<"RoleOfSpeaker">;
	roles: Shape<"RoleOfSpeaker">[];
	/** Why a role was guessed, in each way that it was. */
	reasons: string[];
	texts: string[];
	turns: number;
	words: number;
	first: string;
}

/** All labels of a batch, those already called alike as one, the most frequent first. */
export function speakersOf(rows: Staged[]): BatchSpeaker[] {
	const found = new Map<string, BatchSpeaker>();
	for (const row of rows) {
		if (row.kind === "transcript" && row.partner !== null) continue;
		for (const speaker of row.transcript?.speakers ?? []) {
			const known = found.get(speaker.label);
			const one = known ?? {
				written: [],
				label: speaker.label,
				role: speaker.role,
				roles: [],
				reasons: [],
				texts: [],
				turns: 0,
				words: 0,
				first: speaker.first_words,
			};
			one.written = [...new Set([...one.written, ...speaker.written])];
			one.roles = [...new Set([...one.roles, speaker.role])];
			if (speaker.reason) one.reasons = [...new Set([...one.reasons, speaker.reason])];
			one.texts = [...one.texts, row.name];
			one.turns += speaker.turns;
			one.words += speaker.words;
			found.set(speaker.label, one);
		}
	}
	return [...found.values()].sort(
		(a, b) => b.texts.length - a.texts.length || a.label.localeCompare(b.label, language(), { numeric: true }),
	);
}

/** One table of all labels in the texts that wait: renamed, merged, given a role, once for all. */
export function SpeakersTable({ speakers }: { speakers: BatchSpeaker[] }) {
	const { correctSpeakers } = useStagedWrites();
	const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
	const chosen = speakers.filter((speaker) => ticked.has(speaker.label));
	const change = (those: BatchSpeaker[], part: Shape<"SpeakerChangeRequest">) => {
		correctSpeakers.mutate(Object.fromEntries(those.flatMap((one) => one.written.map((label) => [label, part]))));
		setTicked(new Set());
	};
	const into = chosen[0];
	const guessed = speakers.filter((speaker) => speaker.reasons.length > 0);
	return (
		<div className="rounded-lg border border-line bg-card">
			<div className="flex flex-wrap items-center gap-2 border-b border-line px-3 py-2 text-[13px]">
				{chosen.length === 0 ? (
					<>
						<span className="quiet-line">
							{say("Every label in the texts that wait. Tick several that are one speaker to merge them, or give them a role.")}
						</span>
						{guessed.length > 0 && (
							<Button onClick={() => setTicked(new Set(guessed.map((speaker) => speaker.label)))}>
								{say("Tick the {guessed} whose role was guessed", { guessed: guessed.length })}
							</Button>
						)}
					</>
				) : (
					<>
						<span className="quiet-line">{say("{chosen} ticked", { chosen: chosen.length })}</span>
						{chosen.length > 1 && into && (
							<Button onClick={() => change(chosen, { name: into.label, role: into.role })}>
								{say("Merge into “{label}”", { label: into.label })}
							</Button>
						)}
						{ROLES.map((role) => (
							<Button key={role.value} onClick={() => change(chosen, { role: role.value })}>
								{say("Make {label}", { label: role.label })}
							</Button>
						))}
					</>
				)}
			</div>
			<table className="w-full">
				<thead>
					<tr className="border-b border-line text-left text-[13px] [&>th]:py-2 [&>th]:font-semibold">
						<th className="w-9 pl-3">
							<span className="sr-only">{say("Tick")}</span>
						</th>
						<th className="px-2">{say("Label")}</th>
						<th className="px-2">{say("Role")}</th>
						<th className="px-2 text-right">{say("Texts")}</th>
						<th className="px-2 text-right">{say("Turns")}</th>
						<th className="px-2 text-right">{say("Words")}</th>
						<th className="px-3">{say("First words")}</th>
					</tr>
				</thead>
				<tbody>
					{speakers.map((speaker) => (
						<tr key={speaker.label} className="border-b border-line2 last:border-0">
							<td className="pl-3">
								<input
									type="checkbox"
									className="accent-spruce"
									aria-label={say("Tick {label}", { label: speaker.label })}
									checked={ticked.has(speaker.label)}
									onChange={(event) => {
										const next = new Set(ticked);
										if (event.target.checked) next.add(speaker.label);
										else next.delete(speaker.label);
										setTicked(next);
									}}
								/>
							</td>
							<td className="px-2 py-1">
								<input
									aria-label={say("Name of {label} in all texts", { label: speaker.label })}
									className="field min-w-36 max-w-64 font-semibold [field-sizing:content]"
									defaultValue={speaker.label}
									onBlur={(event) => {
										const name = event.target.value.trim();
										if (name && name !== speaker.label) change([speaker], { name });
									}}
									onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
								/>
								{speaker.written.length > 1 && (
									<span className="block text-[12px] text-quiet">{say("written {written}", { written: speaker.written.join(", ") })}</span>
								)}
							</td>
							<td className="w-44 px-2 py-1">
								<Choice
									name={say("Role of {label} in all texts", { label: speaker.label })}
									value={speaker.roles.length > 1 ? ("" as typeof speaker.role) : speaker.role}
									{...(speaker.roles.length > 1 ? { shown: "differs" } : {})}
									options={ROLES}
									onChange={(role) => change([speaker], { role })}
								/>
								{speaker.reasons.map((reason) => (
									<span key={reason} className="block quiet-line">
										{reason}
									</span>
								))}
							</td>
							<td className="px-2 text-right" title={speaker.texts.join("\n")}>
								{speaker.texts.length}
							</td>
							<td className="px-2 text-right">{speaker.turns}</td>
							<td className="px-2 text-right">{number(speaker.words)}</td>
							<td className="max-w-44 truncate px-3 text-quiet" title={speaker.first}>
								{speaker.first}
							</td>
						</tr>
					))}
				</tbody>
			</table>
			<p className="px-3 py-2 quiet-line">{say("{labels, plural, one {# label} other {# labels}} in all.", { labels: speakers.length })}</p>
		</div>
	);
}
