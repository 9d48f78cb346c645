import { useState } from "react";
import { phrase, say } from "../language/say";
import { useAddressed } from "../project/address";
import { complete, type Group, type Kept, replaced } from "../project/condition";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { useRefused } from "../ui/refused";
import { Segments } from "../ui/Segments";
import { counted } from "../ui/words";
import { type About, AboutWhom, GroupEditor, useCounts } from "./Conditions";
import { type Case, type Cohort, useCohorts, useDocumentNames, useDocumentVariables, usePeopleWrites, type Variable } from "./data";

/** What a cohort can hold: its name for whoever reads. */
interface Item {
	id: number;
	name: string;
}

/** Named groups of people, or of documents: by conditions with live counts, or picked by hand; who is in none, who in several. */
export function Cohorts({ cases, variables }: { cases: Case[]; variables: Variable[] }) {
	const project = useProject();
	const [about, setAbout] = useAddressed("of", "case");
	const documents = useDocumentNames();
	const ofDocuments = useDocumentVariables().data ?? [];
	const of: About = about === "document" ? "document" : "case";
	const held =
		of === "document"
			? {
					items: documents.map((row) => ({ id: row.id, name: row.title })),
					variables: ofDocuments,
					one: say("document"),
					many: say("documents"),
				}
			: {
					items: cases.map((row) => ({ id: row.id, name: row.identifier })),
					variables,
					one: project.case_one,
					many: project.case_many,
				};
	return (
		<AboutWhom value={of}>
			<div className="mb-3 w-72">
				<Segments
					name={say("Cohorts of")}
					value={of}
					options={[
						{ value: "case", label: say("of {many}", { many: project.case_many }) },
						{ value: "document", label: say("of documents") },
					]}
					onChange={setAbout}
				/>
			</div>
			<OfOneKind key={of} of={of} {...held} />
		</AboutWhom>
	);
}

interface Held {
	of: About;
	items: Item[];
	variables: Variable[];
	one: string;
	many: string;
}

const inside = (of: About, row: Cohort): number[] => (of === "document" ? row.documents : row.cases);

function OfOneKind(held: Held) {
	const { of, items, one, many } = held;
	const mayCode = useMayCode();
	const found = useCohorts();
	const [asked, ask] = useAddressed("cohort", "");
	const opened = asked === "new" ? asked : Number(asked) || null;
	const setOpened = (row: number | "new" | null) => ask(row === null ? "" : String(row));
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("cohorts")} />;
	const { in_none, in_several } = found.data;
	const cohorts = of === "document" ? found.data.of_documents : found.data.cohorts;
	const name = (id: number) => items.find((row) => row.id === id)?.name ?? "";
	const open = cohorts.find((row) => row.id === opened);
	if (!cohorts.length && opened !== "new")
		return (
			<Empty title={of === "document" ? say("No cohorts of documents yet") : say("No cohorts yet")}>
				<p>
					{of === "document"
						? say(
								"A cohort of documents is a named group of them: by conditions on what is known of documents or coded in them, following the data, or picked by hand. It makes groups in Compare, and narrows what you look at.",
							)
						: say(
								"A cohort is a named group of {many}: by conditions such as “Holm, and crosses daily”, following the data, or picked by hand.",
								{ many },
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
										`${counted(inside(of, row).length, one, many)} · ${row.condition ? say("follows the data") : say("picked by hand")}`}
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
				{of === "case" && (
					<div className={cohorts.length ? "mt-3 quiet-line" : "hidden"}>
						<Named label={say("In none")} ids={in_none} name={name} />
						<Named label={say("In several")} ids={in_several} name={name} />
					</div>
				)}
			</div>
			{opened === "new" && <Editor key="new" held={held} onSaved={setOpened} />}
			{open && <Editor key={open.id} cohort={open} held={held} onSaved={setOpened} />}
			{opened === null && (
				<p className="quiet-line">
					{of === "document" ? say("Choose a cohort to see what is in it and why.") : say("Choose a cohort to see who is in it and why.")}
				</p>
			)}
		</div>
	);
}

const START: Group = { join: "all", parts: [] };

function Editor({ cohort, held, onSaved }: { cohort?: Cohort; held: Held; onSaved: (id: number | null) => void }) {
	const { of, items, variables, one, many } = held;
	const mayCode = useMayCode();
	const { makeCohort, changeCohort, deleteCohort } = usePeopleWrites();
	const [name, setName] = useState(cohort?.name ?? "");
	const [way, setWay] = useState<"condition" | "hand">(cohort && !cohort.condition ? "hand" : "condition");
	const [condition, setCondition] = useState<Group>((cohort?.condition as Group | null) ?? START);
	const [picked, setPicked] = useState<ReadonlySet<number>>(new Set(cohort ? inside(of, cohort) : []));
	const counts = useCounts(condition, of);
	const save = () => {
		const body = way === "condition" ? { name, condition } : { name, picked: [...picked] };
		if (cohort) changeCohort.mutate({ id: cohort.id, ...body });
		else makeCohort.mutate({ ...body, of }, { onSuccess: (made) => onSaved(made.id) });
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
									count: counted(counts.data.count, one, many),
									cases: items.length,
								})}{" "}
								{counts.data.count === 0 && condition.parts.length > 0 && emptiedBy(of, condition, counts.data as Kept)}
							</>
						) : (
							<span className="text-quiet">{say("Complete the condition to see how many fit.")}</span>
						)}
					</p>
				</>
			) : (
				<ByHand items={items} columns={of === "document" ? "columns-2" : "columns-3"} picked={picked} onPick={setPicked} />
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
			{cohort && inside(of, cohort).length > 0 && (
				<p className="mt-3 quiet-line">
					{say("In it now: {cases}.", {
						cases: inside(of, cohort)
							.map((id) => items.find((row) => row.id === id)?.name)
							.join(", "),
					})}
				</p>
			)}
		</section>
	);
}

/** Items from which there is a field to look for one. */
const MANY = 24;

function ByHand({
	items,
	columns,
	picked,
	onPick,
}: {
	items: Item[];
	columns: string;
	picked: ReadonlySet<number>;
	onPick: (picked: ReadonlySet<number>) => void;
}) {
	const mayCode = useMayCode();
	const [words, setWords] = useState("");
	return (
		<>
			{items.length > MANY && (
				<input
					aria-label={say("Look for one")}
					placeholder={say("A part of a name")}
					className="field mb-2 w-72"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
			)}
			<div className={`max-h-80 pane ${columns}`}>
				{items
					.filter((row) => row.name.toLowerCase().includes(words.trim().toLowerCase()))
					.map((row) => (
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
									onPick(next);
								}}
							/>
							{row.name}
						</label>
					))}
			</div>
		</>
	);
}

/** Which condition leaves nobody, where one does so alone. */
function emptiedBy(of: About, condition: Group, kept: Kept): string {
	if (of === "document") return say("No document fits.");
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
