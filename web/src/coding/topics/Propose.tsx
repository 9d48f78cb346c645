import { useState } from "react";
import { language as ownLanguage, say } from "../../language/say";
import type { Job } from "../../project/project";
import { useScope } from "../../project/scope";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Modal } from "../../ui/Modal";
import { LANGUAGES, OWN_IDLE } from "../find/languages";
import { useOpenQuestions } from "../overview";
import { type Proposing, useTopicWrites } from "./data";

const MANY = [6, 12, 20, 40];

/** From what topics are proposed, in which language, and how many. */
export function Propose({ open, onBegun, onClose }: { open: number; onBegun: (job: Job) => void; onClose: () => void }) {
	const questions = useOpenQuestions().data ?? [];
	const { narrowed } = useScope();
	const [question, setQuestion] = useState("");
	const [language, setLanguage] = useState((OWN_IDLE[ownLanguage()] ?? "english") as Proposing["language"]);
	const [many, setMany] = useState(12);
	const { propose } = useTopicWrites();
	return (
		<Modal title={say("Propose topics")} onClose={onClose}>
			<form
				className="space-y-3 text-[14px]"
				onSubmit={(event) => {
					event.preventDefault();
					propose.mutate({ language, many, ...(question && { question }) }, { onSuccess: onBegun });
				}}
			>
				<div>
					<span className="mb-1 block font-semibold">{say("From")}</span>
					<Choice
						name={say("From")}
						value={question}
						options={[
							{ value: "", label: narrowed ? say("all that participants say in play") : say("all that participants say") },
							...questions.map((one) => ({
								value: one.question,
								label: say("answers to “{question}”", { question: one.question }),
								hint: say("{answers, plural, one {# answer} other {# answers}}", { answers: one.answers }),
							})),
						]}
						onChange={setQuestion}
					/>
					<p className="mt-1 quiet-line">
						{say(
							"To take some documents only, or some people, choose them in the line “Looking at” first. Interviewers’ words are never read.",
						)}
					</p>
				</div>
				<div className="grid grid-cols-2 gap-3">
					<div>
						<span className="mb-1 block font-semibold">{say("Language")}</span>
						<Choice
							name={say("Language")}
							value={language}
							options={LANGUAGES as { value: Proposing["language"]; label: string }[]}
							onChange={setLanguage}
						/>
					</div>
					<div>
						<span className="mb-1 block font-semibold">{say("At most")}</span>
						<Choice
							name={say("At most")}
							value={many}
							options={MANY.map((value) => ({ value, label: say("{value, plural, one {# topic} other {# topics}}", { value }) }))}
							onChange={setMany}
						/>
					</div>
				</div>
				<p className="quiet-line">
					{say("Words that the project leaves out of its lists of words (see Find) are left out here too.")}{" "}
					{open > 0 &&
						say(
							"The {open, plural, one {topic} other {# topics}} that you haven’t kept {open, plural, one {goes} other {go}}, also what was dropped; Ctrl Z brings {open, plural, one {it} other {them}} back.",
							{ open },
						)}
				</p>
				<div className="flex justify-end gap-2">
					<Button onClick={onClose}>{say("Cancel")}</Button>
					<Button look="main" type="submit" disabled={propose.isPending}>
						{say("Propose")}
					</Button>
				</div>
			</form>
		</Modal>
	);
}
