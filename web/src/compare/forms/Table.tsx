import { useProject } from "../../shell/project";
import { Choice } from "../../ui/Choice";
import { groupMark } from "../../ui/palette";
import { counted, percent } from "../../ui/words";
import type { Cell, Comparison, Row } from "../data";
import { fixed, inWords, isShare, largest, madeOf, short } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import type { Opened } from "../spec";
import type { Tint } from "../view";
import { Changes, Gap, GapScale, Test, WithinLayers } from "./Sure";

interface Props {
	result: Comparison;
	places: number[];
	tint: Tint;
	opened: Opened | null;
	/** Whether a note is written on a cell. */
	noted?: (place: number, group: number | null) => boolean;
	onOpen: (number: Opened) => void;
	onPair: (pair: [string, string]) => void;
}

/** Rows × groups: the share large, its count and base small, an interval beneath, and a tint for above or below expected. */
export function Table({ result, places, tint, opened, noted, onOpen, onPair }: Props) {
	const project = useProject();
	const testing = result.rows.some((row) => row.test.kind !== "none");
	const scale = largest(result);
	const size = sizeOf(result);
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] overflow-auto rounded-b-lg border border-t-0 border-line bg-white">
			<table className="w-full border-collapse">
				<thead className="sticky top-0 z-20 bg-white">
					{result.outer.length > 0 && <Outer result={result} more={1 + (size ? 1 : 0) + (testing ? 1 : 0)} />}
					<tr className="text-left align-bottom text-[13px] [&>th]:border-b [&>th]:border-line [&>th]:px-2 [&>th]:py-1.5 [&>th]:font-semibold">
						<th className="sticky left-0 z-10 min-w-44 bg-white">Code</th>
						{result.groups.map((group, place) => {
							const mark = groupMark(group.mark);
							return (
								<th key={group.name} className={`min-w-[104px] ${begins(result, place)}`}>
									<span style={{ color: mark.colour }}>
										<span aria-hidden="true">{mark.shape}</span> <span className="sr-only">{group.outer}</span> {group.label}
									</span>
									<small className="block text-[11.8px] font-normal text-quiet">
										{counted(group.people, project.case_one, project.case_many)} ·{" "}
										{result.measure === "rate" ? counted(group.words, "word") : counted(group.passages, "passage")}
									</small>
								</th>
							);
						})}
						<th className="min-w-24">
							Everyone
							<small className="block text-[11.8px] font-normal text-quiet">
								{counted(result.everyone, project.case_one, project.case_many)}
							</small>
						</th>
						{size && <th className="w-[176px]">{SIZES[size](result, onPair)}</th>}
						{testing && (
							<th className="min-w-24">
								{result.rows.some((row) => row.test.effect !== null) ? "Size V" : "Test"}
								<small className="block text-[11.8px] font-normal text-quiet">p, Holm over {result.tests_made}</small>
							</th>
						)}
					</tr>
				</thead>
				<tbody>
					{rowsAt(result, places).map(({ row, place }) => (
						<tr key={rowKey(row)} className="h-[39px] [&>td]:border-b [&>td]:border-line2 [&>th]:border-b [&>th]:border-line2">
							<th scope="row" className="sticky left-0 z-10 bg-white px-2 text-left font-medium">
								<RowMark row={row} />
								{row.name}
							</th>
							{row.cells.map((cell, group) => (
								<Figure
									key={result.groups[group]?.name}
									cell={cell}
									row={row}
									group={result.groups[group]?.name ?? ""}
									colour={groupMark(result.groups[group]?.mark ?? 0).colour}
									look={`${begins(result, group)} ${tintOf(cell, tint, scale)}`}
									scale={scale}
									measure={result.measure}
									on={opened?.row === place && opened.group === group}
									noted={noted?.(place, group) ?? false}
									onOpen={() => onOpen({ row: place, group, left_out: null })}
								/>
							))}
							<td
								className={`px-2 ${opened?.row === place && opened.group === null && opened.left_out === null ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
							>
								<button
									type="button"
									className="text-left"
									aria-label={`${row.name}, everyone: ${inWords(result.measure, row.total.figure)}; open the passages`}
									title={totalTitle(row, project.case_many)}
									onClick={() => onOpen({ row: place, group: null, left_out: null })}
								>
									<b>{short(result.measure, row.total.figure)}</b>
									<span className="ml-1 text-[11.8px] text-[#454d5b]">{madeOf(result.measure, row.total.count, row.total.base)}</span>
								</button>
							</td>
							{size && (
								<td className="px-2">
									{size === "gap" ? <Gap row={row} /> : size === "layers" ? <WithinLayers row={row} /> : <Changes row={row} />}
								</td>
							)}
							{testing && <Test row={row} />}
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}

function Figure({
	cell,
	row,
	group,
	colour,
	look,
	scale,
	measure,
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
	measure: Comparison["measure"];
	on: boolean;
	noted: boolean;
	onOpen: () => void;
}) {
	const { case_many } = useProject();
	const share = cell.figure ?? 0;
	const at = (value: number) => `${Math.min(100, (100 * value) / scale)}%`;
	const plain = isShare(measure);
	const lines = [
		`${row.name}, ${group}: ${inWords(measure, cell.figure)}`,
		`${cell.people} ${case_many}, ${counted(cell.passages, "passage")}${cell.most_by ? `; most by one: ${cell.most} (${cell.most_by})` : ""}`,
		cell.low !== null && cell.high !== null
			? `95 % interval ${plain ? `${percent(cell.low)} to ${percent(cell.high)} %` : `${fixed(cell.low)} to ${fixed(cell.high)}`}`
			: "",
		cell.median !== null ? `median ${cell.median}` : "",
		cell.deviation !== null ? `standard deviation ${cell.deviation.toFixed(2)}` : "",
		cell.residual !== null ? `adjusted residual ${cell.residual.toFixed(2)}` : "",
	].filter(Boolean);
	const talkative = measure !== "people" && measure !== "rating" && cell.passages >= 5 && cell.most > cell.passages / 2;
	return (
		<td className={`relative p-0 ${look} ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}>
			<button
				type="button"
				className="block h-[38px] w-full px-2 pb-1.5 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
				title={lines.join("\n")}
				aria-label={`${lines.join("; ")}. Open the passages`}
				onClick={onOpen}
			>
				{noted && (
					<span
						className="absolute top-0 right-0 border-t-[9px] border-l-[9px] border-t-apricot-deep border-l-transparent"
						title="A note is written here"
					>
						<span className="sr-only">with a note</span>
					</span>
				)}
				<span className="text-base font-semibold">{short(measure, cell.figure)}</span>
				<span className="ml-1 text-[11.8px] text-[#454d5b]">{madeOf(measure, cell.count, cell.base)}</span>
				{talkative && (
					<span
						className="ml-1 text-[11.8px] font-semibold text-apricot-deep"
						title={`${cell.most} of ${cell.passages} are ${cell.most_by}’s`}
					>
						▴{cell.most} by {cell.most_by}
					</span>
				)}
			</button>
			<span className="pointer-events-none absolute right-2 bottom-1 left-2 h-[3px] rounded-sm bg-[#EEE9DE]" aria-hidden="true">
				<i className="absolute inset-y-0 left-0 rounded-sm" style={{ width: at(share), background: colour }} />
				{cell.low !== null && cell.high !== null && (
					<u className="absolute top-px h-px bg-ink/65" style={{ left: at(cell.low), width: `calc(${at(cell.high)} - ${at(cell.low)})` }} />
				)}
			</span>
		</td>
	);
}

const AMOUNTS = ["", "bg-[#E8F0EF]", "bg-[#D3E3E2]", "bg-[#B9D2D1]", "bg-[#9DBFBE]"];

/** Plum below what would be expected, moss above (the residual itself stands in the title); or one hue by size. */
export function tintOf(cell: Cell, tint: Tint, scale: number): string {
	if (tint === "none") return "";
	if (tint === "share") return AMOUNTS[Math.min(4, Math.floor((5 * (cell.figure ?? 0)) / scale))] ?? "";
	const { residual } = cell;
	if (residual === null) return "";
	if (residual <= -2) return "bg-[#EBD6E6]";
	if (residual <= -1) return "bg-[#F6ECF3]";
	if (residual >= 2) return "bg-[#D9E8C8]";
	return residual >= 1 ? "bg-[#EDF3E4]" : "";
}

export function rowsAt(result: Comparison, places: number[]): { row: Row; place: number }[] {
	return places.flatMap((place) => {
		const row = result.rows[place];
		return row ? [{ row, place }] : [];
	});
}

/** What the column of differences holds: a difference of shares, an odds ratio over layers, or who changed. */
function sizeOf(result: Comparison): "gap" | "layers" | "changes" | null {
	if (result.measure !== "people" || result.groups.length < 2) return null;
	if (result.rows.some((row) => row.layers)) return "layers";
	if (result.rows.some((row) => row.changes)) return "changes";
	return result.shared_people > 0 || result.layered ? null : "gap";
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
			Common odds ratio
			<small className="block text-[11.8px] font-normal text-quiet">
				{result.groups[result.layer_pair?.[0] ?? 1]?.label} over {result.groups[result.layer_pair?.[1] ?? 0]?.label}, within layers
			</small>
		</>
	),
	changes: (result: Comparison) => (
		<>
			Who changed
			<small className="block text-[11.8px] font-normal text-quiet">
				+ only in {result.groups[1]?.label}, − only in {result.groups[0]?.label}
			</small>
		</>
	),
};

/** A line at the left of the first group of each outer one. */
function begins(result: Comparison, place: number): string {
	return result.outer.length > 0 && result.groups[place]?.outer !== result.groups[place - 1]?.outer ? "border-l border-l-line" : "";
}

/** The outer groups, or layers, over the groups within them. */
function Outer({ result, more }: { result: Comparison; more: number }) {
	const wide = result.groups.length / Math.max(result.outer.length, 1);
	return (
		<tr className="text-left text-[13px]">
			<th className="sticky left-0 z-10 bg-white" />
			{result.outer.map((name) => (
				<th key={name} colSpan={wide} scope="colgroup" className="border-l border-line bg-paper2 px-2 py-1 font-semibold">
					{name}
				</th>
			))}
			<th colSpan={more} className="border-l border-line" />
		</tr>
	);
}

function Pair({ result, onPair }: { result: Comparison; onPair: (pair: [string, string]) => void }) {
	const names = result.groups.map((group) => group.name);
	const options = names.flatMap((first) =>
		names.filter((second) => second !== first).map((second) => ({ value: `${first}\u0000${second}`, label: `${first} − ${second}` })),
	);
	const now = result.difference?.map((place) => names[place]).join("\u0000") ?? "";
	if (options.length > 90) return <>Difference</>;
	return (
		<span className="-ml-1 flex flex-wrap items-center">
			<Choice
				as="small"
				name="Difference between"
				value={now}
				shown={now ? now.replace("\u0000", " − ") : "Choose a difference"}
				options={options}
				onChange={(pair) => onPair(pair.split("\u0000") as [string, string])}
			/>
			{now && <span className="font-normal text-quiet">points</span>}
		</span>
	);
}

function totalTitle(row: Row, many: string): string {
	return `${row.total.people} ${many}, ${counted(row.total.passages, "passage")}${row.total.most_by ? `; most by one: ${row.total.most} (${row.total.most_by})` : ""}`;
}
