import { Check, X } from "lucide-react";
import { Link } from "react-router";
import { say } from "../language/say";
import { useHere } from "../project/here";
import { useMayCode, useProject, useStatus } from "../project/project";

/** From nothing to a first comparison: each step where it is done. It goes away when all are done, or when it is sent away. */
export function FirstSteps() {
	const { id, case_many } = useProject();
	const mayCode = useMayCode();
	const status = useStatus().data;
	const [away, setAway] = useHere(`first steps ${id}`, false);
	if (!mayCode || !status || away) return null;
	const steps = [
		{ said: say("Bring in transcripts"), to: "gather/bring-in", done: status.documents > 0 },
		{ said: say("Bring in the sheet of {many}", { many: case_many }), to: "gather/bring-in", done: status.cases > 0 },
		{ said: say("Link speakers to {many}", { many: case_many }), to: "people?tab=check", done: status.linked_cases > 0 },
		{ said: say("Code passages"), to: "code", done: status.codings > 0 },
		{ said: say("Compare groups, and keep what you find"), to: "compare", done: status.comparisons > 0 },
	];
	const next = steps.findIndex((step) => !step.done);
	if (next < 0) return null;
	return (
		<nav
			aria-label={say("To a first comparison")}
			className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-line bg-spruce-soft px-4.5 py-1 text-[13px] print:hidden"
		>
			<b className="font-semibold">{say("First steps")}</b>
			<ol className="flex flex-wrap gap-x-4 gap-y-0.5">
				{steps.map((step, place) => (
					<li key={step.said} className="flex items-center gap-1">
						{step.done ? (
							<>
								<Check size={13} className="text-spruce" aria-label={say("done:")} role="img" />
								<span className="text-quiet">{step.said}</span>
							</>
						) : (
							<>
								<span aria-hidden="true" className="text-quiet">
									{place + 1}
								</span>
								<Link
									to={`/projects/${id}/${step.to}`}
									aria-current={place === next ? "step" : undefined}
									className={place === next ? "font-semibold text-spruce underline" : "text-ink hover:underline"}
								>
									{step.said}
								</Link>
							</>
						)}
					</li>
				))}
			</ol>
			<button
				type="button"
				aria-label={say("Send the first steps away")}
				title={say("They come back with another visit")}
				className="ml-auto rounded p-1 text-quiet hover:text-ink"
				onClick={() => setAway(true)}
			>
				<X size={14} />
			</button>
		</nav>
	);
}
