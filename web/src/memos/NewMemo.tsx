import { useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useDraft } from "../project/draft";
import { capOf, doKey } from "../project/keys";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useMemoWrites } from "./data";
import { MEMO_KINDS, type MemoKind } from "./memos";

/** What a memo is on: one thing, or (nothing said) the project as a whole. */
type On = Pick<Shape<"NewMemoInRequest">, "passage" | "code" | "theme" | "document" | "case">;

/** A memo being written; Ctrl Enter keeps it, Esc leaves it. */
export function NewMemo({
	on,
	kind: usual,
	placeholder,
	small = false,
	onDone,
}: {
	on: On;
	kind: MemoKind;
	placeholder?: string;
	/** On a card in the margin. */
	small?: boolean;
	onDone?: () => void;
}) {
	const { write } = useMemoWrites();
	const project = useProject();
	const [text, setText, done] = useDraft(`memo on ${Object.entries(on).join() || `project ${project.id}`}`, "");
	const [kind, setKind] = useState<MemoKind>(usual);
	const keep = () => {
		if (!text.trim()) return;
		write.mutate(
			{ text, kind, ...on },
			{
				onSuccess: () => {
					done();
					onDone?.();
				},
			},
		);
	};
	return (
		<div className={small ? "mt-1" : ""}>
			<textarea
				autoFocus={onDone !== undefined}
				aria-label={say("New memo")}
				dir="auto"
				placeholder={placeholder}
				rows={small ? 3 : 4}
				className={`field w-full ${small ? "text-[12.8px]" : "resize-y font-serif leading-snug"}`}
				value={text}
				onChange={(event) => setText(event.target.value)}
				onKeyDown={(event) => {
					if (event.key === "Escape") onDone?.();
					doKey(event.nativeEvent, { keepMemo: keep });
				}}
			/>
			<div className="mt-1 flex flex-wrap items-center justify-end gap-2">
				<span className={small ? "mr-auto" : "w-36"}>
					<Choice name={say("Kind of memo")} as={small ? "small" : "field"} value={kind} options={MEMO_KINDS} onChange={setKind} />
				</span>
				<Button look="main" title={capOf("keepMemo")} disabled={!text.trim() || write.isPending} onClick={keep}>
					{small ? say("Keep") : say("Keep the memo")}
				</Button>
			</div>
		</div>
	);
}
