import { useState } from "react";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { codeColour } from "../../ui/palette";
import { useToasts } from "../../ui/toasts";
import { type Topic, useTopicWrites } from "./data";

/** All topics with their people, hits and groups; ticked ones are merged or dropped, dropped ones taken back. */
export function TopicList({
	topics,
	groups,
	people,
	chosen,
	onChoose,
}: {
	topics: Topic[];
	groups: string[];
	/** All who say anything in play. */
	people: number;
	chosen: number | null;
	onChoose: (topic: number | null) => void;
}) {
	const { case_many } = useProject();
	const mayCode = useMayCode();
	const { tell } = useToasts();
	const { merge, drop } = useTopicWrites();
	const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
	const [open, setOpen] = useState(false);
	const there = topics.filter((one) => !one.dropped);
	const dropped = topics.filter((one) => one.dropped);
	const own = there.filter((one) => ticked.has(one.id)).map((one) => one.id);
	const names = (ids: number[]) => topics.filter((one) => ids.includes(one.id)).map((one) => one.name);
	const turn = (id: number) => {
		const next = new Set(ticked);
		if (!next.delete(id)) next.add(id);
		setTicked(next);
	};
	return (
		<section aria-label={say("Topics")} className="flex min-h-0 flex-col rounded-lg border border-line bg-card">
			{mayCode && (
				<div className="flex min-h-10 flex-wrap items-center gap-2 border-b border-line px-3 py-1 text-[13.4px]">
					<span className="text-quiet" role="status">
						{own.length
							? say("{n, plural, one {# topic} other {# topics}} ticked", { n: own.length })
							: say("Tick topics to merge or drop them.")}
					</span>
					{own.length > 1 && (
						<Button
							disabled={merge.isPending}
							onClick={() =>
								merge.mutate(own, {
									onSuccess: ({ count }) => {
										setTicked(new Set());
										onChoose(count);
									},
								})
							}
						>
							{say("Merge into “{name}”", { name: names(own.slice(0, 1))[0] ?? "" })}
						</Button>
					)}
					{own.length > 0 && (
						<Button
							disabled={drop.isPending}
							onClick={() =>
								drop.mutate(
									{ topics: own, dropped: true },
									{
										onSuccess: () => {
											tell(say("Dropped. They stay at the foot of the list, to be taken back."));
											setTicked(new Set());
											if (chosen !== null && own.includes(chosen)) onChoose(null);
										},
									},
								)
							}
						>
							{say("Drop")}
						</Button>
					)}
				</div>
			)}
			<div className="min-h-0 flex-1 overflow-y-auto">
				<table className="w-full border-separate border-spacing-0 text-[13.4px]">
					<thead className="sticky top-0 z-10 bg-card">
						<tr className="[&>th]:border-b [&>th]:border-line [&>th]:px-2 [&>th]:py-1.5 [&>th]:align-bottom [&>th]:font-semibold">
							{mayCode && (
								<th>
									<span className="sr-only">{say("Tick")}</span>
								</th>
							)}
							<th className="text-left">{say("Topic and its phrases")}</th>
							<th className="text-right capitalize" title={say("Who says what is ticked, of all who say anything")}>
								{case_many}
							</th>
							<th className="text-right" title={say("Stretches that are ticked")}>
								{say("Hits")}
							</th>
							{groups.map((name) => (
								<th key={name} className="text-right">
									{name}
								</th>
							))}
						</tr>
					</thead>
					<tbody>
						{there.map((one) => (
							<Row
								key={one.id}
								topic={one}
								people={people}
								chosen={one.id === chosen}
								ticked={ticked.has(one.id)}
								onTick={mayCode ? () => turn(one.id) : null}
								onChoose={() => onChoose(one.id)}
							/>
						))}
					</tbody>
				</table>
				{there.length === 0 && <p className="p-3 quiet-line">{say("All topics are dropped. Take some back, or propose anew.")}</p>}
				{dropped.length > 0 && (
					<div className="border-t border-line px-3 py-1.5 text-[13.4px]">
						<button type="button" className="font-semibold text-spruce hover:underline" aria-expanded={open} onClick={() => setOpen(!open)}>
							{say("{n, plural, one {# topic} other {# topics}} dropped", { n: dropped.length })}
						</button>
						{open && (
							<ul className="mt-1">
								{dropped.map((one) => (
									<li key={one.id} className="flex items-baseline gap-3 py-0.5">
										<span className="min-w-0 truncate font-serif text-quiet">{one.name}</span>
										{mayCode && (
											<Button
												look="plain"
												aria-label={say("Take “{name}” back", { name: one.name })}
												onClick={() => drop.mutate({ topics: [one.id], dropped: false })}
											>
												{say("Take back")}
											</Button>
										)}
									</li>
								))}
							</ul>
						)}
					</div>
				)}
			</div>
		</section>
	);
}

function Row({
	topic,
	people,
	chosen,
	ticked,
	onTick,
	onChoose,
}: {
	topic: Topic;
	people: number;
	chosen: boolean;
	ticked: boolean;
	onTick: (() => void) | null;
	onChoose: () => void;
}) {
	const code = useCodebook().data?.codes.find((one) => one.id === topic.code);
	const phrases = topic.phrases.filter((one) => !one.left_out).map((one) => one.said);
	return (
		<tr className={`[&>td]:border-b [&>td]:border-line2 [&>td]:px-2 [&>td]:py-1 [&>td]:align-top ${chosen ? "bg-spruce-soft" : ""}`}>
			{onTick && (
				<td>
					{topic.code === null && (
						<input
							type="checkbox"
							className="mt-1 accent-spruce"
							aria-label={say("Tick the topic “{name}”", { name: topic.name })}
							checked={ticked}
							onChange={onTick}
						/>
					)}
				</td>
			)}
			<td className="w-full">
				<button
					type="button"
					aria-current={chosen}
					className="block min-h-6 text-left font-serif text-[15px] text-spruce hover:underline"
					onClick={onChoose}
				>
					{topic.name}
				</button>
				{code && (
					<span className="flex items-center gap-1.5 text-[12.6px]">
						<i className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
						{say("kept as the code “{name}”", { name: code.name })}
					</span>
				)}
				<span className="line-clamp-2 text-[12.6px] text-quiet">{phrases.join(" · ")}</span>
			</td>
			<td className="text-right whitespace-nowrap tabular-nums">
				{topic.people}
				<span className="text-[12px] text-quiet">{say(" of {people, number}", { people })}</span>
			</td>
			<td className="text-right tabular-nums">{topic.hits}</td>
			{topic.groups.map((group, at) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: groups stand in one order
				<td key={at} className="text-right whitespace-nowrap tabular-nums">
					{group.people}
					<span className="text-[12px] text-quiet">{say(" of {people, number}", { people: group.size })}</span>
				</td>
			))}
		</tr>
	);
}
