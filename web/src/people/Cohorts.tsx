import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../api/client";
import { useMayCode, useProject } from "../shell/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Empty, Loading, Problem } from "../ui/Empty";
import { Segments } from "../ui/Segments";
import { counted } from "../ui/words";
import { type Condition, complete, type Group, isGroup, type Kept, operatorsFor, replaced, type Test } from "./condition";
import { type Case, type Cohort, useCohorts, usePeopleWrites, type Variable } from "./data";

/** Named groups of people: by conditions with live counts, or picked by hand; who is in none, who in several. */
export function Cohorts({ cases, variables }: { cases: Case[]; variables: Variable[] }) {
	const { case_many, case_one } = useProject();
	const mayCode = useMayCode();
	const found = useCohorts();
	const [opened, setOpened] = useState<number | "new" | null>(null);
	if (found.error) return <Problem error={found.error} />;
	if (!found.data) return <Loading what="cohorts" />;
	const { cohorts, in_none, in_several } = found.data;
	const name = (id: number) => cases.find((row) => row.id === id)?.identifier ?? "";
	const open = cohorts.find((row) => row.id === opened);
	if (!cohorts.length && opened !== "new")
		return (
			<Empty title="No cohorts yet">
				<p>
					A cohort is a named group of {case_many}: by conditions such as “Holm, and crosses daily”, following the data, or picked by hand.
				</p>
				{mayCode && (
					<Button look="main" onClick={() => setOpened("new")}>
						Make a cohort
					</Button>
				)}
			</Empty>
		);
	return (
		<div className="grid max-w-6xl grid-cols-[300px_minmax(0,1fr)] gap-4">
			<div>
				<ul className={cohorts.length ? "rounded-lg border border-line bg-white" : ""}>
					{cohorts.map((row) => (
						<li key={row.id} className="border-b border-line2 last:border-0">
							<button
								type="button"
								aria-current={row.id === opened}
								className={`w-full px-3 py-2 text-left ${row.id === opened ? "bg-spruce-soft" : "hover:bg-paper2"}`}
								onClick={() => setOpened(row.id)}
							>
								<b>{row.name}</b>
								<span className="block quiet-line">
									{row.problem ||
										`${counted(row.cases.length, case_one, case_many)} · ${row.condition ? "follows the data" : "picked by hand"}`}
								</span>
							</button>
						</li>
					))}
				</ul>
				{mayCode && (
					<Button className="mt-2" onClick={() => setOpened("new")}>
						Make a cohort
					</Button>
				)}
				<p className={cohorts.length ? "mt-3 quiet-line" : "hidden"}>
					In none: {in_none.length ? in_none.map(name).join(", ") : "nobody"}.
					<br />
					In several: {in_several.length ? in_several.map(name).join(", ") : "nobody"}.
				</p>
			</div>
			{opened === "new" && <Editor key="new" cases={cases} variables={variables} onSaved={setOpened} />}
			{open && <Editor key={open.id} cohort={open} cases={cases} variables={variables} onSaved={setOpened} />}
			{opened === null && <p className="quiet-line">Choose a cohort to see who is in it and why.</p>}
		</div>
	);
}

const START: Group = { join: "all", parts: [] };

function Editor({
	cohort,
	cases,
	variables,
	onSaved,
}: {
	cohort?: Cohort;
	cases: Case[];
	variables: Variable[];
	onSaved: (id: number | null) => void;
}) {
	const { case_many, case_one } = useProject();
	const mayCode = useMayCode();
	const { makeCohort, changeCohort, deleteCohort } = usePeopleWrites();
	const [name, setName] = useState(cohort?.name ?? "");
	const [way, setWay] = useState<"condition" | "hand">(cohort && !cohort.condition ? "hand" : "condition");
	const [condition, setCondition] = useState<Group>((cohort?.condition as Group | null) ?? START);
	const [picked, setPicked] = useState<ReadonlySet<number>>(new Set(cohort?.cases ?? []));
	const counts = useCounts(condition);
	const save = () => {
		const body = way === "condition" ? { name, condition } : { name, cases: [...picked] };
		if (cohort) changeCohort.mutate({ id: cohort.id, ...body });
		else makeCohort.mutate(body, { onSuccess: (made) => onSaved(made.id) });
	};
	const error = makeCohort.error ?? changeCohort.error;
	return (
		<section aria-label={cohort ? `Cohort ${cohort.name}` : "New cohort"} className="rounded-lg border border-line bg-white p-4">
			<div className="mb-3 flex items-center gap-3">
				<input
					aria-label="Name of the cohort"
					placeholder="Name, such as Daily from Holm"
					disabled={!mayCode}
					className="field flex-1 font-semibold"
					value={name}
					onChange={(event) => setName(event.target.value)}
				/>
				<Segments
					name="How it is made"
					value={way}
					options={[
						{ value: "condition", label: "By conditions" },
						{ value: "hand", label: "By hand" },
					]}
					onChange={setWay}
				/>
			</div>
			{way === "condition" ? (
				<>
					<GroupEditor
						group={condition}
						kept={counts.data as Kept | undefined}
						path={[]}
						variables={variables}
						onChange={(path, part) => setCondition(path.length ? replaced(condition, path, part) : (part as Group))}
					/>
					{counts.error && <Problem error={counts.error} />}
					<p className="mt-2 text-[13.4px]" role="status">
						{counts.data && complete(condition) ? (
							<>
								<b>{counted(counts.data.count, case_one, case_many)}</b> of {cases.length} fit.{" "}
								{counts.data.count === 0 && condition.parts.length > 0 && emptiedBy(condition, counts.data as Kept)}
							</>
						) : (
							<span className="text-quiet">Complete the condition to see how many fit.</span>
						)}
					</p>
				</>
			) : (
				<div className="max-h-80 columns-3 overflow-auto">
					{cases.map((row) => (
						<label key={row.id} className="flex items-center gap-2 py-0.5">
							<input
								type="checkbox"
								className="accent-spruce"
								disabled={!mayCode}
								checked={picked.has(row.id)}
								onChange={(event) => {
									const next = new Set(picked);
									if (event.target.checked) next.add(row.id);
									else next.delete(row.id);
									setPicked(next);
								}}
							/>
							{row.identifier}
						</label>
					))}
				</div>
			)}
			{error && (
				<p role="alert" className="mt-2 text-danger">
					{error.message}
				</p>
			)}
			{mayCode && (
				<div className="mt-4 flex gap-2">
					<Button look="main" disabled={!name.trim() || (way === "condition" && !complete(condition))} onClick={save}>
						{cohort ? "Keep the changes" : "Make the cohort"}
					</Button>
					{cohort && (
						<Button look="danger" onClick={() => deleteCohort.mutate(cohort.id, { onSuccess: () => onSaved(null) })}>
							Delete
						</Button>
					)}
				</div>
			)}
			{cohort && cohort.cases.length > 0 && (
				<p className="mt-3 quiet-line">In it now: {cohort.cases.map((id) => cases.find((row) => row.id === id)?.identifier).join(", ")}.</p>
			)}
		</section>
	);
}

/** Which condition leaves nobody, where one does so alone. */
function emptiedBy(condition: Group, kept: Kept): string {
	const place = kept.parts.findIndex((part) => part.count === 0);
	if (condition.join === "any" || place < 0) return "Each condition keeps somebody, but nobody fits all of them.";
	return `Condition ${place + 1} keeps nobody.`;
}

function useCounts(condition: Group) {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "count", condition],
		enabled: complete(condition),
		placeholderData: (before) => before,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/cohorts/count", { params: { path: { project_id: id } }, body: { condition } })),
	});
}

interface EditorProps {
	kept: Kept | undefined;
	path: number[];
	variables: Variable[];
	onChange: (path: number[], part: Condition | null) => void;
}

function GroupEditor({ group, kept, path, variables, onChange }: EditorProps & { group: Group }) {
	const first = variables.find((one) => one.kind !== "text") ?? variables[0];
	const fresh = (): Test => ({ variable: first?.id ?? 0, operator: operatorsFor(first?.kind ?? "")[0]?.value ?? "has_value", values: [] });
	const inner = path.length > 0;
	return (
		<div className={inner ? "rounded-md border border-line bg-paper p-2" : ""}>
			<div className="mb-1.5 flex items-center gap-2 text-[13px]">
				Those for whom
				<Choice
					as="small"
					name="Join"
					value={group.negated ? "none" : group.join}
					options={[
						{ value: "all", label: "all of these are so" },
						{ value: "any", label: "any of these is so" },
						{ value: "none", label: "it is not so that any of these holds" },
					]}
					onChange={(said) => onChange(path, { ...group, join: said === "all" ? "all" : "any", negated: said === "none" })}
				/>
				{kept && <Count kept={kept} />}
				{inner && (
					<button
						type="button"
						aria-label="Take this group out"
						className="ml-auto text-quiet hover:text-danger"
						onClick={() => onChange(path, null)}
					>
						×
					</button>
				)}
			</div>
			<div className="space-y-1.5 border-l-2 border-line2 pl-3">
				{group.parts.map((part, place) =>
					isGroup(part) ? (
						<GroupEditor
							// biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place
							key={place}
							group={part}
							kept={kept?.parts[place]}
							path={[...path, place]}
							variables={variables}
							onChange={onChange}
						/>
					) : (
						<TestEditor
							// biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place
							key={place}
							test={part}
							kept={kept?.parts[place]}
							path={[...path, place]}
							variables={variables}
							onChange={onChange}
						/>
					),
				)}
				<div className="flex gap-2">
					<Button onClick={() => onChange(path, { ...group, parts: [...group.parts, fresh()] })}>Add a condition</Button>
					{path.length < 3 && (
						<Button onClick={() => onChange(path, { ...group, parts: [...group.parts, { join: "any", parts: [fresh()] }] })}>
							Add a group
						</Button>
					)}
				</div>
			</div>
		</div>
	);
}

function Count({ kept }: { kept: Kept }) {
	return (
		<span className="rounded-full bg-paper2 px-2 text-[12px] text-quiet" title="How many this keeps by itself">
			{kept.count}
		</span>
	);
}

function TestEditor({ test, kept, path, variables, onChange }: EditorProps & { test: Test }) {
	const variable = variables.find((one) => one.id === test.variable);
	const operators = operatorsFor(variable?.kind ?? "");
	const set = (part: Partial<Test>) => onChange(path, { ...test, ...part });
	const options = variable?.kind === "yes_no" ? ["yes", "no"] : (variable?.categories ?? []);
	const asks = test.operator === "is" || test.operator === "is_not";
	return (
		<div className="flex flex-wrap items-center gap-2 text-[13.4px]">
			<Choice
				as="small"
				name="Variable"
				value={test.variable}
				options={variables.map((one) => ({ value: one.id, label: one.name }))}
				onChange={(id) => {
					const next = variables.find((one) => one.id === id);
					onChange(path, { variable: id, operator: operatorsFor(next?.kind ?? "")[0]?.value ?? "has_value", values: [] });
				}}
			/>
			<Choice
				as="small"
				name={`Condition on ${variable?.name}`}
				value={test.operator}
				options={operators}
				onChange={(operator) => set({ operator, values: operator === "is" || operator === "is_not" ? test.values : [] })}
			/>
			{asks && options.length > 0 && (
				<fieldset className="flex flex-wrap gap-1">
					<legend className="sr-only">Values of {variable?.name}</legend>
					{options.map((label) => {
						const value = variable?.kind === "yes_no" ? label === "yes" : label;
						const on = test.values.includes(value);
						return (
							<button
								key={label}
								type="button"
								aria-pressed={on}
								className={`rounded-full border px-2 text-[12.6px] ${on ? "border-spruce bg-spruce-soft font-semibold text-spruce" : "border-line text-quiet"}`}
								onClick={() => set({ values: on ? test.values.filter((one) => one !== value) : [...test.values, value] })}
							>
								{label}
							</button>
						);
					})}
				</fieldset>
			)}
			{asks && options.length === 0 && (
				<input
					aria-label={`Value of ${variable?.name}`}
					className="field w-32"
					value={String(test.values[0] ?? "")}
					onChange={(event) => set({ values: event.target.value ? [event.target.value] : [] })}
				/>
			)}
			{(test.operator === "at_least" || test.operator === "below") && (
				<input
					type={variable?.kind === "date" ? "date" : "number"}
					aria-label={`Limit of ${variable?.name}`}
					className="field w-32"
					value={String(test.values[0] ?? "")}
					onChange={(event) => {
						const typed = event.target.value;
						set({ values: typed === "" ? [] : [variable?.kind === "date" ? typed : Number(typed)] });
					}}
				/>
			)}
			{kept && complete(test) && <Count kept={kept} />}
			<button
				type="button"
				aria-label="Take this condition out"
				className="text-quiet hover:text-danger"
				onClick={() => onChange(path, null)}
			>
				×
			</button>
		</div>
	);
}
