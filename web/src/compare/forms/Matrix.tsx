import { Fragment, useMemo } from "react";
import { ringPiece } from "../../charts/shapes";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { groupMark } from "../../ui/palette";
import type { Cell } from "../data";
import { apartOf, inWords, madeOf, short } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import type { Question } from "../spec";
import { SCALES, type Scaled } from "../view";
import { BranchHead, BranchTurn, useBranches } from "./Folding";
import { Drawn, type FormProps } from "./Opens";
import { rowsAt } from "./rows";

interface Props extends FormProps {
	question: Question;
	onAsk: (changes: Record<string, string | null>) => void;
	scaled: Scaled;
	onScaled: (scaled: Scaled) => void;
	/** Whether the figure stands beside its dial. */
	figures: boolean;
}

const ACROSS = ["cases", "documents"] as const;
/** What rests on the groups there were. */
const AGAIN = { groups: null, cuts: null, cohorts: null, difference: null, second: null, within: null };

/** A dial in every cell, filled as far as its figure reaches of the largest in the table, in its row or in its group. */
export function Matrix({ question, result, places, scaled, figures, onScaled, onOpen, onAsk }: Props) {
	const { case_one } = useProject();
	const rows = useMemo(() => rowsAt(result, places), [result, places]);
	const branchAt = useBranches(question, rows);
	const fold = (codes: number[]) => onAsk({ codes: codes.join(".") });
	const figure = (cell: Cell | undefined) => cell?.figure ?? 0;
	const every = Math.max(0, ...rows.flatMap(({ row }) => row.cells.map(figure)));
	const largest = (row: (typeof rows)[number]["row"], group: number) => {
		if (scaled === "row") return Math.max(0, ...row.cells.map(figure));
		return scaled === "column" ? Math.max(0, ...rows.map((one) => figure(one.row.cells[group]))) : every;
	};
	return (
		<Drawn>
			<p className="mb-2 text-[13px] text-quiet">
				{phrase("<part></part>A full dial is the largest figure in", {
					part: () => (
						<span className="print:hidden">
							{say("A column for")}
							<Choice
								as="small"
								name={say("A column for")}
								value={ACROSS.find((one) => one === question.columns) ?? "groups"}
								options={[
									{ value: "groups", label: say("each group") },
									{ value: "cases", label: say("each {one}", { one: case_one }) },
									{ value: "documents", label: say("each document") },
								]}
								onChange={(value) => onAsk({ ...AGAIN, variable: value === "groups" ? null : value })}
							/>
						</span>
					),
				})}
				<Choice
					as="small"
					name={say("Dials are scaled within")}
					value={scaled}
					options={(Object.keys(SCALES) as Scaled[]).map((value) => ({ value, label: SCALES[value] }))}
					onChange={onScaled}
				/>
				{scaled === "all"
					? say("({short}): dials can be compared everywhere.", { short: short(result.figures, every) })
					: scaled === "row"
						? say(": compare along a row only.")
						: say(": compare down a group only.")}
			</p>
			<table className="border-collapse">
				<thead className="sticky top-0 bg-card">
					<tr>
						<td />
						{result.groups.map((group) => (
							<th key={group.name} scope="col" className="px-3 pb-1 text-left text-[13px]" style={{ color: groupMark(group.mark).colour }}>
								<span className="inline-block max-w-44">
									{groupMark(group.mark).shape} {group.name}
								</span>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{rows.map(({ row, place }, down) => (
						<Fragment key={rowKey(row)}>
							<BranchHead branch={branchAt(down)} columns={result.groups.length + 1} onFold={fold} />
							<tr className="border-t border-line2">
								<th scope="row" className="sticky left-0 z-[1] min-w-44 bg-card py-1 pr-4 text-left font-medium">
									<BranchTurn branch={branchAt(down)} name={row.name} onFold={fold} />
									<RowMark row={row} />
									{row.name}
								</th>
								{row.cells.map((cell, group) => {
									const name = result.groups[group]?.name ?? "";
									const words = `${row.name}, ${name}: ${inWords(result.figures, cell.figure)}, ${madeOf(result.figures, cell.count, cell.base)}`;
									const top = largest(row, group);
									return (
										<td key={name} {...apartOf(result.figures, cell)} className="px-2 py-1">
											<button
												type="button"
												title={words}
												aria-label={say("{words}. Open the passages", { words })}
												className="flex items-center gap-2 rounded-md px-1.5 py-0.5 hover:bg-paper2"
												onClick={() => onOpen({ row: place, group, left_out: null })}
											>
												{cell.figure === null ? (
													<span className="text-[12.4px] whitespace-nowrap text-quiet">{emptied(question)}</span>
												) : (
													<>
														<Dial part={top > 0 ? figure(cell) / top : 0} colour={groupMark(result.groups[group]?.mark ?? 0).colour} />
														{figures && (
															<span className="w-8 text-left font-semibold" aria-hidden="true">
																{short(result.figures, cell.figure)}
															</span>
														)}
													</>
												)}
											</button>
										</td>
									);
								})}
							</tr>
						</Fragment>
					))}
				</tbody>
			</table>
		</Drawn>
	);
}

/** Why there is no figure: a column without anybody. */
const emptied = ({ columns }: Question) => (columns === "documents" ? say("nobody linked") : say("nobody"));

function Dial({ part, colour }: { part: number; colour: string }) {
	return (
		<svg width={30} height={30} aria-hidden="true">
			<circle cx={15} cy={15} r={13} fill="var(--color-paper)" stroke="var(--color-edge)" />
			{part > 0 && (
				<path d={ringPiece(0, 12, 0, 2 * Math.PI * Math.min(part, 1))} transform="translate(15 15)" fill={colour} fillOpacity={0.8} />
			)}
		</svg>
	);
}
