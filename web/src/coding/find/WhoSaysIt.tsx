import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { counted } from "../../ui/words";
import type { Found } from "../overview";

/** How many hits there are, by whom and by group; a person’s own are one click away. */
export function WhoSaysIt({
	found,
	variable,
	onVariable,
	person,
	onPerson,
}: {
	found: Found;
	variable: number | null;
	onVariable: (variable: number | null) => void;
	person: string | null;
	onPerson: (person: string | null) => void;
}) {
	const project = useProject();
	const variables = (useRoster().data?.variables ?? []).filter((one) => one.kind !== "text" && one.kind !== "date");
	const linked = found.people.filter((one) => one.case !== null);
	return (
		<aside aria-label={say("Who says it")} className="pane pb-4 text-[13.4px]">
			<p className="mb-1 font-semibold">
				{say("{hits, plural, one {# hit} other {# hits}} by {linked} in {documents, plural, one {# document} other {# documents}}", {
					hits: found.total,
					linked: counted(linked.length, project.case_one, project.case_many),
					documents: found.documents,
				})}
			</p>
			<Choice
				name={say("By group")}
				as="small"
				value={variable}
				options={[
					{ value: null as number | null, label: say("by group …") },
					...variables.map((one) => ({ value: one.id as number | null, label: say("by {name}", { name: one.name }) })),
				]}
				onChange={onVariable}
			/>
			{found.groups.length > 0 && (
				<ul aria-label={say("Hits by group")} className="mb-2 border-b border-line2 pb-1.5">
					{found.groups.map((group) => (
						<li key={group.name} className="flex items-baseline gap-2 px-1.5">
							<span className="min-w-0 truncate">{group.name}</span>
							<span className="ml-auto text-xs whitespace-nowrap text-quiet">
								{say("{people} of {group}, {hits, plural, one {# hit} other {# hits}}", {
									people: group.people,
									group: group.size,
									hits: group.hits,
								})}
							</span>
						</li>
					))}
				</ul>
			)}
			<button
				type="button"
				aria-pressed={person === null}
				className={`block w-full rounded px-1.5 py-0.5 text-left ${person === null ? "bg-spruce-soft font-semibold" : "hover:bg-paper2"}`}
				onClick={() => onPerson(null)}
			>
				{say("Everybody")}
			</button>
			{found.people.map((one) => (
				<button
					key={String(one.case)}
					type="button"
					aria-pressed={person === String(one.case)}
					title={one.facts.map((fact) => `${fact.variable}: ${fact.text}`).join("\n")}
					className={`flex w-full items-baseline gap-2 rounded px-1.5 py-0.5 text-left ${person === String(one.case) ? "bg-spruce-soft font-semibold" : "hover:bg-paper2"}`}
					onClick={() => onPerson(String(one.case))}
				>
					<span>{one.identifier || say("nobody linked")}</span>
					<span className="min-w-0 truncate text-xs text-quiet">{one.facts[0]?.text}</span>
					<span className="ml-auto text-xs text-quiet">{one.count}</span>
				</button>
			))}
		</aside>
	);
}
