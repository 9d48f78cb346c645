import { scaleLinear } from "d3-scale";
import type { Shape } from "../../api/client";
import { straight } from "../../charts/shapes";
import { say } from "../../language/say";
import { useWidth } from "../../ui/width";
import { percent } from "../../ui/words";

const HUES = [
	"var(--color-spruce)",
	"var(--color-group-0)",
	"var(--color-group-1)",
	"var(--color-group-2)",
	"var(--color-group-3)",
	"var(--color-group-4)",
	"var(--color-group-5)",
];
const HIGH = 280;
const EDGE = 40;

type Progress = Shape<"ProgressOut">;

interface Choice {
	base: number;
	run: number;
	threshold: number;
}

/** Codes heard so far, interview by interview, and where a run of interviews brings hardly anything new. */
export function Saturation({
	data,
	choice,
	onChoice,
}: {
	data: Progress;
	choice: Choice;
	onChoice: (part: Record<string, string | null>) => void;
}) {
	const curves = data.saturation.filter((curve) => curve.heard.length > 0);
	const longest = Math.max(2, ...curves.map((curve) => curve.heard.length));
	const most = Math.max(1, ...curves.map((curve) => curve.heard.at(-1) ?? 0));
	const [measured, whole] = useWidth(900);
	const wide = Math.min(Math.max(whole, 560), 1240);
	const x = scaleLinear([0, longest - 1], [EDGE, wide - 170]);
	const y = scaleLinear([0, most], [HIGH - 38, 12]);
	return (
		<div ref={measured}>
			<p className="mb-2 flex flex-wrap items-center gap-2 text-[13.4px]">
				{say("The first")}
				<Figure name={say("Base size")} value={choice.base} onChange={(value) => onChoice({ base: value })} />
				{say("interviews are the base; a run of")}
				<Figure name={say("Run length")} value={choice.run} onChange={(value) => onChoice({ run: value })} />
				{say("that brings at most")}
				<Figure
					name={say("Threshold in per cent")}
					value={Math.round(choice.threshold * 100)}
					onChange={(value) => onChoice({ threshold: value })}
				/>
				{say("% as many new codes as the base has is enough.")}
			</p>
			<div data-form>
				{curves.length === 0 ? (
					<p className="quiet-line">{say("No interview is in scope.")}</p>
				) : (
					<svg width={wide} height={HIGH} className="rounded-lg border border-line bg-card text-[12px]">
						<title>{say("Codes heard so far by interview")}</title>
						{[0, 0.5, 1].map((part) => (
							<g key={part}>
								<path d={`M${EDGE},${y(part * most)} H${wide - 170}`} stroke="var(--color-line)" />
								<text x={EDGE - 6} y={y(part * most) + 4} textAnchor="end" fill="var(--color-quiet)">
									{Math.round(part * most)}
								</text>
							</g>
						))}
						<text x={EDGE} y={HIGH - 8} fill="var(--color-quiet)">
							1
						</text>
						<text x={x(longest - 1)} y={HIGH - 8} textAnchor="end" fill="var(--color-quiet)">
							{say("interviews in the order they came → {longest}", { longest })}
						</text>
						{curves.map((curve, at) => {
							const colour = HUES[at % HUES.length] as string;
							return (
								<g key={curve.name}>
									<path
										d={straight(curve.heard.map((heard, place) => [x(place), y(heard)]))}
										fill="none"
										stroke={colour}
										strokeWidth={at ? 1.5 : 2.5}
									/>
									{curve.heard.map((heard, place) => (
										<circle
											key={curve.titles[place]}
											cx={x(place)}
											cy={y(heard)}
											r={place === curve.reached ? 6 : 3}
											fill={place === curve.reached ? "var(--color-card)" : colour}
											stroke={colour}
											strokeWidth={2}
										>
											<title>
												{say("{titles}: {fresh} new, {heard} so far{which}", {
													titles: curve.titles[place],
													fresh: curve.fresh[place],
													heard,
													which:
														curve.ratio[place] === null
															? ""
															: say("; the run brought {ratio} %", { ratio: percent(curve.ratio[place] ?? 0) }),
												})}
											</title>
										</circle>
									))}
									{at === 0 && (
										<text x={x(curve.heard.length - 1) + 10} y={y(curve.heard.at(-1) ?? 0) + 4} fill={colour} fontWeight={600}>
											{curve.name}
										</text>
									)}
								</g>
							);
						})}
					</svg>
				)}
				<table className="mt-3 text-[13.4px]">
					<thead>
						<tr className="text-left text-quiet">
							<td className="pr-6 font-medium" />
							<th className="pr-6 font-medium">{say("Interviews")}</th>
							<th className="pr-6 font-medium">{say("Codes heard")}</th>
							<th className="pr-6 font-medium">{say("Codes of the base")}</th>
							<th className="font-medium">{say("Enough")}</th>
						</tr>
					</thead>
					<tbody>
						{data.saturation.map((curve) => (
							<tr key={curve.name} className="border-t border-line2">
								<th scope="row" className="pr-6 text-left">
									<span aria-hidden="true" style={{ color: HUES[curves.indexOf(curve) % HUES.length] }}>
										●
									</span>{" "}
									{curve.name}
								</th>
								<td className="pr-6">{curve.heard.length}</td>
								<td className="pr-6">{curve.heard.at(-1) ?? 0}</td>
								<td className="pr-6">{curve.base_codes || "–"}</td>
								<td>
									{curve.reached !== null
										? say("reached at interview {reached}", { reached: curve.reached + 1 })
										: curve.heard.length < choice.base + choice.run
											? say("too few: {interviews, plural, one {# interview} other {# interviews}} are needed", {
													interviews: choice.base + choice.run,
												})
											: say("not reached yet")}
								</td>
							</tr>
						))}
					</tbody>
				</table>
			</div>
			<p className="mt-2 max-w-3xl text-[13px] text-quiet">
				{say(
					"New codes, not depth: a code may go on changing its meaning long after it was first heard. Guest, Namey and Chen 2020. The circle marks where the threshold is reached.",
				)}
			</p>
		</div>
	);
}

function Figure({ name, value, onChange }: { name: string; value: number; onChange: (value: string) => void }) {
	return (
		<input
			type="number"
			min={1}
			aria-label={name}
			className="field w-16"
			value={value}
			onChange={(event) => event.target.value && onChange(event.target.value)}
		/>
	);
}
