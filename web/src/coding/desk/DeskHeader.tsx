import { ChevronLeft, ChevronRight, PanelRight } from "lucide-react";
import { memo } from "react";
import { useNavigate } from "react-router";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { MemosOn } from "../../memos/MemosOn";
import { useAddress } from "../../project/address";
import { useScope } from "../../project/scope";
import { CodePages } from "../CodePages";
import type { DeskDocument } from "../data";
import { DocumentPicker } from "./DocumentPicker";
import { CodersChoice, NotesChoice } from "./Notes";
import { ProposedButton } from "./Proposed";

interface Props {
	/** As it is shown, and with everyone’s codings. */
	document: DeskDocument;
	whole: DeskDocument;
	codes: Code[];
	/** All documents, in order. */
	order: number[];
	notes: string;
	side: boolean;
	/** Over the text and the pictures beside it. */
	across: boolean;
	onNotes: (notes: string) => void;
	onSide: () => void;
}

/** What is read, how much of it there is, and what of it is shown; the way to the next document. */
export const DeskHeader = memo(function DeskHeader({ document, whole, codes, order, notes, side, across, onNotes, onSide }: Props) {
	const navigate = useNavigate();
	const [params, set] = useAddress();
	const coder = Number(params.get("coder")) || null;
	const at = order.indexOf(document.id);
	const go = (by: number) => order[at + by] !== undefined && navigate(`../code/${order[at + by]}`);
	const participants = new Set(document.speakers.filter((speaker) => speaker.role === "participant").map((speaker) => speaker.id));
	const theirs = document.turns.filter((turn) => participants.has(turn.speaker)).reduce((sum, turn) => sum + turn.words, 0);
	return (
		<div
			className={`flex min-w-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-card px-4.5 py-2 ${across ? "min-[720px]:col-span-2" : ""}`}
		>
			<h2 className="title sr-only print:not-sr-only">{document.title}</h2>
			<CodePages />
			<div className="flex min-w-0 flex-1 basis-[540px] items-center gap-2.5 max-[720px]:basis-full max-[720px]:flex-wrap print:hidden">
				<button
					type="button"
					aria-label={say("Previous document")}
					disabled={at <= 0}
					onClick={() => go(-1)}
					className="rounded-md border border-line p-1 text-spruce disabled:opacity-35"
				>
					<ChevronLeft size={15} />
				</button>
				<DocumentPicker id={document.id} title={document.title} onPick={(id) => navigate(`../code/${id}`)} />
				{/* What doesn’t fit goes as a whole, rather than be cut. */}
				<span
					className="flex h-5 min-w-0 flex-1 flex-wrap gap-x-2 overflow-hidden whitespace-nowrap quiet-line"
					title={say(
						"{words, plural, one {# word} other {# words}}, {theirs, number} by participants · {passages, plural, one {# passage} other {# passages}}",
						{ words: document.words, theirs, passages: document.passages.length },
					)}
				>
					<span className="h-5 w-0" />
					<InScope
						document={document}
						whole={whole}
						everything={params.get("all") === "1"}
						onEverything={(all) => set({ all: all ? "1" : null })}
					/>
					<span>{say("{words, plural, one {# word} other {# words}}", { words: theirs || document.words })}</span>
				</span>
				<ProposedButton document={document} codes={codes} />
				<MemosOn on="document" id={document.id} name={document.title} />
				<span className="shrink-0">
					<CodersChoice document={whole} value={coder} onChange={(id) => set({ coder: id === null ? null : String(id) })} />
					<NotesChoice document={document} value={notes} onChange={onNotes} />
				</span>
				<span className="shrink-0 quiet-line">
					{at < 0 ? say("not in scope") : say("{at} of {order}", { at: at + 1, order: order.length })}
				</span>
				<button
					type="button"
					aria-label={say("Next document")}
					disabled={at >= order.length - 1}
					onClick={() => go(1)}
					className="rounded-md border border-line p-1 text-spruce disabled:opacity-35"
				>
					<ChevronRight size={15} />
				</button>
				<button
					type="button"
					aria-label={side ? say("Hide the codebook") : say("Show the codebook")}
					aria-pressed={side}
					onClick={onSide}
					className="rounded-md border border-line p-1 text-quiet"
				>
					<PanelRight size={15} />
				</button>
			</div>
		</div>
	);
});

/** How many passages are shown, and, in a scope, the way to all of them. */
function InScope({
	document,
	whole,
	everything,
	onEverything,
}: Pick<Props, "document" | "whole"> & { everything: boolean; onEverything: (all: boolean) => void }) {
	const { narrowed } = useScope();
	const shown = document.passages.length;
	if (!narrowed || (shown === whole.passages.length && !everything))
		return <span>{say("{passages, plural, one {# passage} other {# passages}}", { passages: shown })}</span>;
	return (
		<span>
			{everything
				? say("all {passages, plural, one {# passage} other {# passages}}", { passages: shown })
				: say("{shown} of {passages, plural, one {# passage} other {# passages}}", { shown, passages: whole.passages.length })}
			<button type="button" className="ml-1.5 font-semibold text-spruce hover:underline" onClick={() => onEverything(!everything)}>
				{everything ? say("only in scope") : say("show all")}
			</button>
		</span>
	);
}
