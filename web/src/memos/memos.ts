import type { Shape } from "../api/client";

export type MemoKind = Shape<"PassageMemo">["kind"];

export const MEMO_KINDS: { value: MemoKind; label: string; hint: string }[] = [
	{ value: "analytic", label: "Analytic", hint: "what this may mean" },
	{ value: "reflexive", label: "Reflexive", hint: "you, in this research" },
	{ value: "codebook", label: "Codebook", hint: "how codes are drawn" },
	{ value: "team", label: "Team", hint: "for the others" },
	{ value: "method", label: "Method", hint: "what was done, and why" },
];
