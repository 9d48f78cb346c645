import { useEffect, useState } from "react";
import { language as ownLanguage, say } from "../../language/say";
import { useAddress } from "../../project/address";
import { usePlay } from "../../project/play";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loading } from "../../ui/Empty";
import { useRefused } from "../../ui/refused";
import { CodePages } from "../CodePages";
import { type FindRequest, useFind } from "../overview";
import { Hits } from "./Hits";
import { LANGUAGES, OWN_IDLE } from "./languages";
import { NearWords } from "./NearWords";
import { WordsUsed } from "./WordsUsed";

type How = NonNullable<FindRequest["how"]>;
const HOWS: { value: How; label: string }[] = [
	{ value: "words", label: say("Any of the words") },
	{ value: "forms", label: say("All their forms") },
	{ value: "phrase", label: say("As a phrase") },
	{ value: "exact", label: say("Exactly as typed") },
	{ value: "near", label: say("Near each other") },
	{ value: "pattern", label: say("Pattern") },
];
/** What counts between the words, where that isn’t plain. */
const COUNTS: Partial<Record<How, string>> = {
	phrase: say("The words one after the other; hyphens, commas and line breaks may stand between, capitals don’t count."),
	exact: say("Letter for letter: capitals, hyphens, other signs and spaces count."),
};
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
	const asked: FindRequest | null =
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
			: null;
	const found = useFind(asked);
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
			{COUNTS[how] && <p className="mb-2 quiet-line">{COUNTS[how]}</p>}
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
					idle={params.get("idle") ?? OWN_IDLE[ownLanguage()] ?? "english"}
					cloud={params.get("as") === "cloud"}
					onChange={set}
					onWord={(word) => {
						setTyped(word);
						set({ text: word, how: "words", person: null });
					}}
				/>
			)}
			{found.data && !found.error && found.data.near.length > 0 && (
				<NearWords
					near={found.data.near}
					onWord={(word) => {
						setTyped(word);
						set({ text: word, how: how === "forms" ? "forms" : "words", person: null });
					}}
				/>
			)}
			{found.data && !found.error && asked && (
				<Hits
					key={`${text} ${how} ${everyone}`}
					asked={asked}
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
