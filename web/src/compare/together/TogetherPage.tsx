import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useDocumentVariables, useRoster } from "../../people/data";
import { useAddress } from "../../project/address";
import { useProject } from "../../project/project";
import { useScope } from "../../project/scope";
import { Choice } from "../../ui/Choice";
import { Empty, Loading, Problem } from "../../ui/Empty";
import { groupMark } from "../../ui/palette";
import { ComparePages } from "../ComparePages";
import { ExportMenu, GuardedPicture, Head, Way } from "../exports/ExportMenu";
import { useSaving } from "../exports/saving";
import { Rows } from "../sentence/Rows";
import { COMPARABLE } from "../spec";
import { asked, meeting, type Near } from "./asked";
import { type Cell, readCell, there, writeCell } from "./cell";
import { Grid } from "./Grid";
import { Meetings } from "./Meetings";
import { Gap, Most } from "./Pairs";

export { askAhead } from "./asked";

const NONE: never[] = [];
const MEASURES = {
	people: say("people who say both"),
	passages: "passages",
	documents: "documents",
	pairs: say("pairs of passages"),
} as const;
type Measure = keyof typeof MEASURES;
/** How near, as it is chosen: the distance itself is typed beside it. */
const NEAR: Record<Near, string> = {
	turn: say("in the same turn"),
	overlap: say("on the same words"),
	turns: say("at most some turns apart"),
	paragraphs: say("at most some paragraphs apart"),
	seconds: say("at most some seconds apart"),
};
const UNITS = { turns: say("turns apart"), paragraphs: say("paragraphs apart"), seconds: say("seconds apart") } as const;

/** Codes with codes: how often they meet on the same words or near each other, whole or by group side by side. */
export function TogetherPage() {
	const { id, case_many } = useProject();
	const [params, change] = useAddress();
	const { scope } = useScope();
	const codes = useCodebook().data?.codes;
	const variables = [...(useRoster().data?.variables ?? []), ...(useDocumentVariables().data ?? [])].filter((one) =>
		COMPARABLE.has(one.kind),
	);
	const { file, table: copied } = useSaving();
	const opened = readCell(params.get("open"));
	const setOpened = (cell: Cell | null) => change({ open: cell && writeCell(cell), up: null }, true);
	const known = codes ?? NONE;
	const { body, near, within } = useMemo(() => asked(params, known, scope), [params, known, scope]);
	const chosen = body.codes;
	const shown = params.get("show") === "likeness" ? "likeness" : "counts";
	const found = useQuery({ ...meeting(id, body), enabled: chosen.length > 1, placeholderData: keepPreviousData });
	const set = (part: Record<string, string | null>) => change({ open: null, ...part });
	if (!codes) return <Loading what={say("the codebook")} />;
	const data = found.data;
	return (
		<div className={`grid filling ${opened && data && there(opened, data) ? "cols-[minmax(0,1fr)_400px] instead" : "grid-cols-1"}`}>
			<div className="pane px-4.5 py-3.5">
				<div className="flex flex-wrap items-center gap-y-1">
					<ComparePages />
					{data && chosen.length > 1 && (
						<span className="ml-auto">
							<ExportMenu>
								<Head>{say("Table")}</Head>
								<Way label={say("Spreadsheet (.xlsx)")} onClick={() => void file("compare/together/export", { ...body, format: "xlsx" })} />
								<Way label={say("Plain table (.csv)")} onClick={() => void file("compare/together/export", { ...body, format: "csv" })} />
								<Way
									label={say("Data for other programs (.zip)")}
									onClick={() => void file("compare/together/export", { ...body, format: "zip" })}
								/>
								<Way label={say("Copy as table")} onClick={() => void copied("compare/together/export", { ...body, format: "tsv" })} />
								<GuardedPicture above={[data.sentence]} below={[]} name="codes-with-codes" />
							</ExportMenu>
						</span>
					)}
				</div>
				<h2 className="title mt-3 mb-2.5 font-normal! text-[19px]! leading-relaxed!">
					{say("How often do")}{" "}
					<Rows
						codes={codes}
						chosen={chosen}
						themes={[]}
						queries={[]}
						label={say("{codes, plural, one {# code} other {# codes}}", { codes: chosen.length })}
						onChange={(part) => set({ codes: part.codes ?? "" })}
					/>{" "}
					{say("meet each other")}{" "}
					<Choice
						as="token"
						name={say("How near")}
						value={near}
						shown={near === "turn" || near === "overlap" ? NEAR[near] : say("at most {within} {units}", { within, units: UNITS[near] })}
						options={(Object.keys(NEAR) as Near[]).map((value) => ({ value, label: NEAR[value] }))}
						onChange={(next) => set({ unit: next === "turn" ? null : next, within: null })}
					/>
					{near in UNITS && (
						<input
							type="number"
							min={0}
							aria-label={say("Distance")}
							className="field ml-1 w-16 py-0! text-[15px]"
							value={within}
							onChange={(event) => set({ within: event.target.value })}
						/>
					)}
					{say(", counting")}{" "}
					<Choice
						as="token"
						name={say("Measure")}
						value={body.measure as Measure}
						options={(Object.keys(MEASURES) as Measure[]).map((value) => ({
							value,
							label: value === "people" ? say("{many} who say both", { many: case_many }) : MEASURES[value],
							hint:
								value === "passages"
									? say("of the row’s code that meet one of the column’s")
									: value === "people"
										? say("both passages their own")
										: "",
						}))}
						onChange={(measure) => set({ measure: measure === "people" ? null : measure })}
					/>
					{say(", by")}{" "}
					<Choice
						as="token"
						name={say("Groups")}
						value={body.variable ?? 0}
						options={[{ value: 0, label: say("no groups") }, ...variables.map((one) => ({ value: one.id, label: one.name }))]}
						onChange={(variable) => set({ variable: variable ? String(variable) : null })}
					/>
					.
				</h2>
				<p className="mb-3 flex flex-wrap items-center gap-1 text-[13px] text-quiet">
					{say("Show")}
					<Choice
						as="small"
						name={say("Show")}
						value={shown}
						options={[
							{ value: "counts", label: say("how often") },
							{ value: "likeness", label: say("likeness (Jaccard)"), hint: say("those with both, as a share of those with either") },
						]}
						onChange={(next) => set({ show: next === "likeness" ? next : null })}
					/>
					{say("· branches")}
					<Choice
						as="small"
						name={say("Branches")}
						value={body.roll_up ?? false}
						options={[
							{ value: false, label: say("not rolled up") },
							{ value: true, label: say("rolled up"), hint: say("a code counts with all beneath it") },
						]}
						onChange={(rolled) => set({ rollup: rolled ? "1" : null })}
					/>
				</p>
				{chosen.length < 2 && (
					<Empty title={say("Two codes at least")}>
						<p>{say("Choose the codes in the sentence above: each becomes a row and a column.")}</p>
					</Empty>
				)}
				{found.error && <Problem error={found.error} />}
				{data && chosen.length > 1 && (
					<div aria-busy={found.isPlaceholderData} className={found.isPlaceholderData ? "opacity-60" : ""}>
						<div data-form className="grid cols-[300px_minmax(0,1fr)] items-start gap-5 max-[1000px]:grid-cols-1">
							{data.groups.length > 1 ? (
								<Gap key={data.variable} data={data} onOpen={setOpened} />
							) : (
								<Most data={data} onOpen={setOpened} />
							)}
							{data.groups.length === 0 ? (
								<Grid data={data} table={data.whole} shown={shown} group={null} opened={opened} onOpen={setOpened} />
							) : (
								<div className="flex min-w-0 flex-wrap gap-5">
									{data.groups.map((table, group) => (
										<div key={table.name} className="max-w-full">
											<h2 className="mb-1" style={{ color: groupMark(table.mark).colour }}>
												{groupMark(table.mark).shape} {table.name}
											</h2>
											<Grid data={data} table={table} shown={shown} group={group} opened={opened} onOpen={setOpened} />
										</div>
									))}
								</div>
							)}
						</div>
						<p className="mt-2 max-w-3xl text-[13px] text-quiet">
							{say("On the diagonal: how many have the code at all.")}{" "}
							{data.measure === "passages" && say("Read along a row: the table isn’t the same both ways. ")}
							{data.passages_left_out > 0 &&
								say("{passages, plural, one {# passage} other {# passages}} of these codes nobody in scope said; they are left out. ", {
									passages: data.passages_left_out,
								})}
							{data.lineage.length > 0 && say("A dash: one lies beneath the other, so rolled up they meet by themselves.")}
						</p>
					</div>
				)}
			</div>
			{opened && data && there(opened, data) && (
				<Meetings key={JSON.stringify([opened, body])} body={body} cell={opened} data={data} onClose={() => setOpened(null)} />
			)}
		</div>
	);
}
