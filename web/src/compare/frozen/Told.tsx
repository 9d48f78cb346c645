import type { Shape } from "../../api/client";
import { Passage } from "../../evidence/Passage";
import { say } from "../../language/say";
import { languageOf } from "../../ui/language";

type PassageThen = Shape<"PassageThen">;

/** Passages that came in and went out since, each with why. */
export function CameAndWent({ told }: { told: Pick<Shape<"CellChangeOut">, "gained" | "lost"> }) {
	return (
		<>
			{told.gained.length > 0 && <h3 className="mb-1 font-semibold text-moss">{say("Came in")}</h3>}
			{told.gained.map((passage) => (
				<div key={passage.id} className="mb-2.5">
					<p className="text-[12.6px] text-quiet">{passage.why}</p>
					<Passage passage={passage} by={passage.people.join(", ")} />
				</div>
			))}
			{told.lost.length > 0 && <h3 className="mb-1 font-semibold text-danger">{say("Went out")}</h3>}
			{told.lost.map((passage) => (
				<AsItWas key={passage.id} passage={passage} />
			))}
		</>
	);
}

/** A passage in the words it had then. */
export function AsItWas({ passage }: { passage: PassageThen }) {
	return (
		<div className="mb-2.5">
			{passage.why && <p className="text-[12.6px] text-quiet">{passage.why}</p>}
			<blockquote className="font-serif text-[14.5px] leading-normal" dir="auto" lang={languageOf(passage.text)}>
				{passage.text}
			</blockquote>
			<footer className="text-[12.2px] text-quiet">
				<b className="font-semibold text-ink">{passage.people.join(", ") || say("Nobody linked")}</b> · {passage.title}
			</footer>
		</div>
	);
}

/** Whether today gives the same, in a coloured line. */
export function Since({ changed, children }: { changed: boolean; children: React.ReactNode }) {
	return (
		<p role="status" className={`mb-2 rounded-md px-3 py-1.5 text-[13.4px] ${changed ? "bg-apricot-soft" : "bg-spruce-soft"}`}>
			{children}
		</p>
	);
}
