import { useState } from "react";
import { Link } from "react-router";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import { useMayCode, useProject } from "../../project/project";
import { counted } from "../../ui/words";
import { type Topic, useTopicWrites } from "./data";
import { Keep } from "./Keep";
import { TopicHits } from "./TopicHits";

/** One topic: its name, its phrases, each of which can go with its hits, its hits to be read, and keeping it as a code. */
export function TopicPane({ topic }: { topic: Topic }) {
	const { id, case_one, case_many } = useProject();
	const mayCode = useMayCode();
	const { rename, leaveOut } = useTopicWrites();
	const [name, setName] = useState(topic.name);
	const code = useCodebook().data?.codes.find((one) => one.id === topic.code);
	const open = mayCode && topic.code === null;
	const named = () => {
		const said = name.trim();
		if (!said) setName(topic.name);
		else if (said !== topic.name) rename.mutate({ topic: topic.id, name: said });
	};
	return (
		<section
			aria-label={say("The topic “{name}”", { name: topic.name })}
			className="flex min-h-0 flex-col rounded-lg border border-line bg-card"
		>
			<div className="border-b border-line px-3.5 py-2">
				{open ? (
					<input
						aria-label={say("Name of the topic")}
						className="w-full rounded border border-transparent bg-transparent font-serif text-[17px] font-semibold hover:border-line focus:border-line"
						maxLength={160}
						value={name}
						onChange={(event) => setName(event.target.value)}
						onBlur={named}
						onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
					/>
				) : (
					<h3 className="font-serif text-[17px] font-semibold">{topic.name}</h3>
				)}
				<p className="text-[13px] text-quiet">
					{say(
						"{hits, plural, one {# hit} other {# hits}} ticked, by {people} in {documents, plural, one {# document} other {# documents}}",
						{
							hits: topic.hits,
							people: counted(topic.people, case_one, case_many),
							documents: topic.documents,
						},
					)}
					{topic.not_linked > 0 && say("; {n, number} of them by speakers who aren’t linked", { n: topic.not_linked })}
					{topic.unticked > 0 && say("; {n, number} unticked", { n: topic.unticked })}
				</p>
				{code && (
					<p className="text-[13px]">
						<Link className="text-spruce underline underline-offset-2" to={`/projects/${id}/code/codebook?card=${code.id}`}>
							{say("Kept as the code “{name}”", { name: code.name })}
						</Link>
						{say(": it is changed in the codebook now.")}
					</p>
				)}
				<ul aria-label={say("Phrases")} className="mt-1.5 flex flex-wrap gap-1.5">
					{topic.phrases.map((one) => (
						<li key={one.id}>
							<button
								type="button"
								aria-pressed={!one.left_out}
								disabled={!open || leaveOut.isPending}
								title={
									one.left_out
										? say("Left out with the hits that only it has. Press to put it back.")
										: say(
												"In {hits, plural, one {# sentence} other {# sentences}} by {people}. Press to leave it out, with the hits that only it has.",
												{
													hits: one.hits,
													people: counted(one.people, case_one, case_many),
												},
											)
								}
								className={`rounded-full border px-2 py-0.5 text-[13px] ${one.left_out ? "border-dashed border-line text-quiet line-through" : "border-line bg-paper"}`}
								onClick={() => leaveOut.mutate({ phrase: one.id, left_out: !one.left_out })}
							>
								{one.said} <span className="text-[12px] text-quiet tabular-nums">{one.people}</span>
							</button>
						</li>
					))}
				</ul>
			</div>
			<TopicHits topic={topic} open={open} />
			{open && <Keep topic={topic} />}
		</section>
	);
}
