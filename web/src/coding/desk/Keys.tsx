import { turnSingleKeys, useSingleKeys } from "../../project/singleKeys";
import { Modal } from "../../ui/Modal";

const AT_THE_DESK: [string, string][] = [
	["→  ←", "Choose the next, the previous word"],
	["Shift →  Shift ←", "Take one word more, one less"],
	["↓  ↑", "Go to the next, the previous turn"],
	["T", "Choose the whole turn (Shift T with words chosen)"],
	["]  [", "Go to the next, the previous passage"],
	["U  C  S", "Go to the next turn without a code, passage of the same code, turn of the same speaker (with words chosen: Alt)"],
	["Alt →  Alt ←", "Move the end of the passage in hand a word on, back (Shift: its beginning)"],
	["Alt ↓", "Widen the passage to its sentence (Shift: to its turn)"],
	["any letter", "Find a code in the coding line"],
	["Enter", "Put the code in hand on the words"],
	["Tab", "Take this code and choose another"],
	["Shift Enter", "Make a new code of what is typed"],
	["'", "Make a new code from the words themselves"],
	["1 … 9", "Put a pinned code on"],
	["=", "The same code as last time"],
	["+", "Take the codes proposed for this document or speaker"],
	["Alt with the mouse", "Choose letters exactly: without it, the whole of the words one begins and ends in"],
	["Esc", "Leave the words"],
	["Alt P  Alt B  Alt L", "Recordings: play or pause, back three seconds, loop what is in hand"],
	["Alt I  Alt O", "Recordings: a span begins here, ends here"],
	["arrows on a region", "Move it (Shift: resize it; Alt: in small steps)"],
	["Ctrl Z, Ctrl Shift Z", "Take back, do again"],
	["Ctrl K", "Find any document, person or code"],
];

const OF_ANSWERS: [string, string][] = [
	["↓  ↑", "Go to the next, the previous answer"],
	["Page ↓  Page ↑", "Go on by eight"],
	["Space", "Tick the answer, or take the tick away"],
	["Shift ↓  Shift ↑", "Tick on the way"],
	["Ctrl A", "Tick all that are shown"],
	["+", "Take the codes of those who gave the same answer"],
	["any letter", "Find a code in the coding line"],
	["Enter", "Put the code in hand on what is ticked, or on the answer"],
	["Tab", "Take this code and choose another"],
	["1 … 9", "Put a pinned code on"],
	["=", "The same code as last time"],
	["Esc", "Leave the line; take all ticks away"],
	["Ctrl Z, Ctrl Shift Z", "Take back, do again"],
];

export function Keys({ at = "the desk", onClose }: { at?: "the desk" | "answers"; onClose: () => void }) {
	const keys = at === "the desk" ? AT_THE_DESK : OF_ANSWERS;
	const single = useSingleKeys();
	return (
		<Modal title={at === "the desk" ? "Keys at the reading desk" : "Keys on the answers sheet"} wide onClose={onClose}>
			<label className="mb-3 flex items-start gap-2">
				<input type="checkbox" className="mt-1 accent-spruce" checked={single} onChange={(event) => turnSingleKeys(event.target.checked)} />
				<span>
					Single letters, digits and signs do something by themselves
					<span className="block quiet-line">
						Off, only arrows, Enter, Tab, Esc and keys with Ctrl or Alt do: for who speaks to the computer, or touches keys by chance. The
						button <i>Keys</i> at the foot of the page turns them on again.
					</span>
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
