import { Term } from "../help/Term";
import { phrase, say } from "../language/say";
import { useAddressed } from "../project/address";
import { type Finding, useStandsOut, useSteady } from "./data";
import { RowMark } from "./RowMark";
import { Steady } from "./Steady";
import type { Opened, Question } from "./spec";

const SHOWN = 2;
const EDGES = { sure: "border-l-spruce", look: "border-l-apricot", one_voice: "border-l-line" };

interface Props {
	question: Question;
	onOpen: (number: Opened) => void;
	onChange: (changes: Record<string, string | null>) => void;
}

/** What is sure and what is worth a look, in words, each with its cautions; each opens onto its passages. */
export function StandsOut({ question, onOpen, onChange }: Props) {
	const found = useStandsOut(question).data;
	const [out, setOut] = useAddressed("out", "");
	const [all, unfolded] = [out.includes("a"), out.includes("s")];
	const turn = (which: "a" | "s") => setOut(out.includes(which) ? out.replace(which, "") : out + which);
	const steady = useSteady(question, unfolded && (found?.findings.length ?? 0) > 0).data;
	if (!found) return <div className="mb-2 h-14" aria-hidden="true" />;
	const shown = all ? found.findings : found.findings.slice(0, SHOWN);
	const told = found.findings.filter((finding) => finding.standing !== "one_voice");
	return (
		<section aria-label={say("What stands out")} className="mb-2">
			{found.otherwise && <p className="quiet-line">{found.otherwise}</p>}
			<ul className="grid grid-cols-2 gap-2 max-[1100px]:grid-cols-1">
				{shown.map((finding) => (
					<li
						key={`${finding.row} ${finding.name}`}
						className={`rounded-md border border-l-[3px] border-line bg-card ${EDGES[finding.standing]}`}
					>
						<One finding={finding} onOpen={onOpen} />
						{unfolded && (
							<Steady
								found={steady?.find((one) => one.row === finding.row && one.groups.join() === finding.groups.join())}
								waiting={!steady && finding.standing !== "one_voice"}
								share={found.share}
								onChange={onChange}
							/>
						)}
					</li>
				))}
			</ul>
			<div className="mt-1 flex flex-wrap gap-4 text-[13px]">
				{found.findings.length > SHOWN && (
					<button type="button" className="font-semibold text-spruce hover:underline" onClick={() => turn("a")}>
						{all ? say("Show fewer") : say("Show {findings} more", { findings: found.findings.length - SHOWN })}
					</button>
				)}
				{told.length > 0 && question.second_as !== "layers" && (
					<button type="button" className="font-semibold text-spruce hover:underline" aria-expanded={unfolded} onClick={() => turn("s")}>
						{unfolded ? say("Hide how steady they are") : say("How steady are they?")}
					</button>
				)}
				{found.sure + found.look > told.length && (
					<span className="text-quiet">
						{phrase(
							"{sure} <term>sure</term> and {look} <term2>worth a look</term2> among {looked_at} differences; the table’s edges show them all.",
							{
								sure: found.sure,
								term: (inner) => <Term of="sure">{inner}</Term>,
								look: found.look,
								term2: (inner) => <Term of="look">{inner}</Term>,
								looked_at: found.looked_at,
							},
						)}
					</span>
				)}
			</div>
		</section>
	);
}

function One({ finding, onOpen }: { finding: Finding; onOpen: (number: Opened) => void }) {
	return (
		<button
			type="button"
			className="flex w-full items-start rounded-md px-3 py-1.5 text-left text-[13px] leading-snug hover:bg-paper2"
			onClick={() => onOpen({ row: finding.row, group: finding.groups[0] ?? null, left_out: null })}
		>
			<RowMark row={finding} />
			<span>
				<b>{finding.name}</b> {finding.text}
				{finding.cautions.map((caution) => (
					<span key={caution.text} className="text-quiet">
						{" "}
						{caution.text}
					</span>
				))}
			</span>
		</button>
	);
}
