import { Link } from "react-router";
import { useThemes } from "../coding/overview";
import { useComparison, useEvidence } from "../compare/data";
import type { Question } from "../compare/spec";
import { DigestBox } from "../evidence/DigestBox";
import { digestOf, useDigests } from "../evidence/data";
import { Passage } from "../evidence/Passage";
import { phrase, say } from "../language/say";
import { useRoster } from "../people/data";
import { useAddress, useTyped } from "../project/address";
import { among, usePlay } from "../project/play";
import { useProject } from "../project/project";
import { scopeRequest, useScope } from "../project/scope";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { ReportPages } from "./ReportPages";

/** Digests in a grid: people down, themes across; the passages stand beside the writing. */
export function DigestsPage() {
	const { id, case_one, case_many } = useProject();
	const [params, change] = useAddress();
	const [words, setWords] = useTyped("words");
	const { scope } = useScope();
	const themes = useThemes().data?.themes;
	const cases = useRoster().data?.cases;
	const digests = useDigests().data;
	const wanted = words.trim().toLowerCase();
	const play = usePlay();
	const people = among(cases ?? [], play.cases, (one) => one.id)
		.filter((one) => one.documents > 0 && one.identifier.toLowerCase().includes(wanted))
		.slice(0, 200);
	const question: Question = {
		codes: [],
		themes: (themes ?? []).map((theme) => theme.id),
		columns: "cases",
		second_as: "nested",
		roll_up: true,
		measure: "passages",
		accord: "either",
		permutations: false,
		groups: people.map((one) => one.identifier),
		scope: scopeRequest(scope),
	};
	const result = useComparison(people.length && themes?.length ? question : null);
	const hindered = hindrance(result);
	if (hindered) return <Problem error={hindered} />;
	if (!themes || !cases) return <Loading what={say("the digests")} />;
	if (!themes.length)
		return (
			<div className="px-4.5 py-3.5">
				<ReportPages />
				<Empty title={say("Digests stand where people and themes cross")}>
					<p>
						{phrase("No theme is made yet. <link>Make a theme of some codes</link>", {
							link: (inner) => (
								<Link className="font-semibold text-spruce underline" to={`/projects/${id}/code/themes`}>
									{inner}
								</Link>
							),
						})}
					</p>
				</Empty>
			</div>
		);
	const [person, theme] = (params.get("open") ?? "").split("~").map(Number);
	const row = themes.findIndex((one) => one.id === theme);
	const column = people.findIndex((one) => one.id === person);
	const chosen = people[column];
	const of = themes[row];
	// Whoever says nothing of any theme, and has no digest, has nothing to be summed up.
	const speaks = (one: Person, at: number) =>
		result.data?.rows.some((line) => (line.cells[at]?.passages ?? 0) > 0) ||
		digests?.some((held) => held.case === one.id && held.theme !== null);
	const shown = people.map((one, at) => ({ one, at })).filter(({ one, at }) => !result.data || speaks(one, at));
	const listed = new Set(shown.map(({ one }) => one.id));
	const written = digests?.filter((one) => one.theme !== null && one.case !== null && listed.has(one.case)).length ?? 0;
	return (
		<div className={`grid filling ${chosen && of ? "cols-[minmax(0,1fr)_400px] instead" : "grid-cols-1"}`}>
			<div className="pane px-4.5 py-3.5">
				<div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
					<ReportPages />
					<input
						aria-label={say("Find {many}", { many: case_many })}
						placeholder={say("Find a {one}", { one: case_one })}
						className="field ml-4 w-44"
						value={words}
						onChange={(event) => setWords(event.target.value)}
					/>
					<span className="quiet-line">
						{say("{digests, plural, one {# digest} other {# digests}} of {shown, number} crossings", {
							digests: written,
							shown: shown.length * themes.length,
						})}
					</span>
				</div>
				<div className="max-h-[calc(100vh-170px)] w-fit max-w-full pane rounded-lg border border-line bg-card">
					<table className="border-collapse text-[13px]">
						<thead className="sticky top-0 z-10 bg-card">
							<tr className="text-left align-bottom">
								<th className="sticky left-0 border-b border-line bg-card px-2 py-1.5 capitalize">{case_one}</th>
								{themes.map((one) => (
									<th key={one.id} className="min-w-44 border-b border-line px-2 py-1.5 font-semibold">
										{one.name}
									</th>
								))}
							</tr>
						</thead>
						<tbody>
							{shown.map(({ one, at }) => (
								<tr key={one.id}>
									<th scope="row" className="sticky left-0 border-b border-line2 bg-card px-2 py-1 text-left align-top">
										{one.identifier}
									</th>
									{themes.map((of, place) => {
										const held = digestOf(digests, one.id, { theme: of.id });
										const passages = result.data?.rows[place]?.cells[at]?.passages ?? 0;
										const on = one.id === person && of.id === theme;
										return (
											<td
												key={of.id}
												className={`border-b border-l border-line2 p-0 align-top ${on ? "outline-2 -outline-offset-2 outline-spruce" : ""}`}
											>
												<button
													type="button"
													aria-label={`${one.identifier}, ${of.name}: ${held ? held.text : say("no digest")}, ${say("{passages, plural, one {# passage} other {# passages}}", { passages })}`}
													className="block h-full min-h-8 w-full px-2 py-1 text-left hover:shadow-[inset_0_0_0_1px_var(--color-spruce)]"
													onClick={() => change({ open: `${one.id}~${of.id}` })}
												>
													{held && (
														<span className="line-clamp-3 max-w-64 leading-snug" title={held.text}>
															{held.text}
														</span>
													)}{" "}
													<span className="text-[11.8px] text-quiet">
														{passages ? say("{passages, plural, one {# passage} other {# passages}}", { passages }) : "·"}
													</span>
												</button>
											</td>
										);
									})}
								</tr>
							))}
						</tbody>
					</table>
				</div>
			</div>
			{chosen && of && (
				<Beside
					key={`${chosen.id}-${of.id}`}
					question={question}
					row={row}
					group={column}
					person={chosen}
					theme={of}
					onClose={() => change({ open: null })}
				/>
			)}
		</div>
	);
}

type Person = { id: number; identifier: string };

interface BesideProps {
	question: Question;
	row: number;
	group: number;
	person: Person;
	theme: { id: number; name: string };
	onClose: () => void;
}

/** The digest with the passages that it sums up. */
function Beside({ question, row, group, person, theme, onClose }: BesideProps) {
	const found = useEvidence(question, { row, group, left_out: null }, 200);
	const passages = found.data?.persons.flatMap((one) => one.passages) ?? [];
	return (
		<aside aria-label={say("Digest")} className="flex min-h-0 flex-col border-l border-line bg-card">
			<div className="mb-2 flex items-start border-b border-line px-4 py-3">
				<h2>
					{person.identifier} · {theme.name}
				</h2>
				<button
					type="button"
					aria-label={say("Close")}
					className="ml-auto text-lg leading-none text-quiet hover:text-ink"
					onClick={onClose}
				>
					×
				</button>
			</div>
			<DigestBox person={person.id} identifier={person.identifier} of={{ theme: theme.id }} />
			<div className="flex-1 space-y-3 pane px-4 pt-2 pb-4">
				{found.error && <Problem error={found.error} />}
				{found.isPending && <Loading what={say("the passages")} />}
				{found.data && passages.length === 0 && (
					<p className="quiet-line">{say("{identifier} has no passage of this theme.", { identifier: person.identifier })}</p>
				)}
				{passages.map((passage) => (
					<Passage key={passage.id} passage={passage} />
				))}
			</div>
		</aside>
	);
}
