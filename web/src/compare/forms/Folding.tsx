import { useMemo } from "react";
import { useCodebook } from "../../codes/data";
import { say } from "../../language/say";
import type { Row } from "../data";
import type { Question } from "../spec";
import { type Branch, branchesOf } from "./branches";

const NONE: Branch = {};

/** What can be folded among these rows; nothing where codes are counted without what lies beneath them. */
export function useBranches(question: Question, rows: readonly { row: Row }[]): (at: number) => Branch {
	const codes = useCodebook().data?.codes;
	const found = useMemo(
		() =>
			codes && question.roll_up
				? branchesOf(
						codes,
						rows.map(({ row }) => row),
					)
				: [],
		[codes, question.roll_up, rows],
	);
	return (at) => found[at] ?? NONE;
}

type OnFold = (codes: number[]) => void;

/** Over the rows of a branch: its name, and the way to make one row of them. */
export function BranchHead({ branch, columns, onFold }: { branch: Branch; columns: number; onFold: OnFold }) {
	const { heading } = branch;
	if (!heading) return null;
	return (
		<tr className="print:hidden">
			<th scope="rowgroup" colSpan={columns} className="pt-2 text-left text-[12.6px] font-semibold text-quiet">
				<button
					type="button"
					aria-expanded={true}
					title={say("Count all of “{name}” as one row", { name: heading.name })}
					className="sticky left-0 inline-flex items-center gap-1 hover:text-ink"
					onClick={() => onFold(heading.codes)}
				>
					<span aria-hidden="true">▾</span> {heading.name}{" "}
					<span className="font-normal">{say("{rows, plural, one {# row} other {# rows}}", { rows: heading.rows })}</span>
				</button>
			</th>
		</tr>
	);
}

/** Beside a row’s name: open it out into what lies beneath, or fold that away. */
export function BranchTurn({ branch, name, onFold }: { branch: Branch; name: string; onFold: OnFold }) {
	const { turn } = branch;
	if (!turn) return null;
	const said = turn.open
		? say("Fold what lies beneath “{name}” into it", { name })
		: say("Open “{name}” out into the {codes, plural, one {# code} other {# codes}} beneath it", { name, codes: turn.beneath });
	return (
		<button
			type="button"
			aria-expanded={turn.open}
			aria-label={said}
			title={said}
			className="sign mr-0.5 text-quiet hover:text-ink print:hidden"
			onClick={() => onFold(turn.codes)}
		>
			{turn.open ? "▾" : "▸"}
		</button>
	);
}
