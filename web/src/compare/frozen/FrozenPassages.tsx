import { useProject } from "../../project/project";
import { Loading, Problem } from "../../ui/Empty";
import { counted } from "../../ui/words";
import { useFrozenPassages } from "./frozen";
import { AsItWas, CameAndWent, Since } from "./Told";

/** What conditions found on a day, in the words it had, and what is different today. */
export function FrozenPassages({ id }: { id: number }) {
	const { case_one, case_many } = useProject();
	const found = useFrozenPassages(id);
	if (found.error) return <Problem error={found.error} />;
	if (!found.data) return <Loading what="the passages" />;
	const { data } = found;
	const size = (of: { passages: number; people: number }) =>
		`${counted(of.passages, "passage")} by ${counted(of.people, case_one, case_many)}`;
	const changed = data.gained.length + data.lost.length > 0;
	return (
		<>
			<p className="mt-1 mb-2 text-[15px]">{data.sentence}</p>
			<Since changed={changed || data.problem !== ""}>
				{data.problem
					? `It can’t be asked again: ${data.problem}`
					: changed
						? `Then ${size(data)}; today ${size(data.now ?? data)}.`
						: "Nothing has changed since: today finds the same."}
			</Since>
			<div className={`grid gap-6 ${changed ? "cols-[minmax(0,1fr)_minmax(0,1fr)]" : "grid-cols-1"}`}>
				<section aria-label="Found then" className="max-w-3xl">
					<h2 className="mb-1.5">
						Found then <span className="font-normal text-quiet">· {size(data)}</span>
					</h2>
					{data.as_it_was.map((passage) => (
						<AsItWas key={passage.id} passage={passage} />
					))}
					{data.passages > data.as_it_was.length && <p className="quiet-line">The first {data.as_it_was.length} are shown.</p>}
				</section>
				{changed && (
					<section aria-label="What changed">
						<CameAndWent told={data} />
					</section>
				)}
			</div>
		</>
	);
}
