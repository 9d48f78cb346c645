import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { groupMark } from "../../ui/palette";
import { Room } from "../../ui/Room";
import type { Cell } from "../data";
import { apartOf, cellInWords, inBase, largest, madeOf, short } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import type { Opened } from "../spec";
import type { Tint } from "../view";
import { useInView } from "./inView";
import type { FormProps } from "./Opens";
import { rowsAt, tintOf } from "./rows";

const WIDE = { name: 220, row: 130 };

/** The same table with groups as rows: for few codes and many groups. Tests belong to a code, so they stand in the other one. */
export function Swapped({ result, places, tint, opened, onOpen }: FormProps & { tint: Tint; opened: Opened | null }) {
	const { case_one, case_many } = useProject();
	const rows = rowsAt(result, places);
	const scale = largest(result);
	const view = useInView(result.groups.length, rows.length, { row: 44, column: WIDE.row });
	const { from, to, before, after } = view.columns;
	const shown = rows.slice(from, to);
	const width = shown.length + 1 + Number(before > 0) + Number(after > 0);
	return (
		<div
			ref={view.frame}
			data-in-view={view.large || undefined}
			className={`max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card ${view.large ? "h-[max(240px,calc(100vh-310px))] [contain:strict] print:h-auto print:[contain:none]" : ""}`}
		>
			<table
				className={view.large ? "table-fixed border-separate border-spacing-0" : "border-collapse"}
				style={view.large ? { width: WIDE.name + WIDE.row * rows.length } : undefined}
			>
				{view.large && (
					<colgroup>
						<col style={{ width: WIDE.name }} />
						{before > 0 && <col style={{ width: before }} />}
						{shown.map(({ row }) => (
							<col key={rowKey(row)} style={{ width: WIDE.row }} />
						))}
						{after > 0 && <col style={{ width: after }} />}
					</colgroup>
				)}
				<thead className="sticky top-0 z-10 bg-card">
					<tr className="text-left align-bottom text-[13px]">
						<th className="sticky left-0 min-w-44 border-b border-line bg-card px-2 py-1.5">{say("Group")}</th>
						{before > 0 && <td className="border-b border-line" />}
						{shown.map(({ row }) => (
							<th key={rowKey(row)} scope="col" className="max-w-36 min-w-[104px] border-b border-line px-2 py-1.5">
								<RowMark row={row} />
								{row.name}
							</th>
						))}
						{after > 0 && <td className="border-b border-line" />}
					</tr>
				</thead>
				<tbody>
					<Room high={view.rows.before} width={width} />
					{result.groups.slice(view.rows.from, view.rows.to).map((group, below) => {
						const place = view.rows.from + below;
						return (
							<tr key={group.name} className="h-[44px]">
								<th scope="row" className="sticky left-0 border-b border-line2 bg-card px-2 py-0.5 text-left">
									<span style={{ color: groupMark(group.mark).colour }}>
										{groupMark(group.mark).shape} {group.name}
									</span>
									<small className="block font-normal text-quiet">{inBase(result, group.people, case_one, case_many)}</small>
								</th>
								{before > 0 && <td />}
								{shown.map(({ row, place: at }) => (
									<SwappedCell
										key={rowKey(row)}
										result={result}
										at={at}
										place={place}
										look={`${tintOf(row.cells[place] as Cell, row, tint, scale)} ${opened?.row === at && opened.group === place ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
										onOpen={onOpen}
									/>
								))}
								{after > 0 && <td />}
							</tr>
						);
					})}
					<Room high={view.rows.after} width={width} />
				</tbody>
			</table>
		</div>
	);
}

interface CellProps extends Pick<FormProps, "result" | "onOpen"> {
	at: number;
	place: number;
	look: string;
}

function SwappedCell({ result, at, place, look, onOpen }: CellProps) {
	const row = result.rows[at];
	const cell = row?.cells[place];
	if (!row || !cell) return <td />;
	const words = `${row.name}, ${result.groups[place]?.name}: ${cellInWords(result.figures, cell)}`;
	return (
		<td {...apartOf(result.figures, cell)} className={`border-b border-line2 p-0 ${look}`}>
			<button
				type="button"
				aria-label={say("{words}. Open the passages", { words })}
				title={words}
				className="block h-[43px] w-full px-2 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
				onClick={() => onOpen({ row: at, group: place, left_out: null })}
			>
				<b className="text-base font-semibold">{short(result.figures, cell.figure)}</b>{" "}
				<span className="ml-0.5 text-[11.8px] text-ink-soft">{madeOf(result.figures, cell.count, cell.base)}</span>
			</button>
		</td>
	);
}
