import { NotebookPen } from "lucide-react";
import { useState } from "react";
import { say } from "../language/say";
import { useMayCode } from "../project/project";
import { Modal } from "../ui/Modal";
import { longDay } from "../ui/words";
import { type Memo, useKindsNamed, useMemos } from "./data";
import { MemoText } from "./MemoText";
import type { MemoKind } from "./memos";
import { NewMemo } from "./NewMemo";

type On = "code" | "theme" | "document" | "case" | "comparison";

/** The memos on one thing: how many there are, and all of them with a place for the next. */
export function MemosOn({ on, id, name, kind = "analytic" }: { on: On; id: number; name: string; kind?: MemoKind }) {
	const memos = (useMemos().data ?? []).filter((memo) => memo.on === on && memo.on_id === id);
	const [open, setOpen] = useState(false);
	const mayCode = useMayCode();
	if (!mayCode && !memos.length) return null;
	return (
		<>
			<button
				type="button"
				aria-label={
					memos.length
						? say("{memos} {memos, plural, one {memo} other {memos}} on {name}", { memos: memos.length, name })
						: say("Write a memo on {name}", { name })
				}
				title={memos.length ? say("Memos on this") : say("Write a memo on this")}
				className={`inline-flex items-center gap-1 rounded-md border px-1.5 py-0.5 text-[12.6px] ${memos.length ? "border-spruce/40 text-spruce" : "border-line text-quiet"} hover:border-spruce`}
				onClick={() => setOpen(true)}
			>
				<NotebookPen size={14} /> {memos.length || ""}
			</button>
			{open && <MemosDialog on={on} id={id} name={name} kind={kind} onClose={() => setOpen(false)} />}
		</>
	);
}

export function MemosDialog({
	on,
	id,
	name,
	kind = "analytic",
	onClose,
}: {
	on: On;
	id: number;
	name: string;
	kind?: MemoKind;
	onClose: () => void;
}) {
	const all = useMemos().data ?? [];
	const memos = all.filter((memo) => memo.on === on && memo.on_id === id);
	const speaking = all.filter((memo) => !memos.includes(memo) && memo.links.some((link) => link.thing === on && link.id === id));
	const mayCode = useMayCode();
	return (
		<Modal title={say("Memos on {name}", { name })} onClose={onClose}>
			{memos.map((memo) => (
				<Entry key={memo.id} memo={memo} />
			))}
			{speaking.length > 0 && <h3 className="mb-1.5 font-semibold">{say("Others that speak of it")}</h3>}
			{speaking.map((memo) => (
				<Entry key={memo.id} memo={memo} />
			))}
			{mayCode && <NewMemo on={{ [on]: id }} kind={kind} />}
		</Modal>
	);
}

function Entry({ memo }: { memo: Memo }) {
	const named = useKindsNamed();
	return (
		<article className="mb-2.5 border-b border-line2 pb-2">
			<p className="text-[12.4px] text-quiet">
				<b className="font-semibold text-ink">{named(memo.kinds)}</b> {memo.source || memo.author}, {longDay(memo.made_at)}
			</p>
			<MemoText text={memo.text} links={memo.links} />
		</article>
	);
}
