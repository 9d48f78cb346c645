import { phrase, say } from "../../language/say";
import { turnSingleKeys, useSingleKeys } from "../../project/singleKeys";
import { Modal } from "../../ui/Modal";

const AT_THE_DESK: [string, string][] = [
	["→  ←", say("Choose the next, the previous word")],
	[say("Shift →  Shift ←"), say("Take one word more, one less")],
	["↓  ↑", say("Go to the next, the previous turn")],
	["T", say("Choose the whole turn (Shift T with words chosen)")],
	["]  [", say("Go to the next, the previous passage")],
	["U  C  S", say("Go to the next turn without a code, passage of the same code, turn of the same speaker (with words chosen: Alt)")],
	[say("Alt →  Alt ←"), say("Move the end of the passage in hand a word on, back (Shift: its beginning)")],
	[say("Alt ↓"), say("Widen the passage to its sentence (Shift: to its turn)")],
	[say("any letter"), say("Find a code in the coding line")],
	["Enter", say("Put the code in hand on the words")],
	["Tab", say("Take this code and choose another")],
	[say("Shift Enter"), say("Make a new code of what is typed")],
	["'", say("Make a new code from the words themselves")],
	["1 … 9", say("Put a pinned code on")],
	["=", say("The same code as last time")],
	["+", say("Take the codes proposed for this document or speaker")],
	[say("Alt with the mouse"), say("Choose letters exactly: without it, the whole of the words one begins and ends in")],
	[say("Esc"), say("Leave the words")],
	[say("Alt P  Alt B  Alt L"), say("Recordings: play or pause, back three seconds, loop what is in hand")],
	[say("Alt I  Alt O"), say("Recordings: a span begins here, ends here")],
	[say("arrows on a region"), say("Move it (Shift: resize it; Alt: in small steps)")],
	[say("Ctrl Z, Ctrl Shift Z"), say("Take back, do again")],
	[say("Ctrl K"), say("Find any document, person or code")],
];

const OF_ANSWERS: [string, string][] = [
	["↓  ↑", say("Go to the next, the previous answer")],
	[say("Page ↓  Page ↑"), say("Go on by eight")],
	["Space", say("Tick the answer, or take the tick away")],
	[say("Shift ↓  Shift ↑"), say("Tick on the way")],
	[say("Ctrl A"), say("Tick all that are shown")],
	["+", say("Take the codes of those who gave the same answer")],
	[say("any letter"), say("Find a code in the coding line")],
	["Enter", say("Put the code in hand on what is ticked, or on the answer")],
	["Tab", say("Take this code and choose another")],
	["1 … 9", say("Put a pinned code on")],
	["=", say("The same code as last time")],
	[say("Esc"), say("Leave the line; take all ticks away")],
	[say("Ctrl Z, Ctrl Shift Z"), say("Take back, do again")],
];

export function Keys({ at = "the desk", onClose }: { at?: "the desk" | "answers"; onClose: () => void }) {
	const keys = at === "the desk" ? AT_THE_DESK : OF_ANSWERS;
	const single = useSingleKeys();
	return (
		<Modal title={at === "the desk" ? say("Keys at the reading desk") : say("Keys on the answers sheet")} wide onClose={onClose}>
			<label className="mb-3 flex items-start gap-2">
				<input type="checkbox" className="mt-1 accent-spruce" checked={single} onChange={(event) => turnSingleKeys(event.target.checked)} />
				<span>
					{phrase(
						"Single letters, digits and signs do something by themselves<span>Off, only arrows, Enter, Tab, Esc and keys with Ctrl or Alt do: for who speaks to the computer, or touches keys by chance. The button <i>Keys</i> at the foot of the page turns them on again.</span>",
						{ span: (inner) => <span className="block quiet-line">{inner}</span>, i: (inner) => <i>{inner}</i> },
					)}
				</span>
			</label>
			<dl className="grid grid-cols-[150px_1fr] gap-y-1.5">
				{keys.map(([key, does]) => (
					<div key={key} className="contents">
						<dt>
							<kbd>{key}</kbd>
						</dt>
						<dd>{does}</dd>
					</div>
				))}
			</dl>
		</Modal>
	);
}
