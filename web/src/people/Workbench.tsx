import { useState } from "react";
import { Term } from "../help/Term";
import { phrase, say } from "../language/say";
import { useDraft } from "../project/draft";
import { useMayCode, useProject, useTellGone } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Loading } from "../ui/Empty";
import { useToasts } from "../ui/toasts";
import { Bands } from "./Bands";
import { edgeWords } from "./bands";
import { Categories } from "./Categories";
import { type Case, type Definition, useHistogram, usePeopleWrites, type Variable } from "./data";
import { KINDS, REASONS, reasonOf } from "./kinds";

/** A variable by itself: name, type, order, missing reasons, bands, what it means. */
export function Workbench({
	variable,
	variables,
	cases,
	onClose,
	onDistribution,
}: {
	variable: Variable;
	variables: Variable[];
	cases: Case[];
	onClose: () => void;
	onDistribution: () => void;
}) {
	const project = useProject();
	const mayCode = useMayCode();
	const { changeVariable, deleteVariable } = usePeopleWrites();
	const tellGone = useTellGone();
	const [name, setName] = useState(variable.name);
	const [description, setDescription] = useDraft(`variable ${variable.id}`, variable.description);
	const change = (part: Omit<Parameters<typeof changeVariable.mutate>[0], "id">) => changeVariable.mutate({ id: variable.id, ...part });
	const total = variable.bars.reduce((sum, bar) => sum + bar.count, 0);
	const source =
		variable.definition?.kind === "bands"
			? variables.find((one) => one.id === variable.definition?.of)
			: cuttable(variable)
				? variable
				: undefined;
	return (
		<aside aria-label={say("Variable {name}", { name: variable.name })} className="pane border-l border-line bg-card p-4">
			<div className="flex items-center">
				<span className="quiet-line">
					{say("Variable of a {one}", { one: variable.of === "document" ? say("document") : project.case_one })}
				</span>
				<button type="button" aria-label={say("Close")} className="ml-auto text-quiet hover:text-ink" onClick={onClose}>
					×
				</button>
			</div>
			<input
				aria-label={say("Name of the variable")}
				disabled={!mayCode}
				className="-ml-1 w-full rounded px-1 font-serif text-xl font-semibold hover:bg-paper2"
				value={name}
				onChange={(event) => setName(event.target.value)}
				onBlur={() => name !== variable.name && change({ name })}
			/>
			<p className="quiet-line">
				{variable.kind === "text" ? variable.bars[0]?.label : say("{values, plural, one {# value} other {# values}}", { values: total })}
				{variable.missing.map((bar) => ` · ${bar.count} ${reasonOf(bar.label)}`).join("")}
				{variable.of === "case" && (
					<>
						{" · "}
						<button type="button" className="font-semibold text-spruce hover:underline" onClick={onDistribution}>
							{say("Distribution")}
						</button>
					</>
				)}
			</p>
			{variable.problem && (
				<p role="alert" className="mt-2 rounded-md border border-danger/40 bg-danger-soft px-3 py-2 text-danger">
					{variable.problem}
				</p>
			)}
			{variable.definition ? (
				<MadeOf definition={variable.definition} variables={variables} />
			) : (
				<div className="mt-3 text-[12.8px] font-semibold">
					{say("Type")}
					<div className="mt-1 font-normal">
						<Choice name={say("Type")} value={variable.kind} options={KINDS} onChange={(kind) => change({ kind })} disabled={!mayCode} />
					</div>
				</div>
			)}
			{source && mayCode && <CutIntoBands key={variable.id} variable={variable} source={source} />}
			{variable.kind !== "text" && !source && <Categories variable={variable} cases={cases} />}
			{!variable.definition && (
				<div className="mt-4 text-[12.8px] font-semibold">
					{say("An empty cell means")}
					<div className="mt-1 font-normal">
						<Choice
							name={say("An empty cell means")}
							value={variable.when_empty}
							options={REASONS}
							onChange={(when_empty) => change({ when_empty })}
							disabled={!mayCode}
						/>
					</div>
					<p className="mt-1 font-normal text-quiet">
						{phrase("<term>Missing</term> values are left out of every table, and said so beneath it.", {
							term: (inner) => <Term of="missing">{inner}</Term>,
						})}
					</p>
				</div>
			)}
			<label className="mt-3 block text-[12.8px] font-semibold">
				{say("What it means")}
				<textarea
					rows={3}
					disabled={!mayCode}
					className="field mt-1 w-full font-normal"
					value={description}
					onChange={(event) => setDescription(event.target.value)}
					onBlur={() => description !== variable.description && change({ description })}
				/>
			</label>
			{mayCode && (
				<Button
					look="danger"
					className="mt-4"
					onClick={() =>
						deleteVariable.mutate(variable.id, {
							onSuccess: ({ said }) => {
								tellGone(said);
								onClose();
							},
						})
					}
				>
					{say("Delete the variable")}
				</Button>
			)}
		</aside>
	);
}

function cuttable(variable: Variable): boolean {
	return variable.kind === "number" || variable.kind === "date";
}

/** Bands of a number or date: a new variable, or the cuts of the one that is open. */
function CutIntoBands({ variable, source }: { variable: Variable; source: Variable }) {
	const { makeVariable, changeVariable } = usePeopleWrites();
	const { tell } = useToasts();
	const histogram = useHistogram(source, true).data;
	const [cuts, setCuts] = useState<number[] | null>(null);
	if (!histogram) return <Loading what={say("the histogram")} />;
	const asNumber = (cut: unknown) => (typeof cut === "string" ? Date.parse(cut) / 86_400_000 + 719_163 : Number(cut));
	const now = cuts ?? variable.definition?.cuts?.map(asNumber) ?? histogram.quantiles["3"] ?? [];
	const said = now.map((cut) => (source.kind === "date" ? edgeWords(source, cut) : cut));
	const definition: Definition = { kind: "bands", of: source.id, cuts: said };
	const changing = variable.definition !== null;
	return (
		<section aria-label={say("Bands")} className="mt-4 rounded-lg border border-line p-3">
			<h3 className="mb-1 text-[12.8px] font-semibold">
				{changing ? say("Bands of {name}", { name: source.name }) : say("Cut it into bands")}
			</h3>
			<Bands
				variable={source}
				histogram={histogram}
				cuts={now}
				onCuts={setCuts}
				saving={makeVariable.isPending || changeVariable.isPending}
				saved={changing ? say("Keep these cuts") : say("Make the variable")}
				onSave={() =>
					changing
						? changeVariable.mutate({ id: variable.id, definition }, { onSuccess: () => tell(say("The bands are cut there now.")) })
						: makeVariable.mutate(
								{ name: say("{name}, bands", { name: source.name }), of: "case", definition },
								{ onSuccess: (made) => tell(say("“{name}” is made; it can be compared by.", { name: made.name })) },
							)
				}
			/>
		</section>
	);
}

function MadeOf({ definition, variables }: { definition: Definition; variables: Variable[] }) {
	const name = (id: unknown) => variables.find((one) => one.id === id)?.name ?? say("a variable that is gone");
	const said = {
		bands: () => say("bands of {name}", { name: name(definition.of) }),
		crossing: () => `${(definition.of as number[]).map(name).join(say(" crossed with "))}`,
		count: () =>
			({
				documents: say("how many documents each has"),
				words: say("how many words each has"),
				passages: say("how many passages each has"),
			})[definition.what as "documents"],
		cohort: () => say("who is in a cohort"),
	}[definition.kind]();
	return (
		<p className="mt-2 rounded-md bg-paper2 px-3 py-2 text-[13px]">
			{phrase("Made of other facts: <b>{said}</b>. It follows the data.", { b: (inner) => <b>{inner}</b>, said })}
		</p>
	);
}
