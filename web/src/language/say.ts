/** Every sentence that people read is a message: written here in English where it is shown, looked up in the catalogue of whoever
 * reads it. `docs/languages.md` says how they are written, gathered and put into another language. */

import format from "icu-minify/format";
import { createElement, Fragment, type ReactNode } from "react";
import { compile, type Part } from "./compile";

type Value = string | number | null | undefined;
type Around = (inner: ReactNode) => ReactNode;
type Compiled = string | Part[];

/** What the page was sent with: its language, and its words by the English ones; English itself needs none. */
interface Catalogue {
	language: string;
	messages: Record<string, Compiled>;
}

declare global {
	var cohortiaWords: Catalogue | undefined;
}

/** Numbers as the British write them, where it is English. */
const REGIONS: Record<string, string> = { en: "en-GB", de: "de-DE" };

/** The language that Cohortia speaks here, by its tag (BCP 47). */
export const language = (): string => globalThis.cohortiaWords?.language ?? "en";
/** Its way of writing numbers and days. */
export const region = (): string => REGIONS[language()] ?? language();

const compiled = new Map<string, Compiled>();

/** Between what tells two meanings of the same English words apart and those words, as gettext has it. */
const APART = "\u0004";

function wordsOf(message: string, meaning?: string): Compiled {
	const told = globalThis.cohortiaWords?.messages[meaning ? meaning + APART + message : message];
	if (told !== undefined) return told;
	let own = compiled.get(message);
	if (own === undefined) {
		own = compile(message);
		compiled.set(message, own);
	}
	return own;
}

const numbers = new Map<string, Intl.NumberFormat>();
const plurals = new Map<string, Intl.PluralRules>();

function kept<T>(held: Map<string, T>, key: string, make: () => T): T {
	let one = held.get(key);
	if (!one) {
		one = make();
		held.set(key, one);
	}
	return one;
}

/** Languages in which a small whole number is written as it is here; of others the browser knows. */
const PLAIN = new Set(["en", "de"]);

interface Written {
	format: (value: number) => string;
}

/** Whole numbers under a thousand have no sign of the language in them. Most are, and the first that the browser writes takes
 * 40 ms, while somebody waits for the page. */
const whole: Written = {
	format: (value) =>
		PLAIN.has(language()) && Number.isInteger(value) && value >= 0 && value < 1000 ? String(value) : written().format(value),
};

// Made once: to make one for each number takes longer than to draw a table.
const written = (options?: Intl.NumberFormatOptions): Written =>
	kept(numbers, `${region()} ${JSON.stringify(options ?? "")}`, () => new Intl.NumberFormat(region(), options));

const OPTIONS = {
	timeZone: "UTC",
	formatters: {
		getNumberFormat: (_: unknown, options?: Intl.NumberFormatOptions) => (options ? written(options) : whole),
		getPluralRules: () => kept(plurals, language(), () => new Intl.PluralRules(language())),
		getDateTimeFormat: () => new Intl.DateTimeFormat(region()),
	},
};

export const numberFormat = (options?: Intl.NumberFormatOptions): Written => OPTIONS.formatters.getNumberFormat(undefined, options);

function told(message: string, values?: Record<string, unknown>, meaning?: string): unknown {
	const words = wordsOf(message, meaning);
	// biome-ignore lint/suspicious/noExplicitAny: the library’s own types want formatters of all kinds of its own.
	return typeof words === "string" ? words : format(words as any, language(), values as any, OPTIONS as any);
}

/** A message in the language of whoever reads it, with its values put in. ``meaning``: which of two that are the same in English. */
export function say(message: string, values?: Record<string, Value>, meaning?: string): string {
	return told(message, values, meaning) as string;
}

/** A message with parts that are drawn: `phrase("Read <b>{name}</b>", { name, b: (inner) => <b>{inner}</b> })`. */
export function phrase(message: string, values: Record<string, Value | Around>): ReactNode {
	const drawn = Object.entries(values).map(([name, value]) => [
		name,
		typeof value === "function" ? (inner: ReactNode[]) => value(together(inner)) : value,
	]);
	return together(told(message, Object.fromEntries(drawn)));
}

function together(parts: unknown): ReactNode {
	if (!Array.isArray(parts)) return parts as ReactNode;
	if (parts.every((part) => typeof part === "string")) return parts.join("");
	return createElement(Fragment, null, ...(parts as ReactNode[]));
}

/** A message that is said later, by {@link say}: for tables of words whose values aren’t known yet. */
export const message = (words: string): string => words;
