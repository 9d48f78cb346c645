import { useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useDraft } from "../project/draft";
import { capOf, doKey } from "../project/keys";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { useMemoWrites } from "./data";
import { KindsChoice } from "./KindsChoice";
import { MemoField, type Written } from "./MemoField";
import type { AnyKind, MemoKind } from "./memos";

/** What a memo is on: one thing, or (nothing said) the project as a whole. */
type On = Pick<Shape<"NewMemoInRequest">, "passage" | "code" | "theme" | "document" | "case">;

const EMPTY: Written = { text: "", links: [] };

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
	const [written, setWritten, done] = useDraft(`memo on ${Object.entries(on).join() || `project ${project.id}`}`, EMPTY);
	const [kinds, setKinds] = useState<AnyKind[]>([usual]);
	const keep = () => {
		if (!written.text.trim()) return;
		write.mutate(
			{ ...written, kinds, ...on },
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
			<MemoField
				name={say("New memo")}
				autoFocus={onDone !== undefined}
				placeholder={placeholder}
				rows={small ? 3 : 4}
				className={`field w-full ${small ? "text-[12.8px]" : "resize-y font-serif leading-snug"}`}
				value={written}
				onChange={setWritten}
				onKeyDown={(event) => {
					if (event.key === "Escape") onDone?.();
					doKey(event.nativeEvent, { keepMemo: keep });
				}}
			/>
			<div className="mt-1 flex flex-wrap items-center justify-end gap-2">
				<span className={small ? "mr-auto min-w-0" : "w-44"}>
					<KindsChoice value={kinds} onChange={setKinds} small={small} />
				</span>
				<Button look="main" title={capOf("keepMemo")} disabled={!written.text.trim() || write.isPending} onClick={keep}>
					{small ? say("Keep") : say("Keep the memo")}
				</Button>
			</div>
		</div>
	);
}
