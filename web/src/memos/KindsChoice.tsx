import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import { say } from "../language/say";
import { useKinds } from "./data";
import type { AnyKind } from "./memos";

/** Which kinds a memo is of: as many as are ticked. */
export function KindsChoice({
	value,
	onChange,
	small = false,
}: {
	value: AnyKind[];
	onChange: (kinds: AnyKind[]) => void;
	small?: boolean;
}) {
	const kinds = useKinds();
	const named = kinds.filter((one) => value.includes(one.value)).map((one) => one.label);
	const said = named.join(", ") || say("No kind");
	return (
		<Popover className="min-w-0">
			<PopoverButton
				aria-label={say("Kinds of memo: {said}", { said })}
				className={`${small ? "inline-flex items-center gap-1 rounded-md px-1 font-semibold text-ink hover:bg-paper2" : "field flex w-full items-center justify-between gap-2 text-left"} max-w-full text-[13.4px]`}
			>
				<span className="min-w-0 truncate">{said}</span>
				<ChevronDown size={13} className="shrink-0 text-quiet" aria-hidden="true" />
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 4 }}
				className="z-50 max-h-80 min-w-52 overflow-auto rounded-lg border border-line bg-card p-1.5 text-[13.4px] shadow-lg focus:outline-none"
			>
				<KindTicks value={value} onChange={onChange} />
			</PopoverPanel>
		</Popover>
	);
}

/** A box to tick for each kind. */
export function KindTicks({ value, onChange }: { value: AnyKind[]; onChange: (kinds: AnyKind[]) => void }) {
	return (
		<fieldset>
			<legend className="sr-only">{say("Kinds of memo")}</legend>
			{useKinds().map((one) => (
				<label key={one.value} className="flex min-h-6 cursor-pointer items-start gap-2 rounded px-1.5 py-0.5 hover:bg-spruce-soft">
					<input
						type="checkbox"
						className="mt-1"
						checked={value.includes(one.value)}
						onChange={() => onChange(value.includes(one.value) ? value.filter((other) => other !== one.value) : [...value, one.value])}
					/>
					<span>
						{one.label}
						{one.hint && <span className="block text-xs text-quiet">{one.hint}</span>}
					</span>
				</label>
			))}
		</fieldset>
	);
}
