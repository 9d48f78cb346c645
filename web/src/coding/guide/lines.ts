import type { GuideQuestion } from "./data";

/** The guide of what was typed, a question a line. A line that is a question’s keeps it, with its codes and turns; what is left over
 * goes line for line to the questions that have none: whoever changes a word changes a question, and makes no other. */
export function questionsOf(typed: string, held: GuideQuestion[]): { id: number | null; text: string }[] {
	const lines = typed
		.split("\n")
		.map((line) => line.trim().replace(/\s+/g, " "))
		.filter(Boolean);
	const free = [...held];
	const taken = lines.map((line) => {
		const at = free.findIndex((one) => one.text === line);
		return at < 0 ? null : (free.splice(at, 1)[0]?.id ?? null);
	});
	const placed = new Map(held.map((one, place) => [one.id, place]));
	return lines.map((text, place) => {
		const own = taken[place];
		if (own !== null && own !== undefined) return { id: own, text };
		// Between the same neighbours, or at the same place.
		const before = taken.slice(0, place).findLast((id) => id !== null) ?? null;
		const from = before === null ? -1 : (placed.get(before) ?? -1);
		const next = free.findIndex((one) => (placed.get(one.id) ?? 0) === from + 1 || (placed.get(one.id) ?? -1) === place);
		const id = next < 0 || free.length <= lines.length - held.length ? null : (free.splice(next, 1)[0]?.id ?? null);
		if (id !== null) taken[place] = id;
		return { id, text };
	});
}
