import type { Shape } from "../api/client";
import { say } from "../language/say";

type Column = Shape<"FoundColumn">;

export const KINDS: { value: Column["kind"]; label: string }[] = [
	{ value: "category", label: say("Category") },
	{ value: "ordered", label: say("Ordered category") },
	{ value: "number", label: say("Number") },
	{ value: "yes_no", label: say("Yes / no") },
	{ value: "date", label: say("Date") },
	{ value: "text", label: say("Text") },
];
/** Why a value is missing, as everybody is told it. */
export const REASONS: { value: Column["when_empty"]; label: string }[] = [
	{ value: "not_answered", label: say("not answered") },
	{ value: "not_asked", label: say("not asked") },
	{ value: "not_applicable", label: say("not applicable") },
	{ value: "unknown", label: say("unknown") },
];

/** A reason by its name in the API, in words. */
export const reasonOf = (reason: string): string => REASONS.find((one) => one.value === reason)?.label ?? reason;
