import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useProject } from "../shell/project";
import { Choice } from "../ui/Choice";
import { useToasts } from "../ui/toasts";
import { download } from "./data";
import type { Question } from "./spec";
import { FORMS, ORDERS, TINTS, type View } from "./view";

const choices = <T extends string>(words: Record<T, string>) =>
	(Object.keys(words) as T[]).map((value) => ({ value, label: words[value] }));

interface Props {
	view: View;
	question: Question;
	/** How many rows are hidden for being small. */
	hidden: number;
	onView: (changes: Record<string, string | null>) => void;
}

/** The forms of a result, how it is drawn, and its way out. */
export function FormBar({ view, question, hidden, onView }: Props) {
	const project = useProject();
	const { case_many } = project;
	const { warn, tell } = useToasts();
	const save = (format: "xlsx" | "csv") =>
		download(project.id, question, format).then(
			() => tell("Exported: the table, the sentence and what is left out."),
			(error: Error) => warn(error.message),
		);
	return (
		<div className="mb-0 flex items-center border-b border-line">
			{FORMS.map((name) => (
				<button
					key={name}
					type="button"
					aria-pressed={view.form === name}
					onClick={() => onView({ form: name === "table" ? null : name })}
					className={`px-3 py-1 font-semibold capitalize ${view.form === name ? "shadow-[inset_0_-2px_var(--color-ink)]" : "text-quiet hover:text-ink"}`}
				>
					{name}
				</button>
			))}
			<span className="mb-1 ml-auto flex items-center gap-1 text-[13px] text-quiet">
				{view.form === "table" && (
					<>
						Tint
						<Choice
							as="small"
							name="Tint"
							value={view.tint}
							options={choices(TINTS)}
							onChange={(tint) => onView({ tint: tint === "expected" ? null : tint })}
						/>
					</>
				)}
				Rows
				<Choice
					as="small"
					name="Order of rows"
					value={view.order}
					options={choices(ORDERS)}
					onChange={(order) => onView({ order: order === "codebook" ? null : order })}
				/>
				<Choice
					as="small"
					name="Small rows"
					value={view.least}
					shown={hidden ? `${hidden} small hidden` : view.least ? "no small ones" : "all"}
					options={[0, 2, 3, 5, 10].map((least) => ({ value: least, label: least ? `of ${least} ${case_many} or more` : "all" }))}
					onChange={(least) => onView({ least: least ? String(least) : null })}
				/>
			</span>
			<Menu>
				<MenuButton className="mb-1 ml-2 rounded-md border border-line bg-white px-2.5 py-1 text-[13px] font-semibold hover:border-quiet">
					Export ▾
				</MenuButton>
				<MenuItems
					anchor={{ to: "bottom end", gap: 4 }}
					className="z-40 rounded-lg border border-line bg-white p-1 shadow-lg focus:outline-none"
				>
					<MenuItem>
						<button
							type="button"
							className="block w-full rounded-md px-3 py-1 text-left data-focus:bg-spruce-soft"
							onClick={() => save("xlsx")}
						>
							Spreadsheet (.xlsx)
						</button>
					</MenuItem>
					<MenuItem>
						<button
							type="button"
							className="block w-full rounded-md px-3 py-1 text-left data-focus:bg-spruce-soft"
							onClick={() => save("csv")}
						>
							Plain table (.csv)
						</button>
					</MenuItem>
				</MenuItems>
			</Menu>
		</div>
	);
}
