import { Fragment, type KeyboardEvent, type RefObject, useImperativeHandle, useMemo, useRef, useState } from "react";
import type { Code } from "../../codes/data";
import { matching, pathOf } from "../../codes/tree";
import { phrase, say } from "../../language/say";
import { keyOf } from "../../project/keymap";
import { capOf, type Doings, doKey, useCaps } from "../../project/keys";
import { codeColour } from "../../ui/palette";
import type { EndMove } from "./ends";

const SHOWN = 7;

/** What others may do with the line. */
export interface Line {
	focus: () => void;
	/** A key that was pressed elsewhere and is meant for the line. */
	press: (event: KeyboardEvent) => void;
}

/** A code that will be put on with the next, there already or still to be made. */
type Taken = { id: number; name: string; colour: number } | { id: null; name: string };

interface Props {
	line: RefObject<Line | null>;
	codes: Code[];
	pins: { key: number; code: number }[];
	recent: number[];
	/** What the codes will be put on: its words (empty for a picture), and what it is called; null is nothing. */
	words: string | null;
	chosen?: string;
	placeholder?: string;
	/** Codes that wait to be taken too. */
	proposed?: number[];
	/** What is said of codes on their way: nothing where all is saved. */
	saving: string;
	onPut: (codes: number[], newNames?: string[]) => void;
	onLeave: () => void;
	/** Moves an end of the passage in hand, where it may be moved. */
	onEnds?: ((move: EndMove) => void) | undefined;
	onKeys: () => void;
	onTurn?: () => void;
}

/** Select words, start typing, Enter. Always at the foot of the text. */
export function CodingLine({
	line,
	codes,
	pins,
	recent,
	words,
	chosen,
	placeholder,
	proposed = [],
	saving,
	onPut,
	onLeave,
	onEnds,
	onKeys,
	onTurn,
}: Props) {
	const [typed, setTyped] = useState("");
	const [focused, setFocused] = useState(false);
	const [at, setAt] = useState(0);
	const [taken, setTaken] = useState<Taken[]>([]);
	const input = useRef<HTMLInputElement>(null);
	const capOf = useCaps();
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	const leading = [...recent, ...pins.map((pin) => pin.code)];
	const isTaken = (code: Code) => taken.some((one) => one.id === code.id);
	const found = matching(codes, typed, leading)
		.filter((code) => !isTaken(code))
		.slice(0, SHOWN);
	const choice = found[Math.min(at, found.length - 1)];
	const isCalledSo = (code: { name: string }) => code.name.toLowerCase() === typed.trim().toLowerCase();
	const called = codes.find(isCalledSo);
	const exists = called !== undefined || taken.some(isCalledSo);
	const quoted = (words ?? "").replace(/\s+/g, " ").trim().slice(0, 80);
	/** Put on what was taken, with one more. */
	const put = (id: number | null, name = "") => {
		const ids = taken.flatMap((one) => one.id ?? []);
		const names = taken.flatMap((one) => (one.id === null ? one.name : []));
		onPut(id === null ? ids : [...ids, id], name ? [...names, name] : names);
		clear();
	};
	const clear = () => {
		setTyped("");
		setTaken([]);
		setAt(0);
	};
	/** Take the code in hand, or the name of one to be made, and go on with another. */
	const take = () => {
		if (choice) setTaken([...taken, choice]);
		else if (!exists) setTaken([...taken, { id: null, name: typed.trim() }]);
		setTyped("");
		setAt(0);
	};
	const offered = words === null ? [] : proposed.flatMap((id) => byId.get(id) ?? []).filter((code) => !isTaken(code));
	const takeProposed = () => setTaken([...taken, ...offered]);
	/** What the line's own keys do now; nothing where they are only typed. */
	const doings = (event: KeyboardEvent): Doings => {
		const pin = pins.find((one) => String(one.key) === event.key);
		return {
			...(typed === "" && {
				without: () => setTaken(taken.slice(0, -1)),
				ofWords: () => quoted && put(null, quoted),
				proposed: takeProposed,
				again: () => recent[0] !== undefined && put(recent[0]),
				...(pin && { pinned: () => put(pin.code) }),
			}),
			...(typed.trim() !== "" && { another: take }),
			nextCode: () => setAt(Math.min(at + 1, found.length - 1)),
			previousCode: () => setAt(Math.max(at - 1, 0)),
			make: () => {
				if (called) put(called.id);
				else if (typed.trim()) put(null, exists ? "" : typed.trim());
				else if (taken.length) put(null);
				else if (choice) put(choice.id);
			},
			put: () => {
				if (typed.trim() === "" && taken.length) put(null);
				else if (choice) put(choice.id);
				else if (typed.trim() && !exists) put(null, typed.trim());
			},
		};
	};
	const leave = () => {
		clear();
		onLeave();
	};
	const onKey = (event: KeyboardEvent) => {
		doKey(event.nativeEvent, { leaveLine: leave, ...(words !== null && doings(event)) });
	};
	useImperativeHandle(line, () => ({
		focus: () => input.current?.focus({ preventScroll: true }),
		press: (event) => {
			if (words !== null) doKey(event.nativeEvent, doings(event));
		},
	}));
	const open = focused && words !== null;
	return (
		<div className="relative shrink-0 border-t border-line bg-card px-4.5 pt-2 pb-2">
			{open && (
				<div className="absolute bottom-full left-4.5 mb-2 grid w-[716px] max-w-[calc(100%-36px)] grid-cols-[minmax(0,1fr)_280px] overflow-hidden max-[720px]:left-2 max-[720px]:max-w-[calc(100%-16px)] max-[720px]:grid-cols-1 rounded-[10px] border border-line bg-card shadow-[0_10px_30px_var(--color-shade)]">
					<div id="code-options" role="listbox" aria-label={say("Codes")}>
						{found.map((code, place) => (
							<button
								key={code.id}
								id={`option-${code.id}`}
								type="button"
								role="option"
								tabIndex={-1}
								aria-selected={code === choice}
								className={`flex w-full items-center gap-2 px-3 py-1.5 text-left text-[13.6px] ${code === choice ? "bg-spruce-soft font-semibold" : ""}`}
								onMouseDown={(event) => event.preventDefault()}
								onMouseEnter={() => setAt(place)}
								onClick={() => put(code.id)}
							>
								<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
								<span className="truncate">{code.name}</span>
								<span className="ml-auto truncate text-[12.2px] font-normal text-quiet">
									{[...pathOf(code, byId), say("{passages, plural, one {# passage} other {# passages}}", { passages: code.passages })].join(
										" · ",
									)}
								</span>
							</button>
						))}
						<div className="border-t border-line2 text-[13.4px] text-quiet">
							{typed.trim() && !exists && (
								<button
									type="button"
									tabIndex={-1}
									className="block w-full truncate px-3 py-1.5 text-left hover:bg-paper2"
									onMouseDown={(event) => event.preventDefault()}
									onClick={() => put(null, typed.trim())}
								>
									{phrase("New code “{typed}”  <part></part>", {
										typed: typed.trim(),
										part: () => <kbd>{found.length ? say("Shift Enter") : say("Enter")}</kbd>,
									})}
								</button>
							)}
							{!typed && quoted && (
								<button
									type="button"
									tabIndex={-1}
									className="block w-full truncate px-3 py-1.5 text-left hover:bg-paper2"
									onMouseDown={(event) => event.preventDefault()}
									onClick={() => put(null, quoted)}
								>
									{phrase("New code from their words: “{quoted}{which}”  <part></part>", {
										quoted: quoted.slice(0, 44),
										which: quoted.length > 44 ? "…" : "",
										part: () => <kbd>{capOf("ofWords")}</kbd>,
									})}
								</button>
							)}
						</div>
					</div>
					<div className="border-l border-line bg-paper max-[720px]:border-t max-[720px]:border-l-0 px-3.5 py-2.5 text-[12.8px] leading-snug">
						{choice ? <Definition code={choice} /> : <p className="text-quiet">{say("No code is called that yet.")}</p>}
					</div>
				</div>
			)}
			<div
				className={`flex items-center gap-2 max-[720px]:flex-wrap rounded-lg border-2 px-2.5 py-1 ${words === null ? "border-line" : "border-spruce"}`}
			>
				{words !== null && (
					<span className="rounded-[5px] bg-spruce-soft px-2 text-[13px] font-semibold whitespace-nowrap text-spruce">
						{chosen ??
							say("1 passage, {words, plural, one {# word} other {# words}}", { words: words.split(/\s+/).filter(Boolean).length })}
					</span>
				)}
				{taken.map((code) => (
					<span
						key={code.id ?? code.name}
						className="flex items-center gap-1 rounded-[5px] border border-line px-2 text-[13px] whitespace-nowrap"
					>
						{code.id === null ? (
							<span className="text-quiet">{say("new")}</span>
						) : (
							<span className="size-2.5 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
						)}
						{code.name}
						<button
							type="button"
							aria-label={say("Without {name}", { name: code.name })}
							className="sign text-quiet"
							onClick={() => setTaken(taken.filter((one) => one !== code))}
						>
							×
						</button>
					</span>
				))}
				{offered.length > 0 && (
					<button
						type="button"
						tabIndex={-1}
						title={say("Take the proposed codes too (the {key} key)", { key: capOf("proposed") })}
						className="max-w-64 truncate rounded-[5px] border border-dashed border-spruce px-2 text-[13px] text-spruce"
						onMouseDown={(event) => event.preventDefault()}
						onClick={takeProposed}
					>
						+ {offered.map((code) => code.name).join(", ")}
					</button>
				)}
				<input
					ref={input}
					role="combobox"
					data-line="coding"
					aria-label={say("Coding line")}
					aria-expanded={open}
					aria-controls="code-options"
					aria-activedescendant={open && choice ? `option-${choice.id}` : undefined}
					autoComplete="off"
					className="min-w-0 flex-1 bg-transparent text-[15px] outline-none max-[720px]:basis-48"
					placeholder={words === null ? (placeholder ?? say("Select words in the text, then type a code")) : say("Find or make a code")}
					value={typed}
					onFocus={() => setFocused(true)}
					onBlur={() => setFocused(false)}
					onChange={(event) => {
						setTyped(event.target.value);
						setAt(0);
					}}
					onKeyDown={onKey}
				/>
				<span className="shrink-0 text-[12.4px] text-quiet max-[720px]:hidden">
					{phrase("<key>Enter</key> put on  <key>Tab</key> and another  <key>Esc</key> leave", { key: (inner) => <kbd>{inner}</kbd> })}
				</span>
			</div>
			<div className="mt-1.5 flex items-center gap-1.5 overflow-hidden max-[720px]:flex-wrap text-[12.4px] text-quiet">
				<span className="flex min-w-0 items-center gap-1.5 overflow-hidden max-[720px]:flex-wrap">
					<span>{pins.length ? say("Pinned") : say("Nothing pinned yet: a code’s card puts it under 1 to 9")}</span>
					{pins.map((pin) => (
						<button
							key={pin.key}
							type="button"
							disabled={words === null}
							className="inline-flex items-center gap-1.5 rounded-full border border-line py-px pr-2 pl-1 whitespace-nowrap text-ink disabled:opacity-60"
							onMouseDown={(event) => event.preventDefault()}
							onClick={() => put(pin.code)}
						>
							<kbd>{pin.key}</kbd>
							{byId.get(pin.code)?.name}
						</button>
					))}
				</span>
				<span className="ml-auto shrink-0 whitespace-nowrap" role="status">
					{saving}
				</span>
				<span className="shrink-0 whitespace-nowrap">
					{onEnds && <Ends onEnds={onEnds} />}
					{phrase("Same as last <part></part>", { part: () => <kbd>{capOf("again")}</kbd> })}{" "}
					{onTurn && (
						<button type="button" className="hover:text-ink" onClick={onTurn}>
							{phrase("Whole turn <part></part>", { part: () => <kbd>{capOf("wholeTurn")}</kbd> })}
						</button>
					)}{" "}
					<button type="button" className="hover:text-ink" onClick={onKeys}>
						{phrase("Keys <part></part>", { part: () => <kbd>{capOf("help")}</kbd> })}
					</button>
				</span>
			</div>
		</div>
	);
}

const ENDS: [EndMove, string][] = [
	["beginningBack", "⇤"],
	["beginningOn", "⇥"],
	["endBack", "⇤"],
	["endOn", "⇥"],
];

/** The ends of the passage in hand, moved by clicks: what dragging them and Alt with arrows do (WCAG 2.5.7). */
function Ends({ onEnds }: { onEnds: (move: EndMove) => void }) {
	const said: Record<string, string> = { beginningBack: say("Begins"), endBack: say("Ends") };
	return (
		<span className="mr-2 inline-flex items-center gap-0.5">
			{ENDS.map(([move, sign]) => (
				<Fragment key={move}>
					{said[move] && <span className="ml-1">{said[move]}</span>}
					<button
						type="button"
						className="sign hover:text-ink"
						aria-label={keyOf(move).does()}
						title={`${keyOf(move).does()} (${capOf(move)})`}
						onMouseDown={(event) => event.preventDefault()}
						onClick={() => onEnds(move)}
					>
						{sign}
					</button>
				</Fragment>
			))}
		</span>
	);
}

export function Definition({ code }: { code: Code }) {
	return (
		<>
			<b className="mb-0.5 block">{code.name}</b>
			{code.definition || <span className="text-quiet">{say("No definition yet.")}</span>}
			{code.covers && (
				<span className="block">
					<span className="text-quiet">{say("Covers")}</span> {code.covers}
				</span>
			)}
			{code.excludes && (
				<span className="block">
					<span className="text-quiet">{say("Not")}</span> {code.excludes}
				</span>
			)}
			{code.example && <span className="mt-1 block text-quiet">{code.example}</span>}
		</>
	);
}
