import { say } from "../language/say";
/** Conditions on people, as the server keeps them, and what the builder does with them. */
export type Operator = "is" | "is_not" | "at_least" | "below" | "is_missing" | "has_value";

export interface Test {
	variable: number;
	operator: Operator;
	values: (string | number | boolean)[];
}

export interface Group {
	join: "all" | "any";
	negated?: boolean;
	parts: Condition[];
}

/** Has passages of these codes, or of those beneath them. */
export interface Mentions {
	codes: number[];
	how: "any" | "all" | "none" | "silent";
}

/** Is in one of these cohorts, or in none of them. */
export interface Belongs {
	cohorts: number[];
	how: "any" | "none";
}

export type Condition = Test | Mentions | Belongs | Group;

export interface Kept {
	count: number;
	parts: Kept[];
}

export function isGroup(condition: Condition): condition is Group {
	return "parts" in condition;
}

export function isMentions(condition: Condition): condition is Mentions {
	return "codes" in condition;
}

export function isBelongs(condition: Condition): condition is Belongs {
	return "cohorts" in condition;
}

/** The condition with the part at `path` replaced, or taken out (null). */
export function replaced(group: Group, path: number[], part: Condition | null): Group {
	const [at, ...rest] = path;
	if (at === undefined) return part && isGroup(part) ? part : group;
	if (!rest.length && part === null) return { ...group, parts: group.parts.filter((_, place) => place !== at) };
	return {
		...group,
		parts: group.parts.map((one, place) => {
			if (place !== at) return one;
			if (!rest.length) return part as Condition;
			return isGroup(one) ? replaced(one, rest, part) : one;
		}),
	};
}

/** Whether every part says enough to be counted. */
export function complete(condition: Condition): boolean {
	if (isGroup(condition)) return condition.parts.every(complete);
	if (isMentions(condition)) return condition.codes.length > 0;
	if (isBelongs(condition)) return condition.cohorts.length > 0;
	if (condition.operator === "is_missing" || condition.operator === "has_value") return true;
	return condition.values.length > 0 && condition.values.every((value) => value !== "");
}

/** Operators that make sense for a kind of variable, in words. */
export function operatorsFor(kind: string): { value: Operator; label: string }[] {
	const all: { value: Operator; label: string; kinds: string[] }[] = [
		{ value: "is", label: say("is"), kinds: ["category", "ordered", "yes_no", "text"] },
		{ value: "is_not", label: say("is not"), kinds: ["category", "ordered", "yes_no", "text"] },
		{ value: "at_least", label: say("is at least"), kinds: ["number"] },
		{ value: "below", label: say("is below"), kinds: ["number"] },
		{ value: "at_least", label: say("is on or after"), kinds: ["date"] },
		{ value: "below", label: say("is before"), kinds: ["date"] },
		{ value: "has_value", label: say("is known"), kinds: [] },
		{ value: "is_missing", label: say("is missing"), kinds: [] },
	];
	return all.filter((one) => one.kinds.length === 0 || one.kinds.includes(kind)).map(({ value, label }) => ({ value, label }));
}
