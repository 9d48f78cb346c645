import { afterEach, expect, it } from "vitest";
import { KEY_NAMES, keyOf } from "./keymap";
import { capOf, changeKey, isKey, resetKeys, turnSingleKeys } from "./keys";

function pressed(key: string, ...held: string[]) {
	const code = key === " " ? "Space" : key;
	return { key, code, getModifierState: (name: string) => held.includes(name) } as KeyboardEvent;
}

afterEach(() => {
	turnSingleKeys(true);
	resetKeys();
});

it("means one thing by each key in each place", () => {
	const everywhere = KEY_NAMES.filter((name) => keyOf(name).where === "everywhere");
	for (const where of new Set(KEY_NAMES.map((name) => keyOf(name).where))) {
		const here = KEY_NAMES.filter((name) => keyOf(name).where === where).concat(where === "everywhere" ? [] : everywhere);
		const keys = here.flatMap((name) => keyOf(name).keys);
		expect(keys.filter((key, at) => keys.indexOf(key) !== at)).toEqual([]);
	}
});

it("writes keys as they stand on the keyboard", () => {
	expect(capOf("longer")).toBe("Shift →");
	expect(capOf("redo")).toBe("Ctrl Shift Z, Ctrl Y");
	expect(capOf("pinned")).toBe("1 … 9");
	expect(capOf("resizeRegionFinely")).toBe("Alt Shift arrows");
	expect(capOf("proposed")).toBe("+");
	expect(capOf("tick")).toBe("Space");
});

it("tells keys apart by what is held with them", () => {
	expect(isKey(pressed("ArrowRight", "Shift"), "longer")).toBe(true);
	expect(isKey(pressed("ArrowRight", "Shift"), "nextWord")).toBe(false);
	expect(isKey(pressed("z", "Control"), "undo")).toBe(true);
	expect(isKey(pressed("Z", "Control", "Shift"), "undo")).toBe(false);
	expect(isKey(pressed("Z", "Control", "Shift"), "redo")).toBe(true);
	expect(isKey(pressed("ArrowUp", "Alt", "Shift"), "resizeRegionFinely")).toBe(true);
});

it("takes a sign wherever a keyboard has it", () => {
	for (const held of [[], ["Shift"], ["AltGraph"]]) expect(isKey(pressed("[", ...held), "previousPassage")).toBe(true);
	expect(isKey(pressed("?", "Shift"), "help")).toBe(true);
	expect(isKey(pressed("[", "Control"), "previousPassage")).toBe(false);
});

it("leaves letters alone while they are typed, but with Alt", () => {
	expect(isKey(pressed("u"), "uncoded")).toBe(true);
	expect(isKey(pressed("u"), "uncoded", true)).toBe(false);
	expect(isKey(pressed("u", "Alt"), "uncoded", true)).toBe(true);
});

it("knows no single keys once they are off", () => {
	turnSingleKeys(false);
	for (const [key, name] of [
		["u", "uncoded"],
		["+", "proposed"],
		["4", "pinned"],
		["?", "help"],
	] as const)
		expect(isKey(pressed(key), name)).toBe(false);
	expect(isKey(pressed("u", "Alt"), "uncoded")).toBe(true);
	expect(isKey(pressed("ArrowDown"), "nextTurn")).toBe(true);
});

it("keeps what was chosen in the browser, and refuses what means something", () => {
	expect(changeKey("uncoded", "N")).toBeNull();
	expect(isKey(pressed("n"), "uncoded")).toBe(true);
	expect(isKey(pressed("u"), "uncoded")).toBe(false);
	expect(JSON.parse(window.localStorage.getItem("cohortia keys") ?? "")).toEqual({ on: true, instead: { uncoded: "n" } });
	expect(changeKey("sameCode", "n")).toContain("Go to the next turn without a code");
	// What it was is free now.
	expect(changeKey("sameCode", "u")).toBeNull();
	// With Alt, as a letter goes while words are chosen, P plays already.
	expect(changeKey("sameSpeaker", "p")).toContain("Play or pause");
	expect(changeKey("again", "Enter")).toContain("isn’t a letter or a sign");
});
