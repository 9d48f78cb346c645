import { type ReactNode, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { phrase, say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { useScope, WHOLE } from "../project/scope";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { TakeOut } from "../ui/TakeOut";
import { CheckPage } from "./CheckPage";
import { Cohorts } from "./Cohorts";
import { DistributionView } from "./DistributionView";
import { type Case, useCohorts, usePeopleWrites, useRosterInPlay, useUnlinked } from "./data";
import { MakeVariable } from "./MakeVariable";
import { Roster } from "./Roster";
import { Workbench } from "./Workbench";

const TABS = ["roster", "cohorts", "check"] as const;
type Tab = (typeof TABS)[number];
/** What can be taken out of each tab, for the whole project, whatever is in scope. */
const LISTS = {
	roster: { name: "roster", endings: ["xlsx", "csv", "sav"], what: say("everybody, with all that is known of them, or why it isn’t") },
	cohorts: { name: "cohorts", endings: ["xlsx", "csv"], what: say("who is in which cohort") },
	documentCohorts: { name: "document-cohorts", endings: ["xlsx", "csv"], what: say("which document is in which cohort") },
	check: { name: "speakers", endings: ["xlsx", "csv"], what: say("who speaks in which document, and who they are") },
};

/** Who the people are, what is known of them, and which speaker is whom. */
export function People() {
	const project = useProject();
	const mayCode = useMayCode();
	const [params, setParams] = useSearchParams();
	const roster = useRosterInPlay();
	const unlinked = useUnlinked().data ?? [];
	const known = useCohorts().data;
	const cohorts = (known?.cohorts.length ?? 0) + (known?.of_documents.length ?? 0);
	const [asking, setAsking] = useState<"case" | "variable" | null>(null);
	const [merging, setMerging] = useState<Case | null>(null);
	const hindered = hindrance(roster);
	if (hindered) return <Problem error={hindered} />;
	if (!roster.data) return <Loading what={project.case_many} />;
	const { cases, variables } = roster.data;
	// What is linked, grouped, merged or made anew is so for the whole project, whoever is looked at.
	const { every } = roster;
	const tab: Tab = TABS.find((one) => one === params.get("tab")) ?? "roster";
	const variable = tab === "roster" ? variables.find((one) => one.id === Number(params.get("variable"))) : undefined;
	const spread = variables.find((one) => one.id === Number(params.get("spread")));
	const list = LISTS[tab === "cohorts" && params.get("of") === "document" ? "documentCohorts" : tab];
	const set = (changes: Record<string, string | null>) =>
		setParams((before) => {
			const next = new URLSearchParams(before);
			for (const [key, value] of Object.entries(changes)) {
				if (value === null) next.delete(key);
				else next.set(key, value);
			}
			return next;
		});
	const look = (name: Tab, label: string, figure: ReactNode) => (
		<button
			type="button"
			aria-pressed={tab === name}
			onClick={() => set({ tab: name === "roster" ? null : name })}
			className={`pb-0.5 text-[15px] font-semibold whitespace-nowrap ${tab === name ? "shadow-[0_2px_0_var(--color-ink)]" : "text-quiet hover:text-ink"}`}
		>
			{label} <span className="text-[12.5px] font-medium">{figure}</span>
		</button>
	);
	return (
		<div className={`grid filling ${variable ? "cols-[minmax(0,1fr)_360px] instead" : "grid-cols-1"}`}>
			<div className="flex min-h-0 min-w-0 flex-col">
				<div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4.5 pt-3 pb-2.5 print:hidden">
					{look(
						"roster",
						say("Roster"),
						cases.length < every.length ? say("{cases} of {every}", { cases: cases.length, every: every.length }) : cases.length,
					)}
					{look("cohorts", say("Cohorts"), cohorts)}
					{look(
						"check",
						say("Check"),
						unlinked.length ? (
							<span className="text-apricot-deep">{say("{unlinked} to look at", { unlinked: unlinked.length })}</span>
						) : (
							say("nothing open")
						),
					)}
					<span className="ml-auto" />
					{every.length > 0 && <TakeOut path={`/api/projects/${project.id}/lists/${list.name}`} {...list} />}
					{mayCode && (
						<>
							<Link
								to="../gather/bring-in"
								className="rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold hover:border-quiet"
							>
								{say("Bring in a sheet")}
							</Link>
							<Button onClick={() => setAsking("variable")}>{say("Make a variable")}</Button>
							<Button onClick={() => setAsking("case")}>{say("Add a {one}", { one: project.case_one })}</Button>
						</>
					)}
				</div>
				<div className="flex min-h-0 flex-1 flex-col pane px-4.5 pb-4">
					{tab === "check" && <CheckPage rows={unlinked} cases={every} variables={variables} />}
					{tab === "cohorts" && <Cohorts cases={every} variables={variables} />}
					{tab === "roster" && every.length === 0 && <NoCases />}
					{tab === "roster" && every.length > 0 && cases.length === 0 && <NobodyInScope />}
					{tab === "roster" && cases.length > 0 && (
						<>
							<Roster
								roster={roster.data}
								chosen={variable?.id ?? null}
								onChoose={(id) => set({ variable: id === null ? null : String(id) })}
								highlighted={Number(params.get("case")) || null}
								onMerge={setMerging}
							/>
							{unlinked.length > 0 && (
								<button
									type="button"
									onClick={() => set({ tab: "check" })}
									className="mt-3 w-full shrink-0 rounded-lg border border-apricot-line bg-apricot-soft px-3.5 py-2 text-left"
								>
									{phrase(
										"<b>{speakers, plural, one {# speaker} other {# speakers}} without a {one}.</b> {unlinked} passages of theirs are in no comparison yet. <span>Look at {speakers, plural, one {it} other {them}}</span>",
										{
											b: (inner) => <b>{inner}</b>,
											speakers: unlinked.length,
											one: project.case_one,
											unlinked: unlinked.reduce((sum, row) => sum + row.passages, 0),
											span: (inner) => <span className="font-semibold text-spruce">{inner}</span>,
										},
									)}
								</button>
							)}
						</>
					)}
				</div>
			</div>
			{variable && (
				<Workbench
					key={variable.id}
					variable={variable}
					variables={variables}
					cases={every}
					onClose={() => set({ variable: null })}
					onDistribution={() => set({ spread: String(variable.id) })}
				/>
			)}
			{spread && <DistributionView variable={spread} variables={variables} onClose={() => set({ spread: null })} />}
			{asking === "case" && <AddCase onClose={() => setAsking(null)} />}
			{asking === "variable" && (
				<MakeVariable variables={variables} onClose={() => setAsking(null)} onMade={(id) => set({ variable: String(id), tab: null })} />
			)}
			{merging && <Merge row={merging} cases={every} onClose={() => setMerging(null)} />}
		</div>
	);
}

function NobodyInScope() {
	const { case_many } = useProject();
	const { change } = useScope();
	return (
		<Empty title={say("None of the {many} is in scope", { many: case_many })}>
			<p>{say("What is looked at, in the line above, leaves nobody.")}</p>
			<Button onClick={() => change(WHOLE)}>{say("Look at all")}</Button>
		</Empty>
	);
}

function NoCases() {
	const { case_many } = useProject();
	const mayCode = useMayCode();
	return (
		<Empty title={say("No {many} yet", { many: case_many })}>
			<p>
				{say(
					"Bring in the sheet that says who they are (.csv, .xlsx, .ods, .sav …): one row each, a column for their ID. Speakers are linked to them by label or file name.",
				)}
			</p>
			{mayCode && (
				<Link to="../gather/bring-in" className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-on-spruce">
					{say("Bring in a sheet")}
				</Link>
			)}
		</Empty>
	);
}

function AddCase({ onClose }: { onClose: () => void }) {
	const { case_one } = useProject();
	const { addCase } = usePeopleWrites();
	const [identifier, setIdentifier] = useState("");
	const refused = useRefused(addCase.error);
	return (
		<Modal title={say("Add a {one}", { one: case_one })} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					addCase.mutate(identifier, { onSuccess: onClose });
				}}
			>
				<label className="block font-semibold">
					{say("ID or pseudonym")}
					<input
						className="field mt-1 mb-3 w-full font-normal"
						required
						value={identifier}
						{...refused.field}
						onChange={(event) => setIdentifier(event.target.value)}
					/>
				</label>
				{refused.said}
				<Button look="main" type="submit">
					{say("Add")}
				</Button>
			</form>
		</Modal>
	);
}

/** Two rows that are one person: who stays, and what comes along. */
function Merge({ row, cases, onClose }: { row: Case; cases: Case[]; onClose: () => void }) {
	const { case_one } = useProject();
	const { mergeCases } = usePeopleWrites();
	const [other, setOther] = useState<number | null>(null);
	const others = cases.filter((one) => one.id !== row.id);
	return (
		<Modal title={say("Merge {identifier} with another {one}", { identifier: row.identifier, one: case_one })} onClose={onClose}>
			<Choice
				name={say("Which is the same one")}
				value={other}
				shown={others.find((one) => one.id === other)?.identifier ?? say("Choose who is the same")}
				options={others.map((one) => ({ value: one.id as number | null, label: one.identifier }))}
				onChange={setOther}
			/>
			<p className="my-3 quiet-line">
				{say(
					"{identifier} stays, with its values; what it lacks comes from the other, and so do the other’s documents. Undo parts them again.",
					{ identifier: row.identifier },
				)}
			</p>
			<Button
				look="main"
				disabled={other === null || mergeCases.isPending}
				onClick={() => other !== null && mergeCases.mutate({ kept: row.id, other }, { onSuccess: onClose })}
			>
				{say("Merge")}
			</Button>
		</Modal>
	);
}
