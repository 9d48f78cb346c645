import { say } from "../../language/say";
import { Choice } from "../../ui/Choice";
import type { Comparison } from "../data";

/** Between which two groups the difference is. */
export function Pair({ result, onPair }: { result: Comparison; onPair: (pair: [string, string]) => void }) {
	const names = result.groups.map((group) => group.name);
	const options = names.flatMap((first) =>
		names.filter((second) => second !== first).map((second) => ({ value: `${first}\u0000${second}`, label: `${first} − ${second}` })),
	);
	const now = result.difference?.map((place) => names[place]).join("\u0000") ?? "";
	if (options.length > 90) return <>{say("Difference")}</>;
	return (
		<span className="-ml-1 flex flex-wrap items-center">
			<Choice
				as="small"
				name={say("Difference between")}
				value={now}
				shown={now ? now.replace("\u0000", " − ") : say("Choose a difference")}
				options={options}
				onChange={(pair) => onPair(pair.split("\u0000") as [string, string])}
			/>
			{now && <span className="font-normal text-quiet">{say("points")}</span>}
		</span>
	);
}
