import { Fragment, useMemo } from "react";
import { language, say } from "../../language/say";
import { useProject } from "../../project/project";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { Segments } from "../../ui/Segments";
import { useOneByOne } from "../data";
import { RowMark, rowKey } from "../RowMark";
import type { Question } from "../spec";
import type { Each } from "../view";
import { BranchHead, BranchTurn, useBranches } from "./Folding";
import { Drawn, type FormProps } from "./Opens";
import { rowsAt } from "./rows";

/** Documents that are named where nobody is linked. */
const NAMED = 8;

interface Props extends FormProps {
	question: Question;
	each: Each;
	onEach: (each: Each) => void;
	onAsk: (changes: Record<string, string | null>) => void;
}

/** Yes or no for every person (or document) and row: who mentions what, group by group. */
export function OneByOne({ question, result, places, each, onOpen, onEach, onAsk }: Props) {
	const { case_one, case_many } = useProject();
	const found = useOneByOne(question, each);
	const rows = useMemo(() => rowsAt(result, places), [result, places]);
	const branchAt = useBranches(question, rows);
	const fold = (codes: number[]) => onAsk({ codes: codes.join(".") });
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("everyone")} />;
	const { nobody } = found.data;
	const columns = found.data.each.flatMap((one) => one.groups.map((group, at) => ({ one, group, at })));
	columns.sort((a, b) => a.group - b.group || a.one.name.localeCompare(b.one.name, language(), { numeric: true }));
	return (
		<Drawn>
			<div className="mb-2 flex flex-wrap items-center gap-3 text-[13px] text-quiet">
				<span className="print:hidden">
					<Segments
						name={say("One by one")}
						value={each}
						options={[
							{ value: "people", label: say("Each {one}", { one: case_one }) },
							{ value: "documents", label: say("Each document") },
						]}
						onChange={onEach}
					/>
				</span>
				<p>
					{result.base === "asked" && each === "people" && say("A dash: they weren’t asked. ")}
					{each === "people"
						? say("Filled: the {one} mentions it in this group; the number, where it is more than one, is of passages.", { one: case_one })
						: say(
								"Filled: somebody of this group mentions it in the document; the number, where it is more than one, is of passages. A document stands in every group whose {many} speak in it.",
								{ many: case_many },
							)}
				</p>
			</div>
			<table className="border-collapse text-[12px]">
				<thead className="sticky top-0 z-10 bg-card">
					<tr>
						<td className="sticky left-0 bg-card" />
						{result.groups.map((group, place) => {
							const wide = columns.filter((one) => one.group === place).length;
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
						{columns.map(({ one, group }, place) => (
							<th
								key={`${one.id}-${group}`}
								scope="col"
								title={one.name}
								className={`h-16 min-w-6 align-bottom font-normal text-quiet ${columns[place - 1]?.group === group ? "" : "border-l border-line"}`}
							>
								<span className={`inline-block truncate [writing-mode:vertical-rl] ${each === "people" ? "max-h-16" : "max-h-32"}`}>
									{one.name}
								</span>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{rows.map(({ row, place }, down) => (
						<Fragment key={rowKey(row)}>
							<BranchHead branch={branchAt(down)} columns={columns.length + 1} onFold={fold} />
							<tr className="border-t border-line2">
								<th scope="row" className="sticky left-0 bg-card py-0.5 pr-3 text-left text-[13.4px] font-medium whitespace-nowrap">
									<BranchTurn branch={branchAt(down)} name={row.name} onFold={fold} />
									<RowMark row={row} />
									{row.name}
								</th>
								{columns.map(({ one, group, at }, column) => {
									const count = one.counts[place]?.[at];
									const times = count ?? 0;
									const which =
										count === null
											? say("not asked")
											: times
												? say("{passages, plural, one {# passage} other {# passages}}", { passages: times })
												: say("not mentioned");
									return (
										<td key={`${one.id}-${group}`} className={`p-px ${columns[column - 1]?.group === group ? "" : "border-l border-line"}`}>
											<button
												type="button"
												aria-label={say("{name}, {name2}: {which}. Open the group’s passages", {
													name: row.name,
													name2: one.name,
													which,
												})}
												title={`${one.name}: ${which}`}
												className="block size-[24px] rounded-sm text-[11px] leading-none text-on-spruce"
												style={{
													background: times
														? groupMark(result.groups[group]?.mark ?? 0).colour
														: count === null
															? "none"
															: "var(--color-track)",
												}}
												onClick={() => onOpen({ row: place, group, left_out: null })}
											>
												{count === null ? <span className="text-quiet">–</span> : times > 1 ? times : ""}
											</button>
										</td>
									);
								})}
							</tr>
						</Fragment>
					))}
				</tbody>
			</table>
			{nobody.length > 0 && (
				<p className="mt-2 max-w-3xl text-[13px] text-quiet">
					{say("Nobody linked in {documents, plural, one {# document} other {# documents}}, so in no group: {nobody}", {
						documents: nobody.length,
						nobody: nobody.slice(0, NAMED).join(", "),
					})}
					{nobody.length > NAMED && say(" and {nobody} more", { nobody: nobody.length - NAMED })}.
				</p>
			)}
		</Drawn>
	);
}
