import { useState } from "react";
import { Link } from "react-router";
import { type Piece, useExhibitWrites } from "../evidence/data";
import { Quoted } from "../evidence/Quoted";
import { say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { languageOf } from "../ui/language";
import { stepped } from "./trim";

interface Props {
	exhibit: number;
	piece: Piece;
	number: number;
	onUp: (() => void) | undefined;
	onDown: (() => void) | undefined;
}

const ENDS = [
	{ end: "start", less: say("A word less at the start"), back: say("A word back at the start"), sign: "⇥" },
	{ end: "end", less: say("A word less at the end"), back: say("A word back at the end"), sign: "⇤" },
] as const;
const SMALL = "sign rounded border border-line px-1.5 text-[12.2px] hover:border-spruce disabled:opacity-40";

/** One passage of an exhibit: its caption, its words as far as they are shown, who said it, and its place. */
export function PieceCard({ exhibit, piece, number, onUp, onDown }: Props) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const { changePiece, takeOut } = useExhibitWrites();
	const [caption, setCaption] = useState(piece.caption);
	const { passage } = piece;
	const text = passage.region || passage.span ? "" : passage.text;
	const key = { exhibit_id: exhibit, piece_id: piece.id };
	const trim = (end: "start" | "end", by: 1 | -1) => {
		const next = stepped(text, piece, end, by);
		if (next !== piece) changePiece.mutate({ ...key, ...next });
	};
	return (
		<li className="grid gap-x-6 gap-y-1 rounded-lg border border-line bg-card px-4 py-2.5 cols-[minmax(0,1fr)_250px]">
			<div className="col-span-full flex items-center gap-2">
				<span className="quiet-line">{number}</span>
				{mayCode ? (
					<input
						aria-label={say("Caption of passage {number}", { number })}
						className="min-w-0 flex-1 rounded-md border border-transparent px-1 font-semibold hover:border-line focus:border-line"
						placeholder={say("A caption")}
						value={caption}
						onChange={(event) => setCaption(event.target.value)}
						onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
						onBlur={() => caption.trim() !== piece.caption && changePiece.mutate({ ...key, caption: caption.trim() })}
					/>
				) : (
					<b className="flex-1">{piece.caption}</b>
				)}
				{mayCode && (
					<span className="flex gap-1">
						<button
							type="button"
							aria-label={say("Passage {number} one place up", { number })}
							className={SMALL}
							disabled={!onUp}
							onClick={onUp}
						>
							↑
						</button>
						<button
							type="button"
							aria-label={say("Passage {number} one place down", { number })}
							className={SMALL}
							disabled={!onDown}
							onClick={onDown}
						>
							↓
						</button>
						<button
							type="button"
							aria-label={say("Take passage {number} out", { number })}
							className={SMALL}
							onClick={() => takeOut.mutate(key)}
						>
							×
						</button>
					</span>
				)}
			</div>
			<blockquote
				className="max-w-[68ch] font-serif text-[15.4px] leading-relaxed whitespace-pre-line"
				dir="auto"
				lang={languageOf(piece.shown)}
			>
				{passage.region ? <Quoted passage={passage} /> : piece.shown}
			</blockquote>
			<div className="flex flex-col items-start gap-y-1 text-[12.4px] text-quiet">
				<span>
					<b className="font-semibold text-ink">{piece.people.map((one) => one.identifier).join(", ") || say("Nobody linked")}</b>
					{piece.people.map((one) => one.facts.map((fact) => ` · ${fact.text}`).join(""))} · {passage.title}
				</span>
				<Link className="font-semibold text-spruce hover:underline" to={`/projects/${id}/code/${passage.document}?passage=${passage.id}`}>
					{say("Open in document")}
				</Link>
				{mayCode && text && (
					<span className="flex items-center gap-1">
						{say("Trim")}
						{ENDS.map(({ end, less, back, sign }) => (
							<span key={end} className="flex gap-0.5">
								<button type="button" aria-label={less} title={less} className={SMALL} onClick={() => trim(end, 1)}>
									{sign}
								</button>
								<button
									type="button"
									aria-label={back}
									title={back}
									className={SMALL}
									disabled={end === "start" ? !piece.cut_start : !piece.cut_end}
									onClick={() => trim(end, -1)}
								>
									+
								</button>
							</span>
						))}
					</span>
				)}
			</div>
		</li>
	);
}
