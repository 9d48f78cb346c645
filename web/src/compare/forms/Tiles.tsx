import { say } from "../../language/say";
import { groupMark } from "../../ui/palette";
import { decimal } from "../../ui/words";
import { inWords, madeOf } from "../figures";
import { Drawn, type FormProps, opens } from "./Opens";
import { rowsAt } from "./rows";

const HIGH = 330;
const TOP = 40;
const GAP = 3;

/** A tile for every cell: a group as wide as what is counted in it, each row its share of that; shaded where it lies above or below what would be expected. */
export function Tiles(props: FormProps) {
	return <Drawn>{(wide) => <Mosaic {...props} whole={wide} />}</Drawn>;
}

function Mosaic({ result, places, onOpen, whole }: FormProps & { whole: number }) {
	const rows = rowsAt(result, places);
	const sums = result.groups.map((_, group) => rows.reduce((sum, { row }) => sum + (row.cells[group]?.count ?? 0), 0));
	const sum = sums.reduce((total, one) => total + one, 0);
	if (!sum) return <>{say("Nothing is counted here, so there are no tiles.")}</>;
	const shaded = rows.some(({ row }) => row.cells.some((cell) => cell.residual !== null));
	let x = 0;
	return (
		<>
			<p className="mb-2 text-[13px] text-quiet">
				{say("A column is as wide as all that is counted in the group, a tile as high as the row’s share of it.")}
				{shaded &&
					say(" Shaded: plum below, moss above what would be expected if groups didn’t differ; stronger beyond 2 standard errors.")}
			</p>
			<svg width={whole} height={HIGH + TOP} className="text-[12px]">
				<title>{say("Tiles of rows within groups")}</title>
				{result.groups.map((group, place) => {
					const wide = ((sums[place] ?? 0) / sum) * (whole - GAP * result.groups.length);
					const left = x;
					x += wide + GAP;
					if (wide <= 0) return null;
					const mark = groupMark(group.mark);
					let y = TOP;
					return (
						<g key={group.name}>
							<text x={left} y={14} fill={mark.colour} fontWeight={600}>
								{wide > 40 ? `${mark.shape} ${cutTo(group.name, wide)}` : mark.shape}
							</text>
							<text x={left} y={30} fill="var(--color-quiet)">
								{wide > 40 ? sums[place] : ""}
							</text>
							{rows.map(({ row, place: at }) => {
								const cell = row.cells[place];
								if (!cell?.count) return null;
								const high = (cell.count / (sums[place] ?? 1)) * HIGH;
								const top = y;
								y += high;
								const label = `${row.name}, ${group.name}: ${madeOf(result.figures, cell.count, cell.base)}, ${inWords(result.figures, cell.figure)}${cell.residual === null ? "" : say(", adjusted residual {residual}", { residual: decimal(cell.residual, 1) })}`;
								return (
									<g key={`${row.kind}${row.id}`}>
										<rect
											x={left}
											y={top}
											width={wide}
											height={Math.max(0.5, high - 2)}
											rx={2}
											fill={shade(cell.residual)}
											stroke="var(--color-edge)"
											{...opens(label, () => onOpen({ row: at, group: place, left_out: null }))}
										>
											<title>{label}</title>
										</rect>
										{high > 15 && wide > 60 && (
											<text x={left + 6} y={top + Math.min(high / 2 + 4, 16)} fill="var(--color-ink)" pointerEvents="none">
												{cutTo(row.name, wide - 30)} <tspan fill="var(--color-ink-soft)">{cell.count}</tspan>
											</text>
										)}
									</g>
								);
							})}
						</g>
					);
				})}
			</svg>
		</>
	);
}

const cutTo = (name: string, wide: number) =>
	name.length * 6.2 > wide ? `${name.slice(0, Math.max(1, Math.floor(wide / 6.2) - 1))}…` : name;

function shade(residual: number | null): string {
	if (residual === null || Math.abs(residual) < 1) return "var(--color-card)";
	if (residual <= -2) return "var(--color-below-more)";
	if (residual < 0) return "var(--color-below)";
	return residual >= 2 ? "var(--color-above-more)" : "var(--color-above)";
}
