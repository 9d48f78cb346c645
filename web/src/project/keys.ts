import { useEffect, useSyncExternalStore } from "react";
import { matchKeybindingPress, parseKeybinding } from "tinykeys";
import { say } from "../language/say";
import { useStable } from "../ui/stable";
import { KEY_NAMES, type KeyName, keyOf } from "./keymap";

/** What somebody chose of the single keys. Of this browser, not of an account: it goes with the hands, not the name. */
interface Chosen {
	/** Whether letters, digits and signs do something by themselves (WCAG 2.1.4): whoever speaks to their computer, or touches keys by chance, turns them off. */
	on: boolean;
	instead: Partial<Record<KeyName, string>>;
}

const KEPT = "cohortia keys";
const watching = new Set<() => void>();
let chosen = kept();

function kept(): Chosen {
	try {
		const found = JSON.parse(window.localStorage.getItem(KEPT) ?? "{}") as Partial<Chosen>;
		return { on: found.on !== false, instead: found.instead ?? {} };
	} catch {
		return { on: true, instead: {} };
	}
}

function keep(next: Chosen) {
	chosen = next;
	window.localStorage.setItem(KEPT, JSON.stringify(next));
	for (const changed of watching) changed();
}

function watch(changed: () => void): () => void {
	watching.add(changed);
	// Another page of the same browser has changed them.
	const elsewhere = (event: StorageEvent) => {
		if (event.key !== KEPT) return;
		chosen = kept();
		changed();
	};
	window.addEventListener("storage", elsewhere);
	return () => {
		watching.delete(changed);
		window.removeEventListener("storage", elsewhere);
	};
}

/** The keys as they are chosen; whoever shows one is drawn again when it changes. */
export function useKeys(): Chosen {
	return useSyncExternalStore(watch, () => chosen);
}

export function turnSingleKeys(on: boolean): void {
	keep({ ...chosen, on });
}

export function resetKeys(): void {
	keep({ ...chosen, instead: {} });
}

/** Give a single key another letter or sign; why it can't be, or null where it is. */
export function changeKey(name: KeyName, key: string): string | null {
	const refused = whyNot(name, key);
	if (refused === null) keep({ ...chosen, instead: { ...chosen.instead, [name]: key.toLowerCase() } });
	return refused;
}

function whyNot(name: KeyName, key: string): string | null {
	if ([...key].length !== 1 || key === " ") return say("That isn’t a letter or a sign: choose one that is typed by itself.");
	if (/[1-9]/.test(key)) return say("1 to 9 put pinned codes on: choose another.");
	if (keyOf(name).single === "sign" && /[\p{L}\p{N}]/u.test(key)) return say("Letters and digits are typed to find a code: choose a sign.");
	const lower = key.toLowerCase();
	// A letter goes with Alt too.
	const taken = (one: KeyName) => (keyOf(one).single ? singleOf(one) === lower : keyOf(one).keys.includes(`Alt+${lower}`));
	const other = KEY_NAMES.find((one) => one !== name && taken(one));
	return other
		? say("{key} does something else already: “{does}”. Change that first.", { key: key.toUpperCase(), does: keyOf(other).does() })
		: null;
}

/** The letter or sign of a single key now. */
export function singleOf(name: KeyName): string {
	return chosen.instead[name] ?? (keyOf(name).keys[0] as string);
}

type Pressed = Pick<KeyboardEvent, "key" | "code" | "getModifierState">;

/** Whether an event is this key; while letters are typed, since words are chosen, a letter goes with Alt. */
export function isKey(event: Pressed, name: KeyName, typing = false): boolean {
	return patternsOf(name, typing).some((pattern) => matchKeybindingPress(event as KeyboardEvent, pressOf(pattern)));
}

type Press = Parameters<typeof matchKeybindingPress>[1];
const presses = new Map<string, Press>();

/** Read once: every key that is pressed is held against some thirty of them. */
function pressOf(pattern: string): Press {
	const known = presses.get(pattern) ?? (parseKeybinding(pattern)[0] as Press);
	presses.set(pattern, known);
	return known;
}

function patternsOf(name: KeyName, typing: boolean): string[] {
	const key = keyOf(name);
	if (name === "pinned") return chosen.on ? key.keys : [];
	if (!key.single) return key.keys;
	const one = singleOf(name);
	if (key.single === "letter") return chosen.on && !typing ? [`[Shift]+[Alt]+${one}`] : [`Alt+${one}`];
	// Where a sign stands on the keyboard, with Shift or AltGr or by itself, is the keyboard's.
	return chosen.on ? [`[Shift]+${one}`, `AltGraph+[Shift]+${one}`] : [];
}

export type Doings = Partial<Record<KeyName, () => void>>;

/** Do what the key means here, if anything; then nothing else is done with it. */
export function doKey(event: Pressed & { preventDefault: () => void }, doings: Doings, typing = false): boolean {
	const does = (Object.keys(doings) as KeyName[]).find((name) => isKey(event, name, typing));
	if (!does) return false;
	event.preventDefault();
	doings[does]?.();
	return true;
}

/** Keys of the whole page, as long as what asks for them stands. */
export function usePageKeys(doings: Doings, unless?: (event: KeyboardEvent) => boolean): void {
	const listen = useStable((event: KeyboardEvent) => {
		if (!event.defaultPrevented && !unless?.(event)) doKey(event, doings);
	});
	useEffect(() => {
		window.addEventListener("keydown", listen);
		return () => window.removeEventListener("keydown", listen);
	}, [listen]);
}

const LINE: KeyName[] = ["pinned", "again", "proposed", "ofWords"];

/** Where words, answers or a region are chosen, letters and signs are meant for the coding line: typed there, or told to it where
 * they do something there, and so mustn’t be typed into it. */
export function passOn<Event extends { nativeEvent: KeyboardEvent }>(event: Event, onType: (key?: Event) => void): void {
	const { nativeEvent: pressed } = event;
	const { key, ctrlKey, metaKey, altKey } = pressed;
	const typed = key.length === 1 && key !== " " && !ctrlKey && !metaKey && !altKey;
	if (!typed || !chosen.on || isKey(pressed, "help")) return;
	const ofLine = LINE.some((name) => isKey(pressed, name));
	if (ofLine) pressed.preventDefault();
	onType(ofLine ? event : undefined);
}

const CAPS: Record<string, () => string> = {
	Shift: () => say("Shift"),
	$mod: () => (/Mac|iP/.test(window.navigator.platform) ? "⌘" : say("Ctrl")),
	Control: () => say("Ctrl"),
	Enter: () => say("Enter"),
	Space: () => say("Space"),
	Escape: () => say("Esc"),
	Backspace: () => say("Backspace"),
	Home: () => say("Home"),
	End: () => say("End"),
	PageDown: () => say("Page ↓"),
	PageUp: () => say("Page ↑"),
	ArrowRight: () => "→",
	ArrowLeft: () => "←",
	ArrowDown: () => "↓",
	ArrowUp: () => "↑",
	"(Arrow.+)": () => say("arrows"),
	"([1-9])": () => "1 … 9",
};

/** What is written on keys, for what shows some that can be others: it is drawn again when they are. */
export function useCaps(): (name: KeyName) => string {
	useKeys();
	return capOf;
}

/** What is written on the key: "Shift →", "T". */
export function capOf(name: KeyName): string {
	const key = keyOf(name);
	return (key.single ? [singleOf(name)] : key.keys.slice(0, name === "redo" ? 2 : 1)).map(written).join(", ");
}

function written(pattern: string): string {
	return pattern
		.split(/(?<=[\w)])\+/)
		.map((part) => CAPS[part]?.() ?? (part.length === 1 ? part.toUpperCase() : part))
		.join(" ");
}
