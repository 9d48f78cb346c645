import { Link } from "react-router";
import { say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import type { Option } from "../ui/Choice";
import { Seek } from "../ui/Seek";
import { INTERVIEWER, NEW_PERSON, NOBODY, type UnlinkedGroup } from "./unlinked";

const CERTAINTIES = { sure: say("sure"), likely: say("likely"), possible: say("possible") } as const;
const DOCUMENTS_SHOWN = 2;

/** One name, or one speaker: in which documents, whom it seems to be and why, and the way to say who it is. */
export function LinkingRow({
	group,
	people,
	place,
	measure,
	ticked,
	onTick,
	onAccept,
	onBecome,
}: {
	group: UnlinkedGroup;
	people: Option<number>[];
	place: number;
	measure: ((element: HTMLElement | null) => void) | undefined;
	ticked: boolean;
	onTick: (on: boolean) => void;
	onAccept: () => void;
	onBecome: (whom: number) => void;
}) {
	const { case_one } = useProject();
	const mayCode = useMayCode();
	const { rows, label, proposed } = group;
	const titles = rows.map((row) => row.title);
	const where =
		rows.length === 1
			? say("{label} in {title}", { label, title: titles[0] })
			: say("{label} in {documents, plural, one {# document} other {# documents}}", { label, documents: rows.length });
	const reasons = [...new Set(rows.map((row) => row.reason))];
	const conflict = rows.some((row) => row.conflict);
	return (
		<tr ref={measure} data-index={place} className="border-t border-line2">
			{mayCode && (
				<td className="w-8 pl-3.5">
					<input
						type="checkbox"
						className="accent-spruce"
						aria-label={say("Tick {where}", { where })}
						checked={ticked}
						onChange={(event) => onTick(event.target.checked)}
					/>
				</td>
			)}
			<td className="max-w-72 px-2 py-2" title={titles.join("\n")}>
				<b>{label}</b> <span className="text-quiet">{say("in ")}</span>
				{rows.slice(0, DOCUMENTS_SHOWN).map((row, at) => (
					<span key={row.speaker}>
						{at > 0 && ", "}
						<Link className="text-spruce underline" to={`../code/${row.document}`}>
							{row.title}
						</Link>
					</span>
				))}
				{rows.length > DOCUMENTS_SHOWN && (
					<span className="text-quiet"> {say("and {more} more", { more: rows.length - DOCUMENTS_SHOWN })}</span>
				)}
				<span className="block quiet-line">
					{say("{passages, plural, one {# passage} other {# passages}}", { passages: group.passages })}
				</span>
			</td>
			<td className="px-2 whitespace-nowrap">
				{proposed?.case_name ? (
					<>
						→ <b>{proposed.case_name}</b>
						{proposed.certainty && <Certain certainty={proposed.certainty} />}
					</>
				) : (
					<span className="text-quiet">→ ?</span>
				)}
			</td>
			<td className={`px-2 ${conflict ? "text-apricot-deep" : "text-quiet"}`}>
				{conflict ? say("Conflict: {reason}", { reason: reasons[0] }) : reasons[0]}
				{reasons.length > 1 && <span className="block quiet-line">{say("not the same in all documents")}</span>}
			</td>
			<td className="w-72 px-3.5">
				{mayCode && (
					<span className="flex items-center justify-end gap-2">
						{proposed && proposed.case !== null && <Button onClick={onAccept}>{say("Accept")}</Button>}
						<Seek
							name={say("Who {where} is", { where })}
							placeholder={say("Somebody else …")}
							className="w-40"
							options={people}
							always={[
								{ value: NEW_PERSON, label: say("A new {one}: {label}", { one: case_one, label }) },
								{ value: INTERVIEWER, label: say("An interviewer") },
								{ value: NOBODY, label: say("Nobody in particular"), hint: say("kept, counted for nobody") },
							]}
							nothing={say("Nobody is called that.")}
							onChange={onBecome}
						/>
					</span>
				)}
			</td>
		</tr>
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
