import { say } from "../language/say";
import type { Comparison } from "./data";
import type { View } from "./view";

/** What the tints and thin lines of a form mean: beneath it on screen, and on every picture of it. */
export function legendOf(result: Comparison, view: View): string {
	const tinted =
		view.form === "table" && view.tint === "expected" && result.rows.some((row) => row.cells.some((cell) => cell.residual !== null));
	const interval = result.measure === "people" ? intervalOf(view) : undefined;
	const said = [
		tinted &&
			(result.layered
				? say("Tint: plum below, moss above what would be expected if the groups of a layer didn’t differ.")
				: say("Tint: plum below, moss above what would be expected if the groups didn’t differ.")),
		interval && say("Thin line: 95 % interval ({interval}).", { interval }),
	];
	return said.filter(Boolean).join(" ");
}

/** Whose interval a form draws over a share. */
function intervalOf({ form, swap, stack }: View): string | undefined {
	if (form === "gaps") return say("Newcombe");
	return (form === "table" && !swap) || (form === "bars" && !stack) ? say("Wilson") : undefined;
}
