import { useState } from "react";
import { phrase, say } from "../language/say";
import { useDraft } from "../project/draft";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { type Code, useCodeWrites } from "./data";
import { branches, flat, placesAmong } from "./tree";

/** A code made before anything is put under it: what it is called, where it stands, and what it means. */
export function NewCode({
	codes,
	beneath = null,
	onClose,
	onMade,
}: {
	codes: Code[];
	beneath?: number | null;
	onClose: () => void;
	onMade?: (code: number) => void;
}) {
	const { createCode } = useCodeWrites();
	const project = useProject();
	const [typed, type, done] = useDraft(`code of project ${project.id}`, { name: "", definition: "" });
	const { name, definition } = typed;
	const [parent, setParent] = useState(beneath);
	const refused = useRefused(createCode.error);
	const leave = () => {
		done();
		onClose();
	};
	const places = placesAmong(flat(branches(codes)));
	return (
		<Modal title={say("A new code")} onClose={leave}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					if (!name.trim() || createCode.isPending) return;
					createCode.mutate(
						{ name: name.trim(), parent, definition: definition.trim() },
						{
							onSuccess: (made) => {
								onMade?.(made.id);
								leave();
							},
						},
					);
				}}
			>
				<label className="block font-semibold">
					{say("Name")}
					<input
						required
						maxLength={160}
						className="field mt-1 w-full font-normal"
						value={name}
						{...refused.field}
						onChange={(event) => type({ ...typed, name: event.target.value })}
					/>
				</label>
				<div className="font-semibold">
					{say("Beneath")}
					<div className="mt-1 font-normal">
						<Choice name={say("Beneath")} value={parent ?? 0} options={places} onChange={(chosen) => setParent(chosen || null)} />
					</div>
				</div>
				<label className="block font-semibold">
					{phrase("What it means <span>(may wait)</span>", { span: (inner) => <span className="font-normal text-quiet">{inner}</span> })}
					<textarea
						rows={3}
						className="field mt-1 w-full font-normal"
						value={definition}
						onChange={(event) => type({ ...typed, definition: event.target.value })}
					/>
				</label>
				{refused.said}
				<Button look="main" type="submit" disabled={!name.trim() || createCode.isPending}>
					{say("Make the code")}
				</Button>
			</form>
		</Modal>
	);
}
