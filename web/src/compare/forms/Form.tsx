import { say } from "../../language/say";
import type { Comparison } from "../data";
import type { RowStanding } from "../marks";
import type { Opened, Question } from "../spec";
import type { View } from "../view";
import { Bars } from "./Bars";
import { Flow } from "./Flow";
import { Gaps } from "./Gaps";
import { MapForm } from "./MapForm";
import { Matrix } from "./Matrix";
import { OneByOne } from "./OneByOne";
import { Drawn } from "./Opens";
import { Spread } from "./Spread";
import { Swapped } from "./Swapped";
import { Table } from "./Table";
import { Tiles } from "./Tiles";
import { Waves } from "./Waves";

/** Marks that can still be told apart, and drawn without waiting. */
const MOST_MARKS = 3000;

interface Props {
	view: View;
	question: Question;
	result: Comparison;
	places: number[];
	opened: Opened | null;
	noted?: (place: number, group: number | null) => boolean;
	marks?: Map<number, RowStanding> | undefined;
	onOpen: (number: Opened) => void;
	onView: (changes: Record<string, string | null>) => void;
	/** Another question: what makes the groups, or which codes are rows. */
	onAsk: (changes: Record<string, string | null>) => void;
}

/** The result in the form that is chosen. */
export function Form({ view, question, result, places, opened, noted, marks, onOpen, onView, onAsk }: Props) {
	const same = { result, places, onOpen };
	const onPair = (pair: [string, string]) => onView({ difference: JSON.stringify(pair) });
	if (view.form !== "table" && places.length * result.groups.length > MOST_MARKS)
		return (
			<Drawn>
				{say(
					"{places} rows × {groups} groups are too many marks to tell apart: choose fewer of either, or hide small rows. The table shows them all.",
					{ places: places.length, groups: result.groups.length },
				)}
			</Drawn>
		);
	switch (view.form) {
		case "bars":
			return <Bars {...same} stack={view.stack} />;
		case "gaps":
			return <Gaps {...same} marks={marks} onPair={onPair} onPeople={() => onView({ measure: null, base: null })} />;
		case "flow":
			return <Flow {...same} swap={view.swap} />;
		case "tiles":
			return <Tiles {...same} />;
		case "matrix":
			return (
				<Matrix
					{...same}
					question={question}
					onAsk={onAsk}
					scaled={view.scaled}
					figures={view.figures}
					onScaled={(scaled) => onView({ scaled: scaled === "all" ? null : scaled })}
				/>
			);
		case "map":
			return <MapForm {...same} question={question} />;
		case "people":
			return (
				<OneByOne
					{...same}
					question={question}
					each={view.each}
					onEach={(each) => onView({ each: each === "people" ? null : each })}
					onAsk={onAsk}
				/>
			);
		case "spread":
			return <Spread {...same} question={question} number={view.number} onNumber={(number) => onView({ number: String(number) })} />;
		case "waves":
			return <Waves {...same} question={question} />;
		default:
			if (view.swap) return <Swapped {...same} tint={view.tint} opened={opened} />;
			return <Table {...same} tint={view.tint} opened={opened} {...(noted && { noted })} marks={marks} onPair={onPair} />;
	}
}
