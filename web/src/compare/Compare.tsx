import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Link } from "react-router";
import { useCodebook } from "../coding/data";
import { useCohorts, useDocumentVariables, useRoster } from "../people/data";
import { useProject } from "../shell/project";
import { Empty, Loading, Problem } from "../ui/Empty";
import { useToasts } from "../ui/toasts";
import { Bars } from "./Bars";
import { type Comparison, download, useComparison } from "./data";
import { Evidence } from "./Evidence";
import { LeftOut } from "./LeftOut";
import { Sentence } from "./Sentence";
import { StandsOut } from "./StandsOut";
import { type Opened, type Question, useQuestion, writeOpened } from "./spec";
import { Table } from "./Table";

const NONE: never[] = [];

/** The sentence, the result in one of its forms, what it leaves out, and the evidence drawer. */
export function Compare() {
	const project = useProject();
	const codebook = useCodebook();
	const roster = useRoster();
	const codes = codebook.data?.codes ?? [];
	const variables = roster.data?.variables ?? [];
	const ofDocuments = useDocumentVariables();
	const cohorts = useCohorts().data?.cohorts.length ?? 0;
	const { question, set, form, opened } = useQuestion(codes, variables, ofDocuments.data ?? NONE);
	const result = useComparison(question);
	const error = codebook.error ?? roster.error ?? ofDocuments.error;
	if (error) return <Problem error={error} />;
	if (!codebook.data || !roster.data || !ofDocuments.data) return <Loading what="the comparison" />;
	const home = `/projects/${project.id}`;
	if (!question || codes.length === 0)
		return (
			<Empty title="Not yet enough to compare">
				{codes.length === 0 && (
					<p>
						No passage is coded yet.{" "}
						<Link className="font-semibold text-spruce underline" to={`${home}/code`}>
							Read and code
						</Link>
					</p>
				)}
				{!question && (
					<p>
						No variable makes groups yet.{" "}
						<Link className="font-semibold text-spruce underline" to={`${home}/gather/bring-in`}>
							Bring in the sheet of {project.case_many}
						</Link>
					</p>
				)}
			</Empty>
		);
	const show = (number: Opened | null) => set({ open: number && writeOpened(number) }, true);
	return (
		<div
			className={`grid h-full ${opened && result.data ? "grid-cols-[minmax(0,1fr)_372px] max-[900px]:grid-cols-[0_minmax(0,1fr)]" : "grid-cols-1"}`}
		>
			<div className="min-h-0 min-w-0 overflow-auto px-4.5 py-3.5">
				<Sentence
					question={question}
					result={result.data}
					codes={codes}
					axes={{ variables, ofDocuments: ofDocuments.data, cohorts }}
					onChange={set}
				/>
				{result.error && <Problem error={result.error} />}
				{question.codes.length === 0 && (
					<p className="my-6 text-quiet">Choose one or more codes in the sentence above: each becomes a row.</p>
				)}
				{result.data && question.codes.length > 0 && (
					<section aria-label="Result" aria-busy={result.isPlaceholderData} className={result.isPlaceholderData ? "opacity-60" : ""}>
						<StandsOut question={question} onOpen={show} />
						<FormBar form={form} onForm={(next) => set({ form: next === "table" ? null : next }, true)} question={question} />
						{form === "table" ? (
							<Table
								result={result.data}
								opened={opened}
								onOpen={show}
								onPair={(pair) => set({ difference: JSON.stringify(pair) }, true)}
							/>
						) : (
							<Bars result={result.data} onOpen={show} />
						)}
						<LeftOut result={result.data} onOpen={show} />
					</section>
				)}
			</div>
			{opened && result.data && valid(opened, result.data) && (
				<Evidence key={writeOpened(opened)} question={question} opened={opened} result={result.data} onClose={() => show(null)} />
			)}
		</div>
	);
}

/** An address may name a number that this comparison doesn't have. */
function valid(opened: Opened, result: Comparison): boolean {
	return (opened.row === null || opened.row < result.rows.length) && (opened.group === null || opened.group < result.groups.length);
}

function FormBar({ form, onForm, question }: { form: string; onForm: (form: "table" | "bars") => void; question: Question }) {
	const project = useProject();
	const { warn, tell } = useToasts();
	const save = (format: "xlsx" | "csv") =>
		download(project.id, question, format).then(
			() => tell("Exported: the table, the sentence and what is left out."),
			(error: Error) => warn(error.message),
		);
	return (
		<div className="mb-0 flex items-center border-b border-line">
			{(["table", "bars"] as const).map((name) => (
				<button
					key={name}
					type="button"
					aria-pressed={form === name}
					onClick={() => onForm(name)}
					className={`px-3 py-1 font-semibold capitalize ${form === name ? "shadow-[inset_0_-2px_var(--color-ink)]" : "text-quiet hover:text-ink"}`}
				>
					{name}
				</button>
			))}
			<Menu>
				<MenuButton className="mb-1 ml-auto rounded-md border border-line bg-white px-2.5 py-1 text-[13px] font-semibold hover:border-quiet">
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
