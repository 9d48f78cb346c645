import type { ReactNode } from "react";
import type { Shape } from "../api/client";
import { Term } from "../help/Term";
import { phrase, say } from "../language/say";
import { useProject } from "../project/project";
import { fixed } from "./figures";

type Found = Shape<"SteadyOut">;
type Range = NonNullable<Found["people"]>;
type Choice = Found["choices"][number];

interface Props {
	found: Found | undefined;
	waiting: boolean;
	/** Whether the differences are of shares. */
	share: boolean;
	onChange: (changes: Record<string, string | null>) => void;
}

/** How much of a difference is left without any one person, document or coder, and under each other reasonable choice. */
export function Steady({ found, waiting, share, onChange }: Props) {
	const { case_one } = useProject();
	if (waiting) return <p className="quiet-line px-3 pb-1.5 text-[12.6px]">{say("Leaving out one after the other …")}</p>;
	if (!found) return null;
	const ones = { people: case_one, documents: say("document"), coders: say("coder") };
	const said = (value: number | null) => (share ? `${Math.round((value ?? 0) * 100)}`.replace("-", "−") : fixed(value));
	return (
		<div className="border-t border-line2 px-3 py-1.5 text-[12.6px] leading-snug text-quiet">
			<ul>
				{KINDS.map((name) => {
					const range = found[name] as Range | null;
					if (!range) return null;
					const values = {
						one: ones[name],
						count: range.count,
						b: (inner: ReactNode) => <b className="text-ink">{inner}</b>,
						least: said(range.least),
						most: said(range.most),
						least_without: range.least_without,
					};
					return (
						<li key={name}>
							{share
								? phrase(
										"Without any one {one} of {count}: <b>{least}</b> to <b>{most}</b> points (least without {least_without}).",
										values,
									)
								: phrase("Without any one {one} of {count}: <b>{least}</b> to <b>{most}</b> (least without {least_without}).", values)}
						</li>
					);
				})}
			</ul>
			{found.choices.length > 0 && (
				<p>
					{phrase("<term>Holds</term> in <b>{holds} of {choices}</b> reasonable ways to ask it:", {
						term: (inner) => <Term of="steady">{inner}</Term>,
						b: (inner) => <b className="text-ink">{inner}</b>,
						holds: found.holds,
						choices: found.choices.length,
					})}{" "}
					{found.choices.map((choice, place) => (
						<span key={inWords(choice)}>
							{place > 0 && "; "}
							<button
								type="button"
								className={`underline decoration-dotted underline-offset-2 hover:text-spruce ${choice.as_asked ? "font-semibold text-ink" : ""}`}
								title={say("Open this comparison")}
								onClick={() => onChange(asAddress(choice))}
							>
								{choice.holds
									? say("{inWords} {difference}", { inWords: inWords(choice), difference: said(choice.difference) })
									: say("{inWords} {difference} (doesn’t hold)", { inWords: inWords(choice), difference: said(choice.difference) })}
							</button>
						</span>
					))}
					.
				</p>
			)}
		</div>
	);
}

const KINDS = ["people", "documents", "coders"] as const;

const BASES: Partial<Record<Choice["base"], string>> = {
	with_material: say("of those with material"),
	everyone: say("of everybody"),
	asked: say("of those who were asked"),
};

function inWords(choice: Choice): string {
	const parts = [
		BASES[choice.base],
		choice.roll_up ? say("rolled up") : say("codes by themselves"),
		choice.accord === "either" ? undefined : choice.accord === "when_asked" ? say("said when asked") : say("said of their own accord"),
		choice.discussions ? undefined : say("without group discussions"),
	];
	return parts.filter(Boolean).join(", ");
}

/** The choice as the comparison it is. */
function asAddress(choice: Choice): Record<string, string | null> {
	return {
		base: choice.base,
		accord: choice.accord === "either" ? null : choice.accord,
		rollup: choice.roll_up ? null : "0",
		...(choice.documents && { documents: choice.documents.join(".") }),
	};
}
