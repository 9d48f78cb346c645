import { type QUESTION, SCOPE, type SHOWN } from "../api/grammar.gen";

/** How a part of what is asked is said; the server says which there are. */
export type Said = (typeof QUESTION | typeof SCOPE | typeof SHOWN)[number];
type Asked = Record<string, unknown>;

/** What an address says of these parts; null where it says nothing (or nothing that can be read), the usual where there is one. */
export function readAsked(parts: readonly Said[], params: URLSearchParams): Asked {
	const found: Asked = {};
	for (const part of parts) {
		if (part.way === "inner") continue;
		const text = part.address ? params.get(part.address) : null;
		found[part.name] = (text === null ? null : read(part, text)) ?? part.usual;
	}
	return found;
}

/** These parts as an address says them; null where it needn't. */
export function writtenAsked(parts: readonly Said[], asked: Asked): Record<string, string | null> {
	const found: Record<string, string | null> = {};
	for (const part of parts) {
		if (!part.address || !(part.name in asked)) continue;
		const words = written(part, asked[part.name]);
		// Two parts may share a word of the address: the first that has something to say says it.
		found[part.address] = found[part.address] ?? words;
	}
	return found;
}

/** Those that say something. */
export function onlySaid(parts: Record<string, string | null>): Record<string, string> {
	return Object.fromEntries(Object.entries(parts).filter((part): part is [string, string] => part[1] !== null));
}

/** A whole scope, as the API has it, for the address. */
export function scopeAddress(scope: object): Record<string, string> {
	return onlySaid(writtenAsked(SCOPE, scope as Asked));
}

function read(part: Said, text: string): unknown {
	switch (part.way) {
		case "ids":
			return numbers(text, ".");
		case "numbers":
			return numbers(text, "~");
		case "id":
			return Number(text) || null;
		case "count":
			return Math.max(0, Math.floor(Number(text) || 0));
		case "flag":
			return text === "1" ? true : text === "0" ? false : null;
		case "labels": {
			const found = json(text);
			return Array.isArray(found) ? found.map(String) : [];
		}
		case "condition": {
			const found = json(text) as { parts?: unknown } | null;
			return Array.isArray(found?.parts) && found.parts.length > 0 ? found : null;
		}
		default:
			return part.words.length === 0 || part.words.some((word) => word === text) ? text || null : null;
	}
}

function written(part: Said, value: unknown): string | null {
	if (value === null || value === undefined || value === part.usual) return null;
	switch (part.way) {
		case "ids":
			return (value as number[]).join(".");
		case "numbers":
			return (value as number[]).join("~");
		case "flag":
			return value ? "1" : "0";
		case "labels":
		case "condition":
			return JSON.stringify(value);
		default:
			return String(value);
	}
}

function numbers(text: string, between: string): number[] {
	return text.split(between).filter(Boolean).map(Number).filter(Number.isFinite);
}

function json(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}
