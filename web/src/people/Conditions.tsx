import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext } from "react";
import { api, take } from "../api/client";
import { CodesPick } from "../codes/CodesPick";
import { useCodebook } from "../codes/data";
import { say } from "../language/say";
import {
	type Belongs,
	type Condition,
	complete,
	type Group,
	isBelongs,
	isGroup,
	isMentions,
	type Kept,
	type Mentions,
	operatorsFor,
	type Test,
} from "../project/condition";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { type Cohort, useCohorts, type Variable } from "./data";

/** Whom conditions are about: cases, or documents. */
export type About = "case" | "document";
export const AboutWhom = createContext<About>("case");

/** The cohorts that a condition can ask about: those of the same kind. */
function useOwnCohorts(): Cohort[] {
	const about = useContext(AboutWhom);
	const found = useCohorts().data;
	return (about === "document" ? found?.of_documents : found?.cohorts) ?? [];
}

/** How many each part of a condition keeps. */
export function useCounts(condition: Group, of: About = "case") {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "count", of, condition],
		enabled: complete(condition),
		placeholderData: (before) => before,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/cohorts/count", { params: { path: { project_id: id } }, body: { condition, of } })),
	});
}

interface EditorProps {
	kept: Kept | undefined;
	path: number[];
	variables: Variable[];
	onChange: (path: number[], part: Condition | null) => void;
}

/** Conditions on people that read as a sentence, with a live count beside each. */
export function GroupEditor({ group, kept, path, variables, onChange }: EditorProps & { group: Group }) {
	const first = variables.find((one) => one.kind !== "text") ?? variables[0];
	const fresh = (): Test => ({ variable: first?.id ?? 0, operator: operatorsFor(first?.kind ?? "")[0]?.value ?? "has_value", values: [] });
	const cohorts = useOwnCohorts();
	const about = useContext(AboutWhom);
	const inner = path.length > 0;
	return (
		<div className={inner ? "rounded-md border border-line bg-paper p-2" : ""}>
			<div className="mb-1.5 flex items-center gap-2 text-[13px]">
				{about === "document" ? say("Those of which") : say("Those for whom")}
				<Choice
					as="small"
					name={say("Join")}
					value={group.negated ? "none" : group.join}
					options={[
						{ value: "all", label: say("all of these are so") },
						{ value: "any", label: say("any of these is so") },
						{ value: "none", label: say("it is not so that any of these holds") },
					]}
					onChange={(said) => onChange(path, { ...group, join: said === "all" ? "all" : "any", negated: said === "none" })}
				/>
				{kept && <Count kept={kept} />}
				{inner && (
					<button
						type="button"
						aria-label={say("Take this group out")}
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
					) : isMentions(part) ? (
						<MentionsEditor
							// biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place
							key={place}
							mentions={part}
							kept={kept?.parts[place]}
							path={[...path, place]}
							onChange={onChange}
						/>
					) : isBelongs(part) ? (
						<BelongsEditor
							// biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place
							key={place}
							belongs={part}
							kept={kept?.parts[place]}
							path={[...path, place]}
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
				<div className="flex flex-wrap gap-2">
					<Button
						disabled={!first}
						title={first ? undefined : say("Nothing is known yet that could be asked about: bring in a sheet, or make a variable.")}
						onClick={() => onChange(path, { ...group, parts: [...group.parts, fresh()] })}
					>
						{say("Add a condition")}
					</Button>
					<Button onClick={() => onChange(path, { ...group, parts: [...group.parts, { codes: [], how: "any" }] })}>
						{about === "document" ? say("Add what is coded in them") : say("Add what they mention")}
					</Button>
					{cohorts.length > 0 && (
						<Button onClick={() => onChange(path, { ...group, parts: [...group.parts, { cohorts: [], how: "any" }] })}>
							{say("Add a cohort")}
						</Button>
					)}
					{path.length < 3 && first && (
						<Button onClick={() => onChange(path, { ...group, parts: [...group.parts, { join: "any", parts: [fresh()] }] })}>
							{say("Add a group")}
						</Button>
					)}
				</div>
			</div>
		</div>
	);
}

function Count({ kept }: { kept: Kept }) {
	return (
		<span className="rounded-full bg-paper2 px-2 text-[12px] text-quiet" title={say("How many this keeps by itself")}>
			{kept.count}
		</span>
	);
}

/** One condition: what it says, how many it keeps by itself, and the way out. */
function Line({
	condition,
	kept,
	onOut,
	children,
}: {
	condition: Condition;
	kept: Kept | undefined;
	onOut: () => void;
	children: ReactNode;
}) {
	return (
		<div className="flex flex-wrap items-center gap-2 text-[13.4px]">
			{children}
			{kept && complete(condition) && <Count kept={kept} />}
			<button type="button" aria-label={say("Take this condition out")} className="sign text-quiet hover:text-danger" onClick={onOut}>
				×
			</button>
		</div>
	);
}

function TestEditor({ test, kept, path, variables, onChange }: EditorProps & { test: Test }) {
	const variable = variables.find((one) => one.id === test.variable);
	const operators = operatorsFor(variable?.kind ?? "");
	const set = (part: Partial<Test>) => onChange(path, { ...test, ...part });
	const options = variable?.kind === "yes_no" ? ["yes", "no"] : (variable?.categories ?? []);
	const asks = test.operator === "is" || test.operator === "is_not";
	return (
		<Line condition={test} kept={kept} onOut={() => onChange(path, null)}>
			<Choice
				as="small"
				name={say("Variable")}
				value={test.variable}
				options={variables.map((one) => ({ value: one.id, label: one.name }))}
				onChange={(id) => {
					const next = variables.find((one) => one.id === id);
					onChange(path, { variable: id, operator: operatorsFor(next?.kind ?? "")[0]?.value ?? "has_value", values: [] });
				}}
			/>
			<Choice
				as="small"
				name={say("Condition on {name}", { name: variable?.name })}
				value={test.operator}
				options={operators}
				onChange={(operator) => set({ operator, values: operator === "is" || operator === "is_not" ? test.values : [] })}
			/>
			{asks && options.length > 0 && (
				<fieldset className="flex flex-wrap gap-1">
					<legend className="sr-only">{say("Values of {name}", { name: variable?.name })}</legend>
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
					aria-label={say("Value of {name}", { name: variable?.name })}
					className="field w-32"
					value={String(test.values[0] ?? "")}
					onChange={(event) => set({ values: event.target.value ? [event.target.value] : [] })}
				/>
			)}
			{(test.operator === "at_least" || test.operator === "below") && (
				<input
					type={variable?.kind === "date" ? "date" : "number"}
					aria-label={say("Limit of {name}", { name: variable?.name })}
					className="field w-32"
					value={String(test.values[0] ?? "")}
					onChange={(event) => {
						const typed = event.target.value;
						set({ values: typed === "" ? [] : [variable?.kind === "date" ? typed : Number(typed)] });
					}}
				/>
			)}
		</Line>
	);
}

const MENTIONED: { value: Mentions["how"]; label: string }[] = [
	{ value: "any", label: say("mention any of") },
	{ value: "all", label: say("mention all of") },
	{ value: "silent", label: say("have material and mention none of") },
	{ value: "none", label: say("mention none of, with or without material") },
];
const CODED: { value: Mentions["how"]; label: string }[] = [
	{ value: "any", label: say("are coded with any of") },
	{ value: "all", label: say("are coded with all of") },
	{ value: "none", label: say("are coded with none of") },
];

function MentionsEditor({ mentions, kept, path, onChange }: Omit<EditorProps, "variables"> & { mentions: Mentions }) {
	const codes = useCodebook().data?.codes ?? [];
	const about = useContext(AboutWhom);
	return (
		<Line condition={mentions} kept={kept} onOut={() => onChange(path, null)}>
			<Choice
				as="small"
				name={say("What they mention")}
				value={mentions.how}
				options={about === "document" ? CODED : MENTIONED}
				onChange={(how) => onChange(path, { ...mentions, how })}
			/>
			<CodesPick codes={codes} chosen={mentions.codes} onChange={(ids) => onChange(path, { ...mentions, codes: ids })} />
		</Line>
	);
}

function BelongsEditor({ belongs, kept, path, onChange }: Omit<EditorProps, "variables"> & { belongs: Belongs }) {
	const cohorts = useOwnCohorts();
	return (
		<Line condition={belongs} kept={kept} onOut={() => onChange(path, null)}>
			<Choice
				as="small"
				name={say("Whether they belong")}
				value={belongs.how}
				options={[
					{ value: "any", label: say("are in the cohort") },
					{ value: "none", label: say("are not in the cohort") },
				]}
				onChange={(how) => onChange(path, { ...belongs, how })}
			/>
			<Choice
				as="small"
				name={say("Cohort")}
				value={belongs.cohorts[0] ?? 0}
				options={[{ value: 0, label: say("choose one") }, ...cohorts.map((one) => ({ value: one.id, label: one.name }))]}
				onChange={(id) => onChange(path, { ...belongs, cohorts: id ? [id] : [] })}
			/>
		</Line>
	);
}
