import { useState } from "react";
import { useCodebook } from "../codes/data";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { Segments } from "../ui/Segments";
import { type Definition, useCohorts, usePeopleWrites, type Variable } from "./data";
import { KINDS } from "./kinds";

type Kind = "own" | "crossing" | "count" | "cohort";

const NUMBER_OF = {
	documents: say("Number of documents"),
	words: say("Number of words"),
	passages: say("Number of passages"),
};

/** A new variable: typed in by hand, two crossed, a count, or who is in a cohort. */
export function MakeVariable({ variables, onClose, onMade }: { variables: Variable[]; onClose: () => void; onMade: (id: number) => void }) {
	const { case_one } = useProject();
	const { makeVariable } = usePeopleWrites();
	const cohorts = useCohorts().data?.cohorts ?? [];
	const codes = useCodebook().data?.codes ?? [];
	const [kind, setKind] = useState<Kind>("own");
	const [name, setName] = useState("");
	const [type, setType] = useState<Variable["kind"]>("category");
	const crossable = variables.filter((one) => ["category", "ordered", "yes_no"].includes(one.kind));
	const [left, setLeft] = useState(crossable[0]?.id ?? 0);
	const [right, setRight] = useState(crossable[1]?.id ?? 0);
	const [what, setWhat] = useState<"documents" | "words" | "passages">("passages");
	const [code, setCode] = useState(0);
	const [cohort, setCohort] = useState(cohorts[0]?.id ?? 0);
	const title = (id: number) => variables.find((one) => one.id === id)?.name ?? "";
	const proposed = {
		own: "",
		crossing: left && right ? `${title(left)} × ${title(right)}` : "",
		count: what === "passages" && code ? say("Passages: {name}", { name: codes.find((one) => one.id === code)?.name }) : NUMBER_OF[what],
		cohort: cohorts.find((one) => one.id === cohort)?.name ?? "",
	}[kind];
	const definition: Definition | null = {
		own: null,
		crossing: { kind: "crossing" as const, of: [left, right] },
		count: { kind: "count" as const, what, code: what === "passages" && code ? code : null },
		cohort: { kind: "cohort" as const, cohort },
	}[kind];
	const choices = crossable.map((one) => ({ value: one.id, label: one.name }));
	const ready = kind === "own" || (kind === "crossing" && left && right && left !== right) || kind === "count" || cohort;
	const refused = useRefused(makeVariable.error);
	return (
		<Modal title={say("Make a variable")} onClose={onClose}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					makeVariable.mutate(
						{ name: name || proposed, of: "case", kind: type, definition },
						{
							onSuccess: (made) => {
								onMade(made.id);
								onClose();
							},
						},
					);
				}}
			>
				<Segments
					name={say("What it is made of")}
					value={kind}
					options={[
						{ value: "own", label: say("By hand") },
						{ value: "crossing", label: say("Two crossed") },
						{ value: "count", label: say("A count") },
						{ value: "cohort", label: say("A cohort") },
					]}
					onChange={setKind}
				/>
				{kind === "own" && <Choice name={say("Type")} value={type} options={KINDS} onChange={setType} />}
				{kind === "crossing" &&
					(crossable.length > 1 ? (
						<div className="grid grid-cols-[1fr_auto_1fr] items-center gap-2">
							<Choice name={say("First")} value={left} options={choices} onChange={setLeft} />×
							<Choice name={say("Second")} value={right} options={choices} onChange={setRight} />
						</div>
					) : (
						<p className="quiet-line">{say("Two variables with categories are needed; cut a number into bands first.")}</p>
					))}
				{kind === "count" && (
					<div className="space-y-2">
						<Choice
							name={say("What is counted")}
							value={what}
							options={[
								{ value: "passages", label: say("Passages") },
								{ value: "documents", label: say("Documents") },
								{ value: "words", label: say("Words") },
							]}
							onChange={setWhat}
						/>
						{what === "passages" && (
							<Choice
								name={say("Of which code")}
								value={code}
								options={[
									{ value: 0, label: say("of any code") },
									...codes.map((one) => ({ value: one.id, label: one.name, hint: say("with those beneath") })),
								]}
								onChange={setCode}
							/>
						)}
						<p className="quiet-line">
							{say("A number for each {one}, which follows the coding. Cut it into bands to make groups.", { one: case_one })}
						</p>
					</div>
				)}
				{kind === "cohort" &&
					(cohorts.length ? (
						<Choice
							name={say("Cohort")}
							value={cohort || (cohorts[0]?.id ?? 0)}
							options={cohorts.map((one) => ({ value: one.id, label: one.name }))}
							onChange={setCohort}
						/>
					) : (
						<p className="quiet-line">{say("There is no cohort yet; make one under Cohorts.")}</p>
					))}
				<label className="block font-semibold">
					{say("Name")}
					<input
						className="field mt-1 w-full font-normal"
						required={!proposed}
						placeholder={proposed}
						value={name}
						{...refused.field}
						onChange={(event) => setName(event.target.value)}
					/>
				</label>
				{refused.said}
				<Button look="main" type="submit" disabled={!ready || makeVariable.isPending}>
					{say("Make the variable")}
				</Button>
			</form>
		</Modal>
	);
}
