import { useQuery } from "@tanstack/react-query";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { read } from "../project/reads";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { moment } from "../ui/words";

/** The trail: who did what when. */
export function History() {
	const { id } = useProject();
	const trail = useQuery(read("trail", id));
	const hindered = hindrance(trail);
	if (hindered) return <Problem error={hindered} />;
	if (!trail.data) return <Loading what={say("the trail")} />;
	return (
		// biome-ignore lint/a11y/noNoninteractiveTabindex: a long list has to be scrolled by keyboard too
		<section aria-label={say("What was done")} tabIndex={0} className="mx-auto filling max-w-3xl pane p-8 max-[720px]:p-4">
			<h2 className="title mb-1">{say("What was done")}</h2>
			<p className="mb-4 quiet-line">
				{say("The last hundred actions in this project, newest first. Ctrl Z takes back your own last one.")}
			</p>
			<ol className="rounded-lg border border-line bg-card">
				{trail.data.map((entry) => (
					<li key={entry.revision} className="grid cols-[150px_1fr_110px] gap-3 border-b border-line2 px-4 py-1.5 last:border-0">
						<span className="quiet-line">{moment(entry.at)}</span>
						<span className={entry.undone ? "text-quiet line-through" : ""}>
							{entry.summary}
							{entry.undone && <span className="sr-only">{say(" (taken back)")}</span>}
						</span>
						<span className="quiet-line text-right">{entry.actor}</span>
					</li>
				))}
			</ol>
		</section>
	);
}
