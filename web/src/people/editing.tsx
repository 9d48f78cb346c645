import { useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useMayCode } from "../project/project";
import { type Cell, usePeopleWrites, type Variable } from "./data";
import { REASONS } from "./kinds";

type Place = {
	of: Shape<"Subject">;
	subject: number;
	name: string;
	cell: Cell | undefined;
	variable: Variable;
	onPaste?: (text: string) => void;
};

/** A value edited in place; empty is missing, for the variable’s reason or one chosen.
 * Thousands stand in a roster, so that what writing needs comes only with the one that is edited. */
export function ValueCell(place: Place) {
	const { name, cell, variable } = place;
	const mayCode = useMayCode() && variable.definition === null;
	const [editing, setEditing] = useState(false);
	const reason = reasonOf(cell, variable);
	const shown = shownOf(cell);
	if (editing) return <ValueEditor {...place} onDone={() => setEditing(false)} />;
	return (
		<button
			type="button"
			disabled={!mayCode}
			aria-label={say("{name} of {name2}: {shown}", { name: variable.name, name2: name, shown: shown || reason })}
			title={shown.length > 30 ? shown : undefined}
			className={`block min-h-7 w-full truncate text-[13.4px] ${variable.kind === "number" ? "text-right" : "text-left"} ${variable.definition ? "text-quiet" : ""}`}
			onClick={() => setEditing(true)}
			onPaste={(event) => pasteBlock(event, place.onPaste)}
		>
			{shown || <span className="text-absent italic">{reason}</span>}
		</button>
	);
}

const shownOf = (cell: Cell | undefined) => (cell && cell.missing === null ? cell.text : "");
const reasonOf = (cell: Cell | undefined, variable: Variable) =>
	REASONS.find((one) => one.value === (cell ? cell.missing : variable.when_empty))?.label;

/** A block of several cells goes to the roster; a single value goes where the cursor is. */
function pasteBlock(event: React.ClipboardEvent, onPaste?: (text: string) => void): boolean {
	const text = event.clipboardData.getData("text");
	if (!onPaste || !/[\t\n]/.test(text.trimEnd())) return false;
	event.preventDefault();
	onPaste(text);
	return true;
}

function ValueEditor({ of, subject, name, cell, variable, onPaste, onDone }: Place & { onDone: () => void }) {
	const { setValue, setValues } = usePeopleWrites();
	const reason = reasonOf(cell, variable);
	const shown = shownOf(cell);
	const label = say("{name} of {name2}", { name: variable.name, name2: name });
	const options = variable.kind === "yes_no" ? ["yes", "no"] : variable.categories;
	const save = (text: string, missing: Shape<"MissingReason"> | null = null) => {
		onDone();
		if (missing === null && text.trim() === shown) return;
		const said = { text: text.trim(), missing };
		if (of === "case") setValue.mutate({ case: subject, variable: variable.id, ...said });
		else setValues.mutate({ of, cells: [{ subject, variable: variable.id, ...said }] });
	};
	const pasted = (event: React.ClipboardEvent) => pasteBlock(event, onPaste) && onDone();
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
				onBlur={onDone}
				onPaste={pasted}
				onChange={(event) => {
					const value = event.target.value;
					if (value.startsWith("missing:")) save("", value.slice(8) as Shape<"MissingReason">);
					else save(value);
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
			onPaste={pasted}
			onBlur={(event) => save(event.target.value)}
			onKeyDown={(event) => {
				if (event.key === "Enter") event.currentTarget.blur();
				if (event.key === "Escape") onDone();
			}}
		/>
	);
}

/** A name changed in place. */
export function EditableText({
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
				title={disabled ? undefined : say("Rename")}
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
