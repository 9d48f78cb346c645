import { useCallback, useMemo, useRef } from "react";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { usePassagesInPlay } from "../../project/play";
import { useSession } from "../../project/session";
import { Choice } from "../../ui/Choice";
import type { DeskDocument, Passage } from "../data";
import { useThemes } from "../overview";

/** Which notes stand in the margin: all, one coder’s, one theme’s, one code’s, those with memos, none. */
export function NotesChoice({ document, value, onChange }: { document: DeskDocument; value: string; onChange: (value: string) => void }) {
	const codes = useCodebook().data?.codes;
	const themes = useThemes().data?.themes;
	const coders = useMemo(
		() => new Map(document.passages.flatMap((passage) => passage.codings.map((one) => [one.coder, one.coder_name]))),
		[document.passages],
	);
	const used = useMemo(() => new Set(document.passages.flatMap((passage) => passage.codings.map((one) => one.code))), [document.passages]);
	// Hundreds of codes are named anew only where others are used: a coding mostly takes one that is there already.
	const usedNow = [...used].sort((a, b) => a - b).join();
	const codersNow = JSON.stringify([...coders]);
	// biome-ignore lint/correctness/useExhaustiveDependencies: the two sets by what is in them
	const options = useMemo(
		() => [
			{ value: "all", label: say("All notes") },
			{ value: "none", label: say("No notes") },
			{ value: "memos", label: say("Notes with memos") },
			...(coders.size > 1 ? [...coders].map(([id, name]) => ({ value: `coder ${id}`, label: say("{name}’s notes", { name }) })) : []),
			...(themes ?? []).map((theme) => ({ value: `theme ${theme.id}`, label: say("Theme: {name}", { name: theme.name }) })),
			...(codes ?? [])
				.filter((code) => used.has(code.id))
				.map((code) => ({ value: `code ${code.id}`, label: say("Code: {name}", { name: code.name }) })),
		],
		[codes, themes, usedNow, codersNow],
	);
	return <Choice name={say("Notes in the margin")} as="small" value={value} options={options} onChange={onChange} />;
}

/** Whose codings are shown in the text: everyone’s, or one coder’s alone. */
export function CodersChoice({
	document,
	value,
	onChange,
}: {
	document: DeskDocument;
	value: number | null;
	onChange: (value: number | null) => void;
}) {
	const me = useSession().data?.account?.id;
	const coders = new Map(document.passages.flatMap((passage) => passage.codings.map((one) => [one.coder, one.coder_name])));
	if (coders.size < 2 && value === null) return null;
	return (
		<Choice
			name={say("Whose codings")}
			as="small"
			value={value}
			options={[
				{ value: null as number | null, label: say("Everyone’s codings") },
				...[...coders].map(([id, name]) => ({
					value: id as number | null,
					label: id === me ? say("My codings") : say("{name}’s codings", { name }),
				})),
			]}
			onChange={onChange}
		/>
	);
}

/** The document as one coder left it: others’ codings aside, memos kept. */
export function ofCoder(document: DeskDocument, coder: number | null): DeskDocument {
	if (coder === null) return document;
	const passages = document.passages
		.map((passage) => ({ ...passage, codings: passage.codings.filter((one) => one.coder === coder) }))
		.filter((passage) => passage.codings.length + passage.memos.length > 0);
	return { ...document, passages };
}

/** The document with its passages in scope only; what was coded since it was opened stays in sight. */
export function useInScope(document: DeskDocument, everything: boolean): DeskDocument {
	const kept = usePassagesInPlay(document.id);
	const newest = useRef(0);
	if (newest.current === 0) newest.current = Math.max(1, ...document.passages.map((passage) => passage.id));
	return useMemo(() => {
		if (!kept || everything) return document;
		const shown = (id: number) => kept.has(id) || id < 0 || id > newest.current;
		return { ...document, passages: document.passages.filter((passage) => shown(passage.id)) };
	}, [document, kept, everything]);
}

/** Whether a passage’s card is shown. */
export function useNoted(notes: string): (passage: Passage) => boolean {
	const themes = useThemes().data?.themes;
	return useCallback(
		(passage: Passage) => {
			const [kind, id] = notes.split(" ");
			if (kind === "none") return false;
			if (kind === "memos") return passage.memos.length > 0;
			if (kind === "coder") return passage.codings.some((one) => one.coder === Number(id));
			if (kind === "code") return passage.codings.some((one) => one.code === Number(id));
			if (kind === "theme") {
				const held = new Set(themes?.find((theme) => theme.id === Number(id))?.codes);
				return passage.codings.some((one) => held.has(one.code));
			}
			return true;
		},
		[notes, themes],
	);
}
