import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import type { Option } from "../ui/Choice";
import { Empty } from "../ui/Empty";
import { Seek } from "../ui/Seek";
import { useLong } from "../ui/virtual";
import { type Case, type Unlinked, usePeopleWrites, type Variable } from "./data";
import { LinkingRow } from "./LinkingRow";
import { Ticked } from "./Ticked";
import { grouped, INTERVIEWER, NEW_PERSON, NOBODY, type UnlinkedGroup } from "./unlinked";

/** The tray of speakers without a case: the sure ones in one click, likely ones after a look, the rest by hand. */
export function Linking({ rows, cases, variables }: { rows: Unlinked[]; cases: Case[]; variables: Variable[] }) {
	const project = useProject();
	const mayCode = useMayCode();
	const { linkSure, linkChosen, settle } = usePeopleWrites();
	const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
	const frame = useRef<HTMLDivElement>(null);
	const groups = useMemo(() => grouped(rows), [rows]);
	const drawn = useLong(groups.length, frame, 61);
	const sure = rows.filter((row) => row.certainty === "sure").length;
	const passages = rows.reduce((sum, row) => sum + row.passages, 0);
	const chosen = groups.filter((group) => ticked.has(group.key));
	const people = useMemo(() => {
		const hint = (row: Case) =>
			variables
				.slice(0, 3)
				.map((variable) => row.values[variable.id]?.text)
				.filter(Boolean)
				.join(", ");
		return cases.map((row): Option<number> => ({ value: row.id, label: row.identifier, hint: hint(row) }));
	}, [cases, variables]);
	const tick = (keys: string[], on: boolean) => {
		const next = new Set(ticked);
		for (const key of keys) on ? next.add(key) : next.delete(key);
		setTicked(next);
	};
	const become = (those: UnlinkedGroup[], whom: number) => {
		const speakers = those.flatMap((group) => group.rows.map((row) => row.speaker));
		const clear = {
			onSuccess: () =>
				tick(
					those.map((group) => group.key),
					false,
				),
		};
		if (whom === NOBODY) settle.mutate({ speakers, settled: "other" }, clear);
		else if (whom === INTERVIEWER) settle.mutate({ speakers, settled: "interviewer" }, clear);
		else if (whom === NEW_PERSON) settle.mutate({ speakers, settled: "new_case" }, clear);
		else settle.mutate({ speakers, settled: "case", case: whom }, clear);
	};
	const accept = (those: UnlinkedGroup[]) => {
		const links = those.flatMap((group) =>
			group.rows.flatMap((row) => (row.case === null ? [] : [{ speaker: row.speaker, case: row.case }])),
		);
		linkChosen.mutate(links, {
			onSuccess: () =>
				tick(
					those.map((group) => group.key),
					false,
				),
		});
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
		<section className="max-w-6xl rounded-lg border border-apricot-line bg-card" aria-label={say("Speakers without a link")}>
			<div className="flex flex-wrap items-center gap-3 rounded-t-lg bg-apricot-soft px-3.5 py-2">
				<b>
					{say("{speakers, plural, one {# speaker} other {# speakers}} without a {one}", { speakers: rows.length, one: project.case_one })}
				</b>
				{passages > 0 && (
					<span className="quiet-line">
						{say("their {passages, plural, one {# passage} other {# passages}} are in no comparison yet", { passages })}
					</span>
				)}
				{mayCode && sure > 0 && (
					<span className="ml-auto">
						<Button look="main" onClick={() => linkSure.mutate(undefined)}>
							{say("Accept the {sure} sure {sure, plural, one {one} other {ones}}", { sure })}
						</Button>
					</span>
				)}
			</div>
			{mayCode && (
				<Ticked
					groups={groups}
					chosen={chosen}
					onTick={tick}
					onAccept={accept}
					onNew={() => become(chosen, NEW_PERSON)}
					onInterviewer={() => become(chosen, INTERVIEWER)}
					onNobody={() => become(chosen, NOBODY)}
				>
					<Seek
						name={say("Who all that are ticked are")}
						placeholder={say("They are all …")}
						options={people}
						nothing={say("Nobody is called that.")}
						onChange={(whom) => become(chosen, whom)}
					/>
				</Ticked>
			)}
			<div ref={frame} className="max-h-[62vh] pane print:h-auto print:max-h-none flow:max-h-none">
				<table className="w-full">
					<thead className="sr-only">
						<tr>
							{mayCode && <th>{say("Tick")}</th>}
							<th>{say("Speaker")}</th>
							<th>{say("Whom this seems to be")}</th>
							<th>{say("Why")}</th>
							<th>{say("Who it is")}</th>
						</tr>
					</thead>
					<tbody>
						<tr style={{ height: drawn.before }} />
						{drawn.items.map(({ index }) => {
							const group = groups[index] as UnlinkedGroup;
							return (
								<LinkingRow
									key={group.key}
									place={index}
									measure={drawn.measure}
									group={group}
									people={people}
									ticked={ticked.has(group.key)}
									onTick={(on) => tick([group.key], on)}
									onAccept={() => accept([group])}
									onBecome={(whom) => become([group], whom)}
								/>
							);
						})}
						<tr style={{ height: drawn.after }} />
					</tbody>
				</table>
			</div>
		</section>
	);
}
