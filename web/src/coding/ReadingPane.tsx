import { Link } from "react-router";
import { type Code, useCodebook } from "../codes/data";
import { Quoted } from "../evidence/Quoted";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { useScope } from "../project/scope";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { languageOf, ours } from "../ui/language";
import { codeColour } from "../ui/palette";
import { counted } from "../ui/words";
import { type Reading, useReading } from "./overview";

/** All passages of a code or a theme, person by person: each placing held against the words. */
export function ReadingPane({ of, which }: { of: "code" | "theme"; which: number }) {
	const reading = useReading(of, which);
	const codes = useCodebook().data?.codes ?? [];
	const hindered = hindrance(reading);
	if (hindered) return <Problem error={hindered} />;
	if (!reading.data) return <Loading what={say("the passages")} />;
	return <ReadPassages reading={reading.data} codes={codes} but={of === "code" ? which : null} />;
}

function ReadPassages({ reading, codes, but }: { reading: Reading; codes: Code[]; but: number | null }) {
	const project = useProject();
	const { narrowed } = useScope();
	const byId = new Map(codes.map((code) => [code.id, code]));
	if (!reading.passages)
		return <p className="p-3 quiet-line">{narrowed ? say("No passage in scope carries it.") : say("No passage carries it yet.")}</p>;
	return (
		<div className="text-[13.4px]">
			<p className="mb-2 quiet-line">
				{say("{passages, plural, one {# passage} other {# passages}} by {people}.", {
					passages: reading.passages,
					people: counted(reading.people, project.case_one, project.case_many),
				})}
			</p>
			{reading.persons.map((person) => (
				<section key={person.case ?? 0} className="mb-4">
					<h3 className="mb-1 flex flex-wrap items-baseline gap-x-2 border-b border-line2 pb-0.5 font-semibold">
						{person.identifier}
						<span className="text-xs font-normal text-quiet">
							{[
								...person.facts.filter((fact) => fact.missing !== "not_asked").map((fact) => fact.text),
								say("{passages, plural, one {# passage} other {# passages}}", { passages: person.total }),
							].join(" · ")}
						</span>
					</h3>
					{person.passages.map((passage) => (
						<p
							key={passage.id}
							className="mb-2 font-serif leading-snug"
							dir="auto"
							lang={languageOf(passage.before + passage.text + passage.after)}
						>
							<span className="text-quiet">{passage.before}</span>
							<Link
								to={`/projects/${project.id}/code/${passage.document}?passage=${passage.id}`}
								title={
									passage.turn && !passage.region
										? say("Open in {title}, turn {turn}", { title: passage.title, turn: passage.turn })
										: say("Open in {title}", { title: passage.title })
								}
								className="hover:underline"
							>
								<Quoted passage={passage} />
							</Link>
							<span className="text-quiet">{passage.after}</span>
							<span className="mt-0.5 flex flex-wrap gap-x-2.5 font-sans text-xs text-quiet" lang={ours()}>
								{passage.codes
									.filter((code) => code !== but)
									.map((code) => (
										<span key={code} className="inline-flex items-center gap-1">
											<span className="size-2 rounded-[2px]" style={{ background: codeColour(byId.get(code)?.colour ?? 0) }} />
											{byId.get(code)?.name}
										</span>
									))}
							</span>
						</p>
					))}
				</section>
			))}
			{reading.more > 0 && (
				<p className="quiet-line">
					{say("{more, plural, one {# more passage} other {# more passages}} not shown.", { more: reading.more })}
				</p>
			)}
		</div>
	);
}
