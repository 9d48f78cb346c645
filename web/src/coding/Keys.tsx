import { Modal } from "../ui/Modal";

const KEYS: [string, string][] = [
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
	["Esc", "Leave the words"],
	["Ctrl Z, Ctrl Shift Z", "Take back, do again"],
	["Ctrl K", "Find any document, person or code"],
];

export function Keys({ onClose }: { onClose: () => void }) {
	return (
		<Modal title="Keys at the reading desk" onClose={onClose}>
			<dl className="grid grid-cols-[150px_1fr] gap-y-1.5">
				{KEYS.map(([key, does]) => (
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
