import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from "@headlessui/react";
import { Check, ChevronDown } from "lucide-react";
import type { KeyboardEvent } from "react";
import { say } from "../language/say";

export interface Option<T> {
	value: T;
	label: string;
	hint?: string;
}

/** Enter opens a choice as Space does: by itself the list would leave it to a form around it, and say nothing elsewhere. */
function enterOpens(event: KeyboardEvent) {
	if (event.key === "Enter") event.key = " ";
}

/** A menu of one choice. `as="token"` makes it a part of a sentence. */
export function Choice<T extends string | number | boolean | null>({
	name,
	value,
	options,
	onChange,
	as = "field",
	shown,
	disabled,
}: {
	name: string;
	value: T;
	options: Option<T>[];
	onChange: (value: T) => void;
	as?: "field" | "token" | "small";
	shown?: string;
	disabled?: boolean;
}) {
	const label = shown ?? options.find((option) => option.value === value)?.label ?? say("Choose");
	const look = {
		token: "token inline cursor-pointer text-left",
		field: "field flex w-full items-center justify-between gap-2 text-left",
		small: "inline-flex items-center gap-1 rounded-md px-1 font-semibold text-ink hover:bg-paper2",
	}[as];
	return (
		<Listbox value={value} onChange={onChange} disabled={disabled ?? false}>
			<ListboxButton aria-label={`${name}: ${label}`} className={`${look} ${as === "token" ? "" : "text-[13.4px]"}`} onKeyDown={enterOpens}>
				{label}
				{as !== "token" && <ChevronDown size={13} className="shrink-0 text-quiet" aria-hidden="true" />}
			</ListboxButton>
			<ListboxOptions
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-80 min-w-44 max-w-96 overflow-auto rounded-lg border border-line bg-card p-1 font-sans text-[13.4px] shadow-lg focus:outline-none"
			>
				{options.map((option) => (
					<ListboxOption
						key={String(option.value)}
						value={option.value}
						className="flex cursor-pointer items-start gap-2 rounded-md px-2 py-1 data-focus:bg-spruce-soft"
					>
						<Check size={14} className={`mt-0.5 shrink-0 ${option.value === value ? "text-spruce" : "invisible"}`} aria-hidden="true" />
						<span>
							{option.label}
							{option.hint && <span className="block text-xs text-quiet">{option.hint}</span>}
						</span>
					</ListboxOption>
				))}
			</ListboxOptions>
		</Listbox>
	);
}
