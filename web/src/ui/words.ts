import { numberFormat, region, say } from "../language/say";

/** `1,214`. */
export function number(n: number): string {
	return numberFormat().format(n);
}

/** `1 passage`, `2 passages`, `1,214 words`. */
export function counted(n: number, one: string, many = `${one}s`): string {
	return `${number(n)} ${n === 1 ? one : many}`;
}

/** `a`, `a and b`, `a, b and c`. */
export function listed(words: string[]): string {
	if (words.length < 2) return words.join("");
	return say("{first} and {last}", { first: words.slice(0, -1).join(", "), last: words.at(-1) });
}

/** A share from 0 to 1 as whole percent. */
export function percent(share: number | null): string {
	return share === null ? "–" : `${Math.round(share * 100)}`;
}

/** `1.60`, with the decimal sign of the language. */
export function decimal(value: number, digits: number): string {
	return numberFormat({ minimumFractionDigits: digits, maximumFractionDigits: digits, useGrouping: false }).format(value);
}

/** `.16`: of what can’t be more than one, as tables of the trade have it. */
export function underOne(value: number, digits: number): string {
	return decimal(value, digits).replace(/^0/, "");
}

/** A p-value: `.041`, `<.001`, `1`. */
export function pValue(p: number | null): string {
	if (p === null) return "–";
	if (p < 0.001) return `<${underOne(0.001, 3)}`;
	if (p > 0.995) return "1";
	return underOne(p, p < 0.1 ? 3 : 2);
}

export function isoDay(date: string): string {
	return new Date(date).toLocaleDateString(region(), { day: "numeric", month: "short", year: "numeric" });
}

/** `3 April 2026`. */
export function longDay(date: string): string {
	return new Date(date).toLocaleDateString(region(), { day: "numeric", month: "long", year: "numeric" });
}

/** A day and the time, as on a clock here. */
export function moment(at: string): string {
	return new Date(at).toLocaleString(region(), { dateStyle: "medium", timeStyle: "short" });
}

/** Whether a text holds all the words that are typed, in whatever order and letters; anything does where none is. */
export function holding(typed: string): (text: string) => boolean {
	const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
	return (text) => {
		const all = text.toLowerCase();
		return wanted.every((word) => all.includes(word));
	};
}
