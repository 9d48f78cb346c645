import { say } from "../language/say";
import { apart } from "../ui/copying";
import { hindrance, Problem } from "../ui/Empty";
import { groupMark } from "../ui/palette";
import { decimal, listed, percent, pValue } from "../ui/words";
import { type Comparison, useAdjusted } from "./data";
import { RowMark, rowKey } from "./RowMark";
import type { Question } from "./spec";

const WHY = { few: say("too few mention it, or don’t"), all: say("everybody mentions it"), nobody: say("nobody mentions it") };

/** The shares that the groups would have if they were alike in the facts held, beside those they have. */
export function Adjusted({ question, result }: { question: Question; result: Comparison }) {
	const found = useAdjusted(question);
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data)
		return <p className="quiet-line py-2">{say("Holding {adjusted} facts …", { adjusted: (question.adjusted ?? []).length })}</p>;
	const { facts, people, problem, notes, rows } = found.data;
	const title = say("If the groups were alike in {facts}", { facts: listed(facts) });
	return (
		<section aria-label={say("Adjusted")} className="mt-2 rounded-lg border border-line bg-card p-3">
			<h2 className="text-[15px]! font-semibold">{title}</h2>
			{problem || rows.every((row) => row.why_not !== "") ? (
				<p className="mt-1 text-[13.4px] text-quiet">{problem || say("No row has enough people for that.")}</p>
			) : (
				<>
					<p className="text-[12.6px] text-quiet">
						{say(
							"Share now → share as it would be, in per cent, of {people} whose facts are known; beneath, the odds over the first group with their 95 % interval. Firth’s penalised logistic regression, standardised over all.",
							{ people },
						)}
					</p>
					<div className="pane">
						<table className="mt-1 w-full border-collapse text-[13.4px]">
							<thead>
								<tr className="text-left [&>th]:border-b [&>th]:border-line [&>th]:px-2 [&>th]:py-1 [&>th]:font-semibold">
									<th>{say("Code")}</th>
									{result.groups.map((group) => (
										<th key={group.name} style={{ color: groupMark(group.mark).colour }}>
											<span aria-hidden="true">{groupMark(group.mark).shape}</span> {group.label}
										</th>
									))}
									<th>
										p<small className="block font-normal text-quiet">{say("of the groups, by itself")}</small>
									</th>
								</tr>
							</thead>
							<tbody>
								{rows.map((row) => (
									<tr key={rowKey(row)} className="[&>*]:border-b [&>*]:border-line2 [&>*]:px-2 [&>*]:py-1">
										<th scope="row" className="text-left font-medium">
											<RowMark row={row} />
											{row.name}
											{row.separated && (
												<small
													className="ml-1 text-apricot-deep"
													title={say("Some combination of facts parts those who mention it from the others")}
												>
													{say("parted")}
												</small>
											)}
										</th>
										{row.why_not ? (
											<td colSpan={result.groups.length + 1} className="text-quiet">
												{say("Not computed: {why}.", { why: WHY[row.why_not] })}
											</td>
										) : (
											<>
												{row.cells.map((cell, place) => (
													<td
														key={result.groups[place]?.name}
														{...apart([
															[say("share"), cell.plain],
															[say("share if alike"), cell.standardised],
															[say("odds over first"), cell.odds_ratio],
															[say("low"), cell.low],
															[say("high"), cell.high],
														])}
														className="whitespace-nowrap tabular-nums"
													>
														<span className="text-quiet">{percent(cell.plain)} → </span>
														<b>{percent(cell.standardised)}</b>
														<small className="block text-[11.8px] text-quiet">{odds(cell)}</small>
													</td>
												))}
												<td className="tabular-nums">{pValue(row.p)}</td>
											</>
										)}
									</tr>
								))}
							</tbody>
						</table>
					</div>
				</>
			)}
			{notes.map((note) => (
				<p key={note} className="mt-1 text-[12.6px] text-quiet">
					{note}
				</p>
			))}
		</section>
	);
}

function odds({ odds_ratio, low, high }: { odds_ratio: number | null; low: number | null; high: number | null }): string {
	if (odds_ratio === null) return say("nobody taken in");
	if (low === null && high === null) return "odds 1";
	const said = (value: number | null) => (value === null ? "∞" : decimal(value, value < 10 ? 2 : 0));
	return say("odds {odds_ratio} ({low} to {high})", { odds_ratio: said(odds_ratio), low: said(low), high: said(high) });
}
