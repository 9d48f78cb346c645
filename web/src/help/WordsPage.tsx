import { useEffect } from "react";
import { useLocation } from "react-router";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { inWordsOf, TERMS, type Words } from "./terms";

const PARTS = {
	Material: say("Material"),
	People: say("People"),
	Coding: say("Coding"),
	Comparing: say("Comparing"),
	Keeping: say("Keeping"),
};
const EVERY = Object.entries<Words>(TERMS);

/** Every word that means something of its own here; an address may point to one. */
export function WordsPage() {
	const { case_one, case_many } = useProject();
	const wanted = useLocation().hash.slice(1);
	useEffect(() => {
		if (wanted) document.getElementById(wanted)?.scrollIntoView({ block: "center" });
	}, [wanted]);
	return (
		// biome-ignore lint/a11y/noNoninteractiveTabindex: a long list has to be scrolled by keyboard too
		<section aria-label={say("Words used here")} tabIndex={0} className="mx-auto filling max-w-3xl pane p-8 max-[720px]:p-4">
			<h2 className="title">{say("Words used here")}</h2>
			<p className="mt-1 mb-4 text-quiet">{say("One word for one thing, on every page and in every file that leaves.")}</p>
			{Object.entries(PARTS).map(([part, name]) => (
				<section key={part} aria-label={name} className="mb-5">
					<h3 className="mb-1 border-b border-line pb-0.5 font-semibold">{name}</h3>
					<dl>
						{EVERY.filter(([, one]) => one.of === part).map(([id, one]) => (
							<div
								key={id}
								id={id}
								className={`grid gap-x-4 rounded-md px-2 py-1 cols-[150px_minmax(0,1fr)] ${id === wanted ? "bg-apricot-soft" : ""}`}
							>
								<dt className="font-semibold">{inWordsOf(one.name, case_one, case_many)}</dt>
								<dd>{inWordsOf(one.said, case_one, case_many)}</dd>
							</div>
						))}
					</dl>
				</section>
			))}
		</section>
	);
}
