import { say } from "../language/say";
import type { Variable } from "./data";

/** The small distribution at the head of a column. */
export function MiniBars({
	variable,
	strong = false,
	width = 84,
	height = 20,
}: {
	variable: Variable;
	strong?: boolean;
	width?: number;
	height?: number;
}) {
	if (variable.kind === "text" || variable.bars.length === 0)
		return <svg width={width} height={height} aria-hidden="true" className="mt-1 block" />;
	const most = Math.max(1, ...variable.bars.map((bar) => bar.count));
	const step = width / variable.bars.length;
	const said = variable.bars.map((bar) => `${bar.label}: ${bar.count}`).join(", ");
	const missing = variable.missing.reduce((sum, bar) => sum + bar.count, 0);
	return (
		<svg
			width={width}
			height={height}
			className="mt-1 block"
			role="img"
			aria-label={`${said}${missing ? say("; {values, plural, one {# value} other {# values}} missing", { values: missing }) : ""}`}
		>
			<title>{`${said}${missing ? say("; {missing} missing", { missing }) : ""}`}</title>
			{variable.bars.map((bar, place) => (
				<rect
					key={bar.label}
					x={place * step}
					y={height - (height * bar.count) / most}
					width={step - 1.5}
					height={(height * bar.count) / most}
					rx={1}
					fill={strong ? "var(--color-spruce)" : "var(--color-bar)"}
				/>
			))}
		</svg>
	);
}
