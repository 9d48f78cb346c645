import { scaleLinear } from "d3-scale";
import type { Shape } from "../../api/client";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { apart } from "../../ui/copying";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { useWidth } from "../../ui/width";
import { counted, decimal, number, pValue } from "../../ui/words";
import { useSpread } from "../data";
import { RowMark, rowKey } from "../RowMark";
import type { Question } from "../spec";
import { Drawn, type FormProps } from "./Opens";
import { rowsAt } from "./rows";

/** What stands beside the dots: names, medians, tests. */
const BESIDE = 480;
const DAY = 86_400_000;

interface Props extends FormProps {
	question: Question;
	number: number | null;
	onNumber: (variable: number) => void;
}

/** Of a number: how it lies among those who mention a row, and among those who don't. */
export function Spread({ question, result, places, number, onNumber, onOpen }: Props) {
	const { case_one, case_many } = useProject();
	const numbers = (useRoster().data?.variables ?? []).filter((one) => one.kind === "number" || one.kind === "date");
	const chosen = numbers.some((one) => one.id === number) ? number : (numbers[0]?.id ?? null);
	const found = useSpread(question, chosen);
	if (numbers.length === 0)
		return (
			<Drawn>
				{say("This form needs a number or a date about {many}, such as their age. None is in the project yet.", { many: case_many })}
			</Drawn>
		);
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the numbers")} />;
	return (
		<Drawn>
			<p className="mb-2 flex flex-wrap items-center gap-1 text-[13px] text-quiet">
				{say("A dot a {one}, {people}, by", { one: case_one, people: counted(found.data.people, case_one, case_many) })}
				<Choice
					as="small"
					name={say("Number")}
					value={chosen ?? 0}
					options={numbers.map((one) => ({ value: one.id, label: one.name }))}
					onChange={onNumber}
				/>
				{say("The line runs from the lower to the upper quarter, the stroke stands at the median.")}
				{found.data.unknown > 0 && say(" {unknown} without this number are left out.", { unknown: found.data.unknown })}
				{found.data.exact
					? say(
							" Tested by Mann–Whitney, exactly; r is the rank-biserial correlation, above 0 where those who mention it have the higher numbers.",
						)
					: say(" Tested by Mann–Whitney; r is the rank-biserial correlation, above 0 where those who mention it have the higher numbers.")}
			</p>
			<Strips data={found.data} result={result} places={places} onOpen={onOpen} />
		</Drawn>
	);
}

/** Two lines of dots for every row, on one scale. */
function Strips({ data, result, places, onOpen }: FormProps & { data: Shape<"SpreadOut"> }) {
	const [measured, whole] = useWidth();
	const wide = Math.min(Math.max(whole - BESIDE, 300), 780);
	const every = data.rows.flatMap((row) => [...row.mention.values, ...row.silent.values]);
	const [low, high] = [Math.min(...every), Math.max(...every)];
	const at = scaleLinear([low, high > low ? high : low + 1], [14, wide - 14]);
	return (
		<>
			<div ref={measured} />
			<table className="border-collapse text-[13px]">
				<thead className="sticky top-0 z-10 bg-card">
					<tr className="text-left">
						<td />
						<td />
						<td className="pb-1">
							<svg width={wide} height={14} className="text-[11.5px]" aria-hidden="true">
								{(high > low ? at.ticks(data.of_days ? 5 : 8) : [low].filter(Number.isFinite)).map((tick) => (
									<text key={tick} x={at(tick)} y={11} textAnchor="middle" fill="var(--color-quiet)">
										{data.of_days ? dayIn(tick) : number(tick)}
									</text>
								))}
							</svg>
						</td>
						<th className="px-3 pb-1">{say("Median")}</th>
						<th className="px-3 pb-1">
							r <small className="font-normal text-quiet">{say("p, Holm")}</small>
						</th>
					</tr>
				</thead>
				<tbody>
					{rowsAt(result, places).map(({ row, place }) => {
						const spread = data.rows[place];
						if (!spread) return null;
						return (["mention", "silent"] as const).map((which) => (
							<tr key={`${rowKey(row)}-${which}`} className={which === "mention" ? "border-t border-line2" : ""}>
								{which === "mention" && (
									<th rowSpan={2} scope="rowgroup" className="pr-4 text-left font-medium">
										<button type="button" className="hover:underline" onClick={() => onOpen({ row: place, group: null, left_out: null })}>
											<RowMark row={row} />
											{row.name}
										</button>
									</th>
								)}
								<td className="pr-2 text-right text-[12px] text-quiet">
									{which === "mention"
										? say("mention it · {values}", { values: spread[which].values.length })
										: say("don’t · {values}", { values: spread[which].values.length })}
								</td>
								<td>
									<Strip
										values={spread[which]}
										at={at}
										wide={wide}
										colour={which === "mention" ? "var(--color-spruce)" : "var(--color-rest)"}
									/>
								</td>
								<td className="px-3 text-right">{inWords(spread[which].median, data.of_days)}</td>
								{which === "mention" && (
									<td
										{...apart([
											["r", spread.effect],
											["p", spread.p],
											[say("p, Holm"), spread.holm],
										])}
										rowSpan={2}
										className="px-3 whitespace-nowrap"
									>
										<b>{spread.effect === null ? "–" : decimal(spread.effect, 2).replace("-", "−")}</b>{" "}
										<span className="text-quiet">
											{pValue(spread.p)}, {pValue(spread.holm)}
										</span>
									</td>
								)}
							</tr>
						));
					})}
				</tbody>
			</table>
		</>
	);
}

/** A day by its number since 1970. */
function dayIn(days: number): string {
	return new Date(Math.round(days) * DAY).toISOString().slice(0, 10);
}

function inWords(median: number | null, ofDays: boolean): string {
	if (median === null) return "–";
	return ofDays ? dayIn(median) : String(median);
}

interface Five {
	values: number[];
	median: number | null;
	low: number | null;
	high: number | null;
}

function Strip({ values, at, wide, colour }: { values: Five; at: (value: number) => number; wide: number; colour: string }) {
	const seen = new Map<number, number>();
	return (
		<svg width={wide} height={24} aria-hidden="true">
			{values.values.map((value) => {
				const again = seen.get(value) ?? 0;
				seen.set(value, again + 1);
				return <circle key={`${value}-${again}`} cx={at(value)} cy={12 - Math.min(again, 3) * 3} r={3} fill={colour} fillOpacity={0.55} />;
			})}
			{values.low !== null && values.high !== null && (
				<path d={`M${at(values.low)},19 H${at(values.high)}`} stroke={colour} strokeWidth={2} />
			)}
			{values.median !== null && <path d={`M${at(values.median)},4 V22`} stroke={colour} strokeWidth={2} />}
		</svg>
	);
}
