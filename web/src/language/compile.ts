/** Messages are written in ICU’s form, of which this reads what ours use: `{name}`, `{name, number}`, `{n, plural, one {# code}
 * other {# codes}}`, `{name, select, …}`, `<b>…</b>`. The whole form’s reader is ten times as large as the first view can bear; a
 * test holds this one to it (`icu-minify/compile`), message by message. */

/** Marks of the compiled form, which is icu-minify’s. */
const POUND = 0;
const MARKS: Record<string, number> = { select: 1, plural: 2, number: 4 };

export type Part = string | number | [string, ...unknown[]];

export function compile(message: string): string | Part[] {
	const reader = { text: message, at: 0 };
	const parts = partsAt(reader, false);
	if (reader.at < message.length) throw new Error(`A message ends too early: ${message}`);
	return parts.length === 0 ? "" : parts.length === 1 && typeof parts[0] === "string" ? parts[0] : parts;
}

type Reader = { text: string; at: number };

/** Up to what closes the part that it is in: a brace or a tag’s end. */
function partsAt(reader: Reader, counting: boolean): Part[] {
	const parts: Part[] = [];
	const { text } = reader;
	let plain = "";
	const put = (part: Part) => {
		if (plain) parts.push(plain);
		plain = "";
		parts.push(part);
	};
	while (reader.at < text.length) {
		const sign = text[reader.at] as string;
		if (sign === "}" || text.startsWith("</", reader.at)) break;
		if (sign === "{") put(valueAt(reader, counting));
		else if (sign === "<") put(tagAt(reader, counting));
		else {
			reader.at++;
			if (sign === "#" && counting) put(POUND);
			else plain += sign;
		}
	}
	if (plain) parts.push(plain);
	return parts;
}

function upTo(reader: Reader, signs: string): string {
	const start = reader.at;
	while (!signs.includes(reader.text[reader.at] as string))
		if (++reader.at >= reader.text.length) throw new Error(`A message isn’t closed: ${reader.text}`);
	return reader.text.slice(start, reader.at).trim();
}

function valueAt(reader: Reader, counting: boolean): Part {
	reader.at++;
	const name = upTo(reader, ",}");
	if (reader.text[reader.at++] === "}") return [name];
	const kind = upTo(reader, ",}");
	const mark = MARKS[kind];
	if (mark === undefined) throw new Error(`A message asks for what isn’t known, ${kind}: ${reader.text}`);
	if (reader.text[reader.at++] === "}") return [name, mark];
	const ways: Record<string, unknown> = Object.create(null);
	for (;;) {
		const way = upTo(reader, "{}");
		if (reader.text[reader.at++] === "}") return [name, mark, ways];
		const parts = partsAt(reader, counting || kind === "plural");
		reader.at++;
		const only = parts[0];
		ways[way] = parts.length === 0 ? "" : parts.length === 1 && !Array.isArray(only) ? only : parts;
	}
}

function tagAt(reader: Reader, counting: boolean): Part {
	reader.at++;
	const name = upTo(reader, ">");
	reader.at++;
	const inner = partsAt(reader, counting);
	if (!reader.text.startsWith(`</${name}>`, reader.at)) throw new Error(`A message isn’t closed: ${reader.text}`);
	reader.at += name.length + 3;
	return inner.length ? [name, ...inner] : [name, ""];
}
