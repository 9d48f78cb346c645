import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useMemo, useState } from "react";
import { say } from "../language/say";
import { LongList } from "../ui/LongList";
import { codeColour } from "../ui/palette";
import type { Code } from "./data";
import { KINDS } from "./kinds";
import { branches, flat, wordsOf } from "./tree";

/** Some codes, ticked in the tree; said as their names. */
export function CodesPick({ codes, chosen, onChange }: { codes: Code[]; chosen: number[]; onChange: (ids: number[]) => void }) {
	const [words, setWords] = useState("");
	const rows = useMemo(() => flat(branches(codes)), [codes]);
	const names = codes.filter((code) => chosen.includes(code.id)).map((code) => code.name);
	const label =
		names.length === 0
			? say("choose codes")
			: names.length > 3
				? say("{names} and {names2} more", { names: names.slice(0, 2).join(", "), names2: names.length - 2 })
				: names.join(", ");
	return (
		<Popover className="inline">
			<PopoverButton aria-label={say("Codes: {label}", { label })} className="token inline text-left">
				{label}
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-50 flex max-h-80 w-80 flex-col rounded-lg border border-line bg-card p-2 text-[13.4px] text-ink shadow-lg"
			>
				<input
					aria-label={say("Find codes")}
					autoFocus
					placeholder={say("Find codes")}
					className="field mb-1.5"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<LongList rows={rows.filter((row) => wordsOf(row.code).includes(words.toLowerCase()))} height={26}>
					{({ code, depth }) => (
						<label
							key={code.id}
							className="flex h-[26px] cursor-pointer items-center gap-2 rounded px-1 hover:bg-paper2"
							style={{ paddingLeft: 4 + depth * 16 }}
						>
							<input
								type="checkbox"
								className="accent-spruce"
								checked={chosen.includes(code.id)}
								onChange={(event) => onChange(event.target.checked ? [...chosen, code.id] : chosen.filter((id) => id !== code.id))}
							/>
							<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
							<span className="truncate">{code.name}</span>
							{code.kind && <span className="ml-auto quiet-line">{KINDS[code.kind]}</span>}
						</label>
					)}
				</LongList>
			</PopoverPanel>
		</Popover>
	);
}
