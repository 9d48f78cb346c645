import { Link } from "react-router";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { languageOf } from "../ui/language";
import type { Memo } from "./data";
import { pieces, placeOf } from "./linked";

/** What a memo says; what it speaks of opens, under the name that it has now. */
export function MemoText({ text, links }: { text: string; links: Memo["links"] }) {
	const { id } = useProject();
	return (
		<p className="font-serif leading-snug whitespace-pre-line [overflow-wrap:anywhere]" dir="auto" lang={languageOf(text)}>
			{pieces(text).map(({ words, said }, place) => {
				if (said === null) return words;
				const link = links.find((one) => one.said === said);
				// biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text stay in their places
				if (!link) return <span key={place}>{words}</span>;
				return (
					<Link
						// biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text stay in their places
						key={place}
						to={`/projects/${id}/${placeOf(link.thing, link.id)}`}
						title={link.name === words ? undefined : say("Written as “{words}”", { words })}
						className="text-spruce underline decoration-dotted underline-offset-2 hover:decoration-solid"
					>
						{link.name}
					</Link>
				);
			})}
		</p>
	);
}
