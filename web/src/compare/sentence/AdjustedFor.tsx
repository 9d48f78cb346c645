import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { say } from "../../language/say";
import type { Variable } from "../../people/data";
import { COMPARABLE, type Question } from "../spec";

const MOST = 6;

/** Up to six facts about people that are held at once, beside the plain shares. */
export function AdjustedFor({
	question,
	variables,
	onChange,
}: {
	question: Question;
	variables: Variable[];
	onChange: (changes: Record<string, string | null>) => void;
}) {
	const chosen = question.adjusted ?? [];
	const others = variables.filter((one) => COMPARABLE.has(one.kind) && one.id !== question.variable);
	const names = others.filter((one) => chosen.includes(one.id)).map((one) => one.name);
	return (
		<Popover className="inline">
			<PopoverButton className="token inline" aria-label={say("Adjusted for: {names}", { names: names.join(", ") || say("nothing") })}>
				{names.join(", ") || say("nothing")}
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-40 max-h-96 w-72 overflow-auto rounded-lg border border-line bg-card p-2 text-[13.4px] text-ink shadow-lg"
			>
				<p className="px-1 pb-1 text-[12.6px] text-quiet">
					{say("What each group’s share would be if the groups were alike in these facts. Up to {most}; each needs enough people.", {
						most: MOST,
					})}
				</p>
				{others.map((one) => (
					<label key={one.id} className="flex cursor-pointer items-center gap-2 rounded px-1 py-0.5 hover:bg-paper2">
						<input
							type="checkbox"
							className="accent-spruce"
							checked={chosen.includes(one.id)}
							disabled={!chosen.includes(one.id) && chosen.length >= MOST}
							onChange={(event) => {
								const next = event.target.checked ? [...chosen, one.id] : chosen.filter((id) => id !== one.id);
								onChange({ adjusted: next.join(".") || null });
							}}
						/>
						{one.name}
					</label>
				))}
				{others.length === 0 && <p className="px-1 text-quiet">{say("There is no other fact to hold.")}</p>}
			</PopoverPanel>
		</Popover>
	);
}
