import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import { labelOf } from "../../gather/labels";
import { say } from "../../language/say";
import type { DeskDocument, Stretch } from "../data";
import { EditText } from "../turns/EditText";
import { NewSpeaker } from "../turns/NewSpeaker";
import { useTurnWrites } from "../turns/writes";

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
