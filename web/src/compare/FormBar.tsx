import { useState } from "react";
import { Term } from "../help/Term";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { Choice } from "../ui/Choice";
import type { Comparison } from "./data";
import { Export } from "./exports/Export";
import type { Question } from "./spec";
import { CALLED, FORMS, ORDERS, TINTS, type View } from "./view";

const choices = <T extends string>(words: Record<T, string>) =>
	(Object.keys(words) as T[]).map((value) => ({ value, label: words[value] }));

interface Props {
	view: View;
	question: Question;
	result: Comparison;
	/** How many rows are hidden for being small. */
	hidden: number;
	onView: (changes: Record<string, string | null>) => void;
	onLeaving: (result: Comparison | null) => void;
}

/** The forms of a result, how it is drawn, and its way out. */
export function FormBar({ view, question, result, hidden, onView, onLeaving }: Props) {
	const { case_many } = useProject();
	const [hide, setHide] = useState(0);
	return (
		<div className="print:hidden mb-0 flex flex-wrap items-center border-b border-line">
			{FORMS.map((name) => (
				<button
					key={name}
					type="button"
					aria-pressed={view.form === name}
					onClick={() => onView({ form: name === "table" ? null : name })}
					className={`px-2 py-1 text-[13.4px] font-semibold first-letter:uppercase ${view.form === name ? "shadow-[inset_0_-2px_var(--color-ink)]" : "text-quiet hover:text-ink"}`}
				>
					{CALLED[name]}
				</button>
			))}
			<span className="mb-1 ml-auto flex items-center gap-1 text-[13px] text-quiet">
				{view.form === "table" && (
					<>
						<Term of="expected">{say("Tint")}</Term>
						<Choice
							as="small"
							name={say("Tint")}
							value={view.tint}
							options={choices(TINTS)}
							onChange={(tint) => onView({ tint: tint === "expected" ? null : tint })}
						/>
					</>
				)}
				{(view.form === "table" || view.form === "flow") && (
					<Toggle label={say("Swap sides")} on={view.swap} onClick={() => onView({ swap: view.swap ? null : "1" })} />
				)}
				{view.form === "matrix" && (
					<Toggle label={say("Figures")} on={view.figures} onClick={() => onView({ figures: view.figures ? "0" : null })} />
				)}
				{view.form === "bars" && (
					<Toggle label={say("Stack to 100 %")} on={view.stack} onClick={() => onView({ stack: view.stack ? null : "1" })} />
				)}
				{say("Rows")}
				<Choice
					as="small"
					name={say("Order of rows")}
					value={view.order}
					options={choices(ORDERS)}
					onChange={(order) => onView({ order: order === "codebook" ? null : order })}
				/>
				<Choice
					as="small"
					name={say("Small rows")}
					value={view.least}
					shown={hidden ? say("{hidden} small hidden", { hidden }) : view.least ? say("no small ones") : say("all")}
					options={[0, 2, 3, 5, 10].map((least) => ({
						value: least,
						label: least ? say("of {least} {many} or more", { least, many: case_many }) : say("all"),
					}))}
					onChange={(least) => onView({ least: least ? String(least) : null })}
				/>
			</span>
			<Export question={question} result={result} view={view} least={hide} onLeast={setHide} onLeaving={onLeaving} />
		</div>
	);
}

function Toggle({ label, on, onClick }: { label: string; on: boolean; onClick: () => void }) {
	return (
		<button
			type="button"
			aria-pressed={on}
			onClick={onClick}
			className={`rounded-md px-1.5 font-semibold ${on ? "bg-spruce-soft text-spruce" : "text-ink hover:bg-paper2"}`}
		>
			{label}
		</button>
	);
}
