import { Link } from "react-router";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { languageOf, ours } from "../ui/language";
import { ExhibitMenu } from "./ExhibitMenu";
import { Quoted } from "./Quoted";

/** A passage in its context, with where it is and the way there. */
export function Passage({ passage, by, note }: { passage: Shape<"Quoted">; by?: string; note?: string }) {
	const { id } = useProject();
	return (
		<blockquote className="font-serif text-[14.5px] leading-normal whitespace-pre-line" dir="auto" lang={languageOf(passage.text)}>
			{note && (
				<span className="block font-sans text-[12.2px] text-quiet" lang={ours()}>
					{note}
				</span>
			)}
			<span className="text-quiet">{passage.before}</span>
			<mark className={passage.region ? "bg-transparent" : ""}>
				<Quoted passage={passage} />
			</mark>
			<span className="text-quiet">{passage.after}</span>
			<footer className="mt-0.5 flex items-baseline gap-3 font-sans text-[12.2px] text-quiet" dir="ltr" lang={ours()}>
				{/* A long title gives way, not the turn. */}
				<span className="flex min-w-0 whitespace-pre">
					<span className="truncate" title={passage.title}>
						{by && <b className="font-semibold text-ink">{by} · </b>}
						{passage.title}
						{passage.region && `, ${passage.text}`}
					</span>
					{!passage.region && passage.turn > 0 && <span>{say(" · turn {turn}", { turn: passage.turn })}</span>}
				</span>
				<Link
					className="font-semibold whitespace-nowrap text-spruce hover:underline"
					aria-label={say("Open in document: {title}, “{words}”", { title: passage.title, words: passage.text.slice(0, 40) })}
					to={`/projects/${id}/code/${passage.document}?passage=${passage.id}`}
				>
					{say("Open in document")}
				</Link>
				<ExhibitMenu passages={[passage.id]} />
			</footer>
		</blockquote>
	);
}
