import { useState } from "react";
import { say } from "../../language/say";
import { useMayCode } from "../../project/project";
import { useOverviewWrites } from "../overview";

const SHOWN = 200;

/** The words that somebody left out by hand, each one click away from the lists. */
export function LeftOut({ words }: { words: string[] }) {
	const [open, setOpen] = useState(false);
	const mayCode = useMayCode();
	const { dropWords } = useOverviewWrites();
	return (
		<>
			<button type="button" className="font-semibold text-spruce hover:underline" aria-expanded={open} onClick={() => setOpen(!open)}>
				{say("{words, plural, one {# word} other {# words}} left out by hand", { words: words.length })}
			</button>
			{open && (
				<ul aria-label={say("Words left out by hand")} className="flex w-full flex-wrap gap-1.5 pt-1">
					{words.slice(0, SHOWN).map((word) => (
						<li key={word} className="flex items-center gap-1 rounded-md border border-line bg-card pl-2 text-ink">
							<span className="font-serif">{word}</span>
							{mayCode && (
								<button
									type="button"
									className="min-h-6 min-w-6 text-quiet hover:text-ink"
									aria-label={say("List “{word}” again", { word })}
									onClick={() => dropWords.mutate({ keep: [word] })}
								>
									×
								</button>
							)}
						</li>
					))}
					{words.length > SHOWN && <li>{say("and {more} more", { more: words.length - SHOWN })}</li>}
				</ul>
			)}
		</>
	);
}
