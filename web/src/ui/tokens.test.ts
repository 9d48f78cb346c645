import { describe, expect, it } from "vitest";
import written from "./tokens.css?raw";

const SOURCES = import.meta.glob<string>("../**/*.{ts,tsx,css}", { query: "?raw", import: "default", eager: true });
const TOKENS = new Map(
	[...written.matchAll(/--color-([\w-]+): (?:light-dark\((#\w{6}), (#\w{6})\)|(#\w{6}));/g)].map(
		([, name = "", light, dark, both]) => [name, { light: light ?? both ?? "", dark: dark ?? both ?? "" }] as const,
	),
);

type Theme = "light" | "dark";

/** Relative luminance and contrast, as WCAG 2.2 defines them. */
function luminance(colour: string): number {
	const [red = 0, green = 0, blue = 0] = (colour.match(/\w\w/g) ?? [])
		.map((part) => Number.parseInt(part, 16) / 255)
		.map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
	return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

function contrast(one: string, other: string, theme: Theme): number {
	const [low = 0, high = 0] = [one, other].map((name) => luminance(TOKENS.get(name)?.[theme] ?? "")).sort((a, b) => a - b);
	return (high + 0.05) / (low + 0.05);
}

const numbered = (name: string, many: number) => Array.from({ length: many }, (_, at) => `${name}-${at}`);
const GROUNDS = ["paper", "paper2", "card"];
const AMOUNTS = ["amount-1", "amount-2", "amount-3", "amount-4", "below", "below-more", "above", "above-more"];

/** What is read, on what it is read (1.4.3: at least 4.5 to 1). */
const READ: [string[], string[]][] = [
	[["ink", "ink-soft", "quiet", "absent", "voice", "spruce", "apricot-deep", "danger"], GROUNDS],
	[
		["ink", "ink-soft"],
		[...AMOUNTS, "chosen", "hit", "track", "spruce-soft", "apricot-soft", "danger-soft", "frost"],
	],
	[["spruce", "quiet"], ["spruce-soft"]],
	[["apricot-deep", "quiet", "spruce"], ["apricot-soft"]],
	[["danger"], ["danger-soft"]],
	[["on-spruce"], ["spruce", "spruce-deep"]],
	[["frost-deep"], ["frost"]],
	[["moss", ...numbered("group", 8)], ["card"]],
];

/** What has to be seen to know what is there (1.4.11: at least 3 to 1). */
const SEEN: [string[], string[]][] = [
	[
		["edge", "spruce", "apricot"],
		["paper", "card"],
	],
	[["bar"], ["card"]],
	[["hit-line"], ["hit"]],
	[numbered("code", 16), ["paper", "card"]],
];

describe.each(["light", "dark"] as const)("colours, %s", (theme) => {
	const short = (pairs: [string[], string[]][], least: number) =>
		pairs.flatMap(([ones, others]) =>
			ones.flatMap((one) =>
				others
					.filter((other) => contrast(one, other, theme) < least)
					.map((other) => `${one} on ${other}: ${contrast(one, other, theme).toFixed(2)}`),
			),
		);

	it("can be read", () => expect(short(READ, 4.5)).toEqual([]));
	it("can be told from what they stand on", () => expect(short(SEEN, 3)).toEqual([]));
});

describe("colours", () => {
	it("measure as WCAG says", () => {
		// Black on white, 21 to 1; #777777 on white, 4.48 to 1: common practice, from memory.
		expect((luminance("#ffffff") + 0.05) / (luminance("#000000") + 0.05)).toBeCloseTo(21, 5);
		expect(1.05 / (luminance("#777777") + 0.05)).toBeCloseTo(4.48, 2);
		expect(TOKENS.size).toBeGreaterThan(60);
	});

	it("are written down in one place only", () => {
		const own = Object.entries(SOURCES).filter(([name]) => !/\.test\.|\.gen\.|\/tests\/|tokens\.css$/.test(name));
		const found = own.flatMap(([name, said]) =>
			(said.match(/#[0-9a-f]{6,8}\b|#[0-9a-f]{3}\b(?=["'\]])|\b(?:bg|text|border|fill|stroke)-(?:white|black)\b|\brgba?\(\d/gi) ?? []).map(
				(colour) => `${name}: ${colour}`,
			),
		);
		expect(found).toEqual([]);
		expect(own.length).toBeGreaterThan(150);
	});

	it("that are named are there", () => {
		const named = Object.values(SOURCES).flatMap((said) =>
			[...said.matchAll(/var\(--color-([a-z0-9-]+)\)/g)].map(([, token = ""]) => token),
		);
		expect([...new Set(named)].filter((token) => !written.includes(`--color-${token}: `))).toEqual([]);
	});
});
