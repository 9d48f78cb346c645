import type { Shape } from "../../api/client";
import { say } from "../../language/say";
import { decimal, underOne } from "../../ui/words";
import { RowMark } from "../RowMark";
import type { Cell, Together } from "./cell";

interface GridProps {
	data: Together;
	table: Shape<"MeetTable">;
	shown: "counts" | "likeness";
	group: number | null;
	opened: Cell | null;
	onOpen: (cell: Cell) => void;
}

const AMOUNTS = ["", "bg-amount-1", "bg-amount-2", "bg-amount-3", "bg-amount-4"];

/** Codes as rows and columns; every number opens the passages that meet. */
export function Grid({ data, table, shown, group, opened, onOpen }: GridProps) {
	const related = new Set(data.lineage.flatMap(([a, b]) => [`${a}-${b}`, `${b}-${a}`]));
	const off = (row: number, column: number) => row !== column && !related.has(`${row}-${column}`);
	const most = Math.max(1, ...table.counts.flatMap((line, row) => line.filter((_, column) => off(row, column))));
	// Names stand upright over their columns: as high as the longest, within reason.
	const high = Math.min(230, 20 + 6.6 * Math.max(...data.codes.map((code) => code.name.length)));
	return (
		<div className="max-h-[max(300px,calc(100vh-300px))] w-fit max-w-full pane rounded-lg border border-line bg-card">
			<table className="border-collapse text-[13px]">
				<thead className="sticky top-0 z-10 bg-card">
					<tr className="align-bottom">
						<td className="sticky left-0 z-20 min-w-40 bg-card" />
						{data.codes.map((code) => (
							<th key={code.id} scope="col" className="border-b border-line px-1 pb-1 font-medium">
								<span
									title={code.name}
									className="inline-block truncate text-left [writing-mode:vertical-rl] rotate-180"
									style={{ height: high }}
								>
									{code.name}
								</span>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{data.codes.map((code, row) => (
						<tr key={code.id}>
							<th scope="row" className="sticky left-0 bg-card px-2 py-1 text-left font-medium whitespace-nowrap">
								<RowMark row={code} />
								{code.name}
							</th>
							{data.codes.map((other, column) => {
								const count = table.counts[row]?.[column] ?? 0;
								const like = table.likeness[row]?.[column] ?? null;
								const words = say("{name} with {name2}: {count}, likeness {which}", {
									name: code.name,
									name2: other.name,
									count,
									which: like === null ? say("none") : decimal(like, 2),
								});
								if (related.has(`${row}-${column}`))
									return (
										<td key={other.id} className="border border-line2 text-center text-quiet" title={say("One lies beneath the other")}>
											–
										</td>
									);
								const tint =
									row === column
										? "bg-paper2"
										: (AMOUNTS[Math.min(4, Math.ceil(4 * (shown === "counts" ? count / most : (like ?? 0)) || 0))] ?? "");
								const on = opened?.row === row && opened.column === column && opened.group === group;
								return (
									<td
										key={other.id}
										className={`border border-line2 p-0 ${tint} ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
									>
										<button
											type="button"
											title={words}
											aria-label={say("{words}. Open the passages", { words })}
											className={`h-8 w-10 ${row === column ? "text-quiet" : count ? "font-semibold" : "text-absent"} hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]`}
											onClick={() => onOpen({ row, column, group })}
										>
											{shown === "counts" ? count || "·" : like === null ? "–" : underOne(like, 2)}
										</button>
									</td>
								);
							})}
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}
