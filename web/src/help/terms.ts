import { message, say } from "../language/say";
export interface Words {
	/** The word as it stands in a sentence. */
	name: string;
	/** What it is; `{one}` and `{many}` stand for what the project calls its cases. */
	said: string;
	/** Where it is met. */
	of: "Material" | "People" | "Coding" | "Comparing" | "Keeping";
}

/** The words that Cohortia uses in a sense of its own, in the order in which one meets them. */
export const TERMS = {
	document: {
		name: message("document"),
		of: "Material",
		said: message(
			"One piece of material: a transcript, one {one}’s answers to a survey, a field note, a PDF, a picture, a recording with its text.",
		),
	},
	turn: {
		name: message("turn"),
		of: "Material",
		said: message("An uninterrupted stretch by one speaker, or one answer to one question. Turns cover the whole text, in order."),
	},
	speaker: {
		name: message("speaker"),
		of: "Material",
		said: message(
			"A label within a document, such as P3 or Interviewer, with a role: participant, interviewer, other. A participant is linked to a {one}.",
		),
	},
	case: {
		name: message("{one}"),
		of: "People",
		said: message("The unit of which groups are made, one row of the roster. A project says what it calls them: person, household, site."),
	},
	linked: {
		name: message("linked"),
		of: "People",
		said: message(
			"It is known which {one} a speaker is. What speakers say who are linked to nobody is in no group; every table says how many passages those are.",
		),
	},
	variable: {
		name: message("variable"),
		of: "People",
		said: message(
			"A fact about each {one}, or about each document: a category, a category in an order, a number, a date, yes or no, or text.",
		),
	},
	missing: {
		name: message("missing"),
		of: "People",
		said: message(
			"No value, and why: not asked, not answered, not applicable, or unknown. A missing value is never a group of its own, and never dropped in silence.",
		),
	},
	band: {
		name: message("band"),
		of: "People",
		said: message(
			"A range of numbers or dates taken as one category, such as 40 to 59. The points at which they are cut can be seen and moved.",
		),
	},
	cohort: {
		name: message("cohort"),
		of: "People",
		said: message("A group of {many}, or of documents, with a name: by conditions, and then it follows the data, or picked by hand."),
	},
	conversation: {
		name: message("conversation"),
		of: "People",
		said: message(
			"{many} who heard each other: a group discussion, a couple. What they say isn’t independent: what is called sure keeps them together, while the test of one row by {many} takes each for one.",
		),
	},
	passage: {
		name: message("passage"),
		of: "Coding",
		said: message(
			"A stretch of text, a region of a picture or a span of a recording that somebody marked. It belongs to all {many} whose turns it overlaps.",
		),
	},
	code: {
		name: message("code"),
		of: "Coding",
		said: message("A label for passages, with what it covers, what it doesn’t and an example, in a tree: the codebook."),
	},
	coding: {
		name: message("coding"),
		of: "Coding",
		said: message("One code put on one passage by one coder. Two coders’ same code on a passage is two codings and one passage."),
	},
	topic: {
		name: message("topic"),
		of: "Coding",
		said: message(
			"Phrases that several {many} say near each other, proposed by words alone. It is read and weeded, and becomes a code only when you keep it.",
		),
	},
	theme: {
		name: message("theme"),
		of: "Coding",
		said: message("An interpretation that draws several codes together, with a statement in words. A code may serve several themes."),
	},
	memo: {
		name: message("memo"),
		of: "Coding",
		said: message("Your own writing, of a kind (reflexive, analytic, codebook, team, method), attached to anything."),
	},
	scope: {
		name: message("scope"),
		of: "Comparing",
		said: message(
			"Which {many}, documents, codes, coders and passages are looked at now. All lists, counts and readings of People, Code, Compare and Report obey it, and the line above says it.",
		),
	},
	measure: {
		name: message("what is counted"),
		of: "Comparing",
		said: message(
			"{many} who mention a row come first: nine passages by one talkative {one} are one {one}. Passages, words, a rate per 1,000 words, passages a {one} and ratings can be counted instead.",
		),
	},
	base: {
		name: message("base"),
		of: "Comparing",
		said: message(
			"What a share is taken of. Of {many}: those of the group who have material in scope, or all of the group. {many} can mention several rows, so shares don’t add up to 100.",
		),
	},
	rolled_up: {
		name: message("rolled up"),
		of: "Comparing",
		said: message("A code counts with all codes beneath it, each passage once. Not rolled up, it counts by itself."),
	},
	adjusted: {
		name: message("adjusted for"),
		of: "Comparing",
		said: message(
			"An estimate of the difference among {many} who are alike in these other facts, by a model (logistic regression, Firth’s). It says nothing of causes.",
		),
	},
	tests: {
		name: message("tests"),
		of: "Comparing",
		said: message(
			"How often chance alone would make groups differ at least as much as these do, row by row. Corrected by Holm over all rows together, so that looking at more rows makes a false find no likelier.",
		),
	},
	expected: {
		name: message("above or below expected"),
		of: "Comparing",
		said: message(
			"Held against what the cell would be if the row went with no group (adjusted residuals). The strong tint stands only where the row’s own test, over all rows, is .05 or less and the group has five or more; the faint one may well be chance.",
		),
	},
	effect: {
		name: message("V"),
		of: "Comparing",
		said: message(
			"Cramér’s V, corrected for chance: how closely mentioning a row goes with the groups, from 0 (no more than like groups would show by chance) to 1 (wholly).",
		),
	},
	interval: {
		name: message("interval"),
		of: "Comparing",
		said: message(
			"Made so that in 95 of 100 studies like this one it takes in the true figure. With few {many} it is wide; where there are too few it isn’t given.",
		),
	},
	sure: {
		name: message("sure"),
		of: "Comparing",
		said: message(
			"Found by a rule under which at most one in twenty projects in which nothing differs would have anything called sure, however many rows and groups are looked at. So it may still be chance, seldom; and it says that groups differ, not why.",
		),
	},
	look: {
		name: message("worth a look"),
		of: "Comparing",
		said: message(
			"The difference’s own interval leaves 0 out, but among so many differences looked at some do so by chance. Read the passages before you build on it.",
		),
	},
	steady: {
		name: message("steady"),
		of: "Comparing",
		said: message(
			"What is left of a difference without any one {one}, document or coder, and under other reasonable choices of what to count.",
		),
	},
	left_out: {
		name: message("adds up"),
		of: "Comparing",
		said: message(
			"Every passage in scope is in the table or in this line: said by interviewers only, by speakers linked to nobody or by others, by {many} without a value, or in groups not shown. Each part opens.",
		),
	},
	query: {
		name: message("saved query"),
		of: "Keeping",
		said: message("Conditions on passages, kept under a name. It follows the data: asked again, it finds what fits then."),
	},
	kept: {
		name: message("kept"),
		of: "Keeping",
		said: message("A comparison under a name. It is live: opened again, it is counted from the data as they are then."),
	},
	frozen: {
		name: message("frozen"),
		of: "Keeping",
		said: message("A result as it was on a day, with what made it. It never changes, and says what would be different today."),
	},
	digest: {
		name: message("digest"),
		of: "Keeping",
		said: message("A short text of yours at one crossing of a {one} and a code or theme, written beside the passages that it sums up."),
	},
	exhibit: {
		name: message("exhibit"),
		of: "Keeping",
		said: message("An ordered choice of passages for an audience, each trimmed and with a caption."),
	},
} satisfies Record<string, Words>;

export type TermId = keyof typeof TERMS;

/** With the project’s own words for its cases. */
export function inWordsOf(text: string, one: string, many: string): string {
	const said = say(text, { one, many });
	return said.slice(0, 1).toUpperCase() + said.slice(1);
}
