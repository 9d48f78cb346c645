import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { KINDS, REASONS } from "../people/kinds";
import { useProject } from "../project/project";
import { Choice } from "../ui/Choice";
import { Segments } from "../ui/Segments";
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
					{say("Column names in")}
					<Choice
						as="small"
						name={say("Row of column names")}
						value={sheet.header}
						options={[
							{ value: -1, label: say("no row"), hint: say("the first row is data") },
							...sheet.first_rows.map((cells, place) => ({
								value: place,
								label: say("row {place}", { place: place + 1 }),
								hint: cells.filter(Boolean).slice(0, 5).join(" · ") || say("empty"),
							})),
						]}
						onChange={(header) => change({ header, header_rows: header < 0 ? 0 : 1 })}
					/>
				</span>
				{sheet.header >= 0 && (
					<span className="flex items-center gap-1">
						{say("over")}
						<Choice
							as="small"
							name={say("How many rows of column names")}
							value={sheet.header_rows}
							options={[
								{ value: 1, label: say("one row") },
								{ value: 2, label: say("two rows") },
							]}
							onChange={(header_rows) => change({ header: sheet.header, header_rows })}
						/>
					</span>
				)}
				<span className="text-quiet">{say("read as {format}", { format: row.format })}</span>
				{row.choices.remembered && (
					<p className="basis-full text-spruce">
						{say("Read as the last sheet with these columns was.")}{" "}
						<button type="button" className="font-semibold underline" onClick={() => correct.mutate({ id: row.id, choices: {} })}>
							{say("Read it afresh")}
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
					<b>{say("{rows, plural, one {# row} other {# rows}} without any answer in words.", { rows: sheet.without_text })}</b>
					<Segments
						name={say("Rows without any text")}
						value={row.choices.without_text ?? "keep"}
						options={[
							{ value: "keep", label: say("Keep the {many}, without a document", { many: case_many }) },
							{ value: "leave_out", label: say("Leave them out") },
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
			aria-label={say("Column {name}", { name: column.name })}
		>
			<input
				aria-label={say("Name of {name}", { name: column.name })}
				className="mb-1.5 -ml-1 w-full truncate rounded px-1 font-semibold hover:bg-paper2"
				title={column.name}
				value={name}
				onChange={(event) => setName(event.target.value)}
				onBlur={() => name !== column.shown && onChange({ name })}
			/>
			<Choice
				name={say("What {name} is", { name: column.name })}
				value={column.role}
				options={[
					{ value: "case_id", label: say("ID of the {one}", { one: case_one }) },
					{ value: "document_id", label: say("ID of the document"), hint: say("its name, or its file’s") },
					{ value: "variable", label: say("Variable") },
					{ value: "answer", label: say("Answer to code"), hint: say("in people’s own words: becomes text") },
					{ value: "leave_out", label: say("Leave out") },
				]}
				onChange={(role) => onChange({ role })}
			/>
			<div className="mt-2 text-[13px] leading-relaxed">
				{column.role === "variable" && (
					<div className="flex flex-wrap items-center gap-x-2">
						<Choice
							as="small"
							name={say("Type of {name}", { name: column.name })}
							value={column.kind}
							options={KINDS}
							onChange={(kind) => onChange({ kind })}
						/>
						{both && (
							<Choice
								as="small"
								name={say("What {name} is a fact about", { name: column.name })}
								value={column.of}
								options={[
									{ value: "case", label: say("of the {one}", { one: case_one }) },
									{ value: "document", label: say("of the document"), hint: say("such as its wave, date or site") },
								]}
								onChange={(of) => onChange({ of })}
							/>
						)}
						<span className="text-quiet">{say("{values, plural, one {# value} other {# values}}", { values: column.distinct })}</span>
						{column.kind === "date" && (
							<Choice
								as="small"
								name={say("How {name} writes 03/04/2025", { name: column.name })}
								value={"as it is"}
								shown={say("03/04 is …")}
								options={[
									{ value: "day", label: say("3 April: the day first") },
									{ value: "month", label: say("4 March: the month first") },
								]}
								onChange={(first) => onChange({ days_first: first === "day" })}
							/>
						)}
						{column.missing > 0 && (
							<span className="flex flex-wrap items-center text-quiet">
								{say("{missing} missing", { missing: column.missing })}
								{column.missing_as.length > 0 && ` (${column.missing_as.map((one) => `${one.text} ${one.count}×`).join(", ")})`}
								{say(", empty is")}
								<Choice
									as="small"
									name={say("An empty cell of {name} means", { name: column.name })}
									value={column.when_empty}
									options={REASONS}
									onChange={(when_empty) => onChange({ when_empty })}
								/>
							</span>
						)}
						{coded.length > 0 && (
							<button type="button" className="font-semibold text-spruce hover:underline" onClick={() => onChange({ codes_count: true })}>
								{say("{coded} is a value", { coded: coded.map((one) => one.text).join(", ") })}
							</button>
						)}
					</div>
				)}
				{(column.role === "case_id" || column.role === "document_id") && (
					<p className="text-quiet">
						{column.missing
							? say("{distinct} different, {missing} empty", { distinct: column.distinct, missing: column.missing })
							: say("{distinct} different, none empty", { distinct: column.distinct })}
					</p>
				)}
				{column.role === "answer" && (
					<p className="text-quiet">
						{say("{different, plural, one {# different answer} other {# different answers}}", { different: column.distinct })}
						{column.missing > 0 && say(", {missing} empty", { missing: column.missing })}
						{say(". One document a {one}, the question a section.", { one: case_one })}
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
				{column.problems.length > 0 && (
					<p className="text-danger">{say("Doesn’t fit: {problems}", { problems: column.problems.join("; ") })}</p>
				)}
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
							aria-label={say("Move {label} earlier", { label })}
							className="text-quiet hover:text-ink"
							onClick={() => move(place, -1)}
						>
							<ArrowUp size={11} className="-rotate-90" />
						</button>
					)}
					{place < column.categories.length - 1 && (
						<button
							type="button"
							aria-label={say("Move {label} later", { label })}
							className="text-quiet hover:text-ink"
							onClick={() => move(place, 1)}
						>
							<ArrowDown size={11} className="-rotate-90" />
						</button>
					)}
				</li>
			))}
		</ol>
	);
}
