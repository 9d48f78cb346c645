import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import type { Shape } from "../../api/client";
import { type Decisions, Lost, undecided } from "../../gather/Lost";
import { labelOf } from "../../gather/labels";
import { ROLES } from "../../gather/TranscriptReading";
import { say } from "../../language/say";
import { useDraft } from "../../project/draft";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import type { DeskDocument, Stretch } from "../data";
import { useTurnWrites } from "./turns";

type Turn = DeskDocument["turns"][number];

interface Props {
	document: DeskDocument;
	turn: Turn;
	selection: Stretch | null;
}

/** With its time where that is what is seen (WCAG 2.5.3). */
function named({ number, time }: Turn): string {
	return [say("Turn {number}: split, join, change", { number }), time].filter(Boolean).join(" · ");
}

/** A turn's number; its menu is made when it is first asked for, since a long text has hundreds. */
export function TurnNumber(props: Props) {
	const [asked, setAsked] = useState(false);
	if (asked) return <TurnMenu {...props} />;
	return (
		<button
			type="button"
			aria-label={named(props.turn)}
			aria-haspopup="menu"
			className="rounded px-1 text-[11.5px] text-quiet hover:bg-paper2 hover:text-ink"
			onClick={() => setAsked(true)}
		>
			{props.turn.time || props.turn.number}
		</button>
	);
}

/** What a turn's number opens: split, join, give to another speaker, change its text. */
function TurnMenu({ document, turn, selection }: Props) {
	const button = useRef<HTMLButtonElement>(null);
	// It is made because it was asked for: it opens at once, once.
	const opened = useRef(false);
	useEffect(() => {
		if (opened.current) return;
		opened.current = true;
		button.current?.focus();
		button.current?.click();
	}, []);
	const { split, join, give } = useTurnWrites(document.id);
	const [asking, setAsking] = useState<"text" | "speaker" | null>(null);
	const at = selection && turn.start < selection.start && selection.start < turn.end ? selection.start : null;
	const item = "block w-full rounded px-2 py-1 text-left data-focus:bg-spruce-soft data-disabled:text-quiet";
	const others = document.speakers.filter((speaker) => speaker.id !== turn.speaker);
	return (
		<>
			<Menu>
				<MenuButton ref={button} aria-label={named(turn)} className="rounded px-1 text-[11.5px] text-quiet hover:bg-paper2 hover:text-ink">
					{turn.time || turn.number}
				</MenuButton>
				<MenuItems
					anchor={{ to: "bottom start", gap: 4 }}
					className="z-40 w-64 rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg focus:outline-none"
				>
					<MenuItem disabled={at === null}>
						<button
							type="button"
							className={item}
							onClick={() => at !== null && split.mutate({ number: turn.number, at: document.positions.toCodePoints(at) })}
						>
							{say("Split before the selected words")}
							{at === null && <span className="block text-xs">{say("Select the words it begins with first")}</span>}
						</button>
					</MenuItem>
					<MenuItem disabled={turn.number >= document.turns.length}>
						<button type="button" className={item} onClick={() => join.mutate(turn.number)}>
							{say("Join with the next turn")}
						</button>
					</MenuItem>
					{others.map((speaker) => (
						<MenuItem key={speaker.id}>
							<button type="button" className={item} onClick={() => give.mutate({ number: turn.number, speaker: speaker.id })}>
								{say("Give to {label}", { label: labelOf(speaker.label) })}
							</button>
						</MenuItem>
					))}
					<MenuItem>
						<button type="button" className={item} onClick={() => setAsking("speaker")}>
							{say("Give to somebody new …")}
						</button>
					</MenuItem>
					<MenuItem>
						<button type="button" className={item} onClick={() => setAsking("text")}>
							{say("Change the text …")}
						</button>
					</MenuItem>
				</MenuItems>
			</Menu>
			{asking === "text" && <EditText document={document} turn={turn} onClose={() => setAsking(null)} />}
			{asking === "speaker" && (
				<NewSpeaker
					onClose={() => setAsking(null)}
					onGive={(label, role) => {
						give.mutate({ number: turn.number, speaker: null, label, role });
						setAsking(null);
					}}
				/>
			)}
		</>
	);
}

export function NewSpeaker({ onClose, onGive }: { onClose: () => void; onGive: (label: string, role: Shape<"RoleOfSpeaker">) => void }) {
	const [label, setLabel] = useState("");
	const [role, setRole] = useState<Shape<"RoleOfSpeaker">>("participant");
	return (
		<Modal title={say("Somebody new speaks")} onClose={onClose}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					onGive(label, role);
				}}
			>
				<label className="block font-semibold">
					{say("Label")}
					<input className="field mt-1 w-full font-normal" required value={label} onChange={(event) => setLabel(event.target.value)} />
				</label>
				<fieldset className="flex gap-4">
					<legend className="sr-only">{say("Role")}</legend>
					{ROLES.map(({ value: one, label }) => (
						<label key={one} className="flex items-center gap-1.5">
							<input type="radio" className="accent-spruce" checked={role === one} onChange={() => setRole(one)} />
							{label}
						</label>
					))}
				</fieldset>
				<Button look="main" type="submit">
					{say("Give the turn")}
				</Button>
			</form>
		</Modal>
	);
}

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
