import { CodesPick } from "../../codes/CodesPick";
import { useCodebook } from "../../codes/data";
import { useDocuments } from "../../gather/data";
import { say } from "../../language/say";
import { GroupEditor } from "../../people/Conditions";
import { useCohorts, useDocumentVariables, useRoster } from "../../people/data";
import { replaced as replacedPeople } from "../../project/condition";
import { useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { Day } from "../../ui/Day";
import {
	type Block,
	type BlockCount,
	type Blocks,
	type Coded,
	type Condition,
	complete,
	FRESH,
	isBlocks,
	type Made,
	type Placed,
	type Said,
	type Within,
} from "./blocks";

interface Props {
	counts: BlockCount | undefined;
	path: number[];
	onChange: (path: number[], block: Block | null) => void;
}

const KINDS: { value: Condition["what"]; label: string; hint: string }[] = [
	{ value: "coded", label: say("coded with"), hint: say("all of, any of, none of, exactly one of some codes") },
	{
		value: "placed",
		label: say("lying near or in passages of"),
		hint: say("inside, around, overlapping, before, after, within a distance"),
	},
	{ value: "said", label: say("said by"), hint: say("by what is known of them, or of a cohort") },
	{ value: "within", label: say("in documents"), hint: say("one by one, or by a fact about them") },
	{ value: "text", label: say("whose words hold"), hint: say("letters as they stand, capital or not") },
	{ value: "made", label: say("whose coding was"), hint: say("by a coder, rated, made on certain days") },
	{ value: "memo", label: say("with a memo"), hint: say("that holds certain words, or any") },
];

/** Conditions on passages as blocks that read as a sentence, with the live count of each. */
export function BlocksEditor({ blocks, counts, path, onChange }: Props & { blocks: Blocks }) {
	const inner = path.length > 0;
	const add = (block: Block) => onChange(path, { ...blocks, parts: [...blocks.parts, block] });
	return (
		<div className={inner ? "rounded-md border border-line bg-paper p-2" : ""}>
			<div className="mb-1.5 flex flex-wrap items-center gap-2 text-[13.4px]">
				{inner ? say("those for which") : say("Passages for which")}
				<Choice
					as="small"
					name={say("Join")}
					value={blocks.negated ? (blocks.join === "any" ? "none" : "not_all") : blocks.join}
					options={[
						{ value: "all", label: say("all of these are so") },
						{ value: "any", label: say("any of these is so") },
						{ value: "none", label: say("none of these is so") },
						{ value: "not_all", label: say("not all of these are so") },
					]}
					onChange={(said) =>
						onChange(path, {
							...blocks,
							join: said === "any" || said === "none" ? "any" : "all",
							negated: said === "none" || said === "not_all",
						})
					}
				/>
				{counts && blocks.parts.length > 0 && <Count counts={counts} />}
				{inner && <TakeOut onClick={() => onChange(path, null)} />}
			</div>
			<div className="space-y-1.5 border-l-2 border-line2 pl-3">
				{blocks.parts.map((part, place) => {
					const same = { counts: counts?.parts[place], path: [...path, place], onChange };
					const key = `${place}-${isBlocks(part) ? "blocks" : part.what}`;
					return (
						<div key={key}>
							{place > 0 && (
								<div className="mb-1 text-[12px] font-semibold text-quiet">{blocks.join === "any" ? say("or") : say("and")}</div>
							)}
							{isBlocks(part) ? <BlocksEditor {...same} blocks={part} /> : <ConditionEditor {...same} condition={part} />}
						</div>
					);
				})}
				<div className="flex flex-wrap items-center gap-2 pt-1">
					<Choice
						name={say("Add a condition")}
						as="small"
						value={"" as Condition["what"] | "group" | ""}
						shown={blocks.parts.length ? say("Add a condition") : say("Choose the first condition")}
						options={[
							...KINDS,
							...(path.length < 3
								? [{ value: "group" as const, label: say("a group of conditions"), hint: say("joined by their own and, or, not") }]
								: []),
						]}
						onChange={(what) => what && add(what === "group" ? { join: "any", parts: [FRESH.coded()] } : FRESH[what]())}
					/>
				</div>
			</div>
		</div>
	);
}

function Count({ counts }: { counts: BlockCount }) {
	const less = counts.so_far !== counts.count;
	return (
		<span
			className={`rounded-full px-2 text-[12px] ${counts.so_far === 0 ? "bg-danger-soft text-danger" : "bg-paper2 text-quiet"}`}
			title={say("How many passages this keeps by itself; then how many are left with the conditions before it")}
		>
			{counts.count}
			{less && ` → ${counts.so_far}`}
		</span>
	);
}

function TakeOut({ onClick }: { onClick: () => void }) {
	return (
		<button type="button" aria-label={say("Take this condition out")} className="ml-1 text-quiet hover:text-danger" onClick={onClick}>
			×
		</button>
	);
}

function ConditionEditor({ condition, counts, path, onChange }: Props & { condition: Condition }) {
	const set = (part: Partial<Condition>) => onChange(path, { ...condition, ...part } as Condition);
	return (
		<div className="flex flex-wrap items-center gap-2 text-[13.4px]">
			{condition.what === "coded" && <OfCodes condition={condition} set={set} />}
			{condition.what === "placed" && <OfPlace condition={condition} set={set} />}
			{condition.what === "said" && <OfPeople condition={condition} set={set} />}
			{condition.what === "within" && <OfDocuments condition={condition} set={set} />}
			{(condition.what === "text" || condition.what === "memo") && (
				<>
					{condition.what === "text" ? say("whose words hold") : say("with a memo that holds")}
					<input
						aria-label={condition.what === "text" ? say("Words of the passage") : say("Words of the memo")}
						placeholder={condition.what === "memo" ? say("anything") : say("such as boat")}
						className="field w-56"
						value={condition.text}
						onChange={(event) => set({ text: event.target.value })}
					/>
				</>
			)}
			{condition.what === "made" && <OfCoding condition={condition} set={set} />}
			{counts && complete(condition) && <Count counts={counts} />}
			<TakeOut onClick={() => onChange(path, null)} />
		</div>
	);
}

function Beneath({ on, onChange }: { on: boolean; onChange: (on: boolean) => void }) {
	return (
		<label className="flex items-center gap-1 text-[12.6px] text-quiet">
			<input type="checkbox" className="accent-spruce" checked={on} onChange={(event) => onChange(event.target.checked)} />
			{say("or a code beneath")}
		</label>
	);
}

function OfCodes({ condition, set }: { condition: Coded; set: (part: Partial<Coded>) => void }) {
	const codes = useCodebook().data?.codes ?? [];
	return (
		<>
			{say("coded with")}
			<Choice
				as="small"
				name={say("How many of the codes")}
				value={condition.how}
				options={[
					{ value: "any", label: say("any of") },
					{ value: "all", label: say("all of") },
					{ value: "none", label: say("none of") },
					{ value: "one", label: say("exactly one of") },
				]}
				onChange={(how) => set({ how })}
			/>
			<CodesPick codes={codes} chosen={condition.codes} onChange={(ids) => set({ codes: ids })} />
			<Beneath on={condition.beneath} onChange={(beneath) => set({ beneath })} />
		</>
	);
}

const RELATIONS = {
	inside: say("inside a passage of"),
	contains: say("around a passage of"),
	overlaps: say("overlapping a passage of"),
	near: say("near a passage of"),
	before: say("before a passage of"),
	after: say("after a passage of"),
} as const;

function OfPlace({ condition, set }: { condition: Placed; set: (part: Partial<Placed>) => void }) {
	const codes = useCodebook().data?.codes ?? [];
	const far = condition.relation === "near" || condition.relation === "before" || condition.relation === "after";
	return (
		<>
			{say("lying")}
			<Choice
				as="small"
				name={say("Where it lies")}
				value={condition.relation}
				options={(Object.keys(RELATIONS) as Placed["relation"][]).map((value) => ({ value, label: RELATIONS[value] }))}
				onChange={(relation) => set({ relation })}
			/>
			<CodesPick codes={codes} chosen={condition.codes} onChange={(ids) => set({ codes: ids })} />
			{far && (
				<>
					{say("within")}
					<input
						type="number"
						min={0}
						aria-label={say("Distance")}
						className="field w-16"
						value={condition.within}
						onChange={(event) => set({ within: Math.max(0, Number(event.target.value) || 0) })}
					/>
					<Choice
						as="small"
						name={say("Unit of distance")}
						value={condition.unit}
						options={[
							{ value: "turns", label: say("turns") },
							{ value: "paragraphs", label: say("paragraphs") },
							{ value: "seconds", label: say("seconds") },
						]}
						onChange={(unit) => set({ unit })}
					/>
				</>
			)}
			<Beneath on={condition.beneath} onChange={(beneath) => set({ beneath })} />
		</>
	);
}

function OfPeople({ condition, set }: { condition: Said; set: (part: Partial<Said>) => void }) {
	const { case_many } = useProject();
	const cohorts = useCohorts().data?.cohorts ?? [];
	const variables = useRoster().data?.variables ?? [];
	const who = condition.condition ?? { join: "all" as const, parts: [] };
	return (
		<>
			{say("said by")}
			<Choice
				as="small"
				name={say("By whom")}
				value={condition.cohort ?? 0}
				options={[
					{ value: 0, label: say("{many} for whom", { many: case_many }) },
					...cohorts.map((one) => ({ value: one.id, label: say("the cohort {name}", { name: one.name }) })),
				]}
				onChange={(cohort) => set(cohort ? { cohort, condition: null } : { cohort: null, condition: who })}
			/>
			{condition.cohort == null && (
				<div className="w-full">
					<GroupEditor
						group={who}
						kept={undefined}
						path={[]}
						variables={variables}
						onChange={(path, part) => set({ condition: path.length ? replacedPeople(who, path, part) : (part as typeof who) })}
					/>
				</div>
			)}
		</>
	);
}

function OfDocuments({ condition, set }: { condition: Within; set: (part: Partial<Within>) => void }) {
	const documents = useDocuments().data ?? [];
	const facts = (useDocumentVariables().data ?? []).filter((one) => one.categories.length > 0);
	const fact = facts.find((one) => one.id === condition.variable);
	const chosen = new Set(condition.documents ?? []);
	return (
		<>
			{say("in documents")}
			<Choice
				as="small"
				name={say("Which documents")}
				value={condition.variable ?? 0}
				options={[
					{ value: 0, label: say("one by one") },
					...facts.map((one) => ({ value: one.id, label: say("whose {name} is", { name: one.name }) })),
				]}
				onChange={(variable) => set(variable ? { variable, groups: [], documents: [] } : { variable: 0, documents: [] })}
			/>
			<span className="flex max-h-32 max-w-xl flex-wrap gap-1 pane">
				{fact
					? fact.categories.map((label) => (
							<Pill
								key={label}
								on={condition.groups?.includes(label) ?? false}
								onClick={(on) =>
									set({ groups: on ? [...(condition.groups ?? []), label] : (condition.groups ?? []).filter((one) => one !== label) })
								}
							>
								{label}
							</Pill>
						))
					: documents.map((one) => (
							<Pill
								key={one.id}
								on={chosen.has(one.id)}
								onClick={(on) => set({ documents: on ? [...chosen, one.id] : [...chosen].filter((id) => id !== one.id) })}
							>
								{one.title}
							</Pill>
						))}
			</span>
		</>
	);
}

function Pill({ on, onClick, children }: { on: boolean; onClick: (on: boolean) => void; children: React.ReactNode }) {
	return (
		<button
			type="button"
			aria-pressed={on}
			className={`rounded-full border px-2 text-[12.6px] ${on ? "border-spruce bg-spruce-soft font-semibold text-spruce" : "border-line text-quiet"}`}
			onClick={() => onClick(!on)}
		>
			{children}
		</button>
	);
}

function OfCoding({ condition, set }: { condition: Made; set: (part: Partial<Made>) => void }) {
	const coders = useCodebook().data?.coders ?? [];
	const rating = condition.rating ?? null;
	const limit = (at: 0 | 1, typed: string) => {
		const value = Number(typed);
		const next: [number, number] = rating ? [...rating] : [1, 5];
		if (value >= 1 && value <= 5) next[at] = value;
		set({ rating: typed === "" && at === 0 ? null : next });
	};
	return (
		<>
			{say("whose coding is by")}
			<Choice
				as="small"
				name={say("Coder")}
				value={condition.coders?.[0] ?? 0}
				options={[{ value: 0, label: say("anybody") }, ...coders.map((one) => ({ value: one.id, label: one.display_name }))]}
				onChange={(coder) => set({ coders: coder ? [coder] : [] })}
			/>
			{say("rated from")}
			<input
				type="number"
				min={1}
				max={5}
				aria-label={say("Lowest rating")}
				className="field w-14"
				value={rating?.[0] ?? ""}
				onChange={(event) => limit(0, event.target.value)}
			/>
			{say("to")}
			<input
				type="number"
				min={1}
				max={5}
				aria-label={say("Highest rating")}
				className="field w-14"
				value={rating?.[1] ?? ""}
				onChange={(event) => limit(1, event.target.value)}
			/>
			{say("made from")}
			<Day name={say("Coded from")} value={condition.since} onChange={(since) => set({ since })} />
			{say("until")}
			<Day name={say("Coded until")} value={condition.until} onChange={(until) => set({ until })} />
		</>
	);
}
