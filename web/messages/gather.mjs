// Every message of the web's code, with the files that say it; and the catalogues in languages/*/web.po brought up to them.
//   node messages/gather.mjs           writes the catalogues: new messages with empty words, gone ones without
//   node messages/gather.mjs --check   says what isn't current
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import PO from "pofile";
import ts from "typescript";

const HERE = dirname(fileURLToPath(import.meta.url));
const SOURCE = join(HERE, "../src");
const LANGUAGES = join(HERE, "../../languages");
/** Between what a message means and its words, where two are the same in English. */
const APART = "\u0004";
export const keyOf = (item) => (item.msgctxt ? item.msgctxt + APART + item.msgid : item.msgid);
/** What takes a message first. */
const SAY = new Set(["say", "phrase", "message"]);

function* filesIn(folder) {
	for (const name of readdirSync(folder).sort()) {
		const path = join(folder, name);
		if (statSync(path).isDirectory()) yield* filesIn(path);
		else if (/\.tsx?$/.test(name) && !/\.test\.|\.gen\./.test(name)) yield path;
	}
}

/** Messages by their English words, each with the files that say it; places where what is said can't be known from the code; and
 * the values that each call gives, where they are written out there. */
export function gathered() {
	const messages = new Map();
	const unknown = [];
	const given = [];
	for (const path of filesIn(SOURCE)) {
		const file = relative(SOURCE, path);
		if (file.startsWith("tests/") || file.startsWith("language/")) continue;
		const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true);
		const visit = (node) => {
			if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && SAY.has(node.expression.text)) {
				const [first, , third] = node.arguments;
				const known = first && ts.isStringLiteralLike(first) && (!third || ts.isStringLiteralLike(third));
				const key = known && (third ? third.text + APART + first.text : first.text);
				const [, values] = node.arguments;
				if (known && node.expression.text !== "message" && !(values && !ts.isObjectLiteralExpression(values)))
					given.push({ file, words: first.text, names: (values?.properties ?? []).map((one) => one.name?.getText()) });
				if (known) messages.set(key, (messages.get(key) ?? new Set()).add(file));
				else unknown.push(`${file}: ${node.getText().slice(0, 80)}`);
			}
			ts.forEachChild(node, visit);
		};
		visit(source);
	}
	return { messages, unknown, given };
}

export const languages = () => readdirSync(LANGUAGES).filter((name) => existsSync(join(LANGUAGES, name, "web.po")));
export const catalogueOf = (language, side = "web") => PO.parse(readFileSync(join(LANGUAGES, language, `${side}.po`), "utf8"));

/** The catalogue of a language with just these messages, in the order of the files that say them. */
export function renewed(language, messages) {
	const before = catalogueOf(language);
	const known = new Map(before.items.map((item) => [keyOf(item), item]));
	before.items = [...messages].map(([key, files]) => {
		const item = known.get(key) ?? new PO.Item();
		const [words, meaning] = key.split(APART).reverse();
		item.msgid = words;
		item.msgctxt = meaning ?? null;
		item.references = [...files];
		return item;
	});
	return `${before.toString()}\n`;
}

/** Whether the catalogue is as {@link renewed} would write it. */
export const isCurrent = (language, messages) => renewed(language, messages) === readFileSync(join(LANGUAGES, language, "web.po"), "utf8");

if (process.argv[1] === fileURLToPath(import.meta.url)) {
	const { messages } = gathered();
	for (const language of languages()) {
		const path = join(LANGUAGES, language, "web.po");
		if (!process.argv.includes("--check")) writeFileSync(path, renewed(language, messages));
		else if (!isCurrent(language, messages)) {
			console.error(`The messages have changed: run bin/words and commit what it writes (languages/${language}/web.po).`);
			process.exitCode = 1;
		}
	}
}
