import type { Shape } from "../api/client";

type Column = Shape<"FoundColumn">;

export const KINDS: { value: Column["kind"]; label: string }[] = [
	{ value: "category", label: "Category" },
	{ value: "ordered", label: "Ordered category" },
	{ value: "number", label: "Number" },
	{ value: "yes_no", label: "Yes / no" },
	{ value: "date", label: "Date" },
	{ value: "text", label: "Text" },
];
export const REASONS: { value: Column["when_empty"]; label: string }[] = [
	{ value: "not_answered", label: "not answered" },
	{ value: "not_asked", label: "not asked" },
	{ value: "not_applicable", label: "not applicable" },
	{ value: "unknown", label: "unknown" },
];
