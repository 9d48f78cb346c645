/** Where words begin and end, in code points. */
export function wordsIn(text: string): [number, number][] {
	const found: [number, number][] = [];
	let at = 0;
	for (const part of text.split(/(\s+)/u)) {
		const long = [...part].length;
		if (part.trim()) found.push([at, at + long]);
		at += long;
	}
	return found;
}

export interface Cut {
	cut_start: number;
	cut_end: number;
}

/** One word more (or less) left off at an end; the same where nothing would be left, or nothing is off. */
export function stepped(text: string, cut: Cut, end: "start" | "end", by: 1 | -1): Cut {
	const words = wordsIn(text);
	const whole = [...text].length;
	const first = Math.max(
		0,
		words.findIndex(([start]) => start >= cut.cut_start),
	);
	const last = words.length - 1 - [...words].reverse().findIndex(([, stop]) => stop <= whole - cut.cut_end);
	const [from, to] = end === "start" ? [first + by, last] : [first, last - by];
	if (from < 0 || to > words.length - 1 || from > to) return cut;
	return {
		cut_start: from === 0 ? 0 : (words[from]?.[0] ?? 0),
		cut_end: to === words.length - 1 ? 0 : whole - (words[to]?.[1] ?? whole),
	};
}
