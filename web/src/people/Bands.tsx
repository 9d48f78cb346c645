import { scaleLinear } from "d3-scale";
import { useRef, useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { bandCounts, bandNames, edgeWords, stepOf, typedCuts } from "./bands";
import type { Variable } from "./data";

const WIDTH = 300;
const HEIGHT = 96;

/** A histogram whose cut points are dragged, moved by key, typed or proposed; the bands follow at once. */
export function Bands({
	variable,
	histogram,
	cuts,
	onCuts,
	onSave,
	saving,
	saved,
}: {
	variable: Variable;
	histogram: Shape<"HistogramOut">;
	cuts: number[];
	onCuts: (cuts: number[]) => void;
	onSave: () => void;
	saving: boolean;
	saved: string;
}) {
	const { case_many } = useProject();
	const [typed, setTyped] = useState<string | null>(null);
	const drawing = useRef<SVGSVGElement>(null);
	const { edges, counts, values } = histogram;
	const first = edges[0] ?? 0;
	const last = edges.at(-1) ?? 1;
	const most = Math.max(1, ...counts);
	const x = scaleLinear([first, last > first ? last : first + 1], [0, WIDTH]);
	const step = stepOf(values);
	const move = (place: number, value: number) => {
		const rounded = Math.min(last, Math.max(first, Number((Math.round(value / step) * step).toPrecision(10))));
		const next = cuts.map((cut, at) => (at === place ? rounded : cut));
		const between = (next[place - 1] ?? Number.NEGATIVE_INFINITY) < rounded && rounded < (next[place + 1] ?? Number.POSITIVE_INFINITY);
		if (between) onCuts(next);
	};
	const dragged = (place: number) => (event: React.PointerEvent) => {
		event.preventDefault();
		const box = drawing.current?.getBoundingClientRect();
		if (!box) return;
		const follow = (moved: PointerEvent) => move(place, x.invert(((moved.clientX - box.left) / box.width) * WIDTH));
		const end = () => {
			window.removeEventListener("pointermove", follow);
			window.removeEventListener("pointerup", end);
		};
		window.addEventListener("pointermove", follow);
		window.addEventListener("pointerup", end);
	};
	const names = bandNames(variable, cuts);
	const inBands = bandCounts(values, cuts);
	const save = () => {
		const parsed = typed === null ? null : typedCuts(variable, typed);
		if (parsed) onCuts(parsed);
		setTyped(null);
	};
	if (!values.length) return <p className="quiet-line">{say("No value to cut into bands yet.")}</p>;
	return (
		<div>
			{/* biome-ignore lint/a11y/useSemanticElements: a drawing with handles is no form */}
			<svg
				ref={drawing}
				viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`}
				className="w-full touch-none overflow-visible select-none"
				role="group"
				aria-label={say("Histogram of {name}", { name: variable.name })}
			>
				{counts.map((count, place) => (
					<rect
						key={edges[place]}
						x={x(edges[place] ?? 0) + 0.5}
						width={Math.max(1, x(edges[place + 1] ?? last) - x(edges[place] ?? 0) - 1)}
						y={HEIGHT - (count / most) * (HEIGHT - 12)}
						height={(count / most) * (HEIGHT - 12)}
						fill="var(--color-bar)"
					>
						<title>
							{say("{edgeWords} to under {edgeWords2}: {count}", {
								edgeWords: edgeWords(variable, edges[place] ?? 0),
								edgeWords2: edgeWords(variable, edges[place + 1] ?? last),
								count,
							})}
						</title>
					</rect>
				))}
				<line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--color-edge)" />
				<text x={0} y={HEIGHT + 13} fontSize="10.5" fill="var(--color-quiet)">
					{edgeWords(variable, first)}
				</text>
				<text x={WIDTH} y={HEIGHT + 13} fontSize="10.5" fill="var(--color-quiet)" textAnchor="end">
					{edgeWords(variable, last)}
				</text>
				{cuts.map((cut, place) => (
					<g
						// biome-ignore lint/suspicious/noArrayIndexKey: a cut keeps its place while its value moves
						key={place}
						role="slider"
						tabIndex={0}
						aria-label={say("Cut {place}", { place: place + 1 })}
						aria-valuenow={cut}
						aria-valuemin={first}
						aria-valuemax={last}
						aria-valuetext={edgeWords(variable, cut)}
						className="cursor-ew-resize focus:outline-none [&:focus-visible>path]:stroke-[3]"
						onPointerDown={dragged(place)}
						onKeyDown={(event) => {
							const by = { ArrowLeft: -step, ArrowRight: step, PageDown: -10 * step, PageUp: 10 * step }[event.key];
							if (by === undefined) return;
							event.preventDefault();
							move(place, cut + by);
						}}
					>
						<rect x={x(cut) - 7} y={0} width={14} height={HEIGHT} fill="transparent" />
						<line x1={x(cut)} x2={x(cut)} y1={6} y2={HEIGHT} stroke="var(--color-apricot)" strokeWidth={1.6} />
						<path d={`M${x(cut) - 5} 0h10v6l-5 5l-5 -5z`} fill="var(--color-apricot)" stroke="var(--color-ink)" strokeWidth={0} />
					</g>
				))}
			</svg>
			<div className="mt-2 flex items-center gap-2">
				<label className="flex min-w-0 flex-1 items-center gap-2 text-[12.8px] font-semibold">
					{say("Cut at")}
					<input
						className="field min-w-0 flex-1 font-normal"
						aria-label={say("Cut points of {name}", { name: variable.name })}
						placeholder={variable.kind === "date" ? "2010-01-01, 2020-01-01" : "25, 35, 50"}
						value={typed ?? cuts.map((cut) => edgeWords(variable, cut)).join(", ")}
						onChange={(event) => setTyped(event.target.value)}
						onBlur={save}
						onKeyDown={(event) => event.key === "Enter" && save()}
					/>
				</label>
				<Choice
					as="small"
					name={say("Propose cut points")}
					value=""
					shown={say("Propose")}
					options={[2, 3, 4, 5].flatMap((bands) => [
						{ value: `quantiles:${bands}`, label: say("{bands} bands with as many {many} each", { bands, many: case_many }) },
						{ value: `equal_width:${bands}`, label: say("{bands} bands of equal width", { bands }) },
					])}
					onChange={(said) => {
						const [kind, bands] = said.split(":") as ["quantiles" | "equal_width", string];
						onCuts(histogram[kind][bands] ?? []);
					}}
				/>
			</div>
			<table className="mt-2 w-full text-[13px]">
				<caption className="sr-only">{say("Bands and how many are in each")}</caption>
				<tbody>
					{names.map((name, place) => (
						<tr key={name} className="border-b border-line2">
							<td className="py-0.5">{name}</td>
							<td className="w-24">
								<span
									className="block h-2 rounded-sm bg-apricot/60"
									style={{ width: `${(100 * (inBands[place] ?? 0)) / Math.max(1, ...inBands)}%` }}
								/>
							</td>
							<td className="w-10 pl-2 text-right">{inBands[place]}</td>
						</tr>
					))}
				</tbody>
			</table>
			<Button look="main" className="mt-2" disabled={saving || cuts.length === 0} onClick={onSave}>
				{saved}
			</Button>
			<span className="ml-2 quiet-line">
				{say("{bands, plural, one {# band} other {# bands}}; the bands follow the values.", { bands: names.length })}
			</span>
		</div>
	);
}
