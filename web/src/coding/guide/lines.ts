import type { GuideQuestion } from "./data";

/** The guide of what was typed, a question a line. A line that is a question’s keeps it, with its codes and turns. Where as many lines
 * are new as questions are missing, words were changed: each in its order; else nobody knows which became which. */
export function questionsOf(typed: string, held: GuideQuestion[]): { id: number | null; text: string }[] {
	const every = typed.split("\n").flatMap((line) => line.trim().replace(/\s+/g, " ") || []);
	// The same line twice is one question: nobody could say which of the two a turn asks.
	const lines = [...new Set(every)];
	const free = [...held];
	const found = lines.map((text) => {
		const at = free.findIndex((one) => one.text === text);
		return { id: at < 0 ? null : (free.splice(at, 1)[0]?.id ?? null), text };
	});
	const fresh = found.filter((one) => one.id === null);
	if (fresh.length === free.length) for (const [place, one] of fresh.entries()) one.id = free[place]?.id ?? null;
	return found;
}
