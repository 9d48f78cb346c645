import { band } from "../../charts/shapes";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { codeColour, groupMark } from "../../ui/palette";
import { inWords, madeOf } from "../figures";
import { rowKey } from "../RowMark";
import type { Opened } from "../spec";
import { Drawn, type FormProps, opens } from "./Opens";
import { rowsAt } from "./rows";

const BAR = 12;
const GAP = 6;
const LETTER = 6.4;

interface Side {
	key: string;
	name: string;
	opened: Opened;
	colour: string;
	shape: string;
	total: number;
	top: number;
	used: number;
}

/** Rows and groups as two sides, a band between them for every cell, as wide as what is counted in it. */
export function Flow(props: FormProps & { swap: boolean }) {
	return <Drawn>{(wide) => <Bands {...props} wide={wide} />}</Drawn>;
}

function Bands({ result, places, swap, onOpen, wide }: FormProps & { swap: boolean; wide: number }) {
	const { case_many } = useProject();
	const rows = rowsAt(result, places);
	const cells = rows.flatMap(({ row, place }, at) =>
		row.cells.map((cell, group) => ({ at, group, place, row, cell })).filter(({ cell }) => cell.count > 0),
	);
	const sum = cells.reduce((total, { cell }) => total + cell.count, 0);
	if (!sum) return <>{say("Nothing is counted here, so nothing flows.")}</>;
	const high = Math.max(320, 26 * Math.max(rows.length, result.groups.length));
	const scale = (high - GAP * Math.max(rows.length, result.groups.length)) / sum;
	const ofRows = stacked(
		rows.map(({ row, place }) => ({
			key: rowKey(row),
			name: row.name,
			opened: { row: place, group: null, left_out: null },
			colour: row.colour === null ? "var(--color-quiet)" : codeColour(row.colour),
			shape: "",
			total: cells.filter((one) => one.place === place).reduce((total, { cell }) => total + cell.count, 0),
		})),
		scale,
	);
	const ofGroups = stacked(
		result.groups.map((group, place) => ({
			key: group.name,
			name: group.name,
			opened: { row: null, group: place, left_out: null },
			colour: groupMark(group.mark).colour,
			shape: groupMark(group.mark).shape,
			total: cells.filter((one) => one.group === place).reduce((total, { cell }) => total + cell.count, 0),
		})),
		scale,
	);
	const [first, second] = swap ? [ofGroups, ofRows] : [ofRows, ofGroups];
	const left = roomFor(first, wide);
	const right = wide - BAR - roomFor(second, wide);
	const bands = cells.map(({ at, group, place, row, cell }) => {
		const [from, to] = swap ? [ofGroups[group], ofRows[at]] : [ofRows[at], ofGroups[group]];
		const thick = cell.count * scale;
		if (!from || !to) return null;
		const a = from.top + from.used;
		const b = to.top + to.used;
		from.used += thick;
		to.used += thick;
		const name = result.groups[group]?.name ?? "";
		const label = `${row.name}, ${name}: ${madeOf(result.figures, cell.count, cell.base)}, ${inWords(result.figures, cell.figure)}`;
		return (
			<path
				key={`${place}-${name}`}
				d={band([left + BAR, a], [right, b], thick)}
				fill={groupMark(result.groups[group]?.mark ?? 0).colour}
				fillOpacity={0.32}
				{...opens(label, () => onOpen({ row: place, group, left_out: null }))}
			>
				<title>{label}</title>
			</path>
		);
	});
	return (
		<>
			<p className="mb-2 text-[13px] text-quiet">
				{result.measure === "people"
					? say(
							"A band is as wide as its number of {many}; somebody who mentions several rows is in several bands. A band, a row or a group opens its passages.",
							{ many: case_many },
						)
					: say(
							"A band is as wide as what is counted; somebody who mentions several rows is in several bands. A band, a row or a group opens its passages.",
						)}
			</p>
			<svg width={wide} height={high + 8} className="text-[12.5px]">
				<title>{say("Flow between rows and groups")}</title>
				{bands}
				<Ends side={first} scale={scale} x={left} text={left - 8} anchor="end" onOpen={onOpen} />
				<Ends side={second} scale={scale} x={right} text={right + BAR + 8} anchor="start" onOpen={onOpen} />
			</svg>
		</>
	);
}

function stacked(parts: Omit<Side, "top" | "used">[], scale: number): Side[] {
	let top = 0;
	return parts.map((part) => {
		const here = { ...part, top, used: 0 };
		top += part.total * scale + GAP;
		return here;
	});
}

/** Beside the bars, room for the longest name, up to a third of the width. */
function roomFor(side: Side[], wide: number): number {
	const longest = Math.max(...side.map((part) => short(part.name).length + String(part.total).length + 4));
	return Math.min(longest * LETTER + 16, wide / 3);
}

interface EndsProps {
	side: Side[];
	scale: number;
	x: number;
	text: number;
	anchor: "start" | "end";
	onOpen: FormProps["onOpen"];
}

function Ends({ side, scale, x, text, anchor, onOpen }: EndsProps) {
	return side
		.filter((part) => part.total > 0)
		.map((part) => (
			<g key={part.key} {...opens(`${part.name}: ${part.total}`, () => onOpen(part.opened))}>
				<rect x={x} y={part.top} width={BAR} height={Math.max(1, part.total * scale)} fill={part.colour} />
				<text x={text} y={part.top + (part.total * scale) / 2 + 4} textAnchor={anchor} fill="var(--color-ink)" stroke="none">
					{part.shape} {short(part.name)} <tspan fill="var(--color-quiet)">{part.total}</tspan>
				</text>
			</g>
		));
}

const short = (name: string) => (name.length > 34 ? `${name.slice(0, 33)}…` : name);
