import { useRef, useState } from "react";
import { ENDINGS } from "../../api/grammar.gen";
import { say } from "../../language/say";
import { useDraft } from "../../project/draft";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { type GuideQuestion, useGuideFile, useGuideWrites } from "./data";
import { questionsOf } from "./lines";

/** The guide typed, a question a line, or taken from a file and looked over; questions that stay keep their codes and turns. */
export function EditGuide({ questions, onClose }: { questions: GuideQuestion[]; onClose: () => void }) {
	const { set } = useGuideWrites();
	const readFile = useGuideFile();
	const input = useRef<HTMLInputElement>(null);
	const [typed, setTyped, done] = useDraft("the guide", questions.map((one) => one.text).join("\n"));
	const [problem, setProblem] = useState("");
	const add = async (file: File | undefined) => {
		if (!file) return;
		setProblem("");
		try {
			const found = await readFile(file);
			setTyped([typed.trim(), ...found].filter(Boolean).join("\n"));
		} catch (error) {
			setProblem((error as Error).message);
		}
	};
	const wanted = questionsOf(typed, questions);
	const gone = questions.filter((one) => !wanted.some((other) => other.id === one.id) && (one.turns > 0 || one.codes.length > 0));
	const leave = () => {
		done();
		onClose();
	};
	return (
		<Modal title={say("The questions of the guide")} wide onClose={leave}>
			<p className="mb-2 text-[13.4px]">
				{say("A question a line, as the guide has them. What interviewers add while talking is matched to them afterwards.")}
			</p>
			<textarea
				aria-label={say("Questions, a line each")}
				rows={14}
				className="field w-full font-serif text-[15px]"
				value={typed}
				onChange={(event) => setTyped(event.target.value)}
			/>
			{problem && (
				<p role="alert" className="text-danger">
					{problem}
				</p>
			)}
			{gone.length > 0 && (
				<p className="my-1.5 text-[13.4px] text-apricot-deep">
					{say(
						"{gone, plural, one {One question goes, with what it is tied to} other {# questions go, with what they are tied to}}: {texts}",
						{
							gone: gone.length,
							texts: gone.map((one) => `“${one.text}”`).join(", "),
						},
					)}
				</p>
			)}
			<div className="mt-2 flex items-center gap-3">
				<Button look="main" disabled={set.isPending} onClick={() => set.mutate(wanted, { onSuccess: leave })}>
					{say("Keep {questions, plural, one {# question} other {# questions}}", { questions: wanted.length })}
				</Button>
				<Button onClick={() => input.current?.click()}>{say("Add those of a file …")}</Button>
				<input
					ref={input}
					type="file"
					hidden
					aria-label={say("The guide’s file")}
					accept={ENDINGS.texts.map((ending) => `.${ending}`).join(",")}
					onChange={(event) => {
						void add(event.target.files?.[0]);
						event.target.value = "";
					}}
				/>
			</div>
		</Modal>
	);
}
