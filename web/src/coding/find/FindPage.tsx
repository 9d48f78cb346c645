import { useEffect, useState } from "react";
import { Link } from "react-router";
import { CodePicker } from "../../codes/CodePicker";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useAddress } from "../../project/address";
import { usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loading } from "../../ui/Empty";
import { languageOf, ours } from "../../ui/language";
import { useRefused } from "../../ui/refused";
import { Segments } from "../../ui/Segments";
import { useToasts } from "../../ui/toasts";
import { counted } from "../../ui/words";
import { CodePages } from "../CodePages";
import { type FindRequest, type Found, type Hit, useFind, useOverviewWrites } from "../overview";
import { WordsUsed } from "./WordsUsed";

type How = NonNullable<FindRequest["how"]>;
type Extent = "hit" | "sentence" | "turn";
/** Hits that the server lists at once. */
const PAGE = 300;

const HOWS: { value: How; label: string }[] = [
	{ value: "words", label: say("Any of the words") },
	{ value: "forms", label: say("All their forms") },
	{ value: "phrase", label: say("As a phrase") },
	{ value: "near", label: say("Near each other") },
	{ value: "pattern", label: say("Pattern") },
];
const LANGUAGES = [
	{ value: "danish", label: say("Danish") },
	{ value: "dutch", label: say("Dutch") },
	{ value: "english", label: say("English") },
	{ value: "finnish", label: say("Finnish") },
	{ value: "french", label: say("French") },
	{ value: "german", label: say("German") },
	{ value: "italian", label: say("Italian") },
	{ value: "norwegian", label: say("Norwegian") },
	{ value: "portuguese", label: say("Portuguese") },
	{ value: "russian", label: say("Russian") },
	{ value: "spanish", label: say("Spanish") },
	{ value: "swedish", label: say("Swedish") },
];
const EXTENTS: { value: Extent; label: string }[] = [
	{ value: "hit", label: say("the words found") },
	{ value: "sentence", label: say("the sentence") },
	{ value: "turn", label: say("the turn") },
];

/** Every hit in its context, by person; read, ticked, coded. In participants’ words unless asked otherwise. */
export function FindPage() {
	const project = useProject();
	const play = usePlay();
	const [params, set] = useAddress();
	const text = params.get("text") ?? "";
	const [typed, setTyped] = useState(text);
	// Another address brings its own words.
	useEffect(() => setTyped(text), [text]);
	const how = (params.get("how") ?? "forms") as How;
	const language = (params.get("language") ?? "english") as NonNullable<FindRequest["language"]>;
	const within = Number(params.get("within") ?? 10);
	const everyone = params.get("who") === "everyone";
	const variable = Number(params.get("groups")) || null;
	const found = useFind(
		text.trim() && play.known
			? {
					text,
					how,
					everyone,
					...(how === "forms" && { language }),
					...(how === "near" && { within }),
					...(variable && { variable }),
					...play.asked,
				}
			: null,
	);
	const refused = useRefused(found.error);
	return (
		<div className="flex filling min-h-0 flex-col pane px-4.5 pt-3">
			<div className="mb-2">
				<CodePages />
			</div>
			<form
				className="mb-2 flex flex-wrap items-center gap-2"
				onSubmit={(event) => {
					event.preventDefault();
					set({ text: typed.trim() || null, person: null });
				}}
			>
				<input
					aria-label={say("What to find")}
					placeholder={how === "pattern" ? say("A regular expression, such as wait(ed|ing)") : say("Words, such as wait late again")}
					className="field w-80"
					value={typed}
					{...refused.field}
					onChange={(event) => setTyped(event.target.value)}
				/>
				<Button look="main" type="submit">
					{say("Find")}
				</Button>
				{text && (
					<Button
						look="plain"
						onClick={() => {
							setTyped("");
							set({ text: null, person: null });
						}}
					>
						{say("Words used most")}
					</Button>
				)}
				<span className="w-44">
					<Choice name={say("How")} value={how} options={HOWS} onChange={(value) => set({ how: value })} />
				</span>
				{how === "forms" && (
					<span className="w-32">
						<Choice name={say("Language")} value={language as string} options={LANGUAGES} onChange={(value) => set({ language: value })} />
					</span>
				)}
				{how === "near" && (
					<label className="flex items-center gap-1.5">
						{say("within")}
						<input
							type="number"
							min={1}
							max={100}
							aria-label={say("Words between")}
							className="field w-16"
							value={within}
							onChange={(event) => set({ within: event.target.value || null })}
						/>
						{say("words")}
					</label>
				)}
				<label className="ml-2 flex items-center gap-1.5 text-[13.4px]">
					<input type="checkbox" checked={everyone} onChange={(event) => set({ who: event.target.checked ? "everyone" : null })} />
					{say("interviewers’ words too")}
				</label>
			</form>
			{refused.said}
			{found.isFetching && !found.data && <Loading what={say("the texts")} />}
			{!text && (
				<p className="mb-3 quiet-line">
					{say(
						"Every hit is shown in its context by {one}. Read them, tick those that mean it, and put a code on them: nothing is coded blind.",
						{ one: project.case_one },
					)}
				</p>
			)}
			{!text && (
				<WordsUsed
					variable={variable}
					by={params.get("first") ?? ""}
					everybodys={params.get("common") === "shown"}
					onChange={set}
					onWord={(word) => {
						setTyped(word);
						set({ text: word, how: "words", person: null });
					}}
				/>
			)}
			{found.data && !found.error && (
				<Hits
					key={`${text} ${how} ${everyone}`}
					found={found.data}
					variable={variable}
					onVariable={(id) => set({ groups: id ? String(id) : null, first: null })}
					person={params.get("person")}
					onPerson={(person) => set({ person })}
					onMore={() => void found.fetchNextPage()}
					reading={found.isFetchingNextPage}
				/>
			)}
		</div>
	);
}

function keyOf(hit: Hit): string {
	return `${hit.document} ${hit.start} ${hit.end}`;
}

function Hits({
	found,
	variable,
	onVariable,
	person,
	onPerson,
	onMore,
	reading,
}: {
	found: Found;
	variable: number | null;
	onVariable: (variable: number | null) => void;
	person: string | null;
	onPerson: (person: string | null) => void;
	onMore: () => void;
	/** Whether more is on its way. */
	reading: boolean;
}) {
	const variables = (useRoster().data?.variables ?? []).filter((one) => one.kind !== "text" && one.kind !== "date");
	const project = useProject();
	const mayCode = useMayCode();
	const { tell } = useToasts();
	const codebook = useCodebook().data;
	const { codeHits } = useOverviewWrites();
	const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
	const [extent, setExtent] = useState<Extent>("sentence");
	const linked = found.people.filter((one) => one.case !== null);
	const shown = found.hits.filter((hit) => person === null || String(hit.case) === person);
	const toggle = (hit: Hit) => {
		const next = new Set(ticked);
		if (!next.delete(keyOf(hit))) next.add(keyOf(hit));
		setTicked(next);
	};
	const all = shown.length > 0 && shown.every((hit) => ticked.has(keyOf(hit)));
	if (!found.total) return <p className="quiet-line">{say("No hit. Other forms of the word, or interviewers’ words, may hold it.")}</p>;
	return (
		<div className="grid min-h-0 flex-1 cols-[210px_minmax(0,1fr)] gap-4">
			<aside aria-label={say("Who says it")} className="pane pb-4 text-[13.4px]">
				<p className="mb-1 font-semibold">
					{say("{hits, plural, one {# hit} other {# hits}} by {linked} in {documents, plural, one {# document} other {# documents}}", {
						hits: found.total,
						linked: counted(linked.length, project.case_one, project.case_many),
						documents: found.documents,
					})}
				</p>
				<Choice
					name={say("By group")}
					as="small"
					value={variable}
					options={[
						{ value: null as number | null, label: say("by group …") },
						...variables.map((one) => ({ value: one.id as number | null, label: say("by {name}", { name: one.name }) })),
					]}
					onChange={onVariable}
				/>
				{found.groups.length > 0 && (
					<ul aria-label={say("Hits by group")} className="mb-2 border-b border-line2 pb-1.5">
						{found.groups.map((group) => (
							<li key={group.name} className="flex items-baseline gap-2 px-1.5">
								<span className="min-w-0 truncate">{group.name}</span>
								<span className="ml-auto text-xs whitespace-nowrap text-quiet">
									{say("{people} of {group}, {hits, plural, one {# hit} other {# hits}}", {
										people: group.people,
										group: group.size,
										hits: group.hits,
									})}
								</span>
							</li>
						))}
					</ul>
				)}
				<button
					type="button"
					aria-pressed={person === null}
					className={`block w-full rounded px-1.5 py-0.5 text-left ${person === null ? "bg-spruce-soft font-semibold" : "hover:bg-paper2"}`}
					onClick={() => onPerson(null)}
				>
					{say("Everybody")}
				</button>
				{found.people.map((one) => (
					<button
						key={String(one.case)}
						type="button"
						aria-pressed={person === String(one.case)}
						title={one.facts.map((fact) => `${fact.variable}: ${fact.text}`).join("\n")}
						className={`flex w-full items-baseline gap-2 rounded px-1.5 py-0.5 text-left ${person === String(one.case) ? "bg-spruce-soft font-semibold" : "hover:bg-paper2"}`}
						onClick={() => onPerson(String(one.case))}
					>
						<span>{one.identifier || say("nobody linked")}</span>
						<span className="min-w-0 truncate text-xs text-quiet">{one.facts[0]?.text}</span>
						<span className="ml-auto text-xs text-quiet">{one.count}</span>
					</button>
				))}
			</aside>
			<div className="flex min-h-0 flex-col">
				{mayCode && (
					<div className="mb-2 flex flex-wrap items-center gap-2 rounded-lg border border-line bg-card px-3 py-1.5 text-[13.4px]">
						<label className="flex items-center gap-1.5">
							<input
								type="checkbox"
								checked={all}
								onChange={() => {
									const next = new Set(ticked);
									for (const hit of shown) all ? next.delete(keyOf(hit)) : next.add(keyOf(hit));
									setTicked(next);
								}}
							/>
							{say("tick all shown")}
						</label>
						<span className="text-quiet">{say("{ticked} ticked. Mark", { ticked: ticked.size })}</span>
						<Segments name={say("What becomes the passage")} value={extent} options={EXTENTS} onChange={setExtent} />
						<span className="text-quiet">{say("with")}</span>
						<CodePicker
							codes={codebook?.codes ?? []}
							disabled={!ticked.size || codeHits.isPending}
							onPick={(codes, names) =>
								codeHits.mutate(
									{
										hits: found.hits.filter((hit) => ticked.has(keyOf(hit))).map(({ document, start, end }) => ({ document, start, end })),
										extent,
										codes,
										new_codes: names.map((name) => ({ name, parent: null })),
									},
									{
										onSuccess: ({ count }) => {
											tell(
												say(
													"{passages, plural, one {# passage} other {# passages}} coded. Ctrl Z takes {passages, plural, one {it} other {them}} back.",
													{ passages: count },
												),
											);
											setTicked(new Set());
										},
									},
								)
							}
						/>
					</div>
				)}
				<ol className="flex-1 pane rounded-t-lg border border-b-0 border-line bg-card">
					{shown.map((hit) => (
						<li key={keyOf(hit)} className="flex gap-2.5 border-b border-line2 px-3 py-2">
							{mayCode && (
								<input
									type="checkbox"
									className="mt-1.5"
									aria-label={say("Tick “{before}{text}{after}”", {
										before: hit.before.slice(-20),
										text: hit.text,
										after: hit.after.slice(0, 20),
									})}
									checked={ticked.has(keyOf(hit))}
									onChange={() => toggle(hit)}
								/>
							)}
							<p className="min-w-0 font-serif leading-snug" dir="auto" lang={languageOf(hit.before + hit.text + hit.after)}>
								<span className="text-quiet">{hit.before}</span>
								<mark className="rounded-sm bg-apricot-soft px-0.5 font-semibold">{hit.text}</mark>
								<span className="text-quiet">{hit.after}</span>
								<Link
									className="block font-sans text-xs text-spruce hover:underline"
									lang={ours()}
									to={`/projects/${project.id}/code/${hit.document}?at=${hit.start}`}
								>
									{say("{which}{title}, turn {turn}", {
										which: hit.speaker === hit.title ? "" : `${hit.speaker}, `,
										title: hit.title,
										turn: hit.turn,
									})}
								</Link>
							</p>
						</li>
					))}
					{found.more > 0 && (
						<li className="flex items-center gap-3 px-3 py-2 quiet-line">
							<span>
								{say("{more, plural, one {# more hit} other {# more hits}} not listed yet; the counts at the left hold them all.", {
									more: found.more,
								})}
							</span>
							<Button onClick={onMore} disabled={reading}>
								{reading ? say("Reading …") : say("List the next {more}", { more: Math.min(found.more, PAGE) })}
							</Button>
						</li>
					)}
				</ol>
			</div>
		</div>
	);
}
