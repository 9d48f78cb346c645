import { Term } from "../help/Term";
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
				<b className="text-ink">
					<Term of="left_out">Adds up</Term>:
				</b>{" "}
				{number(result.in_scope)} {result.in_scope === 1 ? "passage" : "passages"} in scope ={" "}
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
			<p>{legend} Every number opens onto its passages.</p>
		</div>
	);
}
