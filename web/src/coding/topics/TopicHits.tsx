import { useEffect, useState } from "react";
import { Link } from "react-router";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { languageOf, ours } from "../../ui/language";
import { type Topic, type TopicHit, useTopicHits, useTopicWrites } from "./data";

const keyOf = (hit: TopicHit) => `${hit.document} ${hit.start} ${hit.end}`;

/** Where a topic’s phrases are said, each to be read, and unticked where it means something else. */
export function TopicHits({ topic, open }: { topic: Topic; open: boolean }) {
	const found = useTopicHits(topic.id);
	const { tick } = useTopicWrites();
	// What is ticked shows at once, and is the server’s again as soon as that has it.
	const [turned, setTurned] = useState<ReadonlyMap<string, boolean>>(new Map());
	// biome-ignore lint/correctness/useExhaustiveDependencies: only new data take its place
	useEffect(() => setTurned(new Map()), [found.data]);
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the hits")} />;
	const { hits, more } = found.data;
	const all = topic.hits + topic.unticked;
	const is = (hit: TopicHit) => turned.get(keyOf(hit)) ?? hit.ticked;
	const turn = (hit: TopicHit) => {
		const ticked = !is(hit);
		setTurned(new Map(turned).set(keyOf(hit), ticked));
		const { document, start, end } = hit;
		tick.mutate({ topic: topic.id, hits: [{ document, start, end }], ticked }, { onError: () => setTurned(new Map()) });
	};
	return (
		<>
			{open && all > 0 && (
				<div className="flex items-center gap-3 border-b border-line2 px-3.5 py-1 text-[13px]">
					<label className="flex items-center gap-1.5">
						<input
							type="checkbox"
							className="accent-spruce"
							disabled={tick.isPending}
							checked={topic.unticked === 0}
							onChange={(event) => tick.mutate({ topic: topic.id, every: true, ticked: event.target.checked })}
						/>
						{say("all {all, number}, listed or not", { all })}
					</label>
				</div>
			)}
			<ol aria-label={say("Hits")} className="min-h-0 flex-1 overflow-y-auto">
				{hits.map((hit) => (
					<li key={keyOf(hit)} className="flex gap-2.5 border-b border-line2 px-3.5 py-1.5">
						{open && (
							<input
								type="checkbox"
								className="mt-1.5 self-start accent-spruce"
								aria-label={say("It is about this: “{text}”", { text: hit.text.slice(0, 80) })}
								checked={is(hit)}
								onChange={() => turn(hit)}
							/>
						)}
						<Hit hit={hit} quiet={!is(hit)} said={!open} />
					</li>
				))}
				{hits.length === 0 && <li className="p-4 quiet-line">{say("Nobody in play says any of its phrases.")}</li>}
				{more > 0 && (
					<li className="px-3.5 py-2">
						<Button onClick={() => void found.fetchNextPage()} disabled={found.isFetchingNextPage}>
							{say("List more: {more, number} are left", { more })}
						</Button>
					</li>
				)}
			</ol>
		</>
	);
}

/** `said`: that it is unticked is said in words, where no tick shows it. */
function Hit({ hit, quiet, said }: { hit: TopicHit; quiet: boolean; said: boolean }) {
	const { id } = useProject();
	return (
		<div className="min-w-0">
			<p className={`font-serif leading-snug ${quiet ? "text-quiet" : ""}`} dir="auto" lang={languageOf(hit.before + hit.text + hit.after)}>
				<span className="text-quiet">{hit.before}</span>
				<Marked text={hit.text} marks={hit.marks} />
				<span className="text-quiet">{hit.after}</span>
			</p>
			<Link className="block text-xs text-spruce hover:underline" lang={ours()} to={`/projects/${id}/code/${hit.document}?at=${hit.start}`}>
				{say("{which}{title}, turn {turn}", {
					which: hit.speaker === hit.title ? "" : `${hit.speaker}, `,
					title: hit.title,
					turn: hit.turn,
				})}
				{said && quiet && <span className="text-quiet">{say(" · unticked")}</span>}
			</Link>
		</div>
	);
}

/** A text with the words of the topic’s phrases marked; places are code points. */
function Marked({ text, marks }: { text: string; marks: number[][] }) {
	const signs = Array.from(text);
	const parts: { from: number; said: string; marked: boolean }[] = [];
	let at = 0;
	for (const [start = 0, end = 0] of marks) {
		if (start > at) parts.push({ from: at, said: signs.slice(at, start).join(""), marked: false });
		parts.push({ from: start, said: signs.slice(start, end).join(""), marked: true });
		at = end;
	}
	parts.push({ from: at, said: signs.slice(at).join(""), marked: false });
	return (
		<>
			{parts.map(({ from, said, marked }) =>
				marked ? (
					<mark key={from} className="rounded-sm bg-apricot-soft px-0.5 font-semibold">
						{said}
					</mark>
				) : (
					<span key={from}>{said}</span>
				),
			)}
		</>
	);
}
