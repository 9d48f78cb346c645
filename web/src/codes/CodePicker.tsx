import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import { say } from "../language/say";
import { codeColour } from "../ui/palette";
import type { Code } from "./data";
import { KINDS } from "./kinds";
import { matching } from "./tree";

/** A code by part of its name or definition, or a new one of what is typed. */
export function CodePicker({
	codes,
	disabled,
	onPick,
	name = say("Code to put on"),
	onlyThere = false,
}: {
	codes: Code[];
	disabled: boolean;
	onPick: (codes: number[], newNames: string[]) => void;
	name?: string;
	/** Only a code that is there already. */
	onlyThere?: boolean;
}) {
	const [typed, setTyped] = useState("");
	const found = matching(
		codes.filter((code) => !code.parked),
		typed,
		[],
	).slice(0, 8);
	const exists = codes.some((code) => code.name.toLowerCase() === typed.trim().toLowerCase());
	return (
		<Combobox<Code | string>
			immediate
			disabled={disabled}
			value={null as unknown as Code}
			onChange={(choice) => {
				if (!choice) return;
				if (typeof choice === "string") onPick([], [choice]);
				else onPick([choice.id], []);
				setTyped("");
			}}
		>
			<ComboboxInput
				aria-label={name}
				placeholder={disabled ? say("tick hits first") : say("a code")}
				className="field w-52 disabled:opacity-60"
				value={typed}
				onChange={(event) => setTyped(event.target.value)}
			/>
			<ComboboxOptions
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-80 w-64 overflow-auto rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg empty:hidden"
			>
				{found.map((code) => (
					<ComboboxOption
						key={code.id}
						value={code}
						className="flex cursor-pointer items-center gap-1.5 rounded px-2 py-1 data-focus:bg-spruce-soft"
					>
						<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
						<span className="truncate">{code.name}</span>
						{code.kind && <span className="ml-auto quiet-line">{KINDS[code.kind]}</span>}
					</ComboboxOption>
				))}
				{typed.trim() && !exists && !onlyThere && (
					<ComboboxOption value={typed.trim()} className="cursor-pointer rounded px-2 py-1 text-spruce data-focus:bg-spruce-soft">
						{say("New code “{typed}”", { typed: typed.trim() })}
					</ComboboxOption>
				)}
			</ComboboxOptions>
		</Combobox>
	);
}
