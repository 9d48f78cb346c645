import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useState } from "react";
import type { Code } from "../../codes/data";
import { Term } from "../../help/Term";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { groupMark } from "../../ui/palette";
import type { Comparison } from "../data";
import { type Question, rowsAsked } from "../spec";
import { Across, type Axes, Second } from "./Across";
import { AdjustedFor } from "./AdjustedFor";
import { Rows } from "./Rows";

type PartKind = Comparison["sentence"][number]["kind"];

interface Props {
	question: Question;
	result: Comparison | undefined;
	codes: Code[];
	axes: Axes;
	onChange: (changes: Record<string, string | null>) => void;
}

/** The comparison in plain words; each bold part is a menu that changes it. */
export function Sentence({ question, result, codes, axes, onChange }: Props) {
	const said = (kind: PartKind, otherwise: string) => result?.sentence.find((part) => part.kind === kind)?.text ?? otherwise;
	return (
		<>
			<h2 className="title mt-1 mb-1.5 font-normal! text-[19px]! leading-relaxed!">
				{say("Compare", undefined, "sentence")}{" "}
				<Rows
					codes={codes}
					chosen={question.codes}
					themes={question.themes ?? []}
					queries={question.queries ?? []}
					label={
						rowsAsked(question) === 0 ? say("no codes yet") : said("rows", say("{rowsAsked} rows", { rowsAsked: rowsAsked(question) }))
					}
					onChange={(part) => onChange(part)}
				/>{" "}
				{say("across ")}
				<Across question={question} axes={axes} onChange={onChange} />
				{result && <Counting question={question} result={result} onChange={onChange} />}.
			</h2>
			<Further question={question} result={result} axes={axes} onChange={onChange} />
		</>
	);
}

const PERIODS: { value: NonNullable<Comparison["period"]>; label: string }[] = [
	{ value: "month", label: say("month") },
	{ value: "quarter", label: say("quarter") },
	{ value: "year", label: say("year") },
];

const ACCORDS: Record<Comparison["accord"], string> = {
	either: say("whatever was said before"),
	when_asked: say("in the turns after a question of the guide on it"),
	own_accord: say("without a question on it in the turns before"),
};

/** What is counted, as a share of what, in which scope: said only when it is known. */
function Counting({ question, result, onChange }: Omit<Props, "result" | "codes" | "axes"> & { result: Comparison }) {
	const said = (kind: PartKind) => result.sentence.find((part) => part.kind === kind)?.text ?? "";
	// Blanks and commas stand outside the word that is explained: within it a browser would swallow them.
	const [, before, words] = /^([\s,;]*)(.*?)\s*$/.exec(result.figures.taken) ?? [];
	return (
		<>
			, <Term of="measure">{say("counting")}</Term>{" "}
			<Choice
				as="token"
				name={say("Measure")}
				value={question.measure ?? "people"}
				shown={said("measure")}
				options={result.measures.map((one) => ({ value: one.id, label: one.words, hint: one.hint }))}
				onChange={(measure) => onChange({ measure: measure === "people" ? null : (measure ?? null), base: null })}
			/>
			{result.accord !== "either" && (
				<>
					{" "}
					<Accord result={result} onChange={onChange} />
				</>
			)}
			{before}
			{words && <Term of="base">{words}</Term>}{" "}
			<Choice
				as="token"
				name={say("Base")}
				value={result.base}
				shown={said("base")}
				options={result.bases.map((base) => ({ value: base.id, label: base.words }))}
				onChange={(base) => onChange({ base })}
			/>
			{said("scope") && <>; {said("scope")}</>}
		</>
	);
}

/** Whether all that is said counts, or only what was said when asked, or without a question. */
function Accord({ result, onChange }: Pick<Props, "onChange"> & { result: Comparison }) {
	return (
		<Choice
			as="token"
			name={say("When asked or not")}
			value={result.accord}
			options={result.accords.map((accord) => ({ value: accord.id, label: accord.words, hint: ACCORDS[accord.id] }))}
			onChange={(accord) => onChange({ accord: accord === "either" ? null : (accord ?? null) })}
		/>
	);
}

/** The choices that the sentence has no words for; while nothing is counted, or it couldn’t be, those that need no result. */
function Further({ question, result, axes, onChange }: Omit<Props, "codes">) {
	const project = useProject();
	const variable = [...axes.variables, ...axes.ofDocuments].find((one) => one.id === question.variable);
	return (
		<div className="mb-2.5 text-[13px] text-quiet">
			<Term of="rolled_up">{say("Branches")}</Term>{" "}
			<Choice
				as="token"
				name={say("Branches")}
				value={question.roll_up ?? true}
				options={[
					{
						value: true,
						label: say("rolled up"),
						hint: say("a code counts with all codes beneath it, each passage once"),
					},
					{ value: false, label: say("not rolled up"), hint: say("a code counts by itself") },
				]}
				onChange={(rolled) => onChange({ rollup: rolled ? null : "0" })}
			/>
			{result && (
				<>
					{" "}
					{say("· groups")}{" "}
					<Groups
						result={result}
						label={groupsInWords(question, result)}
						onChange={(names) => onChange({ groups: names && JSON.stringify(names), difference: null })}
					/>
				</>
			)}
			{result && result.accords.length > 0 && result.accord === "either" && (
				<>
					{" "}
					{say("· said ")}
					<Accord result={result} onChange={onChange} />
				</>
			)}
			{!question.second && (
				<>
					{" "}
					{say("· within each group ")}
					<Second question={question} axes={axes} onChange={onChange} />
				</>
			)}
			{variable?.kind === "number" && result && (
				<>
					{" "}
					{phrase("· <term>bands</term> cut at", { term: (inner) => <Term of="band">{inner}</Term> })}{" "}
					<Cuts cuts={result.cuts} onChange={(cuts) => onChange({ cuts: cuts.join("~"), groups: null, difference: null })} />
				</>
			)}
			{result?.period && (
				<>
					{" "}
					{say("· by ")}
					<Choice
						as="token"
						name={say("Length of a period")}
						value={result.period}
						options={PERIODS}
						onChange={(period) => onChange({ period, groups: null, difference: null })}
					/>
				</>
			)}
			{(question.measure ?? "people") === "people" && !question.second && (
				<>
					{" "}
					· <Term of="adjusted">{say("adjusted for")}</Term>{" "}
					<AdjustedFor question={question} variables={axes.variables} onChange={onChange} />
				</>
			)}
			{result && (
				<>
					{" "}
					· <Term of="tests">{say("tests")}</Term> {testsInWords(result, project.case_many)}
				</>
			)}
		</div>
	);
}

/** How many of the groups are shown. */
function groupsInWords(question: Question, result: Comparison): string {
	// More groups than a table shows leave some out unless they are chosen; nested ones are counted by the first fact.
	const shown = new Set(result.groups.map((group) => (result.outer.length && !result.layered ? group.outer : group.label))).size;
	const chosen = question.groups?.length ?? (question.second ? result.all_groups.length : shown);
	return chosen === result.all_groups.length
		? say("all {chosen}", { chosen })
		: say("{chosen} of {all_groups}", { chosen, all_groups: result.all_groups.length });
}

/** Which tests the result has, as its rows say. */
function testsInWords(result: Comparison, many: string): string {
	const kinds = new Set(result.rows.map((row) => row.test.kind));
	const said =
		kinds.has("layered") || kinds.has("layered_permuted")
			? say("within layers (Cochran–Mantel–Haenszel)")
			: kinds.has("changes")
				? say("who changed (McNemar, exact), on {many} in both groups", { many })
				: kinds.has("occasions") || kinds.has("occasions_permuted")
					? say("Cochran’s Q, on {many} in all groups", { many })
					: kinds.has("permutation")
						? result.layered
							? say("10,000 permutations of {many} within layers", { many })
							: say("10,000 permutations of {many}", { many })
						: kinds.has("chi_square") || kinds.has("exact") || kinds.has("exact_simulated")
							? say("exact where small, else chi-square")
							: "";
	return said ? say("{said}; Holm over the rows", { said }) : "none";
}

function Groups({
	result,
	label,
	onChange,
}: {
	result: Comparison | undefined;
	label: string;
	onChange: (names: string[] | null) => void;
}) {
	return (
		<Popover className="inline">
			<PopoverButton className="token inline">{label}</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-40 max-h-96 w-60 overflow-auto rounded-lg border border-line bg-card p-2 text-[13.4px] text-ink shadow-lg"
			>
				{result && <GroupsToTick result={result} onChange={onChange} />}
			</PopoverPanel>
		</Popover>
	);
}

function GroupsToTick({ result, onChange }: { result: Comparison; onChange: (names: string[] | null) => void }) {
	const every = result.all_groups;
	// With a second fact the groups shown are pairs: what is ticked is the part that the first fact makes.
	const on = new Set(result.groups.map((group) => (result.outer.length === 0 ? group.name : result.layered ? group.label : group.outer)));
	return every.map((name, at) => (
		<label key={name} className="flex min-h-[26px] cursor-pointer items-center gap-2 rounded px-1 hover:bg-paper2">
			<input
				type="checkbox"
				className="accent-spruce"
				checked={on.has(name)}
				onChange={(event) => {
					const next = every.filter((one) => (one === name ? event.target.checked : on.has(one)));
					onChange(next.length === every.length ? null : next);
				}}
			/>
			<span style={{ color: groupMark(at).colour }}>{groupMark(at).shape}</span> {name}
		</label>
	));
}

/** Cut points of a number, typed: `40, 60`. */
function Cuts({ cuts, onChange }: { cuts: number[]; onChange: (cuts: number[]) => void }) {
	const [typed, setTyped] = useState<string | null>(null);
	const shown = typed ?? cuts.join(", ");
	const save = () => {
		const parsed = shown
			.split(/[,;\s]+/)
			.filter(Boolean)
			.map(Number);
		setTyped(null);
		if (parsed.every(Number.isFinite) && parsed.join() !== cuts.join()) onChange([...new Set(parsed)].sort((a, b) => a - b));
	};
	return (
		<input
			aria-label={say("Cut points of the bands")}
			className="field w-24 py-0! text-ink"
			value={shown}
			onChange={(event) => setTyped(event.target.value)}
			onBlur={save}
			onKeyDown={(event) => event.key === "Enter" && save()}
		/>
	);
}
