import { useState } from "react";
import { phrase, say } from "../language/say";
import { useAddressed } from "../project/address";
import { complete, type Group, type Kept, replaced } from "../project/condition";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Empty, Loading, Problem } from "../ui/Empty";
import { useRefused } from "../ui/refused";
import { Segments } from "../ui/Segments";
import { counted } from "../ui/words";
import { GroupEditor, useCounts } from "./Conditions";
import { type Case, type Cohort, useCohorts, usePeopleWrites, type Variable } from "./data";

/** Named groups of people: by conditions with live counts, or picked by hand; who is in none, who in several. */
export function Cohorts({ cases, variables }: { cases: Case[]; variables: Variable[] }) {
	const { case_many, case_one } = useProject();
	const mayCode = useMayCode();
	const found = useCohorts();
	const [asked, ask] = useAddressed("cohort", "");
	const opened = asked === "new" ? asked : Number(asked) || null;
	const setOpened = (one: number | "new" | null) => ask(one === null ? "" : String(one));
	if (found.error) return <Problem error={found.error} />;
	if (!found.data) return <Loading what={say("cohorts")} />;
	const { cohorts, in_none, in_several } = found.data;
	const name = (id: number) => cases.find((row) => row.id === id)?.identifier ?? "";
	const open = cohorts.find((row) => row.id === opened);
	if (!cohorts.length && opened !== "new")
		return (
			<Empty title={say("No cohorts yet")}>
				<p>
					{say(
						"A cohort is a named group of {many}: by conditions such as “Holm, and crosses daily”, following the data, or picked by hand.",
						{ many: case_many },
					)}
				</p>
				{mayCode && (
					<Button look="main" onClick={() => setOpened("new")}>
						{say("Make a cohort")}
					</Button>
				)}
			</Empty>
		);
	return (
		<div className="grid max-w-6xl cols-[300px_minmax(0,1fr)] gap-4">
			<div>
				<ul className={cohorts.length ? "rounded-lg border border-line bg-card" : ""}>
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
										`${counted(row.cases.length, case_one, case_many)} · ${row.condition ? say("follows the data") : say("picked by hand")}`}
								</span>
							</button>
						</li>
					))}
				</ul>
				{mayCode && (
					<Button className="mt-2" onClick={() => setOpened("new")}>
						{say("Make a cohort")}
					</Button>
				)}
				<div className={cohorts.length ? "mt-3 quiet-line" : "hidden"}>
					<Named label={say("In none")} ids={in_none} name={name} />
					<Named label={say("In several")} ids={in_several} name={name} />
				</div>
			</div>
			{opened === "new" && <Editor key="new" cases={cases} variables={variables} onSaved={setOpened} />}
			{open && <Editor key={open.id} cohort={open} cases={cases} variables={variables} onSaved={setOpened} />}
			{opened === null && <p className="quiet-line">{say("Choose a cohort to see who is in it and why.")}</p>}
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
	const refused = useRefused(makeCohort.error ?? changeCohort.error);
	return (
		<section
			aria-label={cohort ? say("Cohort {name}", { name: cohort.name }) : say("New cohort")}
			className="rounded-lg border border-line bg-card p-4"
		>
			<div className="mb-3 flex items-center gap-3">
				<input
					aria-label={say("Name of the cohort")}
					placeholder={say("Name, such as Daily from Holm")}
					disabled={!mayCode}
					className="field flex-1 font-semibold"
					value={name}
					{...refused.field}
					onChange={(event) => setName(event.target.value)}
				/>
				<Segments
					name={say("How it is made")}
					value={way}
					options={[
						{ value: "condition", label: say("By conditions") },
						{ value: "hand", label: say("By hand") },
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
								{phrase("<b>{count}</b> of {cases} fit.", {
									b: (inner) => <b>{inner}</b>,
									count: counted(counts.data.count, case_one, case_many),
									cases: cases.length,
								})}{" "}
								{counts.data.count === 0 && condition.parts.length > 0 && emptiedBy(condition, counts.data as Kept)}
							</>
						) : (
							<span className="text-quiet">{say("Complete the condition to see how many fit.")}</span>
						)}
					</p>
				</>
			) : (
				<div className="max-h-80 columns-3 pane">
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
			{refused.said}
			{mayCode && (
				<div className="mt-4 flex gap-2">
					<Button look="main" disabled={!name.trim() || (way === "condition" && !complete(condition))} onClick={save}>
						{cohort ? say("Keep the changes") : say("Make the cohort")}
					</Button>
					{cohort && (
						<Button look="danger" onClick={() => deleteCohort.mutate(cohort.id, { onSuccess: () => onSaved(null) })}>
							{say("Delete")}
						</Button>
					)}
				</div>
			)}
			{cohort && cohort.cases.length > 0 && (
				<p className="mt-3 quiet-line">
					{say("In it now: {cases}.", { cases: cohort.cases.map((id) => cases.find((row) => row.id === id)?.identifier).join(", ") })}
				</p>
			)}
		</section>
	);
}

/** Which condition leaves nobody, where one does so alone. */
function emptiedBy(condition: Group, kept: Kept): string {
	const place = kept.parts.findIndex((part) => part.count === 0);
	if (condition.join === "any" || place < 0) return say("Each condition keeps somebody, but nobody fits all of them.");
	return say("Condition {place} keeps nobody.", { place: place + 1 });
}

/** Whoever is meant, by name as far as a line goes; more than that are opened. */
function Named({ label, ids, name }: { label: string; ids: number[]; name: (id: number) => string | undefined }) {
	if (ids.length <= NAMED) return <p>{`${label}: ${ids.length ? ids.map(name).join(", ") : say("nobody")}.`}</p>;
	return (
		<details>
			<summary className="cursor-pointer">
				{label}: {ids.length}
			</summary>
			<p className="max-h-40 pane">{ids.map(name).join(", ")}</p>
		</details>
	);
}

const NAMED = 12;
