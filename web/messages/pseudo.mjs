// A made-up language a third longer, in letters of its own between brackets of its own: what stands on a page otherwise is in no
// catalogue, and what is cut is too narrow for other languages. Written as the script that a page is sent with.
import compile from "icu-minify/compile";
import { gathered } from "./gather.mjs";

const LETTERS = new Map(Object.entries({ a: "á", e: "é", i: "í", o: "ó", u: "ú", c: "ç", n: "ñ", y: "ý", A: "Á", E: "É", I: "Í", O: "Ó", U: "Ú" }));

const other = (text) => [...text].map((letter) => LETTERS.get(letter) ?? letter).join("");

/** The compiled form in the other letters; what comes after a tag's name are its parts, after a kind's mark its ways. */
function strange(part) {
	if (typeof part === "string") return other(part);
	if (!Array.isArray(part)) return part;
	const [name, ...rest] = part;
	return [name, ...rest.map((one) => (one && typeof one === "object" && !Array.isArray(one) ? ways(one) : strange(one)))];
}

const ways = (known) => Object.fromEntries(Object.entries(known).map(([way, parts]) => [way, Array.isArray(parts) ? parts.map(strange) : strange(parts)]));

/** A third of it, in pieces that may break as words do. */
const more = (length) => "~~~~ ".repeat(Math.ceil(length / 15)).slice(0, Math.ceil(length / 3));

const messages = {};
for (const key of gathered().messages.keys()) {
	const words = key.split("\u0004").at(-1);
	const parts = [compile(words)].flat();
	const blanks = [words.match(/^\s*/)[0], words.match(/\s*$/)[0]];
	messages[key] = [`${blanks[0]}⟦`, ...parts.map(strange), `${more(words.replace(/[{<][^{}<>]*[}>]/g, "").length)}⟧${blanks[1]}`];
}
console.log(`globalThis.cohortiaWords=${JSON.stringify({ language: "en-XA", messages })};`);
