import { useState } from "react";
import type { Shape } from "../../api/client";
import { type Decisions, Lost, undecided } from "../../gather/Lost";
import { say } from "../../language/say";
import { useDraft } from "../../project/draft";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import type { DeskDocument } from "../data";
import { useTurnWrites } from "./writes";

type Turn = DeskDocument["turns"][number];

/** The words of a turn typed anew; passages move along, and those that would lose all words are asked about. */
export function EditText({
	document,
	turn,
	typed,
	onClose,
}: {
	document: DeskDocument;
	turn: Turn;
	/** What was typed of it elsewhere. */
	typed?: string | undefined;
	onClose: () => void;
}) {
	const { preview, edit } = useTurnWrites(document.id);
	const [text, setText, done] = useDraft(
		`turn ${turn.number} of ${document.id}`,
		typed ?? document.text.slice(turn.start, turn.end).trim(),
	);
	const leave = () => {
		done();
		onClose();
	};
	const [lost, setLost] = useState<Shape<"LostOut">[]>([]);
	const [decisions, setDecisions] = useState<Decisions>({});
	const inside = document.passages.filter((passage) => passage.start < turn.end && passage.end > turn.start).length;
	const save = () =>
		preview.mutate(
			{ number: turn.number, text },
			{
				onSuccess: (found) => {
					setLost(found.lost);
					if (!undecided(found.lost, decisions)) edit.mutate({ number: turn.number, text, decisions }, { onSuccess: leave });
				},
			},
		);
	return (
		<Modal title={say("Turn {number}", { number: turn.number })} wide onClose={leave}>
			<textarea
				aria-label={say("What the turn says")}
				rows={9}
				dir="auto"
				className="field w-full font-serif text-[15px]"
				value={text}
				onChange={(event) => {
					setText(event.target.value);
					setLost([]);
				}}
			/>
			<p className="my-2 quiet-line">
				{inside === 0
					? say("No passage is marked in this turn.")
					: say("{inside, plural, one {One passage is} other {{inside} passages are}} marked here; each stays on its words.", { inside })}
			</p>
			<Lost lost={lost} decisions={decisions} onDecide={setDecisions} />
			<Button look="main" disabled={preview.isPending || edit.isPending || undecided(lost, decisions)} onClick={save}>
				{say("Keep the change")}
			</Button>
		</Modal>
	);
}
