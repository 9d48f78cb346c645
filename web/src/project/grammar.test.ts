import { describe, expect, it } from "vitest";
import { QUESTION, SCOPE, SHOWN } from "../api/grammar.gen";
import { onlySaid, readAsked, type Said, scopeAddress, writtenAsked } from "./grammar";

const ALL: readonly Said[] = [...QUESTION, ...SHOWN];

/** Something that each way can say, other than what is usual. */
function another(part: Said): unknown {
	const words = part.words.filter((word) => word !== part.usual);
	const said: Record<Said["way"], unknown> = {
		ids: [7, 3],
		id: 12,
		labels: ["Holm, “east”", "Ytter & co", "2.5"],
		numbers: [18.5, -3],
		word: words.at(-1) ?? "2026-03-01",
		flag: !part.usual,
		count: 4,
		condition: { join: "all", parts: [{ variable: 1, is: ["a.b~c"] }] },
		inner: undefined,
	};
	return said[part.way];
}

const address = (parts: readonly Said[], asked: Record<string, unknown>) => new URLSearchParams(onlySaid(writtenAsked(parts, asked)));

describe("what is asked, in an address", () => {
	it("comes back as it was, part by part", () => {
		for (const parts of [ALL, SCOPE])
			for (const part of parts) {
				if (!part.address) continue;
				const said = another(part);
				const again = readAsked(parts, new URLSearchParams(address(parts, { [part.name]: said }).toString()));
				expect(again[part.name], part.name).toEqual(said);
			}
	});

	it("leaves out what is usual, and says nothing of what the address has no word for", () => {
		const usual = Object.fromEntries(ALL.map((part) => [part.name, part.usual]));
		expect(address(ALL, usual).toString()).toBe("");
		expect(address(ALL, { permutations: false, scope: { cases: [1] } }).toString()).toBe("");
	});

	it("has one word for what makes the groups", () => {
		expect(address(QUESTION, { columns: "variable", variable: 9 }).get("variable")).toBe("9");
		expect(address(QUESTION, { columns: "cohorts", variable: 9 }).get("variable")).toBe("cohorts");
		expect(readAsked(QUESTION, new URLSearchParams("variable=cohorts"))).toMatchObject({ columns: "cohorts", variable: null });
		expect(readAsked(QUESTION, new URLSearchParams("variable=9"))).toMatchObject({ columns: "variable", variable: 9 });
	});

	it("tells the codes in play from the codes in the rows, and nobody from everybody", () => {
		expect(scopeAddress({ codes: [4], cases: [] })).toEqual({ only: "4", cases: "" });
		expect(readAsked(SCOPE, new URLSearchParams("cases=&codes=5"))).toMatchObject({ cases: [], codes: null });
	});

	it("survives nonsense", () => {
		const nonsense = Object.fromEntries([...ALL, ...SCOPE].map((part) => [part.address, '{"[~.x'] as const));
		const found = readAsked([...ALL, ...SCOPE], new URLSearchParams(nonsense));
		for (const part of [...ALL, ...SCOPE]) {
			if (!part.address) continue;
			if (part.way === "ids" || part.way === "numbers" || part.way === "labels") expect(found[part.name], part.name).toEqual([]);
			else if (part.name === "since" || part.name === "until") expect(found[part.name]).toBeTypeOf("string");
			else expect(found[part.name], part.name).toBe(part.way === "count" ? 0 : part.usual);
		}
	});

	it("gives each part a word of its own, but for what makes the groups", () => {
		const words = [...ALL, ...SCOPE].map((part) => part.address).filter(Boolean);
		const twice = words.filter((word, at) => words.indexOf(word) !== at);
		expect(twice).toEqual(["variable"]);
	});
});
