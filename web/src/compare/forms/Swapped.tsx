import { useProject } from "../../shell/project";
import { groupMark } from "../../ui/palette";
import { counted } from "../../ui/words";
import { inWords, largest, madeOf, short } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import type { Opened } from "../spec";
import type { Tint } from "../view";
import type { FormProps } from "./Opens";
import { rowsAt, tintOf } from "./Table";

/** The same table with groups as rows: for few codes and many groups. Tests belong to a code, so they stand in the other one. */
export function Swapped({ result, places, tint, opened, onOpen }: FormProps & { tint: Tint; opened: Opened | null }) {
	const { case_one, case_many } = useProject();
	const rows = rowsAt(result, places);
	const scale = largest(result);
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] overflow-auto rounded-b-lg border border-t-0 border-line bg-white">
			<table className="border-collapse">
				<thead className="sticky top-0 z-10 bg-white">
					<tr className="text-left align-bottom text-[13px]">
						<th className="sticky left-0 min-w-44 border-b border-line bg-white px-2 py-1.5">Group</th>
						{rows.map(({ row }) => (
							<th key={rowKey(row)} scope="col" className="max-w-36 min-w-[104px] border-b border-line px-2 py-1.5">
								<RowMark row={row} />
								{row.name}
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{result.groups.map((group, place) => (
						<tr key={group.name}>
							<th scope="row" className="sticky left-0 border-b border-line2 bg-white px-2 py-1 text-left">
								<span style={{ color: groupMark(group.mark).colour }}>
									{groupMark(group.mark).shape} {group.name}
								</span>
								<small className="block font-normal text-quiet">{counted(group.people, case_one, case_many)}</small>
							</th>
							{rows.map(({ row, place: at }) => {
								const cell = row.cells[place];
								if (!cell) return null;
								const words = `${row.name}, ${group.name}: ${inWords(result.measure, cell.figure)}`;
								return (
									<td
										key={rowKey(row)}
										className={`border-b border-line2 p-0 ${tintOf(cell, tint, scale)} ${opened?.row === at && opened.group === place ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
									>
										<button
											type="button"
											aria-label={`${words}. Open the passages`}
											title={words}
											className="block w-full px-2 py-2 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
											onClick={() => onOpen({ row: at, group: place, left_out: null })}
										>
											<b className="text-base font-semibold">{short(result.measure, cell.figure)}</b>
											<span className="ml-1 text-[11.8px] text-[#454d5b]">{madeOf(result.measure, cell.count, cell.base)}</span>
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
