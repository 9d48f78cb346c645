import { useState } from "react";
import { type Finding, useStandsOut } from "./data";
import { RowMark } from "./RowMark";
import type { Opened, Question } from "./spec";

const SHOWN = 2;

/** The largest and surest differences in words, each with its cautions; each opens onto its passages. */
export function StandsOut({ question, onOpen }: { question: Question; onOpen: (number: Opened) => void }) {
	const found = useStandsOut(question).data;
	const [all, setAll] = useState(false);
	if (!found) return <div className="mb-2 h-14" aria-hidden="true" />;
	const shown = all ? found.findings : found.findings.slice(0, SHOWN);
	return (
		<section aria-label="What stands out" className="mb-2">
			{found.otherwise && <p className="quiet-line">{found.otherwise}</p>}
			<ul className="grid grid-cols-2 gap-2 max-[1100px]:grid-cols-1">
				{shown.map((finding) => (
					<One key={`${finding.row} ${finding.name}`} finding={finding} onOpen={onOpen} />
				))}
			</ul>
			{found.findings.length > SHOWN && (
				<button type="button" className="mt-1 text-[13px] font-semibold text-spruce hover:underline" onClick={() => setAll(!all)}>
					{all ? "Show fewer" : `Show ${found.findings.length - SHOWN} more`}
				</button>
			)}
		</section>
	);
}

function One({ finding, onOpen }: { finding: Finding; onOpen: (number: Opened) => void }) {
	return (
		<li>
			<button
				type="button"
				className={`flex h-full w-full items-start rounded-md border border-l-[3px] border-line bg-white px-3 py-1.5 text-left text-[13px] leading-snug hover:border-spruce ${finding.sure ? "border-l-spruce" : "border-l-apricot"}`}
				onClick={() => onOpen({ row: finding.row, group: finding.groups[0] ?? null, left_out: null })}
			>
				<RowMark row={finding} />
				<span>
					<b>{finding.name}</b> {finding.sure ? "" : "looks large, but isn’t sure: "}
					{finding.text}
					{finding.cautions.map((caution) => (
						<span key={caution} className="text-quiet">
							{" "}
							{caution}
						</span>
					))}
				</span>
			</button>
		</li>
	);
}
