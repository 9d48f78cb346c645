import { say } from "../../language/say";
import type { Variable } from "../../people/data";
import { useProject } from "../../project/project";
import { Choice, type Option } from "../../ui/Choice";
import { COMPARABLE, type Question } from "../spec";

/** Everything that can make groups here. */
export interface Axes {
	variables: Variable[];
	ofDocuments: Variable[];
	/** How many cohorts of people there are, and of documents. */
	cohorts: number;
	documentCohorts: number;
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
		...facts(axes.ofDocuments, say("of documents: ")),
		...(axes.cohorts > 0
			? [{ value: "cohorts", label: say("cohorts"), hint: say("groups of {many} made under People", { many: case_many }) }]
			: []),
		...(axes.documentCohorts > 0
			? [{ value: "document_cohorts", label: say("cohorts of documents"), hint: say("groups of documents made under People, Cohorts") }]
			: []),
		{ value: "cases", label: say("each {one}", { one: case_one }), hint: say("a column for every {one}", { one: case_one }) },
		{ value: "documents", label: say("each document"), hint: say("a column for every document") },
	];
	return (
		<>
			<Choice
				as="token"
				name={say("Variable")}
				value={variable}
				options={options}
				onChange={(next) =>
					onChange({
						variable: next,
						groups: null,
						cuts: null,
						period: null,
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
						name={say("How the two go together")}
						value={question.second_as}
						options={[
							{ value: "nested", label: say("and, within each,"), hint: say("every group of the second inside every group of the first") },
							{ value: "layers", label: say("held apart by"), hint: say("the same groups in each layer; tests look within layers") },
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
			name={say("Second variable")}
			value={question.second ? String(question.second) : ""}
			options={[
				{ value: "", label: say("nothing else") },
				...facts(others(axes.variables), ""),
				...facts(others(axes.ofDocuments), say("of documents: ")),
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
					? say("in bands")
					: one.kind === "date"
						? say("by month, quarter or year")
						: one.bars
								.map((bar) => bar.label)
								.slice(0, 6)
								.join(" · ")),
		}));
}
