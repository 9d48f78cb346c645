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
export const LANGUAGES = join(HERE, "../../languages");
/** What takes a message first. */
const SAY = new Set(["say", "phrase", "message"]);

function* filesIn(folder) {
	for (const name of readdirSync(folder).sort()) {
		const path = join(folder, name);
		if (statSync(path).isDirectory()) yield* filesIn(path);
		else if (/\.tsx?$/.test(name) && !/\.test\.|\.gen\./.test(name)) yield path;
	}
}

/** Messages by their English words, each with the files that say it; and places where what is said can't be known from the code. */
export function gathered() {
	const messages = new Map();
	const unknown = [];
	for (const path of filesIn(SOURCE)) {
		const file = relative(SOURCE, path);
		if (file.startsWith("tests/") || file.startsWith("language/")) continue;
		const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true);
		const visit = (node) => {
			if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && SAY.has(node.expression.text)) {
				const [first] = node.arguments;
				if (first && ts.isStringLiteralLike(first)) messages.set(first.text, (messages.get(first.text) ?? new Set()).add(file));
				else unknown.push(`${file}: ${node.getText().slice(0, 80)}`);
			}
			ts.forEachChild(node, visit);
		};
		visit(source);
	}
	return { messages, unknown };
}

export const languages = () => readdirSync(LANGUAGES).filter((name) => existsSync(join(LANGUAGES, name, "web.po")));
export const catalogueOf = (language) => PO.parse(readFileSync(join(LANGUAGES, language, "web.po"), "utf8"));

/** The catalogue of a language with just these messages, in the order of the files that say them. */
export function renewed(language, messages) {
	const before = catalogueOf(language);
	const known = new Map(before.items.map((item) => [item.msgid, item]));
	before.items = [...messages].map(([words, files]) => {
		const item = known.get(words) ?? new PO.Item();
		item.msgid = words;
		item.references = [...files];
		return item;
	});
	return `${before.toString()}\n`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
	const { messages } = gathered();
	for (const language of languages()) {
		const path = join(LANGUAGES, language, "web.po");
		const words = renewed(language, messages);
		if (!process.argv.includes("--check")) writeFileSync(path, words);
		else if (words !== readFileSync(path, "utf8")) {
			console.error(`The messages have changed: run bin/words and commit what it writes (languages/${language}/web.po).`);
			process.exitCode = 1;
		}
	}
}
