import { Tag } from "lucide-react";
import { useState } from "react";
import { CodePicker } from "../../codes/CodePicker";
import type { Code } from "../../codes/data";
import { labelOf, WHOLE } from "../../gather/labels";
import { say } from "../../language/say";
import { useCaps } from "../../project/keys";
import { useMayCode } from "../../project/project";
import { Modal } from "../../ui/Modal";
import { codeColour } from "../../ui/palette";
import { type DeskDocument, type Stretch, useCodingWrites } from "../data";

/** The codes proposed for what is in hand: those of the document, and of the speakers whose turns it touches. */
export function proposedFor(document: DeskDocument, stretch: Stretch | null): number[] {
	const speakers = new Set(
		document.turns.filter((turn) => !stretch || (turn.start < stretch.end && turn.end > stretch.start)).map((turn) => turn.speaker),
	);
	const meant = (document.proposed ?? []).filter((one) => one.speaker === null || (stretch && speakers.has(one.speaker)));
	return [...new Set(meant.map((one) => one.code))];
}

/** Which codes are proposed for each new passage of the document, and of each of its speakers. */
export function ProposedButton({ document, codes }: { document: DeskDocument; codes: Code[] }) {
	const [open, setOpen] = useState(false);
	const mayCode = useMayCode();
	const capOf = useCaps();
	const proposed = document.proposed ?? [];
	if (!mayCode && !proposed.length) return null;
	const whom = [
		{ speaker: null as number | null, name: say("The whole document") },
		...document.speakers
			.filter((one) => one.label !== WHOLE)
			.map((one) => ({ speaker: one.id as number | null, name: labelOf(one.label) })),
	];
	return (
		<>
			<button
				type="button"
				aria-label={say("Codes proposed for new passages")}
				title={say("Codes proposed for new passages")}
				className={`inline-flex items-center gap-1 rounded-md border px-1.5 py-0.5 text-[12.6px] hover:border-spruce ${proposed.length ? "border-spruce/40 text-spruce" : "border-line text-quiet"}`}
				onClick={() => setOpen(true)}
			>
				<Tag size={14} /> {proposed.length || ""}
			</button>
			{open && (
				<Modal title={say("Codes proposed for new passages")} onClose={() => setOpen(false)}>
					<p className="mb-3 quiet-line">
						{say("They wait in the coding line whenever words are chosen; the {key} key takes them. Nothing is coded by itself.", {
							key: capOf("proposed"),
						})}
					</p>
					{whom.map(({ speaker, name }) => (
						<Whose key={String(speaker)} document={document} codes={codes} speaker={speaker} name={name} mayCode={mayCode} />
					))}
				</Modal>
			)}
		</>
	);
}

function Whose({
	document,
	codes,
	speaker,
	name,
	mayCode,
}: {
	document: DeskDocument;
	codes: Code[];
	speaker: number | null;
	name: string;
	mayCode: boolean;
}) {
	const { propose } = useCodingWrites();
	const held = (document.proposed ?? []).filter((one) => one.speaker === speaker).map((one) => one.code);
	const put = (next: number[]) => propose.mutate({ document: document.id, speaker, codes: next });
	return (
		<fieldset className="mb-2.5 flex flex-wrap items-center gap-1.5">
			<legend className="mb-0.5 font-semibold">{name}</legend>
			{held.map((id) => {
				const code = codes.find((one) => one.id === id);
				return (
					<span key={id} className="inline-flex items-center gap-1 rounded-[5px] border border-line px-1.5 text-[13px]">
						<span className="size-2.5 rounded-[3px]" style={{ background: codeColour(code?.colour ?? 0) }} />
						{code?.name}
						{mayCode && (
							<button
								type="button"
								aria-label={say("Don’t propose {name} for {name2}", { name: code?.name, name2: name })}
								className="sign text-quiet hover:text-danger"
								onClick={() => put(held.filter((one) => one !== id))}
							>
								×
							</button>
						)}
					</span>
				);
			})}
			{mayCode && (
				<CodePicker
					codes={codes}
					disabled={false}
					onPick={(picked) => picked.length && put([...held, ...picked])}
					onlyThere
					name={say("Propose a code for {name}", { name })}
				/>
			)}
		</fieldset>
	);
}
