import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { type ReactNode, useMemo, useRef, useState } from "react";
import type { Code } from "../../codes/data";
import { KINDS } from "../../codes/kinds";
import { type Branch, branches, flat, wordsOf } from "../../codes/tree";
import { useThemes } from "../../coding/overview";
import { say } from "../../language/say";
import { codeColour } from "../../ui/palette";
import { useLong } from "../../ui/virtual";
import { useQueries } from "../passages/searches";

interface Props {
	codes: Code[];
	chosen: number[];
	themes: number[];
	queries: number[];
	label: string;
	onChange: (part: Record<string, string | null>) => void;
}

const LINK = "hover:underline";

/** What makes the rows: codes in the order of the codebook, by level or one by one; themes; saved queries. */
export function Rows({ codes, chosen, themes, queries, label, onChange }: Props) {
	const [words, setWords] = useState("");
	const rows = useMemo(() => flat(branches(codes)), [codes]);
	const held = useThemes().data?.themes ?? [];
	const saved = useQueries().data ?? [];
	const on = new Set(chosen);
	const set = (next: Set<number>) =>
		onChange({
			codes: rows
				.map((row) => row.code.id)
				.filter((id) => next.has(id))
				.join("."),
		});
	const fits = (name: string) => name.toLowerCase().includes(words.toLowerCase());
	const levels = [...new Set(rows.map((row) => row.depth))].sort();
	return (
		<Popover className="inline">
			<PopoverButton className="token inline text-left">{label}</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-40 flex max-h-[460px] w-[26rem] flex-col rounded-lg border border-line bg-card p-2 font-sans text-[13.4px] shadow-lg"
			>
				<input
					aria-label={say("Find codes")}
					autoFocus
					placeholder={say("Find codes, themes, saved queries")}
					className="field mb-2"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<div className="mb-1 flex flex-wrap gap-x-3 px-1 text-[12.6px] font-semibold text-spruce">
					<button type="button" className={LINK} onClick={() => set(new Set(rows.map((row) => row.code.id)))}>
						{say("All codes")}
					</button>
					{levels.map((level) => (
						<button
							key={level}
							type="button"
							className={LINK}
							onClick={() => set(new Set(rows.filter((row) => row.depth === level).map((row) => row.code.id)))}
						>
							{level === 0 ? say("Top level") : say("Level {level}", { level: level + 1 })}
						</button>
					))}
					{(["describing", "interpreting"] as const)
						.filter((kind) => rows.some((row) => row.code.kind === kind))
						.map((kind) => (
							<button
								key={kind}
								type="button"
								className={LINK}
								onClick={() => set(new Set(rows.filter((row) => row.code.kind === kind).map((row) => row.code.id)))}
							>
								{say("Those {kind}", { kind: KINDS[kind] })}
							</button>
						))}
					<button type="button" className={LINK} onClick={() => onChange({ codes: "", themes: null, queries: null })}>
						{say("None")}
					</button>
				</div>
				<CodesToTick rows={rows.filter((row) => wordsOf(row.code).includes(words.toLowerCase()))} on={on} onSet={set}>
					<Others
						title={say("Themes")}
						sign="❖"
						items={held.filter((one) => fits(one.name))}
						chosen={themes}
						onChange={(ids) => onChange({ themes: ids })}
					/>
					<Others
						title={say("Saved queries")}
						sign="?"
						items={saved.filter((one) => fits(one.name))}
						chosen={queries}
						onChange={(ids) => onChange({ queries: ids })}
					/>
				</CodesToTick>
			</PopoverPanel>
		</Popover>
	);
}

/** The codes, and after them what else there is to tick. */
function CodesToTick({
	rows,
	on,
	onSet,
	children: others,
}: {
	rows: Branch[];
	on: ReadonlySet<number>;
	onSet: (next: Set<number>) => void;
	children: ReactNode;
}) {
	const frame = useRef<HTMLDivElement>(null);
	const drawn = useLong(rows.length, frame, 26);
	return (
		<div ref={frame} className="overflow-auto">
			<div style={{ height: drawn.before }} />
			{drawn.items.map(({ index }) => {
				const { code, depth, children } = rows[index] as (typeof rows)[number];
				return (
					<div
						key={code.id}
						className="flex h-[26px] items-center gap-2 rounded px-1 hover:bg-paper2"
						style={{ paddingLeft: 4 + depth * 18 }}
					>
						<label className="flex min-w-0 flex-1 cursor-pointer items-center gap-2 py-0.5">
							<input
								type="checkbox"
								className="accent-spruce"
								checked={on.has(code.id)}
								onChange={(event) => {
									const next = new Set(on);
									if (event.target.checked) next.add(code.id);
									else next.delete(code.id);
									onSet(next);
								}}
							/>
							<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
							<span className="truncate">{code.name}</span>
							{code.kind && <span className="ml-auto quiet-line">{KINDS[code.kind]}</span>}
						</label>
						{children.length > 0 && (
							<button
								type="button"
								className="text-[12px] font-semibold text-spruce hover:underline"
								onClick={() => onSet(new Set(children.map((child) => child.code.id)))}
							>
								{say("only those beneath")}
							</button>
						)}
					</div>
				);
			})}
			<div style={{ height: drawn.after }} />
			{others}
		</div>
	);
}

function Others({
	title,
	sign,
	items,
	chosen,
	onChange,
}: {
	title: string;
	sign: string;
	items: { id: number; name: string }[];
	chosen: number[];
	onChange: (ids: string | null) => void;
}) {
	if (!items.length) return null;
	return (
		<fieldset className="mt-1 border-t border-line2 pt-1">
			<legend className="float-left mb-0.5 w-full px-1 text-[12.6px] font-semibold text-quiet">{title}</legend>
			{items.map((item) => (
				<label key={item.id} className="flex min-h-[26px] cursor-pointer items-center gap-2 rounded px-1 hover:bg-paper2">
					<input
						type="checkbox"
						className="accent-spruce"
						checked={chosen.includes(item.id)}
						onChange={(event) => {
							const next = event.target.checked ? [...chosen, item.id] : chosen.filter((id) => id !== item.id);
							onChange(next.length ? next.join(".") : null);
						}}
					/>
					<span className="w-2.5 text-center text-[11px] text-quiet">{sign}</span>
					<span className="truncate">{item.name}</span>
				</label>
			))}
		</fieldset>
	);
}
