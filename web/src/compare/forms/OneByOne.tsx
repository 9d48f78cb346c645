import { useProject } from "../../project/project";
import { Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { counted } from "../../ui/words";
import { usePersons } from "../data";
import { RowMark, rowKey } from "../RowMark";
import type { Question } from "../spec";
import { Drawn, type FormProps } from "./Opens";
import { rowsAt } from "./rows";

/** Yes or no for every person and row: who mentions what, group by group. */
export function OneByOne({ question, result, places, onOpen }: FormProps & { question: Question }) {
	const { case_one } = useProject();
	const found = usePersons(question);
	if (found.error) return <Problem error={found.error} />;
	if (!found.data) return <Loading what="everyone" />;
	const persons = found.data.persons.flatMap((person) => person.groups.map((group, at) => ({ person, group, at })));
	persons.sort((a, b) => a.group - b.group || a.person.identifier.localeCompare(b.person.identifier, "en", { numeric: true }));
	const rows = rowsAt(result, places);
	return (
		<Drawn>
			<p className="mb-2 text-[13px] text-quiet">
				Filled: the {case_one} mentions it in this group; the number, where it is more than one, is of passages.
			</p>
			<table className="border-collapse text-[12px]">
				<thead className="sticky top-0 z-10 bg-card">
					<tr>
						<td className="sticky left-0 bg-card" />
						{result.groups.map((group, place) => {
							const wide = persons.filter((one) => one.group === place).length;
							if (!wide) return null;
							return (
								<th
									key={group.name}
									colSpan={wide}
									scope="colgroup"
									className="border-l border-line px-1.5 pb-1 text-left text-[13px]"
									style={{ color: groupMark(group.mark).colour }}
								>
									{groupMark(group.mark).shape} {group.name}
								</th>
							);
						})}
					</tr>
					<tr>
						<td className="sticky left-0 bg-card" />
						{persons.map(({ person, group }, place) => (
							<th
								key={`${person.case}-${group}`}
								scope="col"
								className={`h-16 min-w-6 align-bottom font-normal text-quiet ${persons[place - 1]?.group === group ? "" : "border-l border-line"}`}
							>
								<span className="inline-block max-h-16 truncate [writing-mode:vertical-rl]">{person.identifier}</span>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{rows.map(({ row, place }) => (
						<tr key={rowKey(row)} className="border-t border-line2">
							<th scope="row" className="sticky left-0 bg-card py-0.5 pr-3 text-left text-[13.4px] font-medium whitespace-nowrap">
								<RowMark row={row} />
								{row.name}
							</th>
							{persons.map(({ person, group, at }, column) => {
								const times = person.counts[place]?.[at] ?? 0;
								return (
									<td
										key={`${person.case}-${group}`}
										className={`p-px ${persons[column - 1]?.group === group ? "" : "border-l border-line"}`}
									>
										<button
											type="button"
											aria-label={`${row.name}, ${person.identifier}: ${times ? counted(times, "passage") : "not mentioned"}. Open the group’s passages`}
											title={`${person.identifier}: ${times ? counted(times, "passage") : "not mentioned"}`}
											className="block size-[24px] rounded-sm text-[11px] leading-none text-on-spruce"
											style={{ background: times ? groupMark(result.groups[group]?.mark ?? 0).colour : "var(--color-track)" }}
											onClick={() => onOpen({ row: place, group, left_out: null })}
										>
											{times > 1 ? times : ""}
										</button>
									</td>
								);
							})}
						</tr>
					))}
				</tbody>
			</table>
		</Drawn>
	);
}
