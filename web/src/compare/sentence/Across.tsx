import type { Variable } from "../../people/data";
import { useProject } from "../../project/project";
import { Choice, type Option } from "../../ui/Choice";
import { COMPARABLE, type Question } from "../spec";

/** Everything that can make groups here. */
export interface Axes {
	variables: Variable[];
	ofDocuments: Variable[];
	/** How many cohorts there are. */
	cohorts: number;
}

interface Props {
	question: Question;
	axes: Axes;
	onChange: (changes: Record<string, string | null>) => void;
}

/** What makes the groups, and what is nested in them or holds them apart: a part of the sentence. */
export function Across({ question, axes, onChange }: Props) {
	const { case_one, case_many } = useProject();
	const variable = String(question.columns === "variable" ? question.variable : question.columns);
	const options: Option<string>[] = [
		...facts(axes.variables, ""),
		...facts(axes.ofDocuments, "of documents: "),
		...(axes.cohorts > 0 ? [{ value: "cohorts", label: "cohorts", hint: `groups of ${case_many} made under People` }] : []),
		{ value: "cases", label: `each ${case_one}`, hint: `a column for every ${case_one}` },
		{ value: "documents", label: "each document", hint: "a column for every document" },
	];
	return (
		<>
			<Choice
				as="token"
				name="Variable"
				value={variable}
				options={options}
				onChange={(next) =>
					onChange({
						variable: next,
						groups: null,
						cuts: null,
						cohorts: null,
						difference: null,
						...(Number(next) === question.second && { second: null, within: null }),
					})
				}
			/>
			{question.second && (
				<>
					{question.second_as === "layers" ? ", " : " "}
					<Choice
						as="token"
						name="How the two go together"
						value={question.second_as}
						options={[
							{ value: "nested", label: "and, within each,", hint: "every group of the second inside every group of the first" },
							{ value: "layers", label: "held apart by", hint: "the same groups in each layer; tests look within layers" },
						]}
						onChange={(how) => onChange({ as: how === "layers" ? "layers" : null, difference: null })}
					/>{" "}
					<Second question={question} axes={axes} onChange={onChange} />
				</>
			)}
		</>
	);
}

/** The second fact; “nothing else” takes it out again. */
export function Second({ question, axes, onChange }: Props) {
	const others = (list: Variable[]) => list.filter((one) => one.id !== question.variable);
	return (
		<Choice
			as="token"
			name="Second variable"
			value={question.second ? String(question.second) : ""}
			options={[
				{ value: "", label: "nothing else" },
				...facts(others(axes.variables), ""),
				...facts(others(axes.ofDocuments), "of documents: "),
			]}
			onChange={(next) => onChange({ second: next || null, within: null, difference: null, ...(!next && { as: null }) })}
		/>
	);
}

function facts(variables: Variable[], about: string): Option<string>[] {
	return variables
		.filter((one) => COMPARABLE.has(one.kind))
		.map((one) => ({
			value: String(one.id),
			label: one.name,
			hint:
				about +
				(one.kind === "number"
					? "in bands"
					: one.bars
							.map((bar) => bar.label)
							.slice(0, 6)
							.join(" · ")),
		}));
}
