import { useState } from "react";
import { language as ownLanguage, say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useAddress } from "../../project/address";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Empty, hindrance, Loading, Problem } from "../../ui/Empty";
import { useToasts } from "../../ui/toasts";
import { CodePages } from "../CodePages";
import { LANGUAGES, OWN_IDLE } from "../find/languages";
import { AskedTurns } from "./AskedTurns";
import { type Language, useGuide, useGuideWrites, useWho } from "./data";
import { EditGuide } from "./EditGuide";
import { Onwards } from "./Onwards";
import { WhoTable } from "./WhoTable";

const GROUPING = new Set(["category", "ordered", "yes_no"]);
/** Turns after a question in which what is said is said when asked. */
const WITHIN = [1, 2, 4, 8, 16];

/** The interview guide: who was asked what, before anybody is compared; which turns asked it, put right by hand. */
export function GuidePage() {
	const guide = useGuide();
	const roster = useRoster();
	const mayCode = useMayCode();
	const { case_many } = useProject();
	const [params, set] = useAddress();
	const [editing, setEditing] = useState(false);
	const [language, setLanguage] = useState<Language>((OWN_IDLE[ownLanguage()] ?? "english") as Language);
	const { match } = useGuideWrites();
	const { tell } = useToasts();
	const variables = (roster.data?.variables ?? []).filter((one) => GROUPING.has(one.kind));
	const by = Number(params.get("groups")) || variables[0]?.id || null;
	const within = Number(params.get("within")) || 4;
	const who = useWho(by, within);
	const chosen = Number(params.get("question")) || null;
	const hindered = hindrance(guide);
	if (hindered) return <Problem error={hindered} />;
	if (!guide.data) return <Loading what={say("the guide")} />;
	const { questions, turns, unmatched } = guide.data;
	const question = questions.find((one) => one.id === chosen) ?? null;
	const head = (
		<div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1.5">
			<h2 className="title sr-only">{say("Interview guide")}</h2>
			<CodePages />
			<span className="ml-auto" />
			{mayCode && questions.length > 0 && (
				<>
					<Choice
						name={say("Language of the questions")}
						as="small"
						value={language}
						options={LANGUAGES as { value: Language; label: string }[]}
						onChange={setLanguage}
					/>
					<Button
						disabled={match.isPending}
						title={say(
							"Each turn of an interviewer is taken to ask the question that it is most like, by the stems of its words; what was said by hand stays.",
						)}
						onClick={() =>
							match.mutate(language, {
								onSuccess: ({ count }) =>
									tell(say("{count, plural, one {# turn asks} other {# turns ask}} a question of the guide. Read them.", { count })),
							})
						}
					>
						{say("Match the turns")}
					</Button>
				</>
			)}
			{mayCode && (
				<Button look={questions.length ? "usual" : "main"} onClick={() => setEditing(true)}>
					{questions.length ? say("Change the questions …") : say("Write the questions …")}
				</Button>
			)}
		</div>
	);
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3 pb-4">
			{head}
			{questions.length === 0 ? (
				<Empty title={say("No interview guide yet")}>
					<p className="max-w-xl">
						{say(
							"“They didn’t mention it”: were they asked? Write the questions of your guide, or take them from its file; interviewers’ turns are matched to them, and this page says who was asked what, group by group.",
						)}
					</p>
				</Empty>
			) : (
				<>
					<p className="mb-2 text-[13.4px]">
						{say("Who was asked what, by ")}
						<Choice<number | null>
							name={say("Groups")}
							as="token"
							value={by}
							options={variables.map((one) => ({ value: one.id as number | null, label: one.name }))}
							onChange={(id) => set({ groups: id === null ? null : String(id) })}
						/>
						{say(
							". Asked is everybody in whose talks a turn is matched to the question; whoever was asked in words that nobody matched isn’t seen. What is coded with its codes within ",
						)}
						<Choice
							name={say("Turns after a question")}
							as="token"
							value={within}
							options={WITHIN.map((value) => ({ value, label: say("{value, plural, one {# turn} other {# turns}}", { value }) }))}
							onChange={(value) => set({ within: value === 4 ? null : String(value) })}
						/>
						{say(" after it is said when asked, all else of their own accord.")}{" "}
						<span className="text-quiet">
							{who.data &&
								who.data.not_interviewed > 0 &&
								say("{left, number} {many} talk with no interviewer, such as in a survey, and aren’t counted here. ", {
									left: who.data.not_interviewed,
									many: case_many,
								})}
							{who.data &&
								who.data.left_out > 0 &&
								say("{left, number} of {people, number} {many} are in no group: their value is missing.", {
									left: who.data.left_out,
									people: who.data.people,
									many: case_many,
								})}
						</span>
						{by !== null && <Onwards by={by} within={within} />}
					</p>
					<div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_380px] gap-4 max-[900px]:grid-cols-1">
						<WhoTable
							questions={questions}
							who={who.data}
							chosen={question?.id ?? null}
							onChoose={(id) => set({ question: id === null ? null : String(id) })}
						/>
						<div className="flex min-h-0 flex-col gap-2">
							<p className="text-[13.4px]">
								{say("{matched, number} of {turns, plural, one {# turn} other {# turns}} of interviewers ask a question of the guide.", {
									matched: turns - unmatched,
									turns,
								})}{" "}
								{question && (
									<button type="button" className="text-spruce hover:underline" onClick={() => set({ question: null })}>
										{say("Show the {unmatched, number} others", { unmatched })}
									</button>
								)}
							</p>
							<AskedTurns
								key={question?.id ?? "none"}
								question={question}
								questions={questions}
								language={language}
								all={question ? question.turns : unmatched}
							/>
						</div>
					</div>
				</>
			)}
			{editing && <EditGuide questions={questions} onClose={() => setEditing(false)} />}
		</div>
	);
}
