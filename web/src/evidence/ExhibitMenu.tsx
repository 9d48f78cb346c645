import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useState } from "react";
import { say } from "../language/say";
import { useMayCode } from "../project/project";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { useToasts } from "../ui/toasts";
import { type Exhibit, useAddToExhibit, useExhibits, useExhibitWrites } from "./data";

const LOOK = "block w-full rounded-md px-3 py-1 text-left data-focus:bg-spruce-soft";

/** Puts a passage, or all that a saved query finds, into an exhibit, or into a new one. */
export function ExhibitMenu({ passages = [], query, label = say("Exhibit") }: { passages?: number[]; query?: number; label?: string }) {
	const mayCode = useMayCode();
	const add = useAddToExhibit();
	const { tell } = useToasts();
	const [naming, setNaming] = useState(false);
	if (!mayCode) return null;
	// The menu is gone before the answer comes: what is told afterwards belongs to what stays.
	const put = ({ id, name }: Exhibit) =>
		add.mutate(
			{ exhibit_id: id, passages, ...(query !== undefined && { query }) },
			{
				onSuccess: ({ count }) =>
					tell(
						count
							? say("{passages, plural, one {# passage} other {# passages}} put into “{name}”.", { passages: count, name })
							: say("“{name}” shows it already.", { name }),
					),
			},
		);
	return (
		<>
			<Menu>
				<MenuButton className="font-sans font-semibold whitespace-nowrap text-spruce hover:underline">{label}</MenuButton>
				<MenuItems
					anchor={{ to: "bottom end", gap: 4 }}
					className="z-40 max-h-72 w-64 overflow-auto rounded-lg border border-line bg-card p-1 font-sans text-[13.4px] shadow-lg focus:outline-none"
				>
					<Choices onPut={put} onNew={() => setNaming(true)} />
				</MenuItems>
			</Menu>
			{naming && <NewExhibit passages={passages} query={query} onClose={() => setNaming(false)} />}
		</>
	);
}

interface Asked {
	passages: number[];
	query: number | undefined;
}

/** Asked for when the menu is open, not for every passage on the page. */
function Choices({ onPut, onNew }: { onPut: (exhibit: Exhibit) => void; onNew: () => void }) {
	const exhibits = useExhibits().data ?? [];
	return (
		<>
			{exhibits.map((one) => (
				<MenuItem key={one.id}>
					<button type="button" className={LOOK} onClick={() => onPut(one)}>
						{one.name} <span className="text-quiet">{one.size}</span>
					</button>
				</MenuItem>
			))}
			<MenuItem>
				<button type="button" className={`${LOOK} font-semibold text-spruce`} onClick={onNew}>
					{say("A new exhibit …")}
				</button>
			</MenuItem>
		</>
	);
}

export function NewExhibit({ passages, query, onClose }: Asked & { onClose: (made?: number) => void }) {
	const { make } = useExhibitWrites();
	const add = useAddToExhibit();
	const { tell } = useToasts();
	const [name, setName] = useState("");
	const [audience, setAudience] = useState("");
	const made = (exhibit_id: number) => {
		if (query !== undefined) add.mutate({ exhibit_id, query });
		tell(say("The exhibit “{name}” is made; it stands under Report.", { name: name.trim() }));
		onClose(exhibit_id);
	};
	return (
		<Modal title={say("A new exhibit")} onClose={() => onClose()}>
			<form
				className="space-y-2.5"
				onSubmit={(event) => {
					event.preventDefault();
					make.mutate({ name, audience, passages }, { onSuccess: ({ count }) => made(count) });
				}}
			>
				<p className="text-[13px] text-quiet">{say("An ordered choice of passages for an audience, each trimmed and captioned.")}</p>
				<input
					aria-label={say("Name of the exhibit")}
					className="field w-full"
					placeholder={say("such as: Voices of the pier")}
					maxLength={160}
					value={name}
					onChange={(event) => setName(event.target.value)}
					autoFocus
				/>
				<input
					aria-label={say("For whom")}
					className="field w-full"
					placeholder={say("for whom, such as: the council")}
					maxLength={200}
					value={audience}
					onChange={(event) => setAudience(event.target.value)}
				/>
				<Button type="submit" look="main" disabled={!name.trim()}>
					{say("Make the exhibit")}
				</Button>
			</form>
		</Modal>
	);
}
