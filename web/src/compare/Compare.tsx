import { Link } from "react-router";
import { useCodebook } from "../coding/data";
import { useCohorts, useDocumentVariables, useRoster } from "../people/data";
import { useProject } from "../shell/project";
import { Empty, Loading, Problem } from "../ui/Empty";
import { Bars } from "./Bars";
import { type Comparison, useComparison } from "./data";
import { Evidence } from "./Evidence";
import { FormBar } from "./FormBar";
import { Gaps } from "./Gaps";
import { Keep } from "./Keep";
import { LeftOut } from "./LeftOut";
import { Sentence } from "./Sentence";
import { StandsOut } from "./StandsOut";
import { type Opened, useQuestion, writeOpened } from "./spec";
import { Table } from "./Table";
import { placesShown } from "./view";

const NONE: never[] = [];

/** The sentence, the result in one of its forms, what it leaves out, and the evidence drawer. */
export function Compare() {
	const project = useProject();
	const codebook = useCodebook();
	const roster = useRoster();
	const codes = codebook.data?.codes ?? [];
	const variables = roster.data?.variables ?? [];
	const ofDocuments = useDocumentVariables();
	const cohorts = useCohorts().data?.cohorts.length ?? 0;
	const { question, set, view, opened, kept, bare, go } = useQuestion(codes, variables, ofDocuments.data ?? NONE);
	const result = useComparison(question);
	const error = codebook.error ?? roster.error ?? ofDocuments.error;
	if (error) return <Problem error={error} />;
	if (!codebook.data || !roster.data || !ofDocuments.data) return <Loading what="the comparison" />;
	const home = `/projects/${project.id}`;
	if (!question || codes.length === 0)
		return (
			<Empty title="Not yet enough to compare">
				{codes.length === 0 && (
					<p>
						No passage is coded yet.{" "}
						<Link className="font-semibold text-spruce underline" to={`${home}/code`}>
							Read and code
						</Link>
					</p>
				)}
				{!question && (
					<p>
						No variable makes groups yet.{" "}
						<Link className="font-semibold text-spruce underline" to={`${home}/gather/bring-in`}>
							Bring in the sheet of {project.case_many}
						</Link>
					</p>
				)}
			</Empty>
		);
	const places = result.data ? placesShown(result.data, view) : [];
	const show = (number: Opened | null) => set({ open: number && writeOpened(number) }, true);
	return (
		<div
			className={`grid h-full ${opened && result.data ? "grid-cols-[minmax(0,1fr)_372px] max-[900px]:grid-cols-[0_minmax(0,1fr)]" : "grid-cols-1"}`}
		>
			<div className="min-h-0 min-w-0 overflow-auto px-4.5 py-3.5">
				<Keep
					question={question}
					view={view}
					open={kept}
					bare={bare}
					onOpen={go}
					onName={(id) => set({ kept: id === null ? null : String(id) }, true)}
				/>
				<Sentence
					question={question}
					result={result.data}
					codes={codes}
					axes={{ variables, ofDocuments: ofDocuments.data, cohorts }}
					onChange={set}
				/>
				{result.error && <Problem error={result.error} />}
				{question.codes.length === 0 && (
					<p className="my-6 text-quiet">Choose one or more codes in the sentence above: each becomes a row.</p>
				)}
				{result.data && question.codes.length > 0 && (
					<section aria-label="Result" aria-busy={result.isPlaceholderData} className={result.isPlaceholderData ? "opacity-60" : ""}>
						<StandsOut question={question} onOpen={show} />
						<FormBar
							view={view}
							onView={(changes) => set(changes, true)}
							question={question}
							hidden={result.data.rows.length - places.length}
						/>
						{view.form === "table" && (
							<Table
								result={result.data}
								places={places}
								tint={view.tint}
								opened={opened}
								onOpen={show}
								onPair={(pair) => set({ difference: JSON.stringify(pair) }, true)}
							/>
						)}
						{view.form === "bars" && <Bars result={result.data} places={places} onOpen={show} />}
						{view.form === "gaps" && <Gaps result={result.data} places={places} onOpen={show} />}
						<LeftOut
							result={result.data}
							tinted={view.form === "table" && view.tint === "expected"}
							gaps={view.form === "gaps"}
							onOpen={show}
						/>
					</section>
				)}
			</div>
			{opened && result.data && valid(opened, result.data) && (
				<Evidence key={writeOpened(opened)} question={question} opened={opened} result={result.data} onClose={() => show(null)} />
			)}
		</div>
	);
}

/** An address may name a number that this comparison doesn't have. */
function valid(opened: Opened, result: Comparison): boolean {
	return (opened.row === null || opened.row < result.rows.length) && (opened.group === null || opened.group < result.groups.length);
}
