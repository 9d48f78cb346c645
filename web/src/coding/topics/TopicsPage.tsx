import { useState } from "react";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { useAddress } from "../../project/address";
import { useMayCode, useProject, useToldJob } from "../../project/project";
import { useScope } from "../../project/scope";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Empty, hindrance, Loading, Problem } from "../../ui/Empty";
import { CodePages } from "../CodePages";
import { useTopics } from "./data";
import { Propose } from "./Propose";
import { TopicList } from "./TopicList";
import { TopicPane } from "./TopicPane";

const GROUPING = new Set(["category", "ordered", "yes_no"]);

/** Topics that participants’ words propose: read, weeded, merged, and only what is kept becomes a code. */
export function TopicsPage() {
	const project = useProject();
	const mayCode = useMayCode();
	const { narrowed } = useScope();
	const [params, set] = useAddress();
	const [proposing, setProposing] = useState(false);
	const [job, follow] = useToldJob();
	const variables = (useRoster().data?.variables ?? []).filter((one) => GROUPING.has(one.kind) && one.of === "case");
	const by = Number(params.get("groups")) || null;
	const found = useTopics(by);
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the topics")} />;
	const { topics, groups, people } = found.data;
	const chosen = topics.find((one) => one.id === Number(params.get("topic"))) ?? null;
	const propose = (
		<Button look={topics.length ? "usual" : "main"} disabled={job !== undefined} onClick={() => setProposing(true)}>
			{topics.length ? say("Propose anew …") : say("Propose topics …")}
		</Button>
	);
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3 pb-4">
			<div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1.5">
				<h2 className="title sr-only">{say("Topics")}</h2>
				<CodePages />
				<span className="ml-auto" />
				{job && <span role="status" className="text-[13.4px] text-quiet">{`${job.message} ${job.done} %`}</span>}
				{mayCode && topics.length > 0 && propose}
			</div>
			{topics.length === 0 ? (
				<Empty title={say("No topics proposed yet")}>
					<p>
						{say(
							"Phrases that several {many} say near each other are gathered into topics, from participants’ words alone. A topic is words, no more: you read its hits, untick those that mean something else, rename, merge, drop. Nothing is coded until you keep one as a code.",
							{ many: project.case_many },
						)}
					</p>
					{mayCode && propose}
				</Empty>
			) : (
				<>
					<p className="mb-2 text-[13.4px]">
						{narrowed
							? say("Counted among the {people, number} linked {many} in play who say anything; by ", { people, many: project.case_many })
							: say("Counted among the {people, number} linked {many} who say anything; by ", { people, many: project.case_many })}
						<Choice<number | null>
							name={say("Groups")}
							as="token"
							value={by}
							options={[
								{ value: null, label: say("no group") },
								...variables.map((one) => ({ value: one.id as number | null, label: one.name })),
							]}
							onChange={(id) => set({ groups: id === null ? null : String(id) })}
						/>
						{say(". Words propose, you decide: nothing is coded until you keep a topic. Who says it in other words isn’t found.")}
					</p>
					<div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)] gap-4 max-[900px]:grid-cols-1">
						<TopicList
							topics={topics}
							groups={groups}
							people={people}
							chosen={chosen?.id ?? null}
							onChoose={(id) => set({ topic: id === null ? null : String(id) })}
						/>
						{chosen ? (
							<TopicPane key={chosen.id} topic={chosen} />
						) : (
							<p className="quiet-line self-start p-4">{say("Choose a topic to read where its phrases are said.")}</p>
						)}
					</div>
				</>
			)}
			{proposing && (
				<Propose
					open={topics.filter((one) => one.code === null).length}
					onBegun={(begun) => {
						follow(begun);
						setProposing(false);
						set({ topic: null });
					}}
					onClose={() => setProposing(false)}
				/>
			)}
		</div>
	);
}
