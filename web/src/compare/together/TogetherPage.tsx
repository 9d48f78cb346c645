import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Shape, take } from "../../api/client";
import { useCodebook } from "../../coding/data";
import { useDocumentVariables, useRoster } from "../../people/data";
import { useAddress } from "../../shell/address";
import { useProject } from "../../shell/project";
import { scopeRequest, useScope } from "../../shell/scope";
import { Choice } from "../../ui/Choice";
import { Empty, Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { counted } from "../../ui/words";
import { ComparePages } from "../ComparePages";
import { RowMark } from "../RowMark";
import { Rows } from "../sentence/Rows";
import { COMPARABLE } from "../spec";
import { Meetings } from "./Meetings";

type Question = Shape<"TogetherInRequest">;
export type Together = Shape<"TogetherOut">;
const MEASURES = { people: "people who say both", passages: "passages", documents: "documents", pairs: "pairs of passages" } as const;
const UNITS = { overlap: "on the same words", turns: "turns apart", paragraphs: "paragraphs apart", seconds: "seconds apart" } as const;
type Unit = keyof typeof UNITS;
type Measure = keyof typeof MEASURES;

export interface Cell {
	row: number;
	column: number;
	group: number | null;
}

/** Codes with codes: how often they meet on the same words or near each other, whole or by group side by side. */
export function TogetherPage() {
	const { id, case_many } = useProject();
	const [params, change] = useAddress();
	const { scope } = useScope();
	const codes = useCodebook().data?.codes;
	const variables = [...(useRoster().data?.variables ?? []), ...(useDocumentVariables().data ?? [])].filter((one) =>
		COMPARABLE.has(one.kind),
	);
	const [opened, setOpened] = useState<Cell | null>(null);
	const top = codes?.filter((code) => code.parent === null).map((code) => code.id) ?? [];
	const first = codes?.filter((code) => code.parent === top[0]).map((code) => code.id) ?? [];
	const known = new Set(codes?.map((code) => code.id));
	const chosen = params.has("codes")
		? (params.get("codes") ?? "")
				.split(".")
				.map(Number)
				.filter((one) => known.has(one))
		: first.length > 1
			? first
			: top;
	const unit = (params.get("unit") ?? "overlap") as Unit;
	const within = Number(params.get("within") ?? (unit === "seconds" ? 10 : 1)) || 0;
	const shown = params.get("show") === "likeness" ? "likeness" : "counts";
	const body: Question = {
		codes: chosen,
		measure: (params.get("measure") ?? "people") as Measure,
		unit,
		within: unit === "overlap" ? 0 : within,
		roll_up: params.get("rollup") === "1",
		columns: "variable",
		variable: Number(params.get("variable")) || null,
		scope: scopeRequest(scope),
	};
	const found = useQuery({
		queryKey: ["project", id, "together", body],
		enabled: chosen.length > 1,
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/together", { params: { path: { project_id: id } }, body })),
	});
	const set = (part: Record<string, string | null>) => {
		setOpened(null);
		change(part);
	};
	if (!codes) return <Loading what="the codebook" />;
	const data = found.data;
	return (
		<div className={`grid h-full ${opened && data ? "grid-cols-[minmax(0,1fr)_400px]" : "grid-cols-1"}`}>
			<div className="min-h-0 overflow-auto px-4.5 py-3.5">
				<ComparePages />
				<h1 className="mt-3 mb-2.5 font-normal! text-[19px]! leading-relaxed!">
					How often do{" "}
					<Rows
						codes={codes}
						chosen={chosen}
						themes={[]}
						queries={[]}
						label={counted(chosen.length, "code")}
						onChange={(part) => set({ codes: part.codes ?? "" })}
					/>{" "}
					meet each other{" "}
					<Choice
						as="token"
						name="How near"
						value={unit}
						shown={unit === "overlap" ? UNITS.overlap : `at most ${within} ${UNITS[unit]}`}
						options={(Object.keys(UNITS) as Unit[]).map((value) => ({
							value,
							label: value === "overlap" ? UNITS.overlap : `at most some ${UNITS[value]}`,
						}))}
						onChange={(next) => set({ unit: next === "overlap" ? null : next, within: null })}
					/>
					{unit !== "overlap" && (
						<input
							type="number"
							min={0}
							aria-label="Distance"
							className="field ml-1 w-16 py-0! text-[15px]"
							value={within}
							onChange={(event) => set({ within: event.target.value })}
						/>
					)}
					, counting{" "}
					<Choice
						as="token"
						name="Measure"
						value={body.measure as Measure}
						options={(Object.keys(MEASURES) as Measure[]).map((value) => ({
							value,
							label: value === "people" ? `${case_many} who say both` : MEASURES[value],
							hint:
								value === "passages"
									? "of the row’s code that meet one of the column’s"
									: value === "people"
										? "both passages their own"
										: "",
						}))}
						onChange={(measure) => set({ measure: measure === "people" ? null : measure })}
					/>
					, by{" "}
					<Choice
						as="token"
						name="Groups"
						value={body.variable ?? 0}
						options={[{ value: 0, label: "no groups" }, ...variables.map((one) => ({ value: one.id, label: one.name }))]}
						onChange={(variable) => set({ variable: variable ? String(variable) : null })}
					/>
					.
				</h1>
				<p className="mb-3 flex flex-wrap items-center gap-1 text-[13px] text-quiet">
					Show
					<Choice
						as="small"
						name="Show"
						value={shown}
						options={[
							{ value: "counts", label: "how often" },
							{ value: "likeness", label: "likeness (Jaccard)", hint: "those with both, as a share of those with either" },
						]}
						onChange={(next) => set({ show: next === "likeness" ? next : null })}
					/>
					· branches
					<Choice
						as="small"
						name="Branches"
						value={body.roll_up ?? false}
						options={[
							{ value: false, label: "not rolled up" },
							{ value: true, label: "rolled up", hint: "a code counts with all beneath it" },
						]}
						onChange={(rolled) => set({ rollup: rolled ? "1" : null })}
					/>
				</p>
				{chosen.length < 2 && (
					<Empty title="Two codes at least">
						<p>Choose the codes in the sentence above: each becomes a row and a column.</p>
					</Empty>
				)}
				{found.error && <Problem error={found.error} />}
				{data && chosen.length > 1 && (
					<div aria-busy={found.isPlaceholderData} className={found.isPlaceholderData ? "opacity-60" : ""}>
						{data.groups.length === 0 ? (
							<Grid data={data} table={data.whole} shown={shown} group={null} opened={opened} onOpen={setOpened} />
						) : (
							<div className="flex flex-wrap gap-5">
								{data.groups.map((table, group) => (
									<div key={table.name}>
										<h2 className="mb-1 font-semibold" style={{ color: groupMark(table.mark).colour }}>
											{groupMark(table.mark).shape} {table.name}
										</h2>
										<Grid data={data} table={table} shown={shown} group={group} opened={opened} onOpen={setOpened} />
									</div>
								))}
								{data.groups.length === 2 && <Gap data={data} />}
							</div>
						)}
						<p className="mt-2 max-w-3xl text-[13px] text-quiet">
							On the diagonal: how many have the code at all.{" "}
							{data.measure === "passages" && "Read along a row: the table isn’t the same both ways. "}
							{data.passages_left_out > 0 &&
								`${counted(data.passages_left_out, "passage")} of these codes nobody in scope said; they are left out. `}
							{data.lineage.length > 0 && "A dash: one lies beneath the other, so rolled up they meet by themselves."}
						</p>
					</div>
				)}
			</div>
			{opened && data && (
				<Meetings key={JSON.stringify([opened, body])} body={body} cell={opened} data={data} onClose={() => setOpened(null)} />
			)}
		</div>
	);
}

interface GridProps {
	data: Together;
	table: Shape<"MeetTable">;
	shown: "counts" | "likeness";
	group: number | null;
	opened: Cell | null;
	onOpen: (cell: Cell) => void;
}

const AMOUNTS = ["", "bg-[#E8F0EF]", "bg-[#D3E3E2]", "bg-[#B9D2D1]", "bg-[#9DBFBE]"];

function Grid({ data, table, shown, group, opened, onOpen }: GridProps) {
	const related = new Set(data.lineage.flatMap(([a, b]) => [`${a}-${b}`, `${b}-${a}`]));
	const off = (row: number, column: number) => row !== column && !related.has(`${row}-${column}`);
	const most = Math.max(1, ...table.counts.flatMap((line, row) => line.filter((_, column) => off(row, column))));
	return (
		<div className="max-h-[70vh] w-fit max-w-full overflow-auto rounded-lg border border-line bg-white">
			<table className="border-collapse text-[13px]">
				<thead className="sticky top-0 z-10 bg-white">
					<tr className="align-bottom">
						<th className="sticky left-0 z-20 min-w-40 bg-white" />
						{data.codes.map((code) => (
							<th key={code.id} scope="col" className="h-44 border-b border-line px-1 pb-1 font-medium">
								<span className="inline-block max-h-44 truncate [writing-mode:vertical-rl] rotate-180">{code.name}</span>
							</th>
						))}
					</tr>
				</thead>
				<tbody>
					{data.codes.map((code, row) => (
						<tr key={code.id}>
							<th scope="row" className="sticky left-0 bg-white px-2 py-1 text-left font-medium whitespace-nowrap">
								<RowMark row={code} />
								{code.name}
							</th>
							{data.codes.map((other, column) => {
								const count = table.counts[row]?.[column] ?? 0;
								const like = table.likeness[row]?.[column] ?? null;
								const words = `${code.name} with ${other.name}: ${count}, likeness ${like === null ? "none" : like.toFixed(2)}`;
								if (related.has(`${row}-${column}`))
									return (
										<td key={other.id} className="border border-line2 text-center text-quiet" title="One lies beneath the other">
											–
										</td>
									);
								const tint =
									row === column
										? "bg-paper2"
										: (AMOUNTS[Math.min(4, Math.ceil(4 * (shown === "counts" ? count / most : (like ?? 0)) || 0))] ?? "");
								const on = opened?.row === row && opened.column === column && opened.group === group;
								return (
									<td
										key={other.id}
										className={`border border-line2 p-0 ${tint} ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
									>
										<button
											type="button"
											title={words}
											aria-label={`${words}. Open the passages`}
											className={`h-8 w-10 ${row === column ? "text-quiet" : count ? "font-semibold" : "text-[#9a927f]"} hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]`}
											onClick={() => onOpen({ row, column, group })}
										>
											{shown === "counts" ? count : like === null ? "–" : like.toFixed(2).replace(/^0/, "")}
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

/** Of two groups: where the likeness of two codes differs most, in figures. */
function Gap({ data }: { data: Together }) {
	const [one, other] = data.groups;
	if (!one || !other) return null;
	const pairs = data.codes.flatMap((_, row) =>
		data.codes.slice(row + 1).map((__, at) => {
			const column = row + 1 + at;
			const [a, b] = [one.likeness[row]?.[column], other.likeness[row]?.[column]];
			return { row, column, a: a ?? null, b: b ?? null, gap: a == null || b == null ? 0 : a - b };
		}),
	);
	const told = pairs.filter((pair) => pair.gap !== 0).sort((x, y) => Math.abs(y.gap) - Math.abs(x.gap));
	return (
		<div className="min-w-72">
			<h2 className="mb-1 font-semibold">Differences in likeness</h2>
			<ul className="rounded-lg border border-line bg-white p-2 text-[13px]">
				{told.slice(0, 10).map((pair) => (
					<li key={`${pair.row}-${pair.column}`} className="flex gap-2 border-b border-line2 py-1 last:border-0">
						<span className="min-w-0 flex-1">
							{data.codes[pair.row]?.name} with {data.codes[pair.column]?.name}
						</span>
						<b className="whitespace-nowrap">
							{pair.gap > 0 ? "+" : "−"}
							{Math.abs(pair.gap).toFixed(2).replace(/^0/, "")}
						</b>
						<span className="whitespace-nowrap text-quiet">
							{pair.a?.toFixed(2)} − {pair.b?.toFixed(2)}
						</span>
					</li>
				))}
				{told.length === 0 && <li className="quiet-line">No pair differs, or none meets in both.</li>}
			</ul>
			<p className="mt-1 text-[12.6px] text-quiet">
				{one.name} minus {other.name}; not tested. Open a cell to read.
			</p>
		</div>
	);
}
