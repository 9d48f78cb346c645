import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import { useDocuments } from "../../gather/data";
import { say } from "../../language/say";
import { among, usePlay } from "../../project/play";
import { holding } from "../../ui/words";

const SHOWN = 60;
/** Listed before the one that is open. */
const BEFORE = 8;

/** The title of what is read, and the way to any other document: by part of its name, or from those around it. */
export function DocumentPicker({ id, title, onPick }: { id: number; title: string; onPick: (id: number) => void }) {
	const [typed, setTyped] = useState("");
	const play = usePlay();
	const documents = among(useDocuments().data ?? [], play.documents, (row) => row.id);
	const holds = holding(typed);
	const matching = documents.filter((row) => holds(row.title));
	const from = typed.trim() ? 0 : Math.max(0, Math.min(documents.findIndex((row) => row.id === id) - BEFORE, matching.length - SHOWN));
	const shown = matching.slice(from, from + SHOWN);
	return (
		<Combobox<number>
			immediate
			value={id}
			onChange={(chosen) => {
				setTyped("");
				if (chosen !== null && chosen !== id) onPick(chosen);
			}}
			onClose={() => setTyped("")}
		>
			<ComboboxInput
				aria-label={say("Document")}
				title={say("{title}. Choose another by part of its name.", { title })}
				autoComplete="off"
				className="w-44 min-w-24 max-w-72 shrink-0 truncate rounded-md [field-sizing:content] border border-transparent px-1.5 py-0.5 font-semibold hover:border-line focus:border-spruce focus:outline-none"
				displayValue={() => title}
				onFocus={(event) => event.currentTarget.select()}
				onChange={(event) => setTyped(event.target.value)}
			/>
			<ComboboxOptions
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-96 w-96 overflow-auto rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg"
			>
				{shown.map((row) => (
					<ComboboxOption
						key={row.id}
						value={row.id}
						className="flex cursor-pointer items-baseline gap-3 rounded px-2 py-1 data-focus:bg-spruce-soft data-selected:font-semibold"
					>
						<span className="truncate">{row.title}</span>
						<span className="ml-auto shrink-0 text-xs font-normal text-quiet">
							{say("{passages, plural, one {# passage} other {# passages}}", { passages: row.passages })}
						</span>
					</ComboboxOption>
				))}
				{shown.length === 0 && <p className="px-2 py-1 quiet-line">{say("No document is called that.")}</p>}
				{matching.length > shown.length && (
					<p className="px-2 py-1 quiet-line">
						{say("{matching} more: type a part of the name.", { matching: matching.length - shown.length })}
					</p>
				)}
			</ComboboxOptions>
		</Combobox>
	);
}
