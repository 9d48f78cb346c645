import { useState } from "react";
import type { Shape } from "../api/client";
import { KINDS, REASONS } from "../gather/SheetReading";
import { useMayCode, useProject } from "../shell/project";
import { counted } from "../ui/words";
import { type Case, usePeopleWrites, type Variable } from "./data";
import { MiniBars } from "./MiniBars";

type Sort = { by: number | "identifier" | "documents"; down: boolean };

/** One row a case, one column a variable, each headed by its own small distribution. */
export function Roster({
	roster,
	chosen,
	onChoose,
	highlighted,
}: {
	roster: Shape<"RosterOut">;
	chosen: number | null;
	onChoose: (variable: number | null) => void;
	highlighted: number | null;
}) {
	const { case_one } = useProject();
	const mayCode = useMayCode();
	const { renameCase, deleteCase } = usePeopleWrites();
	const [sort, setSort] = useState<Sort>({ by: "identifier", down: false });
	const [words, setWords] = useState("");
	const rows = arranged(roster.cases, words, sort, roster.variables);
	const by = (column: Sort["by"]) => setSort({ by: column, down: sort.by === column && !sort.down });
	const arrow = (column: Sort["by"]) => (sort.by === column ? (sort.down ? " ↓" : " ↑") : "");
	return (
		<>
			<input
				aria-label="Filter the roster"
				placeholder="Filter, such as Holm or never"
				className="field mb-2 w-64"
				value={words}
				onChange={(event) => setWords(event.target.value)}
			/>
			<div className="w-fit max-w-full overflow-auto rounded-lg border border-line bg-white">
				<table className="border-collapse">
					<thead className="sticky top-0 z-10 bg-white">
						<tr>
							<th className="sticky left-0 border-r border-b border-line2 border-b-line bg-white px-2.5 py-2 text-left align-bottom text-[13px]">
								<button type="button" className="font-semibold capitalize" onClick={() => by("identifier")}>
									{case_one}
									{arrow("identifier")}
								</button>
								<span className="block text-[11.6px] font-normal text-quiet">{rows.length}</span>
							</th>
							{roster.variables.map((variable) => (
								<th
									key={variable.id}
									className={`border-r border-b border-line2 border-b-line px-2.5 py-2 text-left align-bottom text-[13px] ${chosen === variable.id ? "bg-spruce-soft" : ""}`}
									aria-sort={sort.by === variable.id ? (sort.down ? "descending" : "ascending") : "none"}
								>
									<button
										type="button"
										className="block max-w-36 text-left font-semibold leading-tight hover:text-spruce"
										onClick={() => onChoose(chosen === variable.id ? null : variable.id)}
										aria-expanded={chosen === variable.id}
									>
										{variable.name}
									</button>
									<button
										type="button"
										className="text-[11.6px] font-normal text-quiet hover:text-ink"
										onClick={() => by(variable.id)}
										title={`Sort by ${variable.name}`}
									>
										{kindWords(variable)}
										{arrow(variable.id)}
									</button>
									<MiniBars variable={variable} strong={chosen === variable.id} />
								</th>
							))}
							<th className="border-b border-line px-2.5 py-2 text-right align-bottom text-[13px]">
								<button type="button" className="font-semibold" onClick={() => by("documents")}>
									Documents{arrow("documents")}
								</button>
							</th>
							{mayCode && (
								<th className="border-b border-line">
									<span className="sr-only">Delete</span>
								</th>
							)}
						</tr>
					</thead>
					<tbody>
						{rows.map((row) => (
							<tr key={row.id} className={`border-b border-line2 last:border-0 ${highlighted === row.id ? "bg-apricot-soft" : ""}`}>
								<td className="sticky left-0 border-r border-line2 bg-inherit px-2.5 font-semibold">
									<EditableText
										label={`ID of ${row.identifier}`}
										value={row.identifier}
										disabled={!mayCode}
										onSave={(identifier) => renameCase.mutate({ id: row.id, identifier })}
									/>
								</td>
								{roster.variables.map((variable) => (
									<td
										key={variable.id}
										className={`border-r border-line2 px-2.5 ${variable.kind === "number" ? "text-right" : ""} ${chosen === variable.id ? "bg-[#F4F9F8]" : ""}`}
									>
										<Cell row={row} variable={variable} />
									</td>
								))}
								<td className="px-2.5 text-right">{row.documents || <span className="text-quiet italic">none</span>}</td>
								{mayCode && (
									<td className="px-2">
										<button
											type="button"
											aria-label={`Delete ${row.identifier}`}
											title="Delete; undo brings it back"
											className="text-quiet hover:text-danger"
											onClick={() => deleteCase.mutate(row.id)}
										>
											×
										</button>
									</td>
								)}
							</tr>
						))}
					</tbody>
				</table>
				{rows.length === 0 && <p className="p-3 quiet-line">Nobody matches “{words}”.</p>}
			</div>
		</>
	);
}

/** A value edited in place; empty is missing, for the variable’s reason or one chosen. */
function Cell({ row, variable }: { row: Case; variable: Variable }) {
	const mayCode = useMayCode();
	const { setValue } = usePeopleWrites();
	const [editing, setEditing] = useState(false);
	const value = row.values[variable.id];
	const reason = REASONS.find((one) => one.value === (value ? value.missing : variable.when_empty))?.label;
	const shown = value && value.missing === null ? value.text : "";
	const label = `${variable.name} of ${row.identifier}`;
	const options = variable.kind === "yes_no" ? ["yes", "no"] : variable.categories;
	const save = (text: string, missing: Shape<"MissingReason"> | null = null) => {
		setEditing(false);
		if (missing !== null || text.trim() !== shown) setValue.mutate({ case: row.id, variable: variable.id, text: text.trim(), missing });
	};
	if (!editing)
		return (
			<button
				type="button"
				disabled={!mayCode}
				aria-label={`${label}: ${shown || reason}`}
				className="block min-h-7 w-full text-left text-[13.4px]"
				style={variable.kind === "number" ? { textAlign: "right" } : undefined}
				onClick={() => setEditing(true)}
			>
				{shown || <span className="text-[#766f5f] italic">{reason}</span>}
			</button>
		);
	const missingOptions = REASONS.map((one) => (
		<option key={one.value} value={`missing:${one.value}`}>
			({one.label})
		</option>
	));
	if (options.length)
		return (
			<select
				autoFocus
				aria-label={label}
				className="field w-full"
				defaultValue={shown}
				onBlur={() => setEditing(false)}
				onChange={(event) => {
					const [kind, rest] = event.target.value.split(":", 2);
					if (kind === "missing" && rest) save("", rest as Shape<"MissingReason">);
					else save(event.target.value);
				}}
			>
				{!shown && <option value="">({reason})</option>}
				{options.map((option) => (
					<option key={option} value={option}>
						{option}
					</option>
				))}
				{missingOptions}
			</select>
		);
	return (
		<input
			autoFocus
			aria-label={label}
			className="field w-24"
			defaultValue={shown}
			onBlur={(event) => save(event.target.value)}
			onKeyDown={(event) => {
				if (event.key === "Enter") event.currentTarget.blur();
				if (event.key === "Escape") setEditing(false);
			}}
		/>
	);
}

function EditableText({
	label,
	value,
	disabled,
	onSave,
}: {
	label: string;
	value: string;
	disabled: boolean;
	onSave: (value: string) => void;
}) {
	const [editing, setEditing] = useState(false);
	if (!editing)
		return (
			<button
				type="button"
				disabled={disabled}
				aria-label={label}
				title={disabled ? undefined : "Rename"}
				className="min-h-7 text-left"
				onClick={() => setEditing(true)}
			>
				{value}
			</button>
		);
	return (
		<input
			autoFocus
			aria-label={label}
			className="field w-28"
			defaultValue={value}
			onBlur={(event) => {
				setEditing(false);
				if (event.target.value.trim() && event.target.value.trim() !== value) onSave(event.target.value.trim());
			}}
			onKeyDown={(event) => {
				if (event.key === "Enter") event.currentTarget.blur();
				if (event.key === "Escape") setEditing(false);
			}}
		/>
	);
}

function kindWords(variable: Variable): string {
	if (variable.kind === "category") return counted(variable.categories.length, "category", "categories");
	return KINDS.find((kind) => kind.value === variable.kind)?.label.toLowerCase() ?? variable.kind;
}

function arranged(cases: Case[], words: string, sort: Sort, variables: Variable[]): Case[] {
	const wanted = words.toLowerCase();
	const kept = cases.filter((row) =>
		`${row.identifier} ${Object.values(row.values)
			.map((value) => value.text || value.missing?.replace("_", " "))
			.join(" ")}`
			.toLowerCase()
			.includes(wanted),
	);
	const variable = variables.find((one) => one.id === sort.by);
	const value = (row: Case): string | number => {
		if (sort.by === "identifier") return row.identifier;
		if (sort.by === "documents") return row.documents;
		const text = row.values[sort.by]?.text ?? "";
		if (variable?.kind === "ordered") return variable.categories.indexOf(text);
		return variable?.kind === "number" ? (text === "" ? Number.POSITIVE_INFINITY : Number(text)) : text;
	};
	return [...kept].sort((a, b) => {
		const [left, right] = [value(a), value(b)];
		const order =
			typeof left === "number" && typeof right === "number"
				? left - right
				: String(left).localeCompare(String(right), "en", { numeric: true });
		return sort.down ? -order : order;
	});
}
