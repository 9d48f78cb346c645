import { scaleLinear } from "d3-scale";
import { phrase, say } from "../../language/say";
import { apart } from "../../ui/copying";
import { decimal, pValue, underOne } from "../../ui/words";
import type { Row } from "../data";
import type { Size } from "./rows";

const X = scaleLinear([-1, 1], [8, 152]);

export function GapScale() {
	return (
		<svg width="160" height="13" aria-hidden="true" className="block">
			<g fontSize="10.5" fill="var(--color-quiet)" textAnchor="middle">
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

/** A difference in points with its interval, the ratios, and what these groups could have shown. */
export function gapInWords(gap: NonNullable<Row["difference"]>): string {
	const points = (value: number) => Math.round(value * 100);
	const ratio = gap.odds_ratio === null ? "" : say("; odds ratio {odds_ratio}", { odds_ratio: decimal(gap.odds_ratio, 2) });
	const risk = gap.relative_risk === null ? "" : say("; relative risk {relative_risk}", { relative_risk: decimal(gap.relative_risk, 2) });
	const seen =
		gap.seen === null
			? say("; with these groups no difference would be sure to show")
			: say("; from {points} points on a difference would show in 4 of 5 such studies", { points: points(gap.seen) });
	return say("{points} points (95 % interval {points2} to {points3}){ratio}{risk}{seen}", {
		points: points(gap.difference ?? 0),
		points2: points(gap.low ?? 0),
		points3: points(gap.high ?? 0),
		ratio,
		risk,
		seen,
	});
}

/** What tells the size of a difference, as it is copied: part by part. */
export function sizeApart(size: Size, row: Row) {
	if (size === "gap")
		return apart([
			["difference", row.difference?.difference ?? null],
			["low", row.difference?.low ?? null],
			["high", row.difference?.high ?? null],
		]);
	if (size === "layers")
		return apart([
			[say("odds ratio"), row.layers?.infinite ? "infinite" : (row.layers?.odds_ratio ?? null)],
			["low", row.layers?.low ?? null],
			["high", row.layers?.high ?? null],
		]);
	return apart([
		[say("in both"), row.changes?.both ?? null],
		[say("only in the first"), row.changes?.only_first ?? null],
		[say("only in the second"), row.changes?.only_second ?? null],
		[say("in neither"), row.changes?.neither ?? null],
	]);
}

/** How a difference stands, for its dot: filled where it is sure, ringed in orange where it is worth a look. */
export type PairStanding = "sure" | "look" | undefined;
export const DOT_FILL = (standing: PairStanding) => (standing === "sure" ? "var(--color-spruce)" : "var(--color-card)");
export const DOT_LINE = (standing: PairStanding) => (standing === "look" ? "var(--color-apricot)" : "var(--color-spruce)");
const STANDING = { sure: say("; sure"), look: say("; worth a look, not sure") };

/** The difference with its interval. */
export function Gap({ row, standing }: { row: Row; standing?: PairStanding }) {
	const gap = row.difference;
	if (!gap || gap.difference === null || gap.low === null || gap.high === null) return <span className="quiet-line">–</span>;
	const words = gapInWords(gap) + (standing ? STANDING[standing] : "");
	return (
		<svg width="160" height="22" role="img" aria-label={words}>
			<title>{words}</title>
			<line x1={X(0)} x2={X(0)} y1="0" y2="22" stroke="var(--color-line)" />
			<line x1={X(gap.low)} x2={X(gap.high)} y1="11" y2="11" stroke="var(--color-ink)" strokeWidth="1.4" />
			<circle cx={X(gap.difference)} cy="11" r="4.5" fill={DOT_FILL(standing)} stroke={DOT_LINE(standing)} strokeWidth="1.6" />
		</svg>
	);
}

const TESTS: Record<Row["test"]["kind"], string> = {
	chi_square: say("Pearson’s chi-square"),
	exact: say("Fisher–Freeman–Halton, exact"),
	exact_simulated: say("Fisher–Freeman–Halton, simulated"),
	permutation: say("groups dealt out anew 10,000 times"),
	layered: say("Cochran–Mantel–Haenszel, layers held apart"),
	layered_permuted: say("Cochran–Mantel–Haenszel, layers held apart; p by dealing groups out anew 10,000 times"),
	changes: say("McNemar, exact: those in both groups, with themselves"),
	occasions: say("Cochran’s Q: those in all groups, with themselves"),
	occasions_permuted: say("Cochran’s Q: those in all groups, with themselves; p by dealing answers out anew 10,000 times"),
	none: say("no test"),
};

export function Test({ row }: { row: Row }) {
	const { test } = row;
	const lines = [
		TESTS[test.kind],
		test.statistic !== null ? `${test.kind.startsWith("occasions") ? "Q" : "chi-square"} ${test.statistic.toFixed(2)}` : "",
		test.p !== null
			? test.error
				? say("p {pValue} by itself (± {error} from simulation)", { pValue: pValue(test.p), error: test.error.toFixed(4) })
				: say("p {pValue} by itself", { pValue: pValue(test.p) })
			: "",
		test.holm !== null
			? say("p {pValue} corrected by Holm, {pValue2} by Benjamini–Hochberg", {
					pValue: pValue(test.holm),
					pValue2: pValue(test.benjamini_hochberg),
				})
			: "",
		row.trend?.p != null
			? (row.trend.z ?? 0) > 0
				? say("trend over the order: rising, p {pValue} by itself, {pValue2} by Holm (Cochran–Armitage)", {
						pValue: pValue(row.trend.p),
						pValue2: pValue(row.trend.holm),
					})
				: say("trend over the order: falling, p {pValue} by itself, {pValue2} by Holm (Cochran–Armitage)", {
						pValue: pValue(row.trend.p),
						pValue2: pValue(row.trend.holm),
					})
			: "",
	].filter(Boolean);
	return (
		<td
			{...apart([
				["V", test.effect],
				[say("p, Holm"), test.holm],
			])}
			className="px-2 text-xs whitespace-nowrap text-quiet"
			title={lines.join("\n")}
		>
			<span className="sr-only">{lines.join("; ")}</span>
			<span aria-hidden="true">
				{test.effect !== null && <b className="mr-2 text-ink">{underOne(test.effect, 2)}</b>}
				{pValue(test.holm)}
			</span>
		</td>
	);
}

/** Over all layers: the common odds ratio with its interval (one end where it is 0 or infinite), and a word where the
 * layers differ; with more than two groups how closely the row goes with them. */
export function WithinLayers({ row }: { row: Row }) {
	const found = row.layers;
	if (!found) return <span className="quiet-line">–</span>;
	const size = oddsInWords(found);
	if (size === null) {
		if (found.effect === null) return <span className="quiet-line">–</span>;
		return (
			<span title={say("Cramér’s V within layers, corrected for chance")} className="text-[13px]">
				{phrase("V <b>{effect}</b>", { b: (inner) => <b>{inner}</b>, effect: underOne(found.effect, 2) })}
			</span>
		);
	}
	const apart = found.differ_holm !== null && found.differ_holm < 0.05;
	const differ =
		found.differ_p === null
			? ""
			: say("; whether layers differ: p {pValue}, {pValue2} by Holm (Breslow–Day)", {
					pValue: pValue(found.differ_p),
					pValue2: pValue(found.differ_holm),
				});
	const words = say("Common odds ratio {ratio} (Mantel–Haenszel), 95 % interval {ends}{differ}", {
		ratio: size.ratio,
		ends: size.ends,
		differ,
	});
	return (
		<span title={words} className="text-[13px] whitespace-nowrap">
			<span className="sr-only">{words}</span>
			<span aria-hidden="true">
				<b>{size.ratio}</b> <span className="text-quiet">{size.ends}</span>
				{apart && <span className="ml-1.5 font-semibold text-apricot-deep">{say("layers differ")}</span>}
			</span>
		</span>
	);
}

function oddsInWords(found: NonNullable<Row["layers"]>): { ratio: string; ends: string } | null {
	if (found.infinite)
		return { ratio: "∞", ends: found.low === null ? say("no interval") : say("{ratio} or more", { ratio: ratio(found.low) }) };
	if (found.odds_ratio === null) return null;
	if (found.odds_ratio === 0)
		return { ratio: "0", ends: found.high === null ? say("no interval") : say("{ratio} or less", { ratio: ratio(found.high) }) };
	return {
		ratio: ratio(found.odds_ratio),
		ends:
			found.low !== null && found.high !== null
				? say("{ratio} to {ratio2}", { ratio: ratio(found.low), ratio2: ratio(found.high) })
				: say("no interval"),
	};
}

const ratio = (value: number) => decimal(value, value < 10 ? 2 : 0);

/** Of those in both groups: who came to mention it, and who no longer does. */
export function Changes({ row }: { row: Row }) {
	const found = row.changes;
	if (!found) return <span className="quiet-line">–</span>;
	const words = say(
		"Of those in both: {both} in both, {only_second} only in the second, {only_first} only in the first, {neither} in neither",
		{ both: found.both, only_second: found.only_second, only_first: found.only_first, neither: found.neither },
	);
	return (
		<span title={words} className="text-[13px] whitespace-nowrap">
			<span className="sr-only">{words}</span>
			<span aria-hidden="true">
				<b>+{found.only_second}</b> <b className="ml-1">−{found.only_first}</b>{" "}
				<span className="ml-1 text-quiet">
					{say("of {both}", { both: found.both + found.only_first + found.only_second + found.neither })}
				</span>
			</span>
		</span>
	);
}
