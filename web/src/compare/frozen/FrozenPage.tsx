import { useState } from "react";
import { Link, useParams } from "react-router";
import { useMayCode, useProject } from "../../shell/project";
import { Button } from "../../ui/Button";
import { Empty, Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { useToasts } from "../../ui/toasts";
import { counted, isoDay } from "../../ui/words";
import { ComparePages } from "../ComparePages";
import type { Comparison } from "../data";
import { inWords, madeOf, short } from "../figures";
import { Passage } from "../Passage";
import { RowMark, rowKey } from "../RowMark";
import { type CellChange, type Frozen, useCellChange, useFrozen, useFrozenList, useFrozenWrites } from "./frozen";

/** Results as they were on a day, each with what has changed since. */
export function FrozenPage() {
	const project = useProject();
	const chosen = Number(useParams().frozenId) || null;
	const list = useFrozenList();
	const found = useFrozen(chosen);
	if (list.error) return <Problem error={list.error} />;
	if (!list.data) return <Loading what="frozen results" />;
	return (
		<div className="h-full overflow-auto px-4.5 py-3.5">
			<ComparePages />
			{list.data.length === 0 ? (
				<Empty title="Nothing is frozen yet">
					<p>
						A frozen result keeps a comparison as it is today, with its passages. Later it says cell by cell what has changed since.{" "}
						<Link className="font-semibold text-spruce underline" to={`/projects/${project.id}/compare`}>
							Compare groups, then press Freeze
						</Link>
					</p>
				</Empty>
			) : (
				<div className="mt-3 grid grid-cols-[230px_minmax(0,1fr)] gap-5">
					<ul aria-label="Frozen results">
						{list.data.map((one) => (
							<li key={one.id} className="border-b border-line2">
								<Link
									to={`/projects/${project.id}/compare/frozen/${one.id}`}
									aria-current={one.id === chosen ? "page" : undefined}
									className={`block rounded px-2 py-1.5 ${one.id === chosen ? "bg-spruce-soft" : "hover:bg-paper2"}`}
								>
									<b className="font-semibold">{one.name}</b>
									<span className="block text-[12.6px] text-quiet">
										{isoDay(one.made_at)}, by {one.author}
									</span>
								</Link>
							</li>
						))}
					</ul>
					{chosen === null && <p className="quiet-line">Choose a frozen result.</p>}
					{found.error && <Problem error={found.error} />}
					{chosen !== null && found.isPending && <Loading what="the result" />}
					{found.data && <Result key={found.data.id} frozen={found.data} />}
				</div>
			)}
		</div>
	);
}

function Result({ frozen }: { frozen: Frozen }) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const { remove } = useFrozenWrites();
	const { tell } = useToasts();
	const [opened, setOpened] = useState<CellChange | null>(null);
	const { result, changes } = frozen;
	const changed = new Map(changes.cells.map((cell) => [`${cell.kind}:${cell.id}|${cell.group}`, cell]));
	return (
		<section aria-label={frozen.name}>
			<div className="flex items-center gap-2.5">
				<h1 className="text-[19px]!">{frozen.name}</h1>
				<span className="rounded-full bg-[#E3E8F0] px-2.5 py-0.5 text-[12.6px] font-semibold text-[#33415C]">
					Frozen {isoDay(frozen.made_at)}
				</span>
				<span className="ml-auto flex gap-2">
					{mayCode && (
						<Button
							onClick={() => remove.mutate(frozen.id, { onSuccess: () => tell(`“${frozen.name}” is deleted. Ctrl Z brings it back.`) })}
						>
							Delete
						</Button>
					)}
				</span>
			</div>
			<p className="mt-1 mb-2 text-[15px]">{result.sentence.map((part) => part.text).join("")}</p>
			<p
				role="status"
				className={`mb-2 rounded-md px-3 py-1.5 text-[13.4px] ${changes.cells.length ? "bg-apricot-soft" : "bg-spruce-soft"}`}
			>
				{changes.problem
					? `It can’t be asked again: ${changes.problem}`
					: changes.cells.length
						? `${changes.cells.length === 1 ? "One cell differs" : `${changes.cells.length} cells differ`} today, and shows what it is now. Choose it to read which codings made the change.`
						: "Nothing has changed since: today gives the same."}
				{changes.gone.length > 0 && ` ${counted(changes.gone.length, "row")} no longer in the project.`}
			</p>
			<div className="grid grid-cols-[minmax(0,1fr)_auto] gap-4">
				<Then result={result} gone={new Set(changes.gone)} changed={changed} opened={opened} onOpen={setOpened} />
				{opened && <Change frozen={frozen.id} cell={opened} result={result} onClose={() => setOpened(null)} />}
			</div>
			<div className="mt-2 mb-2 text-[13px] text-quiet">
				{[result.left_out_line, ...result.cautions].map((line) => (
					<p key={line}>{line}</p>
				))}
			</div>
			{frozen.comparison && (
				<Link className="font-semibold text-spruce hover:underline" to={`/projects/${id}/compare?kept=${frozen.comparison}`}>
					Open the comparison as it is today
				</Link>
			)}
		</section>
	);
}

function Then({
	result,
	gone,
	changed,
	opened,
	onOpen,
}: {
	result: Comparison;
	gone: Set<string>;
	changed: Map<string, CellChange>;
	opened: CellChange | null;
	onOpen: (cell: CellChange) => void;
}) {
	return (
		<div className="overflow-auto rounded-lg border border-line bg-white">
			<table className="w-full border-collapse">
				<thead>
					<tr className="text-left text-[13px]">
						<th className="border-b border-line px-2 py-1.5">Row</th>
						{result.groups.map((group) => (
							<th key={group.name} className="border-b border-line px-2 py-1.5">
								<span style={{ color: groupMark(group.mark).colour }}>
									{groupMark(group.mark).shape} {group.name}
								</span>
								<small className="block font-normal text-quiet">{group.people} then</small>
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
								{gone.has(rowKey(row)) && <small className="ml-1 font-normal text-danger">not in the project any more</small>}
							</th>
							{row.cells.map((cell, place) => {
								const group = result.groups[place]?.name ?? "";
								const change = changed.get(`${rowKey(row)}|${group}`);
								const figures = (
									<>
										<b className="text-base font-semibold">{short(result.measure, cell.figure)}</b>
										<span className="ml-1 text-[11.8px] text-[#454d5b]">{madeOf(result.measure, cell.count, cell.base)}</span>
									</>
								);
								if (!change)
									return (
										<td key={group} className="border-b border-line2 px-2 py-1.5">
											{figures}
										</td>
									);
								const now = change.now
									? `${short(result.measure, change.now.figure)} ${madeOf(result.measure, change.now.count, change.now.base)}`
									: "gone";
								return (
									<td
										key={group}
										className={`border-b border-line2 p-0 ${opened === change ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
									>
										<button
											type="button"
											className="block w-full bg-apricot-soft px-2 py-1.5 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
											aria-label={`${row.name}, ${group}: ${inWords(result.measure, cell.figure)} then, ${now} now. What changed`}
											onClick={() => onOpen(change)}
										>
											{figures}
											<span className="block text-[12px] font-semibold text-apricot-deep">
												now {now} · +{change.gained} −{change.lost} passages
											</span>
										</button>
									</td>
								);
							})}
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}

function Change({ frozen, cell, result, onClose }: { frozen: number; cell: CellChange; result: Comparison; onClose: () => void }) {
	const { case_one, case_many } = useProject();
	const found = useCellChange(frozen, { kind: cell.kind, id: cell.id, group: cell.group });
	const row = result.rows.find((one) => rowKey(one) === `${cell.kind}:${cell.id}`);
	return (
		<aside aria-label="What changed" className="max-h-[70vh] w-[380px] overflow-auto rounded-lg border border-line bg-white p-4">
			<div className="flex">
				<h2>
					{row?.name} · {cell.group}
				</h2>
				<button type="button" aria-label="Close" className="ml-auto text-lg leading-none text-quiet hover:text-ink" onClick={onClose}>
					×
				</button>
			</div>
			<p className="mb-2 quiet-line">
				{counted(cell.joined, case_one, case_many)} joined the group, {cell.left} left it.
			</p>
			{found.isPending && <Loading what="the passages" />}
			{found.data && found.data.gained.length > 0 && <h3 className="mb-1 font-semibold text-[#3E7A4B]">Came in</h3>}
			{found.data?.gained.map((passage) => (
				<div key={passage.id} className="mb-2.5">
					<p className="text-[12.6px] text-quiet">{passage.why}</p>
					<Passage passage={passage} by={passage.people.join(", ")} />
				</div>
			))}
			{found.data && found.data.lost.length > 0 && <h3 className="mb-1 font-semibold text-danger">Went out</h3>}
			{found.data?.lost.map((passage) => (
				<div key={passage.id} className="mb-2.5">
					<p className="text-[12.6px] text-quiet">{passage.why}</p>
					<blockquote className="font-serif text-[14.5px] leading-normal">{passage.text}</blockquote>
					<footer className="text-[12.2px] text-quiet">
						<b className="font-semibold text-ink">{passage.people.join(", ")}</b> · {passage.title}
					</footer>
				</div>
			))}
			{found.data && found.data.gained.length + found.data.lost.length === 0 && (
				<p className="quiet-line">The same passages: only who belongs to the group has changed.</p>
			)}
		</aside>
	);
}
