import type { Shape } from "../api/client";
import { say } from "../language/say";

export type MemoKind = Shape<"PassageMemo">["kind"];

export const MEMO_KINDS: { value: MemoKind; label: string; hint: string }[] = [
	{ value: "analytic", label: say("Analytic"), hint: say("what this may mean") },
	{ value: "reflexive", label: say("Reflexive"), hint: say("you, in this research") },
	{ value: "codebook", label: say("Codebook"), hint: say("how codes are drawn") },
	{ value: "team", label: say("Team"), hint: say("for the others") },
	{ value: "method", label: say("Method"), hint: say("what was done, and why") },
];
