import { useState } from "react";
import { phrase, say } from "../language/say";
import { useProject } from "../project/project";

/** The whole project as one file, for its owners. */
export function TakeOut() {
	const { id } = useProject();
	const [trail, setTrail] = useState(true);
	return (
		<section aria-labelledby="take-out" className="mt-6 rounded-lg border border-line bg-card p-4">
			<h2 id="take-out" className="mb-2">
				{say("The whole project as one file")}
			</h2>
			<p>
				{phrase(
					"A .zip of open formats with everything in it: texts, recordings, people, codings, memos, results. It can be brought in again here or on another server (<i>Bring in a project</i>, above your projects), and read without Cohortia.",
					{ i: (inner) => <i>{inner}</i> },
				)}
			</p>
			<label className="mt-3 flex items-start gap-2">
				<input type="checkbox" className="mt-1 accent-spruce" checked={trail} onChange={(event) => setTrail(event.target.checked)} />
				<span>
					{phrase(
						"With the trail of who did what when<span>It makes undo go on working, and so holds what was deleted or changed since: earlier words of texts, names before they were replaced.</span>",
						{ span: (inner) => <span className="block quiet-line">{inner}</span> },
					)}
				</span>
			</label>
			<a
				className="mt-3 inline-block rounded-md border border-spruce bg-spruce px-3 py-1.5 font-semibold text-on-spruce hover:bg-ink"
				href={`/api/projects/${id}/file?trail=${trail}`}
				download
			>
				{say("Take the project out")}
			</a>
			<p className="mt-2 quiet-line">
				{say(
					"Not in it: files that wait to be brought in, real names beside their pseudonyms, passwords. What the project hides from tables isn’t hidden here: keep the file as you keep the interviews.",
				)}
			</p>
		</section>
	);
}
