import { memo } from "react";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { groupMark } from "../../ui/palette";
import { counted, decimal, percent } from "../../ui/words";
import type { Cell, Comparison, Row } from "../data";
import { apartOf, cellInWords, type Figures, fixed, madeOf, short } from "../figures";
import { edge, pairKey, type RowStanding } from "../marks";
import { RowMark } from "../RowMark";
import type { Opened } from "../spec";
import type { Tint } from "../view";
import { begins, type Size, tintOf } from "./rows";
import { Changes, Gap, sizeApart, Test, WithinLayers } from "./Sure";

interface Props {
	result: Comparison;
	row: Row;
	place: number;
	/** The columns drawn, and whether there are others on either side. */
	from: number;
	to: number;
	before: boolean;
	after: boolean;
	/** The group whose cell of this row is open, "all" for everyone’s; null where none is. */
	on: number | "all" | null;
	/** Which cells have a note: places of groups, in words so that an equal list is the same. */
	notes: string;
	standing?: RowStanding | undefined;
	tint: Tint;
	scale: number;
	size: Size;
	testing: boolean;
	onOpen: (number: Opened) => void;
}

/** One row of the table, drawn again only when something of its own changes. */
export const TableRow = memo(function TableRow(props: Props) {
	const { result, row, place, from, to, before, after, on, standing, tint, scale, size, testing, onOpen } = props;
	const { case_one, case_many } = useProject();
	const noted = new Set(props.notes ? props.notes.split(" ") : []);
	return (
		<tr className="h-[39px] [&>td]:border-b [&>td]:border-line2 [&>th]:border-b [&>th]:border-line2">
			<th
				scope="row"
				className={`sticky left-0 z-10 bg-card px-2 text-left font-medium ${edge(standing?.standing)}`}
				title={standing?.words}
			>
				<span className="flex items-center">
					<RowMark row={row} />
					<span className="min-w-0 truncate" title={row.name}>
						{row.name}
					</span>
					{standing && <Standing standing={standing} />}
				</span>
			</th>
			{before && <td />}
			{row.cells.slice(from, to).map((cell, at) => {
				const group = from + at;
				const of = result.groups[group];
				return (
					<Figure
						key={of?.name}
						cell={cell}
						row={row}
						group={of?.name ?? ""}
						colour={groupMark(of?.mark ?? 0).colour}
						look={`${begins(result, group)} ${tintOf(cell, row, tint, scale)}`}
						scale={scale}
						figures={result.figures}
						on={on === group}
						noted={noted.has(String(group))}
						onOpen={() => onOpen({ row: place, group, left_out: null })}
					/>
				);
			})}
			{after && <td />}
			<td {...apartOf(result.figures, row.total)} className={`px-2 ${on === "all" ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}>
				<button
					type="button"
					className="text-left"
					aria-label={say("{name}, everyone: {inWords}; open the passages", {
						name: row.name,
						inWords: cellInWords(result.figures, row.total),
					})}
					title={totalTitle(row, case_one, case_many)}
					onClick={() => onOpen({ row: place, group: null, left_out: null })}
				>
					<b>{short(result.figures, row.total.figure)}</b>{" "}
					<span className="ml-0.5 text-[11.8px] text-ink-soft">{madeOf(result.figures, row.total.count, row.total.base)}</span>
				</button>
			</td>
			{size && (
				<td {...sizeApart(size, row)} className="px-2">
					{size === "gap" ? (
						<Gap row={row} standing={pairOf(result, standing)} />
					) : size === "layers" ? (
						<WithinLayers row={row} />
					) : (
						<Changes row={row} />
					)}
				</td>
			)}
			{testing && <Test row={row} />}
		</tr>
	);
});

/** The word for a row's edge: never by colour alone. */
function Standing({ standing }: { standing: RowStanding }) {
	const sure = standing.standing === "sure";
	return (
		<small className={`ml-auto shrink-0 pl-1.5 text-[11px] font-semibold whitespace-nowrap ${sure ? "text-spruce" : "text-apricot-deep"}`}>
			{sure
				? phrase("sure<span>: {words}</span>", { span: (inner) => <span className="sr-only">{inner}</span>, words: standing.words })
				: phrase("a look<span>: {words}</span>", { span: (inner) => <span className="sr-only">{inner}</span>, words: standing.words })}
		</small>
	);
}

/** The standing of the difference that the column shows. */
function pairOf(result: Comparison, standing: RowStanding | undefined) {
	const [one, other] = result.difference ?? [];
	return one === undefined || other === undefined ? undefined : standing?.pairs.get(pairKey(one, other));
}

function Figure({
	cell,
	row,
	group,
	colour,
	look,
	scale,
	figures,
	on,
	noted,
	onOpen,
}: {
	cell: Cell;
	row: Row;
	group: string;
	colour: string;
	look: string;
	scale: number;
	figures: Figures;
	on: boolean;
	noted: boolean;
	onOpen: () => void;
}) {
	const { case_one, case_many } = useProject();
	const share = cell.figure ?? 0;
	const at = (value: number) => `${Math.min(100, (100 * value) / scale)}%`;
	const plain = figures.share;
	const talkative = figures.amount && cell.passages >= 5 && cell.most > cell.passages / 2;
	const alone = say("▴{most} by {most_by}", { most: cell.most, most_by: cell.most_by });
	const lines = [
		`${row.name}, ${group}: ${cellInWords(figures, cell)}${talkative ? ` ${alone}` : ""}`,
		`${counted(cell.people, case_one, case_many)}, ${say("{passages, plural, one {# passage} other {# passages}}", { passages: cell.passages })}${cell.most_by ? say("; most by one: {most} ({most_by})", { most: cell.most, most_by: cell.most_by }) : ""}`,
		cell.low !== null && cell.high !== null
			? plain
				? say("95 % interval {low} to {high} %", { low: percent(cell.low), high: percent(cell.high) })
				: say("95 % interval {fixed} to {fixed2}", { fixed: fixed(cell.low), fixed2: fixed(cell.high) })
			: "",
		cell.median !== null ? say("median {median}", { median: cell.median }) : "",
		cell.deviation !== null ? say("standard deviation {deviation}", { deviation: decimal(cell.deviation, 2) }) : "",
		cell.residual !== null ? say("adjusted residual {residual}", { residual: decimal(cell.residual, 2) }) : "",
	].filter(Boolean);
	return (
		<td {...apartOf(figures, cell)} className={`relative p-0 ${look} ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}>
			<button
				type="button"
				className="block h-[38px] w-full px-2 pb-1.5 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
				title={lines.join("\n")}
				aria-label={say("{lines}. Open the passages", { lines: lines.join("; ") })}
				onClick={onOpen}
			>
				{noted && (
					<span
						className="absolute top-0 right-0 border-t-[9px] border-l-[9px] border-t-apricot-deep border-l-transparent"
						title={say("A note is written here")}
					>
						<span className="sr-only">{say("with a note")}</span>
					</span>
				)}
				<span className="text-base font-semibold">{short(figures, cell.figure)}</span>{" "}
				<span className="ml-0.5 text-[11.8px] text-ink-soft">{madeOf(figures, cell.count, cell.base)}</span>
				{talkative && (
					<>
						{" "}
						<span
							className="ml-0.5 text-[11.8px] font-semibold text-apricot-deep"
							title={say("{most} of {passages} are {most_by}’s", { most: cell.most, passages: cell.passages, most_by: cell.most_by })}
						>
							{alone}
						</span>
					</>
				)}
			</button>
			<span className="pointer-events-none absolute right-2 bottom-1 left-2 h-[3px] rounded-sm bg-track" aria-hidden="true">
				<i className="absolute inset-y-0 left-0 rounded-sm" style={{ width: at(share), background: colour }} />
				{cell.low !== null && cell.high !== null && (
					<u className="absolute top-px h-px bg-ink/65" style={{ left: at(cell.low), width: `calc(${at(cell.high)} - ${at(cell.low)})` }} />
				)}
			</span>
		</td>
	);
}

function totalTitle(row: Row, one: string, many: string): string {
	return `${counted(row.total.people, one, many)}, ${say("{passages, plural, one {# passage} other {# passages}}", { passages: row.total.passages })}${row.total.most_by ? say("; most by one: {most} ({most_by})", { most: row.total.most, most_by: row.total.most_by }) : ""}`;
}
