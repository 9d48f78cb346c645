import type { Shape } from "../api/client";
import { say } from "../language/say";

export type MemoKind = Exclude<Shape<"PassageMemo">["kind"], "">;
/** A kind that every project has, by its name, or one of the project’s own, by its number. */
export type AnyKind = MemoKind | number;

export const MEMO_KINDS: { value: MemoKind; label: string; hint: string }[] = [
	{ value: "analytic", label: say("Analytic"), hint: say("what this may mean") },
	{ value: "reflexive", label: say("Reflexive"), hint: say("you, in this research") },
	{ value: "codebook", label: say("Codebook"), hint: say("how codes are drawn") },
	{ value: "team", label: say("Team"), hint: say("for the others") },
	{ value: "method", label: say("Method"), hint: say("what was done, and why") },
];

/** What a memo can be on, in the order in which lists name it. */
export const MEMO_ON = ["project", "passage", "code", "theme", "document", "case", "comparison"] as const;
export type MemoOn = (typeof MEMO_ON)[number];
