import type { Span } from "../data";

/** Seconds that a span lasts at least, and of one step by key: plainly and finely. */
export const LEAST = 0.2;
const STEP = 1;
const FINE = 0.1;

/** What part of a span is in hand: all of it, or one of its ends. */
export type Part = "whole" | "begin" | "finish";

/** A span moved by so many seconds, within a recording of `length`; an end alone never passes the other. */
export function shiftedSpan({ begin, finish }: Span, part: Part, by: number, length: number): Span {
	if (part === "whole") {
		const held = Math.min(Math.max(by, -begin), length - finish);
		return { begin: hundredths(begin + held), finish: hundredths(finish + held) };
	}
	if (part === "begin") return { begin: hundredths(Math.min(Math.max(0, begin + by), finish - LEAST)), finish };
	return { begin, finish: hundredths(Math.max(Math.min(length, finish + by), begin + LEAST)) };
}

/** The same by an arrow; undefined for any other key. */
export function byArrow(span: Span, key: string, trim: boolean, fine: boolean, length: number): Span | undefined {
	const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: 1, ArrowDown: -1 }[key];
	return way === undefined ? undefined : shiftedSpan(span, trim ? "finish" : "whole", way * (fine ? FINE : STEP), length);
}

export function hundredths(seconds: number): number {
	return Math.round(seconds * 100) / 100;
}

/** Where a span lies in the part of a recording that is seen, in percent; undefined where it isn’t in it. */
export function placeIn(view: Span, { begin, finish }: Span): { left: string; width: string } | undefined {
	const whole = view.finish - view.begin;
	if (whole <= 0 || finish < view.begin || begin > view.finish) return undefined;
	const left = Math.max(begin, view.begin);
	const right = Math.min(finish, view.finish);
	return { left: `${((left - view.begin) / whole) * 100}%`, width: `${Math.max(0.3, ((right - left) / whole) * 100)}%` };
}
