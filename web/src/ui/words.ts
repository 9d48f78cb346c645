// Made once: to make one for each number takes longer than to draw a table.
const NUMBERS = new Intl.NumberFormat("en-GB");

/** `1,214`. */
export function number(n: number): string {
	return NUMBERS.format(n);
}

/** `1 passage`, `2 passages`, `1,214 words`. */
export function counted(n: number, one: string, many = `${one}s`): string {
	return `${number(n)} ${n === 1 ? one : many}`;
}

/** A share from 0 to 1 as whole percent. */
export function percent(share: number | null): string {
	return share === null ? "–" : `${Math.round(share * 100)}`;
}

/** A p-value: `.041`, `<.001`, `1`. */
export function pValue(p: number | null): string {
	if (p === null) return "–";
	if (p < 0.001) return "<.001";
	if (p > 0.995) return "1";
	return p.toFixed(p < 0.1 ? 3 : 2).replace(/^0/, "");
}

export function isoDay(date: string): string {
	return new Date(date).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** A day and the time, as on a clock here. */
export function moment(at: string): string {
	return new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
}
