import { useState } from "react";
import { say } from "../../language/say";
import { useMayCode } from "../../project/project";
import { Button } from "../../ui/Button";
import { isoDay } from "../../ui/words";
import type { Comparison } from "../data";
import { useNoteWrites } from "../frozen/frozen";
import type { Opened } from "../spec";
import type { Kept } from "./kept";

/** Notes on the open cell of a kept comparison. */
export function CellNotes({ kept, opened, result }: { kept: Kept; opened: Opened; result: Comparison }) {
	const mayCode = useMayCode();
	const { write, remove } = useNoteWrites();
	const [text, setText] = useState("");
	const row = opened.row === null ? undefined : result.rows[opened.row];
	if (!row || opened.left_out) return null;
	const group = opened.group === null ? "" : (result.groups[opened.group]?.name ?? "");
	const notes = kept.notes.filter((note) => note.kind === row.kind && note.row === row.id && note.group === group);
	return (
		<section aria-label={say("Notes on this cell")} className="border-b border-line bg-paper px-4 py-2 text-[13.4px]">
			{notes.map((note) => (
				<div key={note.id} className="mb-1.5 border-l-2 border-apricot-deep pl-2">
					<p className="whitespace-pre-line">{note.text}</p>
					<p className="flex gap-3 text-[12px] text-quiet">
						{note.author}, {isoDay(note.made_at)}
						{mayCode && (
							<button
								type="button"
								className="font-semibold hover:text-danger"
								onClick={() => remove.mutate({ kept_id: kept.id, note_id: note.id })}
							>
								{say("Delete")}
							</button>
						)}
					</p>
				</div>
			))}
			{mayCode && (
				<form
					className="flex gap-2"
					onSubmit={(event) => {
						event.preventDefault();
						write.mutate({ kept_id: kept.id, kind: row.kind, row: row.id, group, text }, { onSuccess: () => setText("") });
					}}
				>
					<input
						aria-label={say("Note on this cell")}
						placeholder={say("A note on this cell")}
						className="field min-w-0 flex-1"
						value={text}
						onChange={(event) => setText(event.target.value)}
					/>
					<Button type="submit" disabled={!text.trim()}>
						{say("Note")}
					</Button>
				</form>
			)}
		</section>
	);
}

/** Whether a cell of a kept comparison has a note. */
export function notedIn(kept: Kept | undefined, result: Comparison) {
	const held = new Set(kept?.notes.map((note) => `${note.kind}:${note.row}|${note.group}`));
	return (place: number, group: number | null) => {
		const row = result.rows[place];
		return row !== undefined && held.has(`${row.kind}:${row.id}|${group === null ? "" : (result.groups[group]?.name ?? "")}`);
	};
}
