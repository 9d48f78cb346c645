import type { Shape } from "../api/client";
import { counted } from "../ui/words";

export type Decisions = Record<string, "remove" | "keep">;

/** Whether some passage still waits for a decision. */
export function undecided(lost: Shape<"LostOut">[], decisions: Decisions): boolean {
	return lost.some((one) => !decisions[one.passage]);
}

/** Passages that a change would leave without a word: each is decided about, none is dropped unseen. */
export function Lost({
	lost,
	decisions,
	onDecide,
}: {
	lost: Shape<"LostOut">[];
	decisions: Decisions;
	onDecide: (decisions: Decisions) => void;
}) {
	if (!lost.length) return null;
	return (
		<section
			aria-label="Passages that lose their words"
			className="mb-3 rounded-lg border border-apricot-line bg-apricot-soft px-3.5 py-2.5 text-[13.4px]"
		>
			<b>
				{counted(lost.length, "passage")} would lose all {lost.length === 1 ? "its" : "their"} words.
			</b>{" "}
			Say what becomes of {lost.length === 1 ? "it" : "each"}.
			<ul className="mt-1">
				{lost.map((one) => (
					<li key={one.passage} className="flex flex-wrap items-center gap-x-3 border-t border-apricot-line py-1">
						<span className="font-serif" dir="auto">
							“{one.text.length > 80 ? `${one.text.slice(0, 80)}…` : one.text}”
						</span>
						<span className="text-quiet">{one.codes.join(", ")}</span>
						<span className="ml-auto flex gap-3">
							{(["keep", "remove"] as const).map((choice) => (
								<label key={choice} className="flex items-center gap-1.5">
									<input
										type="radio"
										className="accent-spruce"
										name={`passage-${one.passage}`}
										checked={decisions[one.passage] === choice}
										onChange={() => onDecide({ ...decisions, [one.passage]: choice })}
									/>
									{choice === "keep" ? "Keep on the nearest word" : "Take it off, with its codes"}
								</label>
							))}
						</span>
					</li>
				))}
			</ul>
		</section>
	);
}
