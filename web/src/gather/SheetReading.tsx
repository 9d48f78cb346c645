import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import type { Shape } from "../api/client";
import { KINDS, REASONS } from "../people/kinds";
import { useProject } from "../project/project";
import { Choice } from "../ui/Choice";
import { Segments } from "../ui/Segments";
import { counted } from "../ui/words";
import { type Staged, type StagedChoices, useStagedWrites } from "./data";

type Column = Shape<"FoundColumn">;
/** A card for each column: what it is, of which type, and what an empty cell means. */
export function SheetReading({ row, sheet }: { row: Staged; sheet: Shape<"FoundSheet"> }) {
	const { correct } = useStagedWrites();
	const { case_many } = useProject();
	const change = (part: StagedChoices) => correct.mutate({ id: row.id, choices: { ...row.choices, ...part } });
	const changeColumn = (name: string, part: Shape<"ColumnChoiceIn">) =>
		change({ columns: { ...row.choices.columns, [name]: { ...row.choices.columns?.[name], ...part } } });
	const both = sheet.columns.some((column) => column.role === "document_id");
	return (
		<div>
			<div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-lg border border-line bg-card px-3 py-2 text-[13px]">
				<span className="flex items-center gap-1">
					Column names in
					<Choice
						as="small"
						name="Row of column names"
						value={sheet.header}
						options={[
							{ value: -1, label: "no row", hint: "the first row is data" },
							...sheet.first_rows.map((cells, place) => ({
								value: place,
								label: `row ${place + 1}`,
								hint: cells.filter(Boolean).slice(0, 5).join(" · ") || "empty",
							})),
						]}
						onChange={(header) => change({ header, header_rows: header < 0 ? 0 : 1 })}
					/>
				</span>
				{sheet.header >= 0 && (
					<span className="flex items-center gap-1">
						over
						<Choice
							as="small"
							name="How many rows of column names"
							value={sheet.header_rows}
							options={[
								{ value: 1, label: "one row" },
								{ value: 2, label: "two rows" },
							]}
							onChange={(header_rows) => change({ header: sheet.header, header_rows })}
						/>
					</span>
				)}
				<span className="text-quiet">read as {row.format}</span>
				{row.choices.remembered && (
					<p className="basis-full text-spruce">
						Read as the last sheet with these columns was.{" "}
						<button type="button" className="font-semibold underline" onClick={() => correct.mutate({ id: row.id, choices: {} })}>
							Read it afresh
						</button>
					</p>
				)}
				{sheet.warnings.map((warning) => (
					<p key={warning} className="basis-full text-apricot-deep">
						{warning}
					</p>
				))}
			</div>
			{sheet.without_text > 0 && (
				<div className="mb-3 flex flex-wrap items-center gap-3 rounded-lg border border-line bg-card px-3 py-2 text-[13px]">
					<b>{counted(sheet.without_text, "row")} without any answer in words.</b>
					<Segments
						name="Rows without any text"
						value={row.choices.without_text ?? "keep"}
						options={[
							{ value: "keep", label: `Keep the ${case_many}, without a document` },
							{ value: "leave_out", label: "Leave them out" },
						]}
						onChange={(without_text) => change({ without_text })}
					/>
				</div>
			)}
			<div className="grid grid-cols-2 gap-2.5 min-[1500px]:grid-cols-3">
				{sheet.columns.map((column) => (
					<ColumnCard key={column.name} column={column} both={both} onChange={(part) => changeColumn(column.name, part)} />
				))}
			</div>
		</div>
	);
}

function ColumnCard({ column, both, onChange }: { column: Column; both: boolean; onChange: (part: Shape<"ColumnChoiceIn">) => void }) {
	const { case_one } = useProject();
	const [name, setName] = useState(column.shown);
	const grouped = column.kind === "category" || column.kind === "ordered";
	const coded = column.missing_as.filter((one) => /^[-−]?\d+$/.test(one.text));
	return (
		<section
			className={`rounded-lg border bg-card p-3 ${column.problems.length ? "border-danger/50" : "border-line"} ${column.role === "leave_out" ? "opacity-60" : ""}`}
			aria-label={`Column ${column.name}`}
		>
			<input
				aria-label={`Name of ${column.name}`}
				className="mb-1.5 -ml-1 w-full truncate rounded px-1 font-semibold hover:bg-paper2"
				title={column.name}
				value={name}
				onChange={(event) => setName(event.target.value)}
				onBlur={() => name !== column.shown && onChange({ name })}
			/>
			<Choice
				name={`What ${column.name} is`}
				value={column.role}
				options={[
					{ value: "case_id", label: `ID of the ${case_one}` },
					{ value: "document_id", label: "ID of the document", hint: "its name, or its file’s" },
					{ value: "variable", label: "Variable" },
					{ value: "answer", label: "Answer to code", hint: "in people’s own words: becomes text" },
					{ value: "leave_out", label: "Leave out" },
				]}
				onChange={(role) => onChange({ role })}
			/>
			<div className="mt-2 text-[13px] leading-relaxed">
				{column.role === "variable" && (
					<div className="flex flex-wrap items-center gap-x-2">
						<Choice
							as="small"
							name={`Type of ${column.name}`}
							value={column.kind}
							options={KINDS}
							onChange={(kind) => onChange({ kind })}
						/>
						{both && (
							<Choice
								as="small"
								name={`What ${column.name} is a fact about`}
								value={column.of}
								options={[
									{ value: "case", label: `of the ${case_one}` },
									{ value: "document", label: "of the document", hint: "such as its wave, date or site" },
								]}
								onChange={(of) => onChange({ of })}
							/>
						)}
						<span className="text-quiet">{counted(column.distinct, "value")}</span>
						{column.kind === "date" && (
							<Choice
								as="small"
								name={`How ${column.name} writes 03/04/2025`}
								value={"as it is"}
								shown="03/04 is …"
								options={[
									{ value: "day", label: "3 April: the day first" },
									{ value: "month", label: "4 March: the month first" },
								]}
								onChange={(first) => onChange({ days_first: first === "day" })}
							/>
						)}
						{column.missing > 0 && (
							<span className="flex flex-wrap items-center text-quiet">
								{column.missing} missing
								{column.missing_as.length > 0 && ` (${column.missing_as.map((one) => `${one.text} ${one.count}×`).join(", ")})`}, empty is
								<Choice
									as="small"
									name={`An empty cell of ${column.name} means`}
									value={column.when_empty}
									options={REASONS}
									onChange={(when_empty) => onChange({ when_empty })}
								/>
							</span>
						)}
						{coded.length > 0 && (
							<button type="button" className="font-semibold text-spruce hover:underline" onClick={() => onChange({ codes_count: true })}>
								{coded.map((one) => one.text).join(", ")} is a value
							</button>
						)}
					</div>
				)}
				{(column.role === "case_id" || column.role === "document_id") && (
					<p className="text-quiet">
						{column.distinct} different{column.missing ? `, ${column.missing} empty` : ", none empty"}
					</p>
				)}
				{column.role === "answer" && (
					<p className="text-quiet">
						{counted(column.distinct, "different answer")}
						{column.missing > 0 && `, ${column.missing} empty`}. One document a {case_one}, the question a section.
					</p>
				)}
				{column.role === "variable" && grouped && column.categories.length <= 12 ? (
					<CategoryOrder column={column} onChange={(categories) => onChange({ categories, kind: "ordered" })} />
				) : (
					<p className="truncate text-quiet">
						{column.first_values.join(", ")}
						{column.distinct > column.first_values.length ? " …" : ""}
					</p>
				)}
				{column.problems.length > 0 && <p className="text-danger">Doesn’t fit: {column.problems.join("; ")}</p>}
			</div>
		</section>
	);
}

/** Categories in their order; moving one makes the column an ordered category. */
function CategoryOrder({ column, onChange }: { column: Column; onChange: (order: string[]) => void }) {
	const move = (from: number, by: number) => {
		const next = [...column.categories];
		const [label] = next.splice(from, 1);
		next.splice(from + by, 0, label as string);
		onChange(next);
	};
	if (column.kind !== "ordered") return <p className="truncate text-quiet">{column.categories.join(" · ")}</p>;
	return (
		<ol className="mt-1 flex flex-wrap gap-1">
			{column.categories.map((label, place) => (
				<li key={label} className="flex items-center gap-0.5 rounded-full bg-paper2 px-2">
					{label}
					{place > 0 && (
						<button
							type="button"
							aria-label={`Move ${label} earlier`}
							className="text-quiet hover:text-ink"
							onClick={() => move(place, -1)}
						>
							<ArrowUp size={11} className="-rotate-90" />
						</button>
					)}
					{place < column.categories.length - 1 && (
						<button type="button" aria-label={`Move ${label} later`} className="text-quiet hover:text-ink" onClick={() => move(place, 1)}>
							<ArrowDown size={11} className="-rotate-90" />
						</button>
					)}
				</li>
			))}
		</ol>
	);
}
