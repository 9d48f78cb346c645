import { Term } from "../help/Term";
import { phrase, say } from "../language/say";
import { number } from "../ui/words";
import type { Comparison } from "./data";
import type { Opened } from "./spec";

/** What is in the table and what is left out, adding up; every number opens onto its passages. */
export function LeftOut({
	result,
	legend = "",
	onOpen,
}: {
	result: Comparison;
	/** What its tints and lines mean. */
	legend?: string;
	onOpen: (number: Opened) => void;
}) {
	return (
		<div className="px-0.5 py-2 text-[12.6px] leading-normal text-quiet">
			<p>
				{phrase("<part></part> {in_scope, number} {in_scope, plural, one {passage} other {passages}} in scope =", {
					part: () => (
						<b className="text-ink">
							<Term of="left_out">{say("Adds up")}</Term>:
						</b>
					),
					in_scope: result.in_scope,
				})}{" "}
				{result.left_out.map((part, place) => (
					<span key={part.reason}>
						{place > 0 && " + "}
						<button
							type="button"
							className={`underline decoration-dotted underline-offset-2 hover:text-spruce ${place === 0 ? "font-semibold text-ink" : ""}`}
							onClick={() => onOpen({ row: null, group: null, left_out: place === 0 ? null : part.reason })}
						>
							{number(part.passages)} {part.words}
						</button>
					</span>
				))}
				.
			</p>
			{result.cautions.map((caution) => (
				<p key={caution.text}>{caution.text}</p>
			))}
			<p>{say("{legend} Every number opens onto its passages.", { legend })}</p>
		</div>
	);
}
