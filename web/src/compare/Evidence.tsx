import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { Shape } from "../api/client";
import { DigestBox } from "../evidence/DigestBox";
import type { DigestOf } from "../evidence/data";
import { Passage } from "../evidence/Passage";
import { say } from "../language/say";
import { useAddressed, useAddressedNumber } from "../project/address";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Loading, Problem } from "../ui/Empty";
import { useFocusBack } from "../ui/focusBack";
import { groupMark } from "../ui/palette";
import { useStable } from "../ui/stable";
import { counted } from "../ui/words";
import { type Comparison, type Row, useAround, useEvidence } from "./data";
import { RowMark } from "./RowMark";
import type { Opened, Question } from "./spec";

const STEP = 200;
const TABS = ["said", "silent", "around"] as const;
type Tab = (typeof TABS)[number];

/** A drawer that was opened has the keys, Esc shuts it, and they go back to the number. */
function useDrawer(onClose: () => void) {
	const drawer = useRef<HTMLElement>(null);
	const close = useStable(onClose);
	useFocusBack();
	useEffect(() => {
		// Come by its address, the page begins at its beginning.
		if (document.activeElement !== document.body) drawer.current?.focus({ preventScroll: true });
		const listen = (event: KeyboardEvent) => {
			if (event.key !== "Escape" || event.defaultPrevented || document.querySelector("[role=dialog], [role=menu], [role=listbox]")) return;
			close();
		};
		window.addEventListener("keydown", listen);
		return () => window.removeEventListener("keydown", listen);
	}, [close]);
	return drawer;
}

/** The passages behind one number, by person, and the people who did not say it. */
export function Evidence({
	question,
	opened,
	result,
	onClose,
	children,
}: {
	question: Question;
	opened: Opened;
	result: Comparison;
	onClose: () => void;
	/** Notes on the number, where there are any. */
	children?: React.ReactNode;
}) {
	const project = useProject();
	const [limit, setLimit] = useAddressedNumber("up", STEP);
	const [tab, setTab] = useAddressed<Tab>("seen", "said", TABS);
	const evidence = useEvidence(question, opened, limit);
	const around = useAround(question, opened, tab === "around");
	const row = opened.row === null ? undefined : result.rows[opened.row];
	const group = opened.group === null ? undefined : result.groups[opened.group];
	const mark = group && groupMark(group.mark);
	const reason = opened.left_out && result.left_out.find((part) => part.reason === opened.left_out)?.words;
	const cell = row && (opened.group === null ? row.total : row.cells[opened.group]);
	const data = evidence.data;
	const drawer = useDrawer(onClose);
	return (
		<aside
			ref={drawer}
			tabIndex={-1}
			aria-label={say("Evidence")}
			className="focus:outline-none flex min-h-0 flex-col border-l border-line bg-card"
		>
			<div className="border-b border-line px-4 pt-3 pb-2.5">
				<div className="flex items-center gap-2">
					{row && <RowMark row={row} />}
					<h2 className="min-w-0 truncate">{row?.name ?? say("All rows")}</h2>
					<span className="text-quiet">·</span>
					<h2 className="min-w-0 truncate" style={{ color: mark?.colour }}>
						{mark?.shape} {group?.name ?? reason ?? say("Everyone")}
					</h2>
					<button
						type="button"
						aria-label={say("Close the evidence")}
						className="ml-auto text-lg leading-none text-quiet hover:text-ink"
						onClick={onClose}
					>
						×
					</button>
				</div>
				{data && (
					<p className="mt-0.5 quiet-line">
						{!opened.left_out && (
							<>
								{say("{people} of {people2} {many} ·", {
									people: data.people,
									people2: data.people + data.silent.length,
									many: project.case_many,
								})}{" "}
							</>
						)}
						{say("{passages, plural, one {# passage} other {# passages}}", { passages: data.passages })}
						{cell?.most_by &&
							!opened.left_out &&
							say(" · most by one {one}: {most} ({most_by})", { one: project.case_one, most: cell.most, most_by: cell.most_by })}
					</p>
				)}
				{data && !opened.left_out && (
					<div className="mt-2 flex overflow-hidden rounded-md border border-line text-[12.8px] font-semibold">
						{TABS.map((name) => (
							<button
								key={name}
								type="button"
								aria-pressed={tab === name}
								onClick={() => setTab(name)}
								className={`flex-1 py-0.5 ${tab === name ? "bg-spruce-soft text-spruce" : "text-quiet hover:text-ink"}`}
							>
								{
									{
										said: say("Said it · {people}", { people: data.people }),
										silent: say("Didn’t · {silent}", { silent: data.silent.length }),
										around: say("Around it"),
									}[name]
								}
							</button>
						))}
					</div>
				)}
			</div>
			{children}
			<div className="flex-1 pane pb-4">
				{evidence.error && <Problem error={evidence.error} />}
				{evidence.isPending && <Loading what={say("the passages")} />}
				{data && tab === "said" && (
					<>
						{data.persons.map((person) => (
							<Person key={person.case ?? `nobody-${person.passages[0]?.id}`} person={person} of={digested(row)} asking={data} />
						))}
						{data.persons.length === 0 && <p className="p-4 quiet-line">{say("Nobody here says this.")}</p>}
						{data.more > 0 && (
							<div className="px-4 pt-2">
								<Button onClick={() => setLimit(limit + STEP)}>
									{say("Show {step} more of {more}", { step: Math.min(STEP, data.more), more: data.more })}
								</Button>
							</div>
						)}
					</>
				)}
				{tab === "around" && around.error && <Problem error={around.error} />}
				{tab === "around" && around.isPending && <Loading what={say("what is around it")} />}
				{tab === "around" && around.data && <AroundIt codes={around.data.codes} row={row} />}
				{data && tab === "silent" && (
					<ul>
						{data.silent.map((person) => (
							<li key={person.case} className="border-b border-line2 px-4 py-2">
								<Who person={person} asked={askedOf(person.case, data)} />
							</li>
						))}
						{data.silent.length === 0 && <li className="p-4 quiet-line">{say("Everybody in this group says it.")}</li>}
					</ul>
				)}
			</div>
		</aside>
	);
}

/** Other codes where these passages are, by how many of the same people; each opens where they meet. */
function AroundIt({ codes, row }: { codes: Shape<"AroundCode">[]; row: Row | undefined }) {
	const { id, case_one, case_many } = useProject();
	if (codes.length === 0) return <p className="p-4 quiet-line">{say("No other code is on these words, or in the same turns.")}</p>;
	return (
		<>
			<p className="px-4 pt-2.5 pb-1 quiet-line">
				{say("Other codes on these words or in the same turns, by the same {many}.", { many: case_many })}
			</p>
			<ul>
				{codes.map((code) => {
					const told = (
						<>
							<RowMark row={code} />
							<span className="min-w-0 flex-1">{code.name}</span>
							<span className="quiet-line">
								{say("{people}, {passages, plural, one {# passage} other {# passages}}", {
									people: counted(code.people, case_one, case_many),
									passages: code.passages,
								})}
							</span>
						</>
					);
					const look = "flex items-baseline border-b border-line2 px-4 py-1.5";
					return (
						<li key={code.id}>
							{row?.kind === "code" ? (
								<Link className={`${look} hover:bg-paper2`} to={`/projects/${id}/compare/together?codes=${row.id}.${code.id}&open=0~1~all`}>
									{told}
								</Link>
							) : (
								<span className={look}>{told}</span>
							)}
						</li>
					);
				})}
			</ul>
		</>
	);
}

function Who({ person, asked }: { person: Shape<"SilentPerson"> | Shape<"EvidencePerson">; asked?: boolean }) {
	return (
		<span className="flex flex-wrap items-center gap-1.5">
			<b>{person.identifier}</b>
			{asked !== undefined && <span className="quiet-line">{asked ? say("was asked") : say("wasn’t asked")}</span>}
			{person.facts.map((fact) => (
				<span key={fact.variable} title={fact.variable} className="rounded-full bg-paper2 px-2 text-[11.8px] text-quiet">
					{fact.text}
				</span>
			))}
		</span>
	);
}

/** What a digest in the drawer is of: the row’s code or theme. */
function digested(row: Row | undefined): DigestOf | null {
	if (row?.kind === "code") return { code: row.id };
	return row?.kind === "theme" ? { theme: row.id } : null;
}

type Asking = Pick<Shape<"EvidenceOut">, "asked" | "not_asked" | "when_asked" | "own_accord">;

/** Whether somebody was asked; undefined where nobody knows. */
function askedOf(person: number | null, asking: Asking): boolean | undefined {
	if (person === null) return undefined;
	return asking.asked.includes(person) || (asking.not_asked.includes(person) ? false : undefined);
}

function accordOf(passage: number, asking: Asking): string | undefined {
	if (asking.when_asked.includes(passage)) return say("when asked");
	return asking.own_accord.includes(passage) ? say("of their own accord") : undefined;
}

function Person({ person, of, asking }: { person: Shape<"EvidencePerson">; of: DigestOf | null; asking: Asking }) {
	return (
		<section className="pt-2.5">
			<div className="flex items-start px-4 pb-0.5">
				<Who person={person} asked={askedOf(person.case, asking)} />
				<span className="ml-auto shrink-0 quiet-line">
					{say("{passages, plural, one {# passage} other {# passages}}", { passages: person.total })}
				</span>
			</div>
			{of && person.case !== null && <DigestBox person={person.case} identifier={person.identifier} of={of} />}
			{person.passages.map((passage) => (
				<div key={passage.id} className="mx-4 mt-1 mb-2.5">
					<Passage passage={passage} note={accordOf(passage.id, asking)} />
				</div>
			))}
		</section>
	);
}
