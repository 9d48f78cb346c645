import { Link } from "react-router";
import { say } from "../../language/say";
import { useAddressed } from "../../project/address";
import { useProject } from "../../project/project";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { counted } from "../../ui/words";
import type { Comparison, Row } from "../data";
import { apartOf, cellInWords, type Figures, madeOf, short } from "../figures";
import { RowMark, rowKey } from "../RowMark";
import { type CellChange, type CellKey, useCellChange, useFrozen } from "./frozen";
import { AsItWas, CameAndWent, Since } from "./Told";

/** A comparison as it was; every cell opens its passages of then, and what has changed. */
export function FrozenComparison({ id }: { id: number }) {
	const project = useProject();
	const found = useFrozen(id);
	const [open, setOpen] = useAddressed("open", "");
	const opened = readCell(open);
	const setOpened = (cell: CellKey | null) => setOpen(cell ? cellKey(cell) : "");
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the result")} />;
	const { result, changes, comparison } = found.data;
	const changed = new Map(changes.cells.map((cell) => [cellKey(cell), cell]));
	return (
		<>
			<p className="mt-1 mb-2 text-[15px]">{result.sentence.map((part) => part.text).join("")}</p>
			<Since changed={changes.cells.length > 0 || changes.problem !== ""}>
				{changes.problem
					? say("It can’t be asked again: {problem}", { problem: changes.problem })
					: changes.cells.length
						? say(
								"{cells, plural, one {One cell differs} other {{cells} cells differ}} today, and shows what it is now. Choose it to read which codings made the change.",
								{ cells: changes.cells.length },
							)
						: say("Nothing has changed since: today gives the same.")}
				{changes.gone.length > 0 &&
					say(" {rows, plural, one {# row} other {# rows}} no longer in the project.", { rows: changes.gone.length })}
			</Since>
			<div className="grid cols-[minmax(0,1fr)_auto] items-start gap-4">
				<Then result={result} gone={new Set(changes.gone)} changed={changed} opened={opened} onOpen={setOpened} />
				{opened && (
					<Change
						key={cellKey(opened)}
						frozen={id}
						cell={opened}
						change={changed.get(cellKey(opened))}
						result={result}
						onClose={() => setOpened(null)}
					/>
				)}
			</div>
			<div className="mt-2 mb-2 text-[13px] text-quiet">
				{[result.left_out_line, ...result.cautions.map((one) => one.text)].map((line) => (
					<p key={line}>{line}</p>
				))}
			</div>
			{comparison && (
				<Link className="font-semibold text-spruce hover:underline" to={`/projects/${project.id}/compare?kept=${comparison}`}>
					{say("Open the comparison as it is today")}
				</Link>
			)}
		</>
	);
}

const cellKey = ({ kind, id, group }: CellKey) => `${kind}:${id}|${group}`;

function readCell(said: string): CellKey | null {
	const [, kind, id, group] = /^(\w+):(\d+)\|(.*)$/s.exec(said) ?? [];
	return kind && id && group !== undefined ? { kind: kind as CellKey["kind"], id: Number(id), group } : null;
}

interface ThenProps {
	result: Comparison;
	gone: Set<string>;
	changed: Map<string, CellChange>;
	opened: CellKey | null;
	onOpen: (cell: CellKey) => void;
}

function Then({ result, gone, changed, opened, onOpen }: ThenProps) {
	return (
		<div className="pane rounded-lg border border-line bg-card">
			<table className="w-full border-collapse">
				<thead>
					<tr className="text-left text-[13px]">
						<th className="border-b border-line px-2 py-1.5">{say("Row")}</th>
						{result.groups.map((group) => (
							<th key={group.name} className="border-b border-line px-2 py-1.5">
								<span style={{ color: groupMark(group.mark).colour }}>
									{groupMark(group.mark).shape} {group.name}
								</span>
								<small className="block font-normal text-quiet">{say("{people} then", { people: group.people })}</small>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{result.rows.map((row) => (
						<tr key={rowKey(row)}>
							<th scope="row" className="border-b border-line2 px-2 py-1.5 text-left font-medium">
								<RowMark row={row} />
								{row.name}
								{gone.has(rowKey(row)) && <small className="ml-1 font-normal text-danger">{say("not in the project any more")}</small>}
							</th>
							{row.cells.map((cell, place) => {
								const key = { kind: row.kind, id: row.id, group: result.groups[place]?.name ?? "" };
								return (
									<ThenCell
										key={key.group}
										row={row}
										cell={cell}
										group={key.group}
										figures={result.figures}
										change={changed.get(cellKey(key))}
										on={opened !== null && cellKey(opened) === cellKey(key)}
										onOpen={() => onOpen(key)}
									/>
								);
							})}
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}

interface ThenCellProps {
	row: Row;
	cell: Row["cells"][number];
	group: string;
	figures: Figures;
	change: CellChange | undefined;
	on: boolean;
	onOpen: () => void;
}

function ThenCell({ row, cell, group, figures, change, on, onOpen }: ThenCellProps) {
	const now = change?.now ? `${short(figures, change.now.figure)} ${madeOf(figures, change.now.count, change.now.base)}` : say("gone");
	const words = `${row.name}, ${group}: ${cellInWords(figures, cell)}`;
	const became = change && say("now {now} · +{gained} −{lost} passages", { now, gained: change.gained, lost: change.lost });
	return (
		<td {...apartOf(figures, cell)} className={`border-b border-line2 p-0 ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}>
			<button
				type="button"
				className={`block w-full px-2 py-1.5 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)] ${change ? "bg-apricot-soft" : ""}`}
				aria-label={became ? say("{words}; {became}. What changed", { words, became }) : say("{words} then. Its passages", { words })}
				onClick={onOpen}
			>
				<b className="text-base font-semibold">{short(figures, cell.figure)}</b>{" "}
				<span className="ml-0.5 text-[11.8px] text-ink-soft">{madeOf(figures, cell.count, cell.base)}</span>{" "}
				{became && <span className="block text-[12px] font-semibold text-apricot-deep">{became}</span>}
			</button>
		</td>
	);
}

interface ChangeProps {
	frozen: number;
	cell: CellKey;
	change: CellChange | undefined;
	result: Comparison;
	onClose: () => void;
}

function Change({ frozen, cell, change, result, onClose }: ChangeProps) {
	const { case_one, case_many } = useProject();
	const found = useCellChange(frozen, cell);
	const row = result.rows.find((one) => rowKey(one) === `${cell.kind}:${cell.id}`);
	const data = found.data;
	return (
		<aside aria-label={say("What changed")} className="max-h-[70vh] w-[380px] pane rounded-lg border border-line bg-card p-4">
			<div className="mb-1 flex">
				<h2>
					{row?.name} · {cell.group}
				</h2>
				<button
					type="button"
					aria-label={say("Close")}
					className="ml-auto text-lg leading-none text-quiet hover:text-ink"
					onClick={onClose}
				>
					×
				</button>
			</div>
			{change && change.joined + change.left > 0 && (
				<p className="mb-2 quiet-line">
					{say("{joined} joined the group, {left} left it.", { joined: counted(change.joined, case_one, case_many), left: change.left })}
				</p>
			)}
			{found.error && <Problem error={found.error} />}
			{found.isPending && <Loading what={say("the passages")} />}
			{data && <CameAndWent told={data} />}
			{change && data && data.gained.length + data.lost.length === 0 && (
				<p className="mb-2 quiet-line">{say("The same passages: only who belongs to the group has changed.")}</p>
			)}
			{data && data.as_it_was.length > 0 && <h3 className="mb-1 font-semibold">{say("As it was then")}</h3>}
			{data?.as_it_was.map((passage) => (
				<AsItWas key={passage.id} passage={passage} />
			))}
			{data && data.as_it_was.length === 0 && <p className="quiet-line">{say("No passage was counted here then.")}</p>}
		</aside>
	);
}
