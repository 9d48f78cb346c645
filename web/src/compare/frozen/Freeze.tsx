import { useState } from "react";
import { useNavigate } from "react-router";
import { useProject } from "../../shell/project";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { shownOf } from "../kept/Keep";
import type { Kept } from "../kept/kept";
import type { Question } from "../spec";
import type { View } from "../view";
import { useFrozenWrites } from "./frozen";

/** Give the result as it is today a name, and keep it so. */
export function Freeze({ question, view, here, onClose }: { question: Question; view: View; here: Kept | undefined; onClose: () => void }) {
	const { id } = useProject();
	const navigate = useNavigate();
	const { tell } = useToasts();
	const { freeze } = useFrozenWrites();
	const [name, setName] = useState(here?.name ?? "");
	return (
		<Modal title="Freeze this result" onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					freeze.mutate(
						{ name, asked: question, shown: shownOf(view), comparison: here?.id ?? null },
						{
							onSuccess: ({ count }) => {
								tell(`“${name.trim()}” is frozen as it is today.`);
								void navigate(`/projects/${id}/compare/frozen/${count}`);
							},
						},
					);
				}}
			>
				<input
					aria-label="Name of the frozen result"
					className="field mb-2 w-full"
					placeholder="such as: For the report of March"
					value={name}
					maxLength={160}
					onChange={(event) => setName(event.target.value)}
					autoFocus
				/>
				<p className="mb-3 text-[13px] text-quiet">
					A frozen result never changes: figures, conditions and passages stay as they are today. It says later what has changed since.
				</p>
				<Button type="submit" look="main" disabled={!name.trim()}>
					Freeze
				</Button>
			</form>
		</Modal>
	);
}
