import type { Shape } from "../api/client";
import { phrase, say } from "../language/say";

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
			aria-label={say("Passages that lose their words")}
			className="mb-3 rounded-lg border border-apricot-line bg-apricot-soft px-3.5 py-2.5 text-[13.4px]"
		>
			{phrase(
				"<b>{passages, plural, one {# passage} other {# passages}} would lose all {passages, plural, one {its} other {their}} words.</b> Say what becomes of {passages, plural, one {it} other {each}}.",
				{ b: (inner) => <b>{inner}</b>, passages: lost.length },
			)}
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
									{choice === "keep" ? say("Keep on the nearest word") : say("Take it off, with its codes")}
								</label>
							))}
						</span>
					</li>
				))}
			</ul>
		</section>
	);
}
