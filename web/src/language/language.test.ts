/** The reader of messages beside the whole form's (`icu-minify`, by FormatJS's parser), and catalogues beside what the code says. */
import reference from "icu-minify/compile";
import { afterEach, describe, expect, it } from "vitest";
import { catalogueOf, gathered, isCurrent, keyOf, languages } from "../../messages/gather.mjs";
import { compile } from "./compile";
import { numberFormat, phrase, region, say } from "./say";

const { messages, unknown, given } = gathered();
const wordsOf = (key: string) => key.split("\u0004").at(-1) as string;

/** Names of values and of what is drawn around words, by where they stand in the compiled form. */
function namesOf(compiled: unknown): Set<string> {
	const found = new Set<string>();
	const look = (part: unknown) => {
		if (!Array.isArray(part)) return;
		const [name, ...rest] = part;
		found.add(name as string);
		for (const one of rest)
			if (Array.isArray(one)) look(one);
			else if (one && typeof one === "object") for (const way of Object.values(one)) lookAll(way);
	};
	const lookAll = (parts: unknown) => {
		if (Array.isArray(parts)) for (const part of parts) look(part);
	};
	lookAll(compiled);
	return found;
}

it("every message is read as ICU has it", () => {
	expect(messages.size).toBeGreaterThan(1500);
	for (const key of messages.keys()) expect(compile(wordsOf(key)), key).toEqual(reference(wordsOf(key)));
});

it.each(["{name", "<b>never closed", "{n, plural, one {#}", "{when, date}", "closed too early}"])("%s is no message", (words) => {
	expect(() => compile(words)).toThrow();
});

it("what is said can be known from the code, but where a table of messages is looked up", () => {
	expect(unknown).toEqual(["help/terms.ts: say(text, { one, many })"]);
});

it("each message is given just the values that it puts in", () => {
	expect(given.length).toBeGreaterThan(1500);
	const apart = given.filter(({ words, names }) => words.includes("{") || names.length > 0);
	for (const { file, words, names } of apart) expect(new Set(names), `${file}: ${words}`).toEqual(namesOf(reference(words)));
});

describe.each(languages() as string[])("the catalogue %s", (language) => {
	const { items } = catalogueOf(language);

	it("is current: bin/words writes it anew", () => {
		expect(isCurrent(language, messages)).toBe(true);
	});

	it("is whole, and every message of it can be read", () => {
		expect(items.filter((item) => !item.msgstr[0]?.trim()).map(keyOf)).toEqual([]);
		for (const item of items) expect(() => reference(item.msgstr[0] as string), item.msgid).not.toThrow();
	});

	it("has the values and drawn parts of the English, and its blanks at the ends", () => {
		for (const item of items) {
			const [own, words] = [item.msgstr[0] as string, item.msgid];
			expect(namesOf(reference(own)), words).toEqual(namesOf(reference(words)));
			expect([own.match(/^\s*/)?.[0], own.match(/\s*$/)?.[0]], words).toEqual([words.match(/^\s*/)?.[0], words.match(/\s*$/)?.[0]]);
		}
	});
});

describe.each(languages() as string[])("the server’s catalogue %s", (language) => {
	it("is in the same form, and its words can stand for the English ones", () => {
		const items = catalogueOf(language, "server");
		expect(items.items.length).toBeGreaterThan(900);
		for (const { msgid, msgstr } of items.items) {
			// Of tags it knows nothing.
			const [english, own] = [msgid, msgstr[0] as string].map((words) => reference(words.replaceAll("<", "‹")));
			expect(namesOf(own), msgid).toEqual(namesOf(english));
		}
	});
});

describe("what is said", () => {
	afterEach(() => {
		globalThis.cohortiaWords = undefined;
	});

	it("is English where no other language was sent with the page", () => {
		expect(say("{n, plural, one {# code} other {# codes}}", { n: 1214 })).toBe("1,214 codes");
		expect(say("{n, plural, one {# code} other {# codes}}", { n: 1 })).toBe("1 code");
	});

	it("is in the language that was, with its numbers; what it lacks in English", () => {
		const of = (words: string) => reference(words);
		globalThis.cohortiaWords = {
			language: "de",
			messages: {
				"{n, plural, one {# code} other {# codes}}": of("{n, plural, one {# Code} other {# Codes}}"),
				"step\u0004Code": of("Codieren"),
				Code: of("Code"),
			} as never,
		};
		expect(say("{n, plural, one {# code} other {# codes}}", { n: 1214 })).toBe("1.214 Codes");
		expect([say("Code", undefined, "step"), say("Code"), say("Memo")]).toEqual(["Codieren", "Code", "Memo"]);
	});

	it.each(["en", "de"])("writes whole numbers as the browser does, in %s", (tag) => {
		globalThis.cohortiaWords = { language: tag, messages: {} };
		const reference = new Intl.NumberFormat(region());
		for (let n = 0; n <= 1001; n++) expect(say("{n, number}", { n })).toBe(reference.format(n));
		for (const n of [-1, 0.5, 12.25, 1e6]) expect(numberFormat().format(n)).toBe(reference.format(n));
	});

	it("may have drawn parts, which are given the words within as words", () => {
		const inner: unknown[] = [];
		phrase("Read <b>{name}</b> now", { name: "P1", b: (words) => inner.push(words) });
		expect(inner).toEqual(["P1"]);
	});
});
