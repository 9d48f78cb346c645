import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type Shape, take } from "../../api/client";
import { say } from "../../language/say";
import { useDocumentVariables, useRoster } from "../../people/data";
import { useAddress } from "../../project/address";
import { useProject } from "../../project/project";
import { scopeRequest, useScope } from "../../project/scope";
import { Choice } from "../../ui/Choice";
import { Loading, Problem } from "../../ui/Empty";
import { Segments } from "../../ui/Segments";
import { decimal, isoDay } from "../../ui/words";
import { ComparePages } from "../ComparePages";
import { ExportMenu, GuardedPicture, Head, Way } from "../exports/ExportMenu";
import { useSaving } from "../exports/saving";
import { COMPARABLE } from "../spec";
import { Holdings } from "./Holdings";
import { Saturation } from "./Saturation";

type Progress = Shape<"ProgressOut">;

/** What the codebook holds, how coding went along, and whether enough was heard. */
export function OverviewPage() {
	const { id, case_many } = useProject();
	const [params, change] = useAddress();
	const { scope } = useScope();
	const variables = [...(useRoster().data?.variables ?? []), ...(useDocumentVariables().data ?? [])].filter((one) =>
		COMPARABLE.has(one.kind),
	);
	const variable = Number(params.get("variable")) || null;
	const part = params.get("part") ?? "holds";
	const measure = params.get("measure") === "people" ? "people" : "passages";
	const form = params.get("form") === "ring" ? "ring" : "tiles";
	const { file, table: copied } = useSaving();
	const body = { columns: "variable" as const, variable, scope: scopeRequest(scope) };
	const path = { params: { path: { project_id: id } } };
	const holdings = useQuery({
		queryKey: ["project", id, "holdings", body],
		enabled: part === "holds",
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/holdings", { ...path, body })),
	});
	const number = (name: string, usual: number) => Number(params.get(name)) || usual;
	const choice = { base: number("base", 4), run: number("run", 2), threshold: number("threshold", 5) / 100 };
	const progress = useQuery({
		queryKey: ["project", id, "progress", body, choice],
		enabled: part !== "holds",
		placeholderData: keepPreviousData,
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/progress", { ...path, body: { ...body, ...choice } })),
	});
	const error = holdings.error ?? progress.error;
	return (
		<div className="filling pane px-4.5 py-3.5">
			<div className="flex flex-wrap items-center gap-y-1">
				<ComparePages />
				<span className="ml-auto">
					<ExportMenu>
						<Head>{say("Table")}</Head>
						<Way
							label={say("Spreadsheet (.xlsx)")}
							onClick={() =>
								void (part === "holds"
									? file("compare/holdings/export", body, say("Exported: every code, by itself and with all beneath it."))
									: file("compare/progress/export", { ...body, ...choice }, say("Exported: by document, day, coder, and interview.")))
							}
						/>
						{part === "holds" && (
							<>
								<Way
									label={say("Data for other programs (.zip)")}
									onClick={() => void file("compare/holdings/export", { ...body, format: "zip" })}
								/>
								<Way label={say("Copy as table")} onClick={() => void copied("compare/holdings/export", { ...body, format: "tsv" })} />
							</>
						)}
						{part !== "went" && (
							<GuardedPicture
								above={[
									part === "holds"
										? say("What the codebook holds, by {which}", { which: measure === "people" ? case_many : "passages" })
										: say("Codes heard, interview by interview"),
								]}
								below={[]}
								name={part === "holds" ? "codebook-holds" : "heard-enough"}
							/>
						)}
					</ExportMenu>
				</span>
			</div>
			<div className="mt-3 mb-3 flex flex-wrap items-center gap-3">
				<Segments
					name={say("Part")}
					value={part}
					options={[
						{ value: "holds", label: say("What the codebook holds") },
						{ value: "went", label: say("How coding went along") },
						{ value: "enough", label: say("Heard enough?") },
					]}
					onChange={(next) => change({ part: next === "holds" ? null : next })}
				/>
				{part === "holds" && (
					<>
						<Segments
							name={say("Measure")}
							value={measure}
							options={[
								{ value: "passages", label: say("by passages") },
								{ value: "people", label: say("by {many}", { many: case_many }) },
							]}
							onChange={(next) => change({ measure: next === "people" ? next : null })}
						/>
						<Segments
							name={say("Form")}
							value={form}
							options={[
								{ value: "tiles", label: say("tiles") },
								{ value: "ring", label: say("ring") },
							]}
							onChange={(next) => change({ form: next === "ring" ? next : null })}
						/>
					</>
				)}
				{part !== "went" && (
					<span className="text-[13.4px] text-quiet">
						{say("by", undefined, "kind of group")}
						<Choice
							as="small"
							name={say("Groups")}
							value={variable ?? 0}
							options={[{ value: 0, label: say("no groups") }, ...variables.map((one) => ({ value: one.id, label: one.name }))]}
							onChange={(next) => change({ variable: next ? String(next) : null })}
						/>
					</span>
				)}
			</div>
			{error && <Problem error={error} />}
			{part === "holds" &&
				(holdings.data ? <Holdings data={holdings.data} measure={measure} form={form} /> : <Loading what={say("the codebook")} />)}
			{part === "went" && (progress.data ? <Went data={progress.data} /> : <Loading what={say("the codings")} />)}
			{part === "enough" &&
				(progress.data ? <Saturation data={progress.data} choice={choice} onChoice={change} /> : <Loading what={say("the interviews")} />)}
		</div>
	);
}

function Went({ data }: { data: Progress }) {
	const { id } = useProject();
	const most = Math.max(1, ...data.documents.map((one) => one.codings));
	const days = Math.max(1, ...data.days.map((one) => one.codings));
	const all = data.coders.reduce((sum, one) => sum + one.codings, 0);
	return (
		<div className="grid cols-[minmax(0,3fr)_minmax(0,2fr)] gap-5">
			<section aria-label={say("By document")}>
				<h2 className="mb-1 font-semibold">{say("By document, in the order they came")}</h2>
				<table className="w-full rounded-lg border border-line bg-card text-[13.4px]">
					<thead>
						<tr className="text-left text-quiet">
							<th className="px-2 py-1 font-medium">{say("Document")}</th>
							<th className="px-2 font-medium">{say("Codings")}</th>
							<th className="px-2 text-right font-medium">{say("Codes")}</th>
							<th className="px-2 text-right font-medium">{say("Codings per 1,000 words")}</th>
						</tr>
					</thead>
					<tbody>
						{data.documents.map((one) => (
							<tr key={one.document} className="border-t border-line2">
								<td className="max-w-64 truncate px-2 py-0.5">
									<Link className="inline-block min-h-[24px] hover:underline" to={`/projects/${id}/code/${one.document}`}>
										{one.title}
									</Link>
								</td>
								<td className="px-2">
									<span className="flex items-center gap-1.5">
										<i className="h-2.5 rounded-sm bg-spruce/60" style={{ width: `${(110 * one.codings) / most}px` }} />
										{one.codings}
									</span>
								</td>
								<td className="px-2 text-right">{one.codes}</td>
								<td className="px-2 text-right">{one.words ? decimal((1000 * one.codings) / one.words, 1) : "–"}</td>
							</tr>
						))}
					</tbody>
				</table>
			</section>
			<div>
				<section aria-label={say("By day")}>
					<h2 className="mb-1 font-semibold">{say("By day")}</h2>
					<ul className="mb-4 rounded-lg border border-line bg-card p-2 text-[13.4px]">
						{data.days.map((one) => (
							<li key={one.day} className="flex items-center gap-2 py-0.5">
								<span className="w-24 text-quiet">{isoDay(one.day)}</span>
								<i className="h-2.5 rounded-sm bg-spruce/60" style={{ width: `${(120 * one.codings) / days}px` }} />
								{one.codings}
								{one.new_codes > 0 && (
									<span className="text-quiet">
										{say("· {codes, plural, one {# code} other {# codes}} used for the first time", { codes: one.new_codes })}
									</span>
								)}
							</li>
						))}
						{data.days.length === 0 && <li className="quiet-line">{say("No coding in scope.")}</li>}
					</ul>
				</section>
				<section aria-label={say("By coder")}>
					<h2 className="mb-1 font-semibold">{say("By coder")}</h2>
					<ul className="rounded-lg border border-line bg-card p-2 text-[13.4px]">
						{data.coders.map((one) => (
							<li key={one.coder} className="flex items-center gap-2 py-0.5">
								<span className="w-36 truncate">{one.name}</span>
								<i className="h-2.5 rounded-sm bg-spruce/60" style={{ width: `${(100 * one.codings) / Math.max(all, 1)}px` }} />
								{one.codings}
							</li>
						))}
					</ul>
				</section>
			</div>
		</div>
	);
}
