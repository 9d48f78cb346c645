import type { Shape } from "../../api/client";
import { say } from "../../language/say";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { codeColour, groupMark } from "../../ui/palette";
import { useMap } from "../data";
import type { Question } from "../spec";
import { Drawn, type FormProps, opens } from "./Opens";
import { rowsAt } from "./rows";

const HIGH = 460;
const EDGE = 70;

interface Dot {
	key: string;
	name: string;
	x: number;
	y: number;
	colour: string;
	shape: string;
	row: number | null;
	group: number | null;
	quality: number;
	label: number;
}

/** Rows and groups as points: rows with like groups near each other, and nearer to the groups that mention them more. */
export function MapForm({ question, result, places, onOpen }: FormProps & { question: Question }) {
	const map = useMap(question, true);
	const hindered = hindrance(map);
	if (hindered) return <Problem error={hindered} />;
	if (!map.data) return <Loading what={say("the map")} />;
	const { inertia } = map.data;
	if (inertia.length === 0) return <Drawn>{say("A map needs at least two rows and two groups in which something is counted.")}</Drawn>;
	return <Drawn>{(wide) => <Points map={map.data} result={result} places={places} onOpen={onOpen} wide={wide} />}</Drawn>;
}

function Points({ map, result, places, onOpen, wide }: FormProps & { map: Shape<"MapOut">; wide: number }) {
	const { rows, groups, inertia, total } = map;
	const dots: Dot[] = [];
	for (const { row, place } of rowsAt(result, places)) {
		const point = rows[place];
		if (point)
			dots.push({
				key: `r${place}`,
				name: row.name,
				x: point.x,
				y: point.y,
				colour: row.colour === null ? "var(--color-quiet)" : codeColour(row.colour),
				shape: "",
				row: place,
				group: null,
				quality: point.quality,
				label: 0,
			});
	}
	result.groups.forEach((group, place) => {
		const point = groups[place];
		const mark = groupMark(group.mark);
		if (point)
			dots.push({
				key: `g${place}`,
				name: group.name,
				x: point.x,
				y: point.y,
				colour: mark.colour,
				shape: mark.shape,
				row: null,
				group: place,
				quality: point.quality,
				label: 0,
			});
	});
	const reach = Math.max(1e-6, ...dots.map((dot) => Math.max(Math.abs(dot.x) / (wide / 2 - EDGE), Math.abs(dot.y) / (HIGH / 2 - 30))));
	for (const dot of dots) {
		dot.x = wide / 2 + dot.x / reach;
		dot.y = HIGH / 2 - dot.y / reach;
		dot.label = dot.y + 4;
	}
	apart(dots);
	const part = (axis: number) => `${Math.round((100 * (inertia[axis] ?? 0)) / (total || 1))} %`;
	return (
		<>
			<p className="mb-2 text-[13px] text-quiet">
				{say("Correspondence analysis of the counts. Across: {part} of how the groups differ", { part: part(0) })}
				{inertia.length > 1 && say("; up: {part}", { part: part(1) })}
				{say(
					". Rows near each other are mentioned by like groups; what lies near the middle differs little. Faint: badly shown on these two axes.",
				)}
			</p>
			<svg width={wide} height={HIGH} className="text-[12.5px]">
				<title>{say("Map of rows and groups")}</title>
				<path d={`M0,${HIGH / 2} H${wide} M${wide / 2},0 V${HIGH}`} stroke="var(--color-line)" />
				{dots.map((dot) => {
					const left = dot.x > wide - 190;
					const words = say("{name}: {n} % of its place is shown", { name: dot.name, n: Math.round(100 * dot.quality) });
					return (
						<g key={dot.key} opacity={dot.quality < 0.4 ? 0.5 : 1}>
							<g {...opens(words, () => onOpen({ row: dot.row, group: dot.group, left_out: null }))}>
								<title>{words}</title>
								{dot.group === null ? (
									<circle cx={dot.x} cy={dot.y} r={5} fill={dot.colour} />
								) : (
									<text x={dot.x} y={dot.y + 6} fontSize={18} textAnchor="middle" fill={dot.colour} stroke="none">
										{dot.shape}
									</text>
								)}
							</g>
							<text
								x={dot.x + (left ? -11 : 11)}
								y={dot.label}
								textAnchor={left ? "end" : "start"}
								fill={dot.group === null ? "var(--color-ink)" : dot.colour}
								fontWeight={dot.group === null ? 400 : 700}
							>
								{dot.name}
							</text>
						</g>
					);
				})}
			</svg>
		</>
	);
}

/** Names that would lie on each other are moved apart, downwards. */
function apart(dots: Dot[]): void {
	const placed: Dot[] = [];
	for (const dot of [...dots].sort((a, b) => a.label - b.label)) {
		const meets = () => placed.some((other) => Math.abs(other.label - dot.label) < 14 && Math.abs(other.x - dot.x) < 150);
		for (let tries = 0; tries < 12 && meets(); tries++) dot.label += 5;
		placed.push(dot);
	}
}
