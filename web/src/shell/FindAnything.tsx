import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from "@headlessui/react";
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useCodebook } from "../codes/data";
import { useDocuments } from "../gather/data";
import { phrase, say } from "../language/say";
import { useRoster } from "../people/data";
import { capOf, usePageKeys } from "../project/keys";
import { useProject } from "../project/project";
import { useFocusBack } from "../ui/focusBack";
import { holding } from "../ui/words";

interface Found {
	key: string;
	kind: string;
	name: string;
	to: string;
}

/** Ctrl K: any document, person or code of the project by part of its name. */
export function FindAnything() {
	const [open, setOpen] = useState(false);
	usePageKeys({ find: () => setOpen(true) });
	return (
		<>
			<button
				type="button"
				onClick={() => setOpen(true)}
				className="flex w-40 items-center justify-between rounded-md border border-line bg-paper px-2.5 py-1 text-quiet hover:border-quiet"
			>
				{phrase("Find anything <part></part>", { part: () => <kbd>{capOf("find")}</kbd> })}
			</button>
			{open && <Finder onClose={() => setOpen(false)} />}
		</>
	);
}

function Finder({ onClose }: { onClose: () => void }) {
	const [words, setWords] = useState("");
	const navigate = useNavigate();
	const found = useFound(words);
	const field = useRef<HTMLInputElement>(null);
	useFocusBack();
	return (
		<Dialog open onClose={onClose} initialFocus={field} aria-label={say("Find anything")} className="relative z-50 focus:outline-none">
			<div className="fixed inset-0 bg-veil" aria-hidden="true" />
			<div className="fixed inset-0 flex items-start justify-center p-6 pt-[12vh]">
				<DialogPanel className="w-full max-w-lg rounded-lg border border-line bg-card p-2 shadow-xl">
					<Combobox<Found>
						onChange={(choice) => {
							if (!choice) return;
							navigate(choice.to);
							onClose();
						}}
					>
						<ComboboxInput
							ref={field}
							aria-label={say("Find anything")}
							placeholder={say("A document, a person, a code …")}
							className="w-full rounded-md px-3 py-2 text-base focus:outline-none"
							onChange={(event) => setWords(event.target.value)}
							// One Esc for the list and the dialog: here they are one thing.
							onKeyDownCapture={(event) => event.key === "Escape" && onClose()}
						/>
						<ComboboxOptions static className="max-h-80 overflow-auto border-t border-line pt-1">
							{found.rows.map((choice) => (
								<ComboboxOption
									key={choice.key}
									value={choice}
									className="flex cursor-pointer items-center rounded-md px-3 py-1.5 data-focus:bg-spruce-soft"
								>
									{choice.name}
									<span className="ml-auto quiet-line">{choice.kind}</span>
								</ComboboxOption>
							))}
							{found.rows.length === 0 && (
								<p className="px-3 py-2 quiet-line">{found.complete ? say("Nothing here is called that.") : say("Looking …")}</p>
							)}
						</ComboboxOptions>
					</Combobox>
				</DialogPanel>
			</div>
		</Dialog>
	);
}

/** What is called so, and whether everything is there to look through. */
function useFound(words: string): { rows: Found[]; complete: boolean } {
	const project = useProject();
	const documents = useDocuments().data;
	const roster = useRoster().data;
	const codes = useCodebook().data?.codes;
	return useMemo(() => {
		const home = `/projects/${project.id}`;
		const all: Found[] = [
			{ key: "bring", kind: say("go to"), name: say("Bring in files"), to: `${home}/gather/bring-in` },
			{ key: "members", kind: say("go to"), name: say("Members"), to: `${home}/members` },
			{ key: "history", kind: say("go to"), name: say("What was done"), to: `${home}/history` },
			...(documents ?? []).map((row) => ({
				key: `d${row.id}`,
				kind: say("document"),
				name: row.title,
				to: `${home}/code/${row.id}`,
			})),
			...(codes ?? []).map((row) => ({
				key: `c${row.id}`,
				kind: say("code: compare it"),
				name: row.name,
				to: `${home}/compare?codes=${row.id}`,
			})),
			...(roster?.cases ?? []).map((row) => ({
				key: `p${row.id}`,
				kind: project.case_one,
				name: row.identifier,
				to: `${home}/people?case=${row.id}`,
			})),
		];
		const holds = holding(words);
		const rows = all.filter((row) => holds(row.name)).slice(0, 30);
		return { rows, complete: Boolean(documents && roster && codes) };
	}, [words, project, documents, roster, codes]);
}
