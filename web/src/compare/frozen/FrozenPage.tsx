import { Link, useNavigate, useParams } from "react-router";
import { phrase, say } from "../../language/say";
import { useGonePlace } from "../../project/places";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Empty, hindrance, Loading, Problem } from "../../ui/Empty";
import { useToasts } from "../../ui/toasts";
import { isoDay } from "../../ui/words";
import { ComparePages } from "../ComparePages";
import { FrozenComparison } from "./FrozenComparison";
import { FrozenPassages } from "./FrozenPassages";
import { type FrozenListed, useFrozenList, useFrozenWrites } from "./frozen";

/** Results as they were on a day, each with what has changed since; the newest to begin with. */
export function FrozenPage() {
	const { id } = useProject();
	const named = Number(useParams().frozenId) || null;
	const list = useFrozenList();
	useGonePlace(named !== null && list.data?.every((one) => one.id !== named) === true);
	const hindered = hindrance(list);
	if (hindered) return <Problem error={hindered} />;
	if (!list.data) return <Loading what={say("frozen results")} />;
	const chosen = named === null ? list.data[0] : list.data.find((one) => one.id === named);
	return (
		<div className="filling pane px-4.5 py-3.5">
			<ComparePages />
			{list.data.length === 0 ? (
				<Empty title={say("Nothing is frozen yet")}>
					<p>
						{phrase(
							"A frozen result keeps a comparison, or the passages that a query finds, as it is today. Later it says what has changed since. <link>Compare groups, then press Freeze</link>",
							{
								link: (inner) => (
									<Link className="font-semibold text-spruce underline" to={`/projects/${id}/compare`}>
										{inner}
									</Link>
								),
							},
						)}
					</p>
				</Empty>
			) : (
				<div className="mt-3 grid cols-[230px_minmax(0,1fr)] gap-5">
					<ul aria-label={say("Frozen results")}>
						{list.data.map((one) => (
							<li key={one.id} className="border-b border-line2">
								<Link
									to={`/projects/${id}/compare/frozen/${one.id}`}
									aria-current={one.id === chosen?.id ? "page" : undefined}
									className={`block rounded px-2 py-1.5 ${one.id === chosen?.id ? "bg-spruce-soft" : "hover:bg-paper2"}`}
								>
									<b className="font-semibold">{one.name}</b>
									<span className="block text-[12.6px] text-quiet">
										{one.kind === "passages"
											? say("Passages · {made_at}, by {author}", { made_at: isoDay(one.made_at), author: one.author })
											: say("{made_at}, by {author}", { made_at: isoDay(one.made_at), author: one.author })}
									</span>
								</Link>
							</li>
						))}
					</ul>
					{chosen ? (
						<section key={chosen.id} aria-label={chosen.name}>
							<Title frozen={chosen} />
							{chosen.kind === "passages" ? <FrozenPassages id={chosen.id} /> : <FrozenComparison id={chosen.id} />}
						</section>
					) : (
						<p className="quiet-line">{say("This frozen result isn’t here any more; somebody has deleted it.")}</p>
					)}
				</div>
			)}
		</div>
	);
}

function Title({ frozen }: { frozen: FrozenListed }) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const navigate = useNavigate();
	const { remove } = useFrozenWrites();
	const { tell } = useToasts();
	const removed = () => {
		tell(say("“{name}” is deleted. Ctrl Z brings it back.", { name: frozen.name }));
		void navigate(`/projects/${id}/compare/frozen`);
	};
	return (
		<div className="flex items-center gap-2.5">
			<h2 className="title text-[19px]!">{frozen.name}</h2>
			<span className="rounded-full bg-frost px-2.5 py-0.5 text-[12.6px] font-semibold text-frost-deep">
				{say("Frozen {made_at}", { made_at: isoDay(frozen.made_at) })}
			</span>
			{frozen.kind === "comparison" && (
				<span className="ml-auto flex items-baseline gap-2 text-[13px] text-quiet">
					{say("As it was:")}
					{["xlsx", "csv", "docx"].map((ending) => (
						<a
							key={ending}
							className="font-semibold text-spruce hover:underline"
							href={`/api/projects/${id}/compare/frozen/${frozen.id}/file/${ending}`}
							download
						>
							.{ending}
						</a>
					))}
				</span>
			)}
			{mayCode && (
				<span className={frozen.kind === "comparison" ? "" : "ml-auto"}>
					<Button onClick={() => remove.mutate(frozen.id, { onSuccess: removed })}>{say("Delete")}</Button>
				</span>
			)}
		</div>
	);
}
