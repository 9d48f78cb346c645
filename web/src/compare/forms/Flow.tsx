import { codeColour, groupMark } from "../../ui/palette";
import { inWords, madeOf } from "../figures";
import { Drawn, type FormProps, opens } from "./Opens";
import { rowsAt } from "./Table";

const WIDE = 860;
const BAR = 12;
const GAP = 6;
const LEFT = 230;
const RIGHT = WIDE - 210;

interface Side {
	name: string;
	colour: string;
	shape: string;
	total: number;
	top: number;
	used: number;
}

/** Rows and groups as two sides, a band between them for every cell, as wide as what is counted in it. */
export function Flow({ result, places, swap, onOpen }: FormProps & { swap: boolean }) {
	const rows = rowsAt(result, places);
	const cells = rows.flatMap(({ row, place }, at) =>
		row.cells.map((cell, group) => ({ at, group, place, row, cell })).filter(({ cell }) => cell.count > 0),
	);
	const sum = cells.reduce((total, { cell }) => total + cell.count, 0);
	if (!sum) return <Drawn>Nothing is counted here, so nothing flows.</Drawn>;
	const high = Math.max(320, 26 * Math.max(rows.length, result.groups.length));
	const scale = (high - GAP * Math.max(rows.length, result.groups.length)) / sum;
	const ofRows = stacked(
		rows.map(({ row, place }) => ({
			name: row.name,
			colour: row.colour === null ? "#5D6675" : codeColour(row.colour),
			shape: "",
			total: cells.filter((one) => one.place === place).reduce((total, { cell }) => total + cell.count, 0),
		})),
		scale,
	);
	const ofGroups = stacked(
		result.groups.map((group, place) => ({
			name: group.name,
			colour: groupMark(group.mark).colour,
			shape: groupMark(group.mark).shape,
			total: cells.filter((one) => one.group === place).reduce((total, { cell }) => total + cell.count, 0),
		})),
		scale,
	);
	const [first, second] = swap ? [ofGroups, ofRows] : [ofRows, ofGroups];
	const bands = cells.map(({ at, group, place, row, cell }) => {
		const [from, to] = swap ? [ofGroups[group], ofRows[at]] : [ofRows[at], ofGroups[group]];
		const wide = cell.count * scale;
		if (!from || !to) return null;
		const a = from.top + from.used;
		const b = to.top + to.used;
		from.used += wide;
		to.used += wide;
		const middle = (LEFT + RIGHT) / 2;
		const name = result.groups[group]?.name ?? "";
		const label = `${row.name}, ${name}: ${madeOf(result.measure, cell.count, cell.base)}, ${inWords(result.measure, cell.figure)}`;
		const path = `M${LEFT + BAR},${a} C${middle},${a} ${middle},${b} ${RIGHT},${b} L${RIGHT},${b + wide} C${middle},${b + wide} ${middle},${a + wide} ${LEFT + BAR},${a + wide} Z`;
		return (
			<path
				key={`${place}-${name}`}
				d={path}
				fill={groupMark(result.groups[group]?.mark ?? 0).colour}
				fillOpacity={0.32}
				{...opens(label, () => onOpen({ row: place, group, left_out: null }))}
			>
				<title>{label}</title>
			</path>
		);
	});
	return (
		<Drawn>
			<p className="mb-2 text-[13px] text-quiet">
				A band is as wide as {result.measure === "people" ? "its number of people" : "what is counted"}; somebody who mentions several rows
				is in several bands.
			</p>
			<svg viewBox={`0 0 ${WIDE} ${high + 8}`} className="w-full max-w-5xl text-[12.5px]">
				<title>Flow between rows and groups</title>
				{bands}
				<Ends side={first} scale={scale} x={LEFT} text={LEFT - 8} anchor="end" />
				<Ends side={second} scale={scale} x={RIGHT} text={RIGHT + BAR + 8} anchor="start" />
			</svg>
		</Drawn>
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

function Ends({ side, scale, x, text, anchor }: { side: Side[]; scale: number; x: number; text: number; anchor: "start" | "end" }) {
	return side
		.filter((part) => part.total > 0)
		.map((part) => (
			<g key={part.name}>
				<rect x={x} y={part.top} width={BAR} height={Math.max(1, part.total * scale)} fill={part.colour} />
				<text x={text} y={part.top + (part.total * scale) / 2 + 4} textAnchor={anchor} fill="#1D2433">
					{part.shape} {short(part.name)} <tspan fill="#5D6675">{part.total}</tspan>
				</text>
			</g>
		));
}

const short = (name: string) => (name.length > 30 ? `${name.slice(0, 29)}…` : name);
