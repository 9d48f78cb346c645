import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { useCodebook } from "../../codes/data";
import { useRecent } from "../../codes/recent";
import { useShowKeys } from "../../help/Keys";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useAddress, useTyped } from "../../project/address";
import { type Doings, doKey, passOn } from "../../project/keys";
import { usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { Empty, hindrance, Loading, Problem } from "../../ui/Empty";
import { holding } from "../../ui/words";
import { CodePages } from "../CodePages";
import { CodingLine, type Line } from "../desk/CodingLine";
import { type Answer, type AnswersRequest, answerKey, useAnswers, useOpenQuestions, useOverviewWrites } from "../overview";
import { AnswerList } from "./AnswerList";

type Order = NonNullable<AnswersRequest["order"]>;

/** Every answer to one open question down the page; read, ticked, coded without leaving the keyboard. */
export function AnswersPage() {
	const project = useProject();
	const play = usePlay();
	const [params, set] = useAddress();
	const [words, setWords] = useTyped("words");
	const questions = useOpenQuestions();
	const question = params.get("question") ?? questions.data?.[0]?.question ?? null;
	const by = params.get("by") ?? "asked";
	const variable = Number(by) || null;
	const sheet = useAnswers(
		question === null || !play.known
			? null
			: {
					question,
					...(variable ? { order: "variable" as Order, variable } : { order: by as Order }),
					...play.asked,
				},
	);
	const variables = (useRoster().data?.variables ?? []).filter((one) => one.kind !== "text");
	const hindered = hindrance(questions);
	if (hindered) return <Problem error={hindered} />;
	if (!questions.data) return <Loading what={say("the questions")} />;
	if (question === null)
		return (
			<div className="px-4.5 pt-3">
				<CodePages />
				<Empty title={say("No open questions yet")}>
					<p>
						{say(
							"Bring in a survey sheet and say of a column that it holds answers in people’s own words. Its answers are then read here.",
						)}
					</p>
					<Link to={`/projects/${project.id}/gather/bring-in`} className="text-spruce underline">
						{say("Bring in files")}
					</Link>
				</Empty>
			</div>
		);
	const uncoded = params.get("show") === "uncoded";
	const answers = sheet.data?.answers ?? [];
	const holds = holding(words);
	const shown = answers.filter((answer) => (!uncoded || answer.codings.length === 0) && holds(answer.text));
	const coded = answers.filter((answer) => answer.codings.length > 0).length;
	return (
		<div className="flex filling min-h-0 flex-col pane">
			<div className="px-4.5 pt-3">
				<CodePages />
				<div className="mt-2.5 mb-2 flex flex-wrap items-center gap-2 text-[13.4px]">
					<span className="max-w-[60%] min-w-60">
						<Choice
							name={say("Question")}
							value={question}
							options={questions.data.map((one) => ({ value: one.question, label: one.question }))}
							onChange={(value) => set({ question: value, show: null })}
						/>
					</span>
					<span className="quiet-line">
						{say("{answers, plural, one {# answer} other {# answers}}, {coded} coded", { answers: answers.length, coded })}
					</span>
					<label className="flex items-center gap-1.5">
						<input type="checkbox" checked={uncoded} onChange={() => set({ show: uncoded ? null : "uncoded" })} />
						{say("only those without a code")}
					</label>
					<input
						type="search"
						aria-label={say("Only answers with these words")}
						placeholder={say("with the words …")}
						className="field w-40"
						value={words}
						onChange={(event) => setWords(event.target.value)}
					/>
					{words.trim() && (
						<span className="quiet-line" role="status">
							{say("{shown} of {all} shown", { shown: shown.length, all: answers.length })}
						</span>
					)}
					<span className="ml-auto flex flex-wrap items-center gap-2 print:hidden">
						<span className="text-quiet">{say("Order")}</span>
						<span className="w-56">
							<Choice
								name={say("Order")}
								value={by}
								options={[
									{ value: "asked", label: say("As in the material") },
									{ value: "likeness", label: say("Like ones together") },
									{ value: "longest", label: say("Longest first") },
									{ value: "shortest", label: say("Shortest first") },
									...variables.map((one) => ({ value: String(one.id), label: say("By {name}", { name: one.name }) })),
								]}
								onChange={(value) => set({ by: value === "asked" ? null : value })}
							/>
						</span>
					</span>
				</div>
			</div>
			{sheet.error && <Problem error={sheet.error} />}
			{!sheet.data && !sheet.error && <Loading what={say("the answers")} />}
			{sheet.data && (
				<Sheet
					key={question}
					answers={shown}
					variable={variables.find((one) => one.id === variable)?.name}
					emptied={emptied(answers.length, words.trim() !== "")}
				/>
			)}
		</div>
	);
}

/** Why no answer is shown. */
function emptied(answers: number, words: boolean): string {
	if (!answers) return say("Nobody in scope answered this question.");
	return words ? say("No answer here has all these words.") : say("Every answer here carries a code.");
}

const NONE: never[] = [];

function Sheet({ answers, variable, emptied }: { answers: Answer[]; variable: string | undefined; emptied: string }) {
	const mayCode = useMayCode();
	const codebook = useCodebook().data;
	const { codeHits } = useOverviewWrites();
	const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
	const [current, setCurrent] = useState<string | null>(null);
	const [recent, noteRecent] = useRecent(codebook?.codes ?? NONE);
	const showKeys = useShowKeys();
	const line = useRef<Line>(null);
	const list = useRef<HTMLDivElement>(null);
	const at = Math.max(
		0,
		answers.findIndex((answer) => answerKey(answer) === current),
	);
	const now = answers[at];
	const chosen = useMemo(() => answers.filter((answer) => ticked.has(answerKey(answer))), [answers, ticked]);
	const meant = chosen.length ? chosen : now ? [now] : [];
	const go = (to: number) => {
		const next = answers[Math.max(0, Math.min(answers.length - 1, to))];
		if (next) setCurrent(answerKey(next));
		return next;
	};
	const tick = (which: Answer[], on?: boolean) => {
		const next = new Set(ticked);
		for (const answer of which) (on ?? !next.has(answerKey(answer))) ? next.add(answerKey(answer)) : next.delete(answerKey(answer));
		setTicked(next);
	};
	const put = (which: Answer[], codes: number[], names: string[] = []) => {
		if (!mayCode || !which.length || codes.length + names.length === 0) return;
		noteRecent(codes, names);
		codeHits.mutate({
			hits: which.map(({ document, start, end }) => ({ document, start, end })),
			extent: "hit",
			codes,
			new_codes: names.map((name) => ({ name, parent: null })),
		});
		if (which === chosen) setTicked(new Set());
		list.current?.focus({ preventScroll: true });
	};
	const tickTo = (to: number) => {
		if (!now) return;
		const next = go(to);
		tick(next ? [now, next] : [now], true);
	};
	const onKey = (event: KeyboardEvent) => {
		if ((event.target as HTMLElement).closest("input, button, a")) return;
		const doings: Doings = {
			nextAnswer: () => go(at + 1),
			previousAnswer: () => go(at - 1),
			answersOn: () => go(at + 8),
			answersBack: () => go(at - 8),
			firstAnswer: () => go(0),
			lastAnswer: () => go(answers.length - 1),
			tick: () => now && tick([now]),
			tickOn: () => tickTo(at + 1),
			tickBack: () => tickTo(at - 1),
			tickAll: () => tick(answers, true),
			untick: () => setTicked(new Set()),
			proposed: () => now && put([now], now.offered),
		};
		if (doKey(event.nativeEvent, doings) || !mayCode || !meant.length) return;
		passOn(event, (key) => {
			line.current?.focus();
			if (key) line.current?.press(key);
		});
	};
	return (
		<>
			<AnswerList
				ref={list}
				answers={answers}
				codes={codebook?.codes ?? []}
				variable={variable}
				emptied={emptied}
				ticked={ticked}
				current={now ? answerKey(now) : null}
				onKey={onKey}
				onTick={(answer) => {
					tick([answer]);
					// The next letter is meant for the line, not for the box that was ticked.
					list.current?.focus({ preventScroll: true });
				}}
				onAlike={(answer) => {
					tick(
						answers.filter((one) => one.alike === answer.alike),
						true,
					);
					list.current?.focus({ preventScroll: true });
				}}
				onCurrent={(answer) => setCurrent(answerKey(answer))}
				onOffered={(answer) => put([answer], answer.offered)}
			/>
			{mayCode && (
				<CodingLine
					line={line}
					codes={codebook?.codes ?? []}
					pins={codebook?.pins ?? []}
					recent={recent}
					words={meant.length === 1 ? (meant[0]?.text ?? "") : meant.length ? "" : null}
					chosen={
						chosen.length
							? say("{answers, plural, one {# answer} other {# answers}} ticked", { answers: chosen.length })
							: say("{identifier}’s answer", { identifier: now?.identifier || now?.speaker })
					}
					placeholder={say("No answer to code")}
					saving={codeHits.isPending ? say("Saving …") : ""}
					onPut={(codes, names) => put(meant === chosen ? chosen : meant, codes, names)}
					onKeys={showKeys}
					onLeave={() => list.current?.focus({ preventScroll: true })}
				/>
			)}
		</>
	);
}
