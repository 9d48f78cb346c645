import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { counted } from "../../ui/words";
import { useFrozenPassages } from "./frozen";
import { AsItWas, CameAndWent, Since } from "./Told";

/** What conditions found on a day, in the words it had, and what is different today. */
export function FrozenPassages({ id }: { id: number }) {
	const { case_one, case_many } = useProject();
	const found = useFrozenPassages(id);
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the passages")} />;
	const { data } = found;
	const size = (of: { passages: number; people: number }) =>
		say("{passages, plural, one {# passage} other {# passages}} by {people}", {
			passages: of.passages,
			people: counted(of.people, case_one, case_many),
		});
	const changed = data.gained.length + data.lost.length > 0;
	return (
		<>
			<p className="mt-1 mb-2 text-[15px]">{data.sentence}</p>
			<Since changed={changed || data.problem !== ""}>
				{data.problem
					? say("It can’t be asked again: {problem}", { problem: data.problem })
					: changed
						? say("Then {size}; today {size2}.", { size: size(data), size2: size(data.now ?? data) })
						: say("Nothing has changed since: today finds the same.")}
			</Since>
			<div className={`grid gap-6 ${changed ? "cols-[minmax(0,1fr)_minmax(0,1fr)]" : "grid-cols-1"}`}>
				<section aria-label={say("Found then")} className="max-w-3xl">
					<h2 className="mb-1.5">
						{phrase("Found then <span>· {size}</span>", {
							span: (inner) => <span className="font-normal text-quiet">{inner}</span>,
							size: size(data),
						})}
					</h2>
					{data.as_it_was.map((passage) => (
						<AsItWas key={passage.id} passage={passage} />
					))}
					{data.passages > data.as_it_was.length && (
						<p className="quiet-line">{say("The first {as_it_was} are shown.", { as_it_was: data.as_it_was.length })}</p>
					)}
				</section>
				{changed && (
					<section aria-label={say("What changed")}>
						<CameAndWent told={data} />
					</section>
				)}
			</div>
		</>
	);
}
