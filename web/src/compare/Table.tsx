import { useProject } from "../shell/project";
import { Choice } from "../ui/Choice";
import { codeColour, groupMark } from "../ui/palette";
import { counted, percent, pValue } from "../ui/words";
import type { Cell, Comparison, Row } from "./data";
import type { Opened } from "./spec";

interface Props {
	result: Comparison;
	opened: Opened | null;
	onOpen: (number: Opened) => void;
	onPair: (pair: [string, string]) => void;
}

/** Rows × groups: the share large, its count and base small, an interval beneath, and a tint for above or below expected. */
export function Table({ result, opened, onOpen, onPair }: Props) {
	const project = useProject();
	const rate = result.measure === "rate";
	const testing = result.rows.some((row) => row.test.kind !== "none");
	const scale = Math.max(0.01, ...result.rows.flatMap((row) => row.cells.map((cell) => (rate ? (cell.high ?? cell.figure ?? 0) : 1))));
	return (
		<div className="max-h-[calc(100vh-310px)] min-h-60 overflow-auto rounded-b-lg border border-t-0 border-line bg-white">
			<table className="w-full border-collapse">
				<thead className="sticky top-0 z-20 bg-white">
					<tr className="text-left align-bottom text-[13px] [&>th]:border-b [&>th]:border-line [&>th]:px-2 [&>th]:py-1.5 [&>th]:font-semibold">
						<th className="sticky left-0 z-10 min-w-44 bg-white">Code</th>
						{result.groups.map((group) => {
							const mark = groupMark(result.all_groups.indexOf(group.name));
							return (
								<th key={group.name} className="min-w-[104px]">
									<span style={{ color: mark.colour }}>
										<span aria-hidden="true">{mark.shape}</span> {group.name}
									</span>
									<small className="block text-[11.8px] font-normal text-quiet">
										{counted(group.people, project.case_one, project.case_many)} ·{" "}
										{rate ? counted(group.words, "word") : counted(group.passages, "passage")}
									</small>
								</th>
							);
						})}
						<th className="min-w-24">
							Everyone
							<small className="block text-[11.8px] font-normal text-quiet">
								{counted(
									result.groups.reduce((sum, group) => sum + group.people, 0),
									project.case_one,
									project.case_many,
								)}
							</small>
						</th>
						{result.groups.length > 1 && result.measure === "people" && (
							<th className="w-[176px]">
								<Pair result={result} onPair={onPair} />
								<GapScale />
							</th>
						)}
						{testing && (
							<th className="min-w-24">
								{result.measure === "people" ? "Size V" : "Test"}
								<small className="block text-[11.8px] font-normal text-quiet">p, Holm over {result.tests_made}</small>
							</th>
						)}
					</tr>
				</thead>
				<tbody>
					{result.rows.map((row, place) => (
						<tr key={row.code} className="h-[39px] [&>td]:border-b [&>td]:border-line2 [&>th]:border-b [&>th]:border-line2">
							<th scope="row" className="sticky left-0 z-10 bg-white px-2 text-left font-medium">
								<span className="mr-1.5 inline-block size-2.5 rounded-[3px]" style={{ background: codeColour(row.colour) }} />
								{row.name}
							</th>
							{row.cells.map((cell, group) => (
								<Figure
									key={result.groups[group]?.name}
									cell={cell}
									row={row}
									group={result.groups[group]?.name ?? ""}
									colour={groupMark(result.all_groups.indexOf(result.groups[group]?.name ?? "")).colour}
									rate={rate}
									scale={scale}
									measure={result.measure}
									on={opened?.row === place && opened.group === group}
									onOpen={() => onOpen({ row: place, group, left_out: null })}
								/>
							))}
							<td
								className={`px-2 ${opened?.row === place && opened.group === null && opened.left_out === null ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
							>
								<button
									type="button"
									className="text-left"
									aria-label={`${row.name}, everyone: ${said(row.total.figure, rate)}; open the passages`}
									title={totalTitle(row, project.case_many)}
									onClick={() => onOpen({ row: place, group: null, left_out: null })}
								>
									<b>{rate ? fixed(row.total.figure) : percent(row.total.figure)}</b>
									<span className="ml-1 text-[11.8px] text-[#454d5b]">
										{rate
											? counted(row.total.passages, "passage")
											: `${result.measure === "people" ? row.total.people : row.total.passages} of ${row.total.base}`}
									</span>
								</button>
							</td>
							{result.groups.length > 1 && result.measure === "people" && (
								<td className="px-2">
									<Gap row={row} />
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
	rate,
	scale,
	measure,
	on,
	onOpen,
}: {
	cell: Cell;
	row: Row;
	group: string;
	colour: string;
	rate: boolean;
	scale: number;
	measure: Comparison["measure"];
	on: boolean;
	onOpen: () => void;
}) {
	const { case_many } = useProject();
	const share = cell.figure ?? 0;
	const at = (value: number) => `${Math.min(100, (100 * value) / (rate ? scale : 1))}%`;
	const lines = [
		`${row.name}, ${group}: ${said(cell.figure, rate)}`,
		`${cell.people} ${case_many}, ${counted(cell.passages, "passage")}${cell.most_by ? `; most by one: ${cell.most} (${cell.most_by})` : ""}`,
		cell.low !== null && cell.high !== null
			? `95 % interval ${rate ? `${fixed(cell.low)} to ${fixed(cell.high)}` : `${percent(cell.low)} to ${percent(cell.high)} %`}`
			: "",
		cell.residual !== null ? `adjusted residual ${cell.residual.toFixed(2)}` : "",
	].filter(Boolean);
	const talkative = measure !== "people" && cell.passages >= 5 && cell.most > cell.passages / 2;
	return (
		<td className={`relative p-0 ${tint(cell.residual)} ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}>
			<button
				type="button"
				className="block h-[38px] w-full px-2 pb-1.5 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
				title={lines.join("\n")}
				aria-label={`${lines.join("; ")}. Open the passages`}
				onClick={onOpen}
			>
				<span className="text-base font-semibold">{rate ? fixed(cell.figure) : percent(cell.figure)}</span>
				<span className="ml-1 text-[11.8px] text-[#454d5b]">{rate ? counted(cell.count, "passage") : `${cell.count} of ${cell.base}`}</span>
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

/** Plum below what would be expected, moss above; the residual itself stands in the title. */
function tint(residual: number | null): string {
	if (residual === null) return "";
	if (residual <= -2) return "bg-[#EBD6E6]";
	if (residual <= -1) return "bg-[#F6ECF3]";
	if (residual >= 2) return "bg-[#D9E8C8]";
	return residual >= 1 ? "bg-[#EDF3E4]" : "";
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

const X = (value: number) => 80 + value * 72;

function GapScale() {
	return (
		<svg width="160" height="13" aria-hidden="true" className="block">
			<g fontSize="10.5" fill="#5D6675" textAnchor="middle">
				<text x={X(-0.8)} y="10">
					−80
				</text>
				<text x={X(-0.4)} y="10">
					−40
				</text>
				<text x={X(0)} y="10">
					0
				</text>
				<text x={X(0.4)} y="10">
					40
				</text>
				<text x={X(0.8)} y="10">
					80
				</text>
			</g>
		</svg>
	);
}

/** The difference with its interval; filled where the interval leaves zero out. */
function Gap({ row }: { row: Row }) {
	const gap = row.difference;
	if (!gap || gap.difference === null || gap.low === null || gap.high === null) return <span className="quiet-line">–</span>;
	const clear = gap.low > 0 || gap.high < 0;
	const points = (value: number) => Math.round(value * 100);
	const ratio = gap.odds_ratio === null ? "" : `; odds ratio ${gap.odds_ratio.toFixed(2)}`;
	const risk = gap.relative_risk === null ? "" : `; relative risk ${gap.relative_risk.toFixed(2)}`;
	const words = `${points(gap.difference)} points (95 % interval ${points(gap.low)} to ${points(gap.high)})${ratio}${risk}`;
	return (
		<svg width="160" height="22" role="img" aria-label={words}>
			<title>{words}</title>
			<line x1={X(0)} x2={X(0)} y1="0" y2="22" stroke="#d9d2c3" />
			<line x1={X(gap.low)} x2={X(gap.high)} y1="11" y2="11" stroke="#1D2433" strokeWidth="1.4" />
			<circle cx={X(gap.difference)} cy="11" r="4.5" fill={clear ? "#14555A" : "#fff"} stroke="#14555A" strokeWidth="1.6" />
		</svg>
	);
}

const TESTS: Record<Row["test"]["kind"], string> = {
	chi_square: "Pearson’s chi-square",
	exact: "Fisher–Freeman–Halton, exact",
	exact_simulated: "Fisher–Freeman–Halton, simulated",
	permutation: "groups dealt out anew 10,000 times",
	none: "no test: everybody or nobody mentions it",
};

function Test({ row }: { row: Row }) {
	const { test } = row;
	const lines = [
		TESTS[test.kind],
		test.statistic !== null ? `chi-square ${test.statistic.toFixed(2)}` : "",
		test.p !== null ? `p ${pValue(test.p)} by itself${test.error ? ` (± ${test.error.toFixed(4)} from simulation)` : ""}` : "",
		test.holm !== null ? `p ${pValue(test.holm)} corrected by Holm, ${pValue(test.benjamini_hochberg)} by Benjamini–Hochberg` : "",
	].filter(Boolean);
	return (
		<td className="px-2 text-xs whitespace-nowrap text-quiet" title={lines.join("\n")}>
			<span className="sr-only">{lines.join("; ")}</span>
			<span aria-hidden="true">
				{test.effect !== null && <b className="mr-2 text-ink">{test.effect.toFixed(2).replace(/^0/, "")}</b>}
				{pValue(test.holm)}
			</span>
		</td>
	);
}

export function fixed(rate: number | null): string {
	return rate === null ? "–" : rate.toFixed(rate < 10 ? 2 : 1);
}

function said(figure: number | null, rate: boolean): string {
	if (figure === null) return "no base";
	return rate ? `${fixed(figure)} passages per 1,000 words` : `${percent(figure)} %`;
}

function totalTitle(row: Row, many: string): string {
	return `${row.total.people} ${many}, ${counted(row.total.passages, "passage")}${row.total.most_by ? `; most by one: ${row.total.most} (${row.total.most_by})` : ""}`;
}
