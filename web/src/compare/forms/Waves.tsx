import { scaleLinear } from "d3-scale";
import { straight } from "../../charts/shapes";
import { say } from "../../language/say";
import { useAddressed } from "../../project/address";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { codeColour, groupMark } from "../../ui/palette";
import { useWidth } from "../../ui/width";
import { counted } from "../../ui/words";
import { useOneByOne } from "../data";
import { inWords, largest, madeOf, short } from "../figures";
import type { Question } from "../spec";
import { apart } from "./apart";
import { Drawn, type FormProps, opens } from "./Opens";
import { rowsAt } from "./rows";

const HIGH = 300;
const LEFT = 50;
const NAMES = 250;
/** Pixels from one name to the next. */
const BETWEEN = 15;
/** Colours of codes, each far from those before it. */
const FAR = [0, 6, 11, 3, 9, 1, 5, 13, 15, 7, 2, 12, 4, 10, 14, 8];
const DASHES = [undefined, "7 4", "2 4"];

/** Groups in their order as points of time: a line for every row, and for one of them a line for every person. */
export function Waves({ question, result, places, onOpen }: FormProps & { question: Question }) {
	const rows = rowsAt(result, places);
	// Codes of one branch often share its colour: then each line gets one of its own, and where hues come near each other, a dash.
	const own = rows.map(({ row }) => row.colour);
	const alone = new Set(own).size === own.length;
	const hues = rows.map(({ row }, at) => codeColour(alone && row.colour !== null ? row.colour : (FAR[at % FAR.length] ?? 0)));
	const [line, setLine] = useAddressed("line", "");
	const chosen = line === "" ? null : Number(line);
	const setChosen = (place: number | null) => setLine(place === null ? "" : String(place));
	const { case_one, case_many } = useProject();
	const [measured, wide] = useWidth();
	const top = largest(result);
	const right = Math.min(Math.max(wide, 560), 1240) - NAMES;
	const x = scaleLinear([0, Math.max(result.groups.length - 1, 1)], [LEFT, right]);
	const high = Math.max(HIGH, rows.length * BETWEEN + 60);
	const y = scaleLinear([0, top], [high - 30, 20]).clamp(true);
	// A line that stops before the last group has its name where the last of it is.
	const ends = rows.map(({ row }) => row.cells.findLast((cell) => cell.figure !== null)?.figure ?? 0);
	const named = apart(ends.map(y), BETWEEN, 14, high - 30);
	if (result.groups.length < 2) return <Drawn>{say("Lines need at least two groups, such as the waves of a panel.")}</Drawn>;
	return (
		<Drawn>
			<p className="mb-1 text-[13px] text-quiet">
				{result.shared_people > 0
					? say(
							"From group to group in their order; best for waves. {shared_people} {shared_people2, plural, one {is} other {are}} in more than one.",
							{ shared_people: counted(result.shared_people, case_one, case_many), shared_people2: result.shared_people },
						)
					: say("From group to group in their order; best for waves. Nobody is in two of these groups: the lines join different {many}.", {
							many: case_many,
						})}
			</p>
			<div ref={measured} />
			<svg width={right + NAMES} height={high + 10} className="text-[12.5px]">
				<title>{say("Lines by group")}</title>
				{[0, 0.5, 1].map((part) => (
					<g key={part}>
						<path d={`M${LEFT},${y(part * top)} H${right}`} stroke="var(--color-line)" />
						<text x={LEFT - 8} y={y(part * top) + 4} textAnchor="end" fill="var(--color-quiet)">
							{short(result.figures, part * top)}
						</text>
					</g>
				))}
				{result.groups.map((group, place) => (
					<text
						key={group.name}
						x={x(place)}
						y={high}
						textAnchor={place === 0 ? "start" : "middle"}
						fill={groupMark(group.mark).colour}
						fontWeight={600}
					>
						{groupMark(group.mark).shape} {group.name} <tspan fill="var(--color-quiet)">{group.people}</tspan>
					</text>
				))}
				{rows.map(({ row, place }, at) => {
					const colour = hues[at] ?? "var(--color-quiet)";
					const points = row.cells.flatMap((cell, group) => (cell.figure === null ? [] : [{ group, cell, figure: cell.figure }]));
					return (
						<g key={`${row.kind}${row.id}`}>
							<path
								d={straight(points.map(({ group, figure }) => [x(group), y(figure)]))}
								fill="none"
								stroke={colour}
								strokeWidth={2}
								strokeDasharray={DASHES[at % DASHES.length]}
							/>
							{points.map(({ group, cell, figure }) => {
								const words = `${row.name}, ${result.groups[group]?.name}: ${inWords(result.figures, figure)}, ${madeOf(result.figures, cell.count, cell.base)}`;
								return (
									<circle
										key={group}
										cx={x(group)}
										cy={y(figure)}
										r={5}
										fill={colour}
										{...opens(words, () => onOpen({ row: place, group, left_out: null }))}
									>
										<title>{words}</title>
									</circle>
								);
							})}
							<path
								d={`M${x(points.at(-1)?.group ?? 0) + 6},${y(ends[at] ?? 0)} L${right + 16},${named[at] ?? 0} h8`}
								fill="none"
								stroke={colour}
								strokeWidth={1}
							/>
							<text x={right + 28} y={(named[at] ?? 0) + 4} fill="var(--color-ink)">
								{row.name.length > 32 ? `${row.name.slice(0, 31)}…` : row.name}
								{row.name.length > 32 && <title>{row.name}</title>}
							</text>
						</g>
					);
				})}
			</svg>
			<div className="mt-3 border-t border-line2 pt-2 text-[13px]">
				{say("Person by person")}
				<Choice
					as="small"
					name={say("Row")}
					value={chosen ?? rows[0]?.place ?? 0}
					options={rows.map(({ row, place }) => ({ value: place, label: row.name }))}
					onChange={setChosen}
				/>
				<ByPerson question={question} result={result} row={chosen ?? rows[0]?.place ?? 0} />
			</div>
		</Drawn>
	);
}

/** Everyone who is in two groups or more: passages in each, and whether they began or stopped. */
function ByPerson({ question, result, row }: { question: Question; result: FormProps["result"]; row: number }) {
	const persons = (useOneByOne(question).data?.each ?? []).filter((person) => person.groups.length > 1);
	if (persons.length === 0) return <p className="quiet-line">{say("Nobody is in two of these groups.")}</p>;
	return (
		<table className="mt-1 border-collapse">
			<thead>
				<tr className="text-left text-quiet">
					<td className="pr-6 font-medium" />
					{result.groups.map((group) => (
						<th key={group.name} className="pr-6 font-medium">
							{group.name}
						</th>
					))}
					<td className="font-medium" />
				</tr>
			</thead>
			<tbody>
				{persons.map((person) => {
					const counts = result.groups.map((_, group) => {
						const at = person.groups.indexOf(group);
						return at < 0 ? null : (person.counts[row]?.[at] ?? 0);
					});
					const told = counts.filter((count): count is number => count !== null);
					const change = (told.at(-1) ? 1 : 0) - (told[0] ? 1 : 0);
					return (
						<tr key={person.id} className="border-t border-line2">
							<th scope="row" className="pr-6 text-left font-medium">
								{person.name}
							</th>
							{counts.map((count, group) => (
								<td key={result.groups[group]?.name} className="pr-6">
									{count === null ? <span className="text-quiet">{say("not there")}</span> : count ? `● ${count}` : "○"}
								</td>
							))}
							<td className="text-quiet">{change > 0 ? say("began") : change < 0 ? say("stopped") : ""}</td>
						</tr>
					);
				})}
			</tbody>
		</table>
	);
}
