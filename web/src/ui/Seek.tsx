import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useMemo, useState } from "react";
import { say } from "../language/say";
import type { Option } from "./Choice";
import { holding } from "./words";

/** Listed at once; the rest is found by typing. */
const SHOWN = 60;

/** A field that finds one of many by part of its name or of what is said of it. `always` stands above whatever is typed. */
export function Seek<T extends string | number>({
	name,
	placeholder,
	options,
	always = [],
	nothing,
	onChange,
	className = "w-44",
}: {
	name: string;
	placeholder: string;
	options: Option<T>[];
	always?: Option<T>[];
	nothing: string;
	onChange: (value: T) => void;
	className?: string;
}) {
	const [typed, setTyped] = useState("");
	const matching = useMemo(() => {
		const holds = holding(typed);
		return options.filter((one) => holds(`${one.label} ${one.hint ?? ""}`));
	}, [options, typed]);
	const shown = matching.slice(0, SHOWN);
	const row = (one: Option<T>) => (
		<ComboboxOption key={String(one.value)} value={one.value} className="cursor-pointer rounded px-2 py-1 data-focus:bg-spruce-soft">
			{one.label}
			{one.hint && <span className="block text-xs text-quiet">{one.hint}</span>}
		</ComboboxOption>
	);
	return (
		<Combobox<T | null>
			immediate
			value={null}
			onChange={(chosen) => {
				setTyped("");
				if (chosen !== null) onChange(chosen);
			}}
			onClose={() => setTyped("")}
		>
			<ComboboxInput
				aria-label={name}
				placeholder={placeholder}
				autoComplete="off"
				className={`field text-[13.4px] ${className}`}
				displayValue={() => typed}
				onChange={(event) => setTyped(event.target.value)}
			/>
			<ComboboxOptions
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-80 w-72 overflow-auto rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg"
			>
				{typed ? shown.map(row) : [...always, ...shown].map(row)}
				{shown.length === 0 && <p className="px-2 py-1 quiet-line">{nothing}</p>}
				{matching.length > shown.length && (
					<p className="px-2 py-1 quiet-line">
						{say("{matching} more: type a part of the name.", { matching: matching.length - shown.length })}
					</p>
				)}
				{typed && always.map(row)}
			</ComboboxOptions>
		</Combobox>
	);
}
