import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { groupMark } from "../../ui/palette";
import type { Comparison } from "../data";
import { inWords, largest, madeOf, short, unitOf } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import type { Opened } from "../spec";
import { rowsAt } from "./rows";

/** The same figures as bars, a group a bar, with the interval drawn over each; every bar opens. */
interface Props {
	result: Comparison;
	places: number[];
	onOpen: (number: Opened) => void;
}

export function Bars({ stack, ...props }: Props & { stack: boolean }) {
	return stack ? <Stacked {...props} /> : <Grouped {...props} />;
}

function Grouped({ result, places, onOpen }: Props) {
	const { figures } = result;
	const top = largest(result);
	const at = (value: number) => `${Math.min(100, (100 * value) / top)}%`;
	const ticks = [0, 0.25, 0.5, 0.75, 1].map((part) => part * top);
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card p-4">
			<div className="mb-2 flex flex-wrap gap-4 text-[13px]">
				{result.groups.map((group) => {
					const mark = groupMark(group.mark);
					return (
						<span key={group.name} style={{ color: mark.colour }} className="font-semibold">
							{mark.shape} {group.name}
						</span>
					);
				})}
				<span className="ml-auto text-quiet">
					{unitOf(result)}
					{result.rows.some((row) => row.cells.some((cell) => cell.low !== null)) && say(", line: 95 % interval")}
				</span>
			</div>
			<div className="grid grid-cols-[200px_minmax(0,1fr)_110px] gap-x-3 max-[720px]:grid-cols-[92px_minmax(60px,1fr)_96px] max-[720px]:gap-x-2">
				{rowsAt(result, places).map(({ row, place }) => (
					<div key={rowKey(row)} className="contents">
						<div className="border-t border-line2 py-2 text-right font-medium">
							{row.name} <RowMark row={row} />
						</div>
						<div className="relative border-t border-line2 py-2">
							{ticks.map((tick) => (
								<i key={tick} aria-hidden="true" className="absolute inset-y-0 w-px bg-line2" style={{ left: at(tick) }} />
							))}
							{row.cells.map((cell, group) => {
								const name = result.groups[group]?.name ?? "";
								const mark = groupMark(result.groups[group]?.mark ?? 0);
								const words = `${row.name}, ${name}: ${inWords(figures, cell.figure)}, ${madeOf(figures, cell.count, cell.base)}`;
								return (
									<button
										key={name}
										type="button"
										aria-label={say("{words}. Open the passages", { words })}
										title={words}
										className="relative block h-[24px] w-full text-left"
										onClick={() => onOpen({ row: place, group, left_out: null })}
									>
										<i
											className="absolute inset-y-1 left-0 rounded-sm"
											style={{
												width: at(cell.figure ?? 0),
												background: `color-mix(in srgb, ${mark.colour} 62%, var(--color-bar-ground))`,
											}}
										/>
										{cell.low !== null && cell.high !== null && (
											<u
												className="absolute top-1/2 h-px bg-ink"
												style={{ left: at(cell.low), width: `calc(${at(cell.high)} - ${at(cell.low)})` }}
											/>
										)}
									</button>
								);
							})}
						</div>
						<div className="border-t border-line2 py-2 text-[12px]">
							{row.cells.map((cell, group) => {
								const name = result.groups[group]?.name ?? "";
								return (
									<div key={name} className="h-[24px] leading-[24px]">
										<span style={{ color: groupMark(result.groups[group]?.mark ?? 0).colour }} aria-hidden="true">
											{groupMark(result.groups[group]?.mark ?? 0).shape}
										</span>{" "}
										<b>{short(figures, cell.figure)}</b> <span className="text-quiet">{madeOf(figures, cell.count, cell.base)}</span>
									</div>
								);
							})}
						</div>
					</div>
				))}
				<div />
				<div className="relative h-5 text-[11.5px] text-quiet" aria-hidden="true">
					{ticks.map((tick) => (
						<span key={tick} className="absolute -translate-x-1/2" style={{ left: at(tick) }}>
							{short(figures, tick)}
						</span>
					))}
				</div>
			</div>
		</div>
	);
}

/** One bar a row, cut by group to 100 %: whose the row is. Groups of unequal size, so their share of everyone stands on top. */
function Stacked({ result, places, onOpen }: Props) {
	const { case_many } = useProject();
	const parts = (counts: number[]) => {
		const sum = counts.reduce((total, one) => total + one, 0);
		return counts.map((count) => (sum ? count / sum : 0));
	};
	const sizes = parts(result.groups.map((group) => (result.measure === "rate" ? group.words : group.people)));
	const rows = rowsAt(result, places);
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card p-4">
			<p className="mb-2 text-[13px] text-quiet">
				{say(
					"Each bar is 100 % of what is counted in its row, cut by group. Compare it with the bar of the groups themselves: a group of many {many} has more of everything.",
					{ many: case_many },
				)}
			</p>
			<div className="grid grid-cols-[200px_minmax(0,1fr)] max-[720px]:grid-cols-[92px_minmax(0,1fr)] items-center gap-x-3 gap-y-1.5">
				<Cut
					name={result.measure === "rate" ? say("All words") : say("Everyone")}
					shares={sizes}
					counts={result.groups.map((group) => (result.measure === "rate" ? group.words : group.people))}
					result={result}
				/>
				{rows.map(({ row, place }) => (
					<Cut
						key={rowKey(row)}
						name={row.name}
						shares={parts(row.cells.map((cell) => cell.count))}
						counts={row.cells.map((cell) => cell.count)}
						result={result}
						onOpen={(group) => onOpen({ row: place, group, left_out: null })}
					/>
				))}
			</div>
		</div>
	);
}

function Cut({
	name,
	shares,
	counts,
	result,
	onOpen,
}: {
	name: string;
	shares: number[];
	counts: number[];
	result: Comparison;
	onOpen?: (group: number) => void;
}) {
	return (
		<>
			<div className={`text-right ${onOpen ? "font-medium" : "text-quiet"}`}>{name}</div>
			<div className="flex h-6 overflow-hidden rounded-sm bg-track">
				{shares.map((share, group) => {
					const of = result.groups[group];
					if (!share || !of) return null;
					const mark = groupMark(of.mark);
					const words = `${name}, ${of.name}: ${Math.round(100 * share)} %, ${counts[group]}`;
					const look = {
						width: `${100 * share}%`,
						background: `color-mix(in srgb, ${mark.colour} ${onOpen ? 62 : 32}%, var(--color-bar-ground))`,
					};
					const inside = share > 0.07 && (
						<span className="truncate px-1 text-[12px] text-on-bar">
							{mark.shape} {onOpen ? `${Math.round(100 * share)}` : of.name}
						</span>
					);
					return onOpen ? (
						<button
							key={of.name}
							type="button"
							title={words}
							aria-label={say("{words}. Open the passages", { words })}
							className="min-w-0 border-r border-card text-left"
							style={look}
							onClick={() => onOpen(group)}
						>
							{inside}
						</button>
					) : (
						<span key={of.name} title={words} className="min-w-0 border-r border-card" style={look}>
							{inside}
						</span>
					);
				})}
			</div>
		</>
	);
}
