import { useMemo, useState } from "react";
import { Link } from "react-router";
import { useCodebook } from "../codes/data";
import { phrase, say } from "../language/say";
import { useCohorts, useDocumentVariables, useRoster } from "../people/data";
import { useProject } from "../project/project";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { Adjusted } from "./Adjusted";
import { type Comparison, useComparison, useMap, useStandsOut } from "./data";
import { Evidence } from "./Evidence";
import { FormBar } from "./FormBar";
import { unitOf } from "./figures";
import { Form } from "./forms/Form";
import { CellNotes, notedIn } from "./kept/CellNotes";
import { Keep } from "./kept/Keep";
import { useKept } from "./kept/kept";
import { LeftOut } from "./LeftOut";
import { legendOf } from "./legend";
import { standings } from "./marks";
import { StandsOut } from "./StandsOut";
import { Sentence } from "./sentence/Sentence";
import { type Opened, type Question, rowsAsked, useQuestion, writeOpened } from "./spec";
import { CALLED, placesShown } from "./view";

export { askAhead } from "./ahead";

const NONE: never[] = [];
const NOTHING: Question = {
	codes: [],
	columns: "variable",
	second_as: "nested",
	roll_up: true,
	measure: "people",
	accord: "either",
	permutations: false,
};

/** The sentence, the result in one of its forms, what it leaves out, and the evidence drawer. */
export function Compare() {
	const project = useProject();
	const codebook = useCodebook();
	const roster = useRoster();
	const codes = codebook.data?.codes ?? [];
	const variables = roster.data?.variables ?? [];
	const ofDocuments = useDocumentVariables();
	const known = useCohorts().data;
	const cohorts = known?.cohorts.length ?? 0;
	const documentCohorts = known?.of_documents.length ?? 0;
	const { question, set, view, opened, kept, bare, touched, go } = useQuestion(codes, variables, ofDocuments.data ?? NONE);
	const result = useComparison(question);
	const found = useStandsOut(question ?? NOTHING);
	const fresh = found.isPlaceholderData ? undefined : found.data;
	const marks = useMemo(() => result.data && standings(result.data, fresh), [result.data, fresh]);
	// What is drawn while a picture is taken that leaves a project with a limit.
	const [leaving, setLeaving] = useState<Comparison | null>(null);
	const likeness = useMap(question ?? NOTHING, question !== null && view.order === "likeness").data?.order;
	const here = useKept().data?.find((one) => one.id === kept);
	const error = hindrance(codebook, roster, ofDocuments);
	if (error) return <Problem error={error} />;
	if (!codebook.data || !roster.data || !ofDocuments.data) return <Loading what={say("the comparison")} />;
	const home = `/projects/${project.id}`;
	if (!question || codes.length === 0)
		return (
			<Empty title={say("Not yet enough to compare")}>
				{codes.length === 0 && (
					<p>
						{phrase("No passage is coded yet. <link>Read and code</link>", {
							link: (inner) => (
								<Link className="font-semibold text-spruce underline" to={`${home}/code`}>
									{inner}
								</Link>
							),
						})}
					</p>
				)}
				{!question && (
					<p>
						{phrase("No variable makes groups yet. <link>Bring in the sheet of {many}</link>", {
							link: (inner) => (
								<Link className="font-semibold text-spruce underline" to={`${home}/gather/bring-in`}>
									{inner}
								</Link>
							),
							many: project.case_many,
						})}
					</p>
				)}
			</Empty>
		);
	const places = result.data ? placesShown(result.data, view, likeness) : [];
	const show = (number: Opened | null) => set({ open: number && writeOpened(number) }, true);
	return (
		<div className={`grid filling ${opened && result.data ? "cols-[minmax(0,1fr)_372px] instead" : "grid-cols-1"}`}>
			<div className="min-w-0 pane px-4.5 py-3.5">
				<Keep
					question={question}
					view={view}
					open={kept}
					bare={bare}
					touched={touched}
					onOpen={go}
					onName={(id) => set({ kept: id === null ? null : String(id) }, true)}
				/>
				<Sentence
					question={question}
					result={result.data}
					codes={codes}
					axes={{ variables, ofDocuments: ofDocuments.data, cohorts, documentCohorts }}
					onChange={set}
				/>
				{result.error && <Problem error={result.error} />}
				<p role="status" className="sr-only">
					{result.data && !result.isPlaceholderData && rowsAsked(question) > 0
						? say(
								"Shown as {form}: {rows, plural, one {# row} other {# rows}} in {groups, plural, one {# group} other {# groups}}, {unit}",
								{
									form: CALLED[view.form],
									rows: places.length,
									groups: result.data.groups.length,
									unit: unitOf(result.data),
								},
							)
						: ""}
				</p>
				{result.isLoading && rowsAsked(question) > 0 && (
					<p role="status" className="my-6 text-quiet">
						{say("Counting …")}
					</p>
				)}
				{rowsAsked(question) === 0 && (
					<p className="my-6 text-quiet">{say("Choose one or more codes in the sentence above: each becomes a row.")}</p>
				)}
				{result.data && rowsAsked(question) > 0 && (
					<section aria-label={say("Result")} aria-busy={result.isPlaceholderData} className={result.isPlaceholderData ? "opacity-60" : ""}>
						<StandsOut question={question} onOpen={show} onChange={set} />
						<FormBar
							view={view}
							onView={(changes) => set(changes, true)}
							question={question}
							result={result.data}
							hidden={result.data.rows.length - places.length}
							onLeaving={setLeaving}
						/>
						<div data-form>
							<Form
								view={view}
								question={question}
								result={leaving ?? result.data}
								places={places}
								opened={opened}
								noted={notedIn(here, result.data)}
								marks={leaving ? undefined : marks}
								onOpen={show}
								onView={(changes) => set(changes, true)}
								onAsk={set}
							/>
						</div>
						{(question.adjusted?.length ?? 0) > 0 && <Adjusted question={question} result={result.data} />}
						<LeftOut result={result.data} legend={legendOf(result.data, view)} onOpen={show} />
					</section>
				)}
			</div>
			{opened && result.data && valid(opened, result.data) && (
				<Evidence key={writeOpened(opened)} question={question} opened={opened} result={result.data} onClose={() => show(null)}>
					{here && <CellNotes kept={here} opened={opened} result={result.data} />}
				</Evidence>
			)}
		</div>
	);
}

/** An address may name a number that this comparison doesn't have. */
function valid(opened: Opened, result: Comparison): boolean {
	return (opened.row === null || opened.row < result.rows.length) && (opened.group === null || opened.group < result.groups.length);
}
