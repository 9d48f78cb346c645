import { useState } from "react";
import type { Shape } from "../../api/client";
import { ROLES } from "../../gather/TranscriptReading";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";

/** Who speaks, where it is nobody of the document so far. */
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
