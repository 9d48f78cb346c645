import { useState } from "react";
import { CodePicker } from "../../codes/CodePicker";
import { useCodebook } from "../../codes/data";
import { branches, flat, placesAmong } from "../../codes/tree";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { useToasts } from "../../ui/toasts";
import { type Topic, useTopicWrites } from "./data";

/** What is ticked becomes passages with a code: a new one beneath another, or one that there is. */
export function Keep({ topic }: { topic: Topic }) {
	const codes = useCodebook().data?.codes ?? [];
	const { keep } = useTopicWrites();
	const { tell } = useToasts();
	const [parent, setParent] = useState(0);
	const kept = () =>
		tell(
			say(
				"{hits, plural, one {# passage} other {# passages}} coded, marked as proposed by words and accepted by you. Ctrl Z takes {hits, plural, one {it} other {them}} back.",
				{ hits: topic.hits },
			),
		);
	const idle = keep.isPending || topic.hits === 0;
	return (
		<div className="flex flex-wrap items-center gap-2 border-t border-line bg-paper px-3.5 py-2 text-[13.4px]">
			<Button
				look="main"
				disabled={idle}
				title={say("A new code of the topic’s name on the {hits, plural, one {# hit} other {# hits}} ticked.", { hits: topic.hits })}
				onClick={() => keep.mutate({ topic: topic.id, name: topic.name, parent: parent || null }, { onSuccess: kept })}
			>
				{say("Keep as a code on {hits, plural, one {# passage} other {# passages}}", { hits: topic.hits })}
			</Button>
			<Choice name={say("Beneath")} as="small" value={parent} options={placesAmong(flat(branches(codes)))} onChange={setParent} />
			<span className="text-quiet">{say("or put it into")}</span>
			<CodePicker
				codes={codes}
				disabled={idle}
				onlyThere
				name={say("A code that there is")}
				onPick={([into]) => into !== undefined && keep.mutate({ topic: topic.id, into }, { onSuccess: kept })}
			/>
		</div>
	);
}
