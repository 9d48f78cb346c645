import { useRef, useState } from "react";
import type { Shape } from "../../api/client";
import { ENDINGS } from "../../api/grammar.gen";
import { type Decisions, Lost, undecided } from "../../gather/Lost";
import { labelOf } from "../../gather/labels";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import type { DeskDocument } from "../data";
import { useGivenText } from "./writes";

const TEXTS = ENDINGS.texts.map((ending) => `.${ending}`).join(",");

/** A text brought to a recording that is here already, or put in place of the one it has: shown first, then done. */
export function GivenText({ document, onClose }: { document: DeskDocument; onClose: () => void }) {
	const { preview, give } = useGivenText(document.id);
	const { tell } = useToasts();
	const input = useRef<HTMLInputElement>(null);
	const [file, setFile] = useState<File | null>(null);
	const [found, setFound] = useState<Shape<"TextOut"> | null>(null);
	const [problem, setProblem] = useState("");
	const [decisions, setDecisions] = useState<Decisions>({});
	const choose = async (chosen: File | undefined) => {
		if (!chosen) return;
		setFile(chosen);
		setFound(null);
		setProblem("");
		setDecisions({});
		try {
			setFound(await preview(chosen));
		} catch (error) {
			setProblem((error as Error).message);
		}
	};
	const take = () =>
		file &&
		give.mutate(
			{ file, decisions },
			{
				onSuccess: () => {
					tell(say("“{title}” has a text.", { title: document.title }));
					onClose();
				},
			},
		);
	return (
		<Modal title={say("A text for this recording")} wide onClose={onClose}>
			<p className="mb-3">
				{document.words
					? say("It takes the place of the text that is here. Passages move with their words; spans along the recording stay.")
					: say("With times (.vtt, .srt) its turns can be played one by one; without, it is read beside the recording.")}
			</p>
			<div className="mb-3 flex items-center gap-3">
				<Button look={file ? "usual" : "main"} onClick={() => input.current?.click()}>
					{file ? say("Choose another file") : say("Choose a file")}
				</Button>
				<span className="min-w-0 truncate" title={file?.name}>
					{file?.name}
				</span>
				<input
					ref={input}
					type="file"
					hidden
					aria-label={say("The text’s file")}
					accept={TEXTS}
					onChange={(event) => {
						void choose(event.target.files?.[0]);
						event.target.value = "";
					}}
				/>
			</div>
			{problem && (
				<p role="alert" className="text-danger">
					{problem}
				</p>
			)}
			{found && (
				<>
					<Would found={found} />
					<Lost lost={found.lost} decisions={decisions} onDecide={setDecisions} />
					<Button look="main" disabled={give.isPending || undecided(found.lost, decisions)} onClick={take}>
						{document.words ? say("Put it in place of the other") : say("Give the recording this text")}
					</Button>
				</>
			)}
		</Modal>
	);
}

/** What the text is, and what it would do. */
function Would({ found }: { found: Shape<"TextOut"> }) {
	return (
		<div className="mb-3 text-[13.4px]">
			<p className="font-semibold">
				{say("{turns, plural, one {# turn} other {# turns}}, {words, plural, one {# word} other {# words}}", {
					turns: found.turns,
					words: found.words,
				})}
				{found.words_before > 0 && say(", in place of {before, plural, one {# word} other {# words}}", { before: found.words_before })}
			</p>
			<p>
				{found.speakers.map((one) => `${labelOf(one.label)} (${say("{turns, plural, one {# turn} other {# turns}}", one)})`).join(", ")}
			</p>
			{found.passages > 0 && (
				<p>
					{say("{kept, number} of {passages, plural, one {# passage} other {# passages}} move with their words.", {
						kept: found.passages - found.lost.length,
						passages: found.passages,
					})}
				</p>
			)}
			<ul className="my-1.5 border-l-2 border-line pl-3 font-serif text-quiet">
				{found.first.map((turn) => (
					<li key={turn} dir="auto">
						{turn}
					</li>
				))}
			</ul>
			{found.warnings.map((warning) => (
				<p key={warning} className="text-apricot-deep">
					{warning}
				</p>
			))}
		</div>
	);
}
