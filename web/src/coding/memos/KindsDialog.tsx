import { useState } from "react";
import { say } from "../../language/say";
import { useKindWrites, useOwnKinds } from "../../memos/data";
import { MEMO_KINDS } from "../../memos/memos";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";

/** The kinds that memos can be of: those that every project has, and its own. */
export function KindsDialog({ onClose }: { onClose: () => void }) {
	const own = useOwnKinds();
	const { make } = useKindWrites();
	const [name, setName] = useState("");
	const add = () => name.trim() && make.mutate(name, { onSuccess: () => setName("") });
	return (
		<Modal title={say("Kinds of memos")} onClose={onClose}>
			<p className="mb-2 quiet-line">
				{say("Every project has {kinds}. Add what yours needs besides; a memo can be of several.", {
					kinds: MEMO_KINDS.map((one) => one.label).join(", "),
				})}
			</p>
			<ul className="mb-2">
				{own.map((one) => (
					<OwnKind key={one.id} kind={one} />
				))}
			</ul>
			<form
				className="flex gap-2"
				onSubmit={(event) => {
					event.preventDefault();
					add();
				}}
			>
				<input
					aria-label={say("Name of a new kind")}
					placeholder={say("A new kind")}
					maxLength={60}
					className="field flex-1"
					value={name}
					onChange={(event) => setName(event.target.value)}
				/>
				<Button look="main" disabled={!name.trim() || make.isPending} onClick={add}>
					{say("Add")}
				</Button>
			</form>
		</Modal>
	);
}

function OwnKind({ kind }: { kind: { id: number; name: string; memos: number } }) {
	const { rename, remove } = useKindWrites();
	const [name, setName] = useState(kind.name);
	const keep = () => {
		if (!name.trim()) setName(kind.name);
		else if (name !== kind.name) rename.mutate({ id: kind.id, name }, { onError: () => setName(kind.name) });
	};
	return (
		<li className="flex items-center gap-2 border-b border-line2 py-1">
			<input
				aria-label={say("Name of the kind “{name}”", { name: kind.name })}
				maxLength={60}
				className="field flex-1"
				value={name}
				onChange={(event) => setName(event.target.value)}
				onBlur={keep}
				onKeyDown={(event) => event.key === "Enter" && keep()}
			/>
			<span className="w-20 text-right quiet-line">{say("{memos, plural, one {# memo} other {# memos}}", { memos: kind.memos })}</span>
			<Button look="plain" title={say("The memos stay. Undo brings it back")} onClick={() => remove.mutate(kind.id)}>
				{say("Delete")}
			</Button>
		</li>
	);
}
