/** Small answers of the server, typed by its schema; all people and words are invented. */
import type { Shape } from "../api/client";
import type { Question } from "../compare/spec";

export const STATUS = {
	staged: 0,
	jobs: [],
	undo: "",
	redo: "",
	documents: 2,
	linked_cases: 1,
	cases: 2,
	codings: 3,
	comparisons: 1,
	exhibits: 1,
};

export const ACCOUNT = { id: 1, username: "rana", display_name: "Rana", initials: "R" };
export const SESSION = {
	account: ACCOUNT,
	second: [],
	mail: false,
	mailbox: false,
	may_begin: true,
	language: "en",
	language_chosen: "",
	languages: ["en", "de"],
};

export function code(id: number, name: string, parent: number | null = null, more: Partial<Shape<"CodeOut">> = {}): Shape<"CodeOut"> {
	return {
		id,
		name,
		parent,
		colour: id % 16,
		definition: "",
		covers: "",
		excludes: "",
		example: "",
		position: id,
		scale_low: "",
		scale_high: "",
		kind: "" as const,
		parked: false,
		passages: id,
		branch_passages: id + 4,
		people: 1,
		documents: 1,
		...more,
	} as Shape<"CodeOut">;
}

export const CODES = [
	code(1, "Crossing"),
	code(2, "Missed boats", 1, { definition: "A boat that left without them" }),
	code(3, "Waiting", 1),
	code(4, "Home"),
];

export const CODEBOOK = { codes: CODES, pins: [{ key: 1, code: 3 }], coders: [ACCOUNT] };

export function variable(id: number, name: string, more: Partial<Shape<"VariableOut">> = {}): Shape<"VariableOut"> {
	return {
		id,
		name,
		kind: "category",
		of: "case",
		definition: null,
		problem: "",
		description: "",
		when_empty: "not_answered",
		categories: ["Holm", "Strand"],
		bars: [
			{ label: "Holm", count: 2 },
			{ label: "Strand", count: 1 },
		],
		missing: [{ label: "not_answered", count: 1 }],
		...more,
	} as Shape<"VariableOut">;
}

export const ISLAND = variable(11, "Island");
export const AGE = variable(12, "Age", { kind: "number", categories: [], bars: [{ label: "30 to under 40", count: 3 }], missing: [] });

export const ROSTER: Shape<"RosterOut"> = {
	variables: [ISLAND, AGE],
	cases: [
		{ id: 21, identifier: "P10", documents: 1 },
		{ id: 22, identifier: "P2", documents: 0 },
		{ id: 23, identifier: "P3", documents: 1 },
	],
	columns: [
		{
			variable: 11,
			cells: [
				{ text: "Holm", missing: null },
				{ text: "Strand", missing: null },
				{ text: "", missing: "not_asked" },
			],
			codes: [0, 1, 2],
		},
		{ variable: 12, cells: ["34", "61", "9"].map((text) => ({ text, missing: null })), codes: [0, 1, 2] },
	],
};

const cell = (people: number, figure: number, more: Partial<Shape<"ComparedCell">> = {}): Shape<"ComparedCell"> => ({
	people,
	passages: people + 1,
	figure,
	count: people,
	base: 10,
	median: null,
	deviation: null,
	low: figure / 2,
	high: Math.min(1, figure * 1.5),
	residual: 0,
	most: 2,
	most_by: "P10",
	...more,
});

const NO_MORE = { trend: null, layers: null, changes: null };

/** What `COMPARISON` answers. */
export const QUESTION: Question = {
	codes: [2, 3],
	columns: "variable",
	variable: 11,
	second_as: "nested",
	roll_up: true,
	measure: "people",
	accord: "either",
	permutations: true,
};

export const COMPARISON: Shape<"ComparisonOut"> = {
	revision: 5,
	sentence: [
		{ text: "Compare ", kind: "words" },
		{ text: "2 codes under Crossing", kind: "rows" },
		{ text: " across ", kind: "words" },
		{ text: "Island", kind: "variable" },
		{ text: ", counting ", kind: "words" },
		{ text: "people who mention it", kind: "measure" },
		{ text: ", as a share of ", kind: "words" },
		{ text: "each group’s people", kind: "base" },
		{ text: ".", kind: "words" },
	],
	measure: "people",
	base: "with_material",
	bases: [
		{ id: "with_material", words: "each group’s people with material" },
		{ id: "everyone", words: "all people of each group" },
	],
	accord: "either",
	accords: [],
	measures: [
		{ id: "people", words: "people who mention it", hint: "each person once, however often they say it" },
		{ id: "passages", words: "passages", hint: "each passage once a row" },
		{ id: "rate", words: "passages per 1,000 words", hint: "allows for how much each group said" },
	],
	figures: {
		taken: ", as a share of ",
		share: true,
		unit: "",
		head: "share",
		cell: "{count} of {base}",
		amount: false,
		noun: ["person", "people"],
	},
	all_groups: ["Holm", "Strand"],
	outer: [],
	layered: false,
	layer_pair: null,
	ordered: false,
	cuts: [],
	period: null,
	groups: [
		{ name: "Holm", label: "Holm", outer: "", mark: 0, people: 10, passages: 14, words: 900 },
		{ name: "Strand", label: "Strand", outer: "", mark: 1, people: 10, passages: 5, words: 1100 },
	],
	rows: [
		{
			kind: "code",
			id: 2,
			name: "Missed boats",
			colour: 2,
			cells: [cell(8, 0.8, { residual: 2.68 }), cell(2, 0.2, { residual: -2.68 })],
			total: { people: 10, passages: 12, figure: 0.5, count: 10, base: 20, most: 2, most_by: "P10" },
			left_out: {},
			test: { kind: "exact", statistic: null, p: 0.023, error: 0, holm: 0.046, benjamini_hochberg: 0.046, effect: 0.55 },
			difference: { difference: 0.6, low: 0.18, high: 0.8, odds_ratio: 16, relative_risk: 4, seen: 0.62 },
			...NO_MORE,
		},
		{
			kind: "code",
			id: 3,
			name: "Waiting",
			colour: 3,
			cells: [cell(5, 0.5), cell(4, 0.4, { low: null, high: null })],
			total: { people: 9, passages: 11, figure: 0.45, count: 9, base: 20, most: 2, most_by: null },
			left_out: {},
			test: { kind: "none", statistic: null, p: null, error: null, holm: null, benjamini_hochberg: null, effect: null },
			difference: null,
			...NO_MORE,
		},
	],
	difference: [0, 1],
	left_out: [
		{ reason: "in_table", passages: 19, words: "in this table" },
		{ reason: "not_linked", passages: 3, words: "not linked" },
	],
	in_scope: 22,
	left_out_line: "Adds up: 22 passages in scope = 19 in this table + 3 not linked.",
	cautions: [{ kind: "small_group", text: "Strand has fewer than five people." }],
	tests_made: 1,
	methods: "For each row we counted people.",
	sources: ["Wilson 1927"],
	whole: null,
	everyone: 20,
	shared_people: 0,
};

/** How figures of other measures are written. */
export const FIGURES = {
	passages: { ...COMPARISON.figures, amount: true, noun: ["passage", "passages"] },
	per_person: {
		taken: ", over ",
		share: false,
		unit: "passages a person",
		head: "mean",
		cell: "{count} over {base}",
		amount: true,
		noun: ["passage", "passages"],
	},
	rate: {
		taken: ", out of ",
		share: false,
		unit: "passages per 1,000 words",
		head: "per 1,000 words",
		cell: "{counted}",
		amount: true,
		noun: ["passage", "passages"],
	},
};
