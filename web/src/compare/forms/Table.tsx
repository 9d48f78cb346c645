import { Term } from "../../help/Term";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { groupMark } from "../../ui/palette";
import { Room } from "../../ui/Room";
import { useStable } from "../../ui/stable";
import type { Comparison } from "../data";
import { inBase, largest } from "../figures";
import type { RowStanding } from "../marks";
import { rowKey } from "../RowMark";
import type { Opened } from "../spec";
import type { Tint } from "../view";
import { useInView } from "./inView";
import { Pair } from "./Pair";
import { begins, rowsAt, sizeOf } from "./rows";
import { GapScale } from "./Sure";
import { TableRow } from "./TableRow";

interface Props {
	result: Comparison;
	places: number[];
	tint: Tint;
	opened: Opened | null;
	/** Whether a note is written on a cell. */
	noted?: (place: number, group: number | null) => boolean;
	marks?: Map<number, RowStanding> | undefined;
	onOpen: (number: Opened) => void;
	onPair: (pair: [string, string]) => void;
}

/** Widths of a large table's columns, of which only those in view are drawn. */
const WIDE = { name: 250, group: 124, everyone: 120, size: 184, test: 116 };

/** Rows × groups: the share large, its count and base small, an interval beneath, and a tint for above or below expected. */
export function Table({ result, places, tint, opened, noted, marks, onOpen, onPair }: Props) {
	const { case_one, case_many } = useProject();
	const testing = result.rows.some((row) => row.test.kind !== "none");
	const scale = largest(result);
	const size = sizeOf(result);
	const rows = rowsAt(result, places);
	const view = useInView(rows.length, result.groups.length, { row: 39, column: WIDE.group });
	const { from, to, before, after } = view.columns;
	const open = useStable(onOpen);
	const shown = result.groups.slice(from, to);
	const width = shown.length + 2 + Number(before > 0) + Number(after > 0) + Number(size !== null) + Number(testing);
	const whole = WIDE.name + WIDE.group * result.groups.length + WIDE.everyone + (size ? WIDE.size : 0) + (testing ? WIDE.test : 0);
	const notesOn = (place: number) => (noted ? result.groups.flatMap((_, group) => (noted(place, group) ? [group] : [])).join(" ") : "");
	const onIn = (place: number) => {
		if (opened?.row !== place || opened.left_out !== null) return null;
		return opened.group ?? "all";
	};
	return (
		<div
			ref={view.frame}
			data-in-view={view.large || undefined}
			className={`max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card ${view.large ? "h-[max(240px,calc(100vh-310px))] [contain:strict] print:h-auto print:[contain:none]" : ""}`}
		>
			<table
				className={view.large ? "table-fixed border-separate border-spacing-0" : "w-full border-collapse"}
				style={view.large ? { width: whole } : undefined}
			>
				{view.large && (
					<colgroup>
						<col style={{ width: WIDE.name }} />
						{before > 0 && <col style={{ width: before }} />}
						{shown.map((group) => (
							<col key={group.name} style={{ width: WIDE.group }} />
						))}
						{after > 0 && <col style={{ width: after }} />}
						<col style={{ width: WIDE.everyone }} />
						{size && <col style={{ width: WIDE.size }} />}
						{testing && <col style={{ width: WIDE.test }} />}
					</colgroup>
				)}
				<thead className="sticky top-0 z-20 bg-card">
					{result.outer.length > 0 && (
						<Outer result={result} from={from} to={to} before={before > 0} more={width - shown.length - 1 - Number(before > 0)} />
					)}
					<tr className="text-left align-bottom text-[13px] [&>th]:border-b [&>th]:border-line [&>th]:px-2 [&>th]:py-1.5 [&>th]:font-semibold">
						<th className="sticky left-0 z-10 min-w-44 bg-card">{say("Code")}</th>
						{before > 0 && <td className="border-b border-line" />}
						{shown.map((group, at) => {
							const mark = groupMark(group.mark);
							return (
								<th key={group.name} className={`min-w-[104px] ${begins(result, from + at)}`}>
									<span style={{ color: mark.colour }} className={view.large ? "block truncate" : ""} title={group.name}>
										<span aria-hidden="true">{mark.shape}</span> <span className="sr-only">{group.outer}</span> {group.label}
									</span>
									<small className="block text-[11.8px] font-normal text-quiet">
										{group.hidden ? say("few {many}", { many: case_many }) : inBase(result, group.people, case_one, case_many)}
										{!result.guarded &&
											` · ${result.measure === "rate" ? say("{words, plural, one {# word} other {# words}}", { words: group.words }) : say("{passages, plural, one {# passage} other {# passages}}", { passages: group.passages })}`}
									</small>
								</th>
							);
						})}
						{after > 0 && <td className="border-b border-line" />}
						<th className="min-w-24">
							{phrase("Everyone<small>{everyone}</small>", {
								small: (inner) => <small className="block text-[11.8px] font-normal text-quiet">{inner}</small>,
								everyone: inBase(result, result.everyone, case_one, case_many),
							})}
						</th>
						{size && <th className="w-[176px]">{SIZES[size](result, onPair)}</th>}
						{testing && (
							<th className="min-w-24">
								{result.rows.some((row) => row.test.effect !== null) ? <Term of="effect">{say("V")}</Term> : say("Test")}
								<small className="block text-[11.8px] font-normal text-quiet">
									{say("p, Holm over {tests_made}", { tests_made: result.tests_made })}
								</small>
							</th>
						)}
					</tr>
				</thead>
				<tbody>
					<Room high={view.rows.before} width={width} />
					{rows.slice(view.rows.from, view.rows.to).map(({ row, place }) => (
						<TableRow
							key={rowKey(row)}
							result={result}
							row={row}
							place={place}
							from={from}
							to={to}
							before={before > 0}
							after={after > 0}
							on={onIn(place)}
							notes={notesOn(place)}
							standing={marks?.get(place)}
							tint={tint}
							scale={scale}
							size={size}
							testing={testing}
							onOpen={open}
						/>
					))}
					<Room high={view.rows.after} width={width} />
				</tbody>
			</table>
		</div>
	);
}

const SIZES = {
	gap: (result: Comparison, onPair: Props["onPair"]) => (
		<>
			<Pair result={result} onPair={onPair} />
			<GapScale />
		</>
	),
	layers: (result: Comparison) => (
		<>
			{phrase("Common odds ratio<small>{label} over {label2}, within layers</small>", {
				small: (inner) => <small className="block text-[11.8px] font-normal text-quiet">{inner}</small>,
				label: result.groups[result.layer_pair?.[0] ?? 1]?.label,
				label2: result.groups[result.layer_pair?.[1] ?? 0]?.label,
			})}
		</>
	),
	changes: (result: Comparison) => (
		<>
			{phrase("Who changed<small>+ only in {label}, − only in {label2}</small>", {
				small: (inner) => <small className="block text-[11.8px] font-normal text-quiet">{inner}</small>,
				label: result.groups[1]?.label,
				label2: result.groups[0]?.label,
			})}
		</>
	),
};

/** The outer groups, or layers, over the groups within them, as far as those are drawn. */
function Outer({ result, from, to, before, more }: { result: Comparison; from: number; to: number; before: boolean; more: number }) {
	const runs: { name: string; wide: number }[] = [];
	for (const group of result.groups.slice(from, to)) {
		const last = runs.at(-1);
		if (last?.name === group.outer) last.wide++;
		else runs.push({ name: group.outer, wide: 1 });
	}
	return (
		<tr className="text-left text-[13px]">
			<th className="sticky left-0 z-10 bg-card" />
			{before && <td />}
			{runs.map((run) => (
				<th key={run.name} colSpan={run.wide} scope="colgroup" className="border-l border-line bg-paper2 px-2 py-1 font-semibold">
					{run.name}
				</th>
			))}
			<th colSpan={more} className="border-l border-line" />
		</tr>
	);
}
