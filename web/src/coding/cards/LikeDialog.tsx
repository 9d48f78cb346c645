import { useState } from "react";
import { Link } from "react-router";
import { useCodebook } from "../../codes/data";
import { phrase, say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Loading } from "../../ui/Empty";
import { Modal } from "../../ui/Modal";
import { codeColour } from "../../ui/palette";
import { useToasts } from "../../ui/toasts";
import { decimal } from "../../ui/words";
import type { Passage } from "../data";
import { useLike, useOverviewWrites } from "../overview";

/** Turns that say something like a passage: read, ticked, coded alike. A suggestion, no more. */
export function LikeDialog({ passage, onClose }: { passage: Passage; onClose: () => void }) {
	const project = useProject();
	const mayCode = useMayCode();
	const { tell } = useToasts();
	const like = useLike(passage.id);
	const codes = new Map((useCodebook().data?.codes ?? []).map((code) => [code.id, code]));
	const { codeHits } = useOverviewWrites();
	const [ticked, setTicked] = useState<readonly number[]>([]);
	const own = [...new Set(passage.codings.map((coding) => coding.code))];
	const names = own.map((id) => codes.get(id)?.name).join(", ");
	return (
		<Modal title={say("Turns that say something like it")} onClose={onClose} wide>
			<p className="mb-2 quiet-line">
				{say("Nearest first, by the words they share. Likeness of words isn’t likeness of meaning: read, then tick.")}
			</p>
			{like.error && <p className="text-danger">{like.error.message}</p>}
			{!like.data && !like.error && <Loading what={say("the turns")} />}
			{like.data?.length === 0 && <p className="quiet-line">{say("No other turn shares its words.")}</p>}
			<ol className="mb-3 max-h-[52vh] pane">
				{like.data?.map((hit, at) => (
					<li key={`${hit.document} ${hit.start}`} className="flex gap-2.5 border-b border-line2 py-1.5">
						{mayCode && (
							<input
								type="checkbox"
								className="mt-1.5"
								aria-label={say("Tick {title}, turn {turn}", { title: hit.title, turn: hit.turn })}
								checked={ticked.includes(at)}
								onChange={() => setTicked(ticked.includes(at) ? ticked.filter((one) => one !== at) : [...ticked, at])}
							/>
						)}
						<div className="min-w-0">
							<p className="line-clamp-4 font-serif leading-snug" dir="auto">
								{hit.text}
							</p>
							<p className="flex flex-wrap items-center gap-x-2.5 text-xs text-quiet">
								{phrase("<link>{title}, turn {turn}</link>likeness {likeness}", {
									link: (inner) => (
										<Link className="text-spruce hover:underline" to={`/projects/${project.id}/code/${hit.document}?at=${hit.start}`}>
											{inner}
										</Link>
									),
									title: hit.title,
									turn: hit.turn,
									likeness: decimal(hit.likeness, 2),
								})}
								{hit.codes.map((id) => (
									<span key={id} className="inline-flex items-center gap-1">
										<span className="size-2 rounded-[2px]" style={{ background: codeColour(codes.get(id)?.colour ?? 0) }} />
										{codes.get(id)?.name}
									</span>
								))}
							</p>
						</div>
					</li>
				))}
			</ol>
			{mayCode && own.length > 0 && (
				<div className="flex justify-end">
					<Button
						look="main"
						disabled={!ticked.length || codeHits.isPending}
						onClick={() =>
							codeHits.mutate(
								{
									hits: ticked.flatMap((at) => {
										const hit = like.data?.[at];
										return hit ? [{ document: hit.document, start: hit.start, end: hit.end }] : [];
									}),
									extent: "hit",
									codes: own,
								},
								{
									onSuccess: ({ count }) => {
										tell(
											say(
												"{turns, plural, one {# turn} other {# turns}} coded. Ctrl Z takes {turns, plural, one {it} other {them}} back.",
												{ turns: count },
											),
										);
										setTicked([]);
									},
								},
							)
						}
					>
						{say("Put {names} on ", { names })}
						{ticked.length ? say("{turns, plural, one {# turn} other {# turns}}", { turns: ticked.length }) : say("those ticked")}
					</Button>
				</div>
			)}
		</Modal>
	);
}
