import { scaleLinear } from "d3-scale";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import type { Comparison, Row } from "../data";
import { pairKey, type RowStanding } from "../marks";
import { RowMark, rowKey } from "../RowMark";
import type { Opened } from "../spec";
import { Pair } from "./Pair";
import { DOT_FILL, DOT_LINE, gapInWords, type PairStanding, sizeApart } from "./Sure";

const WIDE = 620;
const X = scaleLinear([-1, 1], [14, WIDE - 14]);
const TICKS = X.ticks(10);

/** One difference a row, with its interval: filled where it is sure, ringed in orange where it is worth a look; either end opens its group. */
export function Gaps({
	result,
	places,
	marks,
	onOpen,
	onPair,
	onPeople,
}: {
	result: Comparison;
	places: number[];
	marks?: Map<number, RowStanding> | undefined;
	onOpen: (number: Opened) => void;
	onPair: (pair: [string, string]) => void;
	/** Count people, as a share of each group’s. */
	onPeople: () => void;
}) {
	const { case_many } = useProject();
	const [first, second] = result.difference ?? [];
	const one = first === undefined ? undefined : result.groups[first]?.name;
	const other = second === undefined ? undefined : result.groups[second]?.name;
	if (one === undefined || other === undefined || first === undefined || second === undefined)
		return (
			<p className="rounded-b-lg border border-t-0 border-line bg-card p-6 text-quiet">
				{say("Gaps show the difference between two groups of different {many}, as a share who mention a code.", { many: case_many })}{" "}
				{result.measure === "people" ? (
					<span className="mt-2 block font-semibold text-ink">
						<Pair result={result} onPair={onPair} />
					</span>
				) : (
					<Button className="mt-3 block" onClick={onPeople}>
						{say("Count {many}", { many: case_many })}
					</Button>
				)}
			</p>
		);
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card px-4 pb-3">
			<table className="w-full border-collapse">
				<caption className="sr-only">
					{say("Share of {one} minus share of {other}, in points, with 95 % intervals", { one, other })}
				</caption>
				<thead className="sticky top-0 z-10 bg-card">
					<tr className="text-left align-bottom text-[13px] font-semibold">
						<th className="py-1.5">{say("Code")}</th>
						<th className="py-1.5" style={{ width: WIDE }}>
							<span className="flex justify-between px-3">
								<span>{say("◂ more of {other}", { other })}</span>
								<span>{say("more of {one} ▸", { one })}</span>
							</span>
							<Scale />
						</th>
						<th className="py-1.5 pl-3">
							{phrase("Points<small>95 % interval</small>", {
								small: (inner) => <small className="block font-normal text-quiet">{inner}</small>,
							})}
						</th>
					</tr>
				</thead>
				<tbody>
					{places.map((place) => {
						const row = result.rows[place];
						return (
							row && (
								<Line
									key={rowKey(row)}
									row={row}
									standing={marks?.get(place)?.pairs.get(pairKey(first, second))}
									onOpen={(higher) => onOpen({ row: place, group: higher ? first : second, left_out: null })}
								/>
							)
						);
					})}
				</tbody>
			</table>
		</div>
	);
}

function Line({ row, standing, onOpen }: { row: Row; standing: PairStanding; onOpen: (higher: boolean) => void }) {
	const gap = row.difference;
	const points = (value: number) =>
		Math.round(value * 100)
			.toString()
			.replace("-", "−");
	const known = gap && gap.difference !== null && gap.low !== null && gap.high !== null;
	return (
		<tr className="[&>*]:border-t [&>*]:border-line2">
			<th scope="row" className="py-1 pr-3 text-left font-medium">
				<RowMark row={row} />
				{row.name}
			</th>
			<td style={{ width: WIDE }}>
				{known && (
					<button
						type="button"
						className="block hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
						aria-label={say("{name}: {gapInWords}. Open the passages of the higher group", { name: row.name, gapInWords: gapInWords(gap) })}
						title={gapInWords(gap)}
						onClick={() => onOpen((gap.difference ?? 0) >= 0)}
					>
						<Whisker gap={{ difference: gap.difference ?? 0, low: gap.low ?? 0, high: gap.high ?? 0 }} standing={standing} />
					</button>
				)}
			</td>
			<td {...sizeApart("gap", row)} className="pl-3 whitespace-nowrap tabular-nums">
				{known ? (
					<>
						<b>{points(gap.difference ?? 0)}</b>{" "}
						<span className="text-[12.6px] text-quiet">
							{say("{points} to {points2}", { points: points(gap.low ?? 0), points2: points(gap.high ?? 0) })}
						</span>
						{standing && (
							<small className={`ml-2 font-semibold ${standing === "sure" ? "text-spruce" : "text-apricot-deep"}`}>
								{standing === "sure" ? say("sure") : say("a look")}
							</small>
						)}
					</>
				) : (
					<span className="quiet-line">{say("no base")}</span>
				)}
			</td>
		</tr>
	);
}

function Whisker({ gap, standing }: { gap: { difference: number; low: number; high: number }; standing: PairStanding }) {
	return (
		<svg width={WIDE} height="26" aria-hidden="true" className="block">
			{TICKS.map((tick) => (
				<line key={tick} x1={X(tick)} x2={X(tick)} y1="0" y2="26" stroke={tick === 0 ? "var(--color-tick)" : "var(--color-track)"} />
			))}
			<line x1={X(gap.low)} x2={X(gap.high)} y1="13" y2="13" stroke="var(--color-ink)" strokeWidth="1.6" />
			<circle cx={X(gap.difference)} cy="13" r="5" fill={DOT_FILL(standing)} stroke={DOT_LINE(standing)} strokeWidth="1.8" />
		</svg>
	);
}

function Scale() {
	return (
		<svg width={WIDE} height="15" aria-hidden="true" className="block">
			<g fontSize="11" fill="var(--color-quiet)" textAnchor="middle">
				{TICKS.map((tick) => (
					<text key={tick} x={X(tick)} y="12">
						{`${Math.round(tick * 100)}`.replace("-", "−")}
					</text>
				))}
			</g>
		</svg>
	);
}
