import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useState } from "react";
import { useLocation } from "react-router";
import { useCodebook } from "../codes/data";
import { useDocuments } from "../gather/data";
import { Term } from "../help/Term";
import { phrase, say } from "../language/say";
import { useRoster } from "../people/data";
import { useProject } from "../project/project";
import { useScope, WHOLE } from "../project/scope";
import { LongList } from "../ui/LongList";
import { counted } from "../ui/words";
import { ScopeLeft, ScopeMore, WithMaterial } from "./ScopeMore";

interface Item {
	id: number;
	name: string;
	hint: string;
}

/** One sentence that says what is in play: people, code, compare and report obey it; gathering shows everything. */
export function ScopeLine() {
	const project = useProject();
	const here = useLocation().pathname;
	const obeyed = /\/projects\/\d+\/(people|code|compare|report)/.test(here);
	const { scope, change, narrowed } = useScope();
	const roster = useRoster().data;
	const documents = useDocuments().data;
	const codebook = useCodebook().data;
	const coders = codebook?.coders ?? [];
	if (here.endsWith("/bring-in")) return <Line>{say("Nothing is written before you say so, and the whole of it can be undone.")}</Line>;
	// Nothing is said of how many there are before it is known.
	if (!roster || !documents || (obeyed && !codebook)) return <Line>{say("Looking at …")}</Line>;
	const variables = roster.variables.slice(0, 3);
	const people: Item[] = roster.cases.map((row) => ({
		id: row.id,
		name: row.identifier,
		hint: variables
			.map((variable) => row.values[variable.id]?.text ?? "")
			.filter(Boolean)
			.join(" · "),
	}));
	const papers: Item[] = documents.map((row) => ({
		id: row.id,
		name: row.title,
		hint: say("{words, plural, one {# word} other {# words}}", { words: row.words }),
	}));
	const hands: Item[] = coders.map((row) => ({ id: row.id, name: row.display_name, hint: "" }));
	if (!obeyed)
		return (
			<Line>
				{phrase("Looking at <b>all {people}</b> and <b>all {documents, plural, one {# document} other {# documents}}</b>.", {
					b: (inner) => <b className="text-ink">{inner}</b>,
					people: counted(people.length, project.case_one, project.case_many),
					documents: papers.length,
				})}
			</Line>
		);
	const codes: Item[] = (codebook?.codes ?? []).map((row) => ({ id: row.id, name: row.name, hint: "" }));
	const parts: { key: "cases" | "documents" | "coders" | "codes"; items: Item[]; one: string; many: string }[] = [
		{ key: "cases", items: people, one: project.case_one, many: project.case_many },
		{ key: "documents", items: papers, one: say("document"), many: say("documents") },
		{ key: "codes", items: codes, one: say("code"), many: say("codes") },
		{ key: "coders", items: hands, one: say("coder"), many: say("coders") },
	];
	const out = parts.flatMap(({ key, items, one, many }) => {
		const left = scope[key] === null ? 0 : items.filter((item) => !scope[key]?.includes(item.id)).length;
		return left ? [counted(left, one, many)] : [];
	});
	return (
		<Line narrowed={narrowed}>
			<Term of="scope">{say("Looking at")}</Term>{" "}
			{parts.map(({ key, items, one, many }, place) => (
				<span key={key}>
					{place === 0 ? "" : place === parts.length - 1 ? say(" and ") : ", "}
					<Filter name={many} one={one} items={items} chosen={scope[key]} onChange={(ids) => change({ [key]: ids })} />
					{key === "cases" && (narrowed || here.includes("/compare")) && <WithMaterial />}
				</span>
			))}
			<ScopeMore cases={people.length} />.
			{narrowed && (
				<span className="float-right">
					<ScopeLeft out={out} />{" "}
					<button type="button" className="ml-2 font-semibold text-spruce hover:underline" onClick={() => change(WHOLE)}>
						{say("Clear")}
					</button>
				</span>
			)}
		</Line>
	);
}

function Line({ narrowed = false, children }: { narrowed?: boolean; children: React.ReactNode }) {
	return (
		<section
			aria-label={say("Scope")}
			className={`flex min-h-9 shrink-0 items-center gap-1 border-b border-line px-4.5 py-1 text-quiet ${narrowed ? "bg-apricot-soft text-ink" : "bg-paper2 print:hidden"}`}
		>
			<div className="w-full">{children}</div>
		</section>
	);
}

function Filter({
	name,
	one,
	items,
	chosen,
	onChange,
}: {
	name: string;
	one: string;
	items: Item[];
	chosen: number[] | null;
	onChange: (ids: number[] | null) => void;
}) {
	const [words, setWords] = useState("");
	const on = new Set(chosen ?? items.map((item) => item.id));
	const count = items.filter((item) => on.has(item.id)).length;
	const shown = items.filter((item) => `${item.name} ${item.hint}`.toLowerCase().includes(words.toLowerCase()));
	const set = (ids: Set<number>) => onChange(ids.size === items.length ? null : items.map((item) => item.id).filter((id) => ids.has(id)));
	return (
		<Popover className="inline">
			<PopoverButton className="border-b border-dashed border-edge font-semibold text-ink">
				{chosen === null
					? items.length === 2
						? say("both {name}", { name })
						: say("{items, plural, one {the one {one}} other {all {counted}}}", {
								items: items.length,
								one,
								counted: counted(items.length, one, name),
							})
					: say("{count} of {items}", { count, items: counted(items.length, one, name) })}
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-40 flex max-h-96 w-80 flex-col rounded-lg border border-line bg-card p-2 text-ink shadow-lg"
			>
				<input
					aria-label={say("Filter {name} by name or value", { name })}
					autoFocus
					placeholder={say("By name or value, such as Holm")}
					className="field mb-2"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<div className="mb-1 flex gap-3 px-1 text-[12.6px] font-semibold text-spruce">
					<button type="button" className="hover:underline" onClick={() => onChange(null)}>
						{say("All")}
					</button>
					<button type="button" className="hover:underline" onClick={() => set(new Set(shown.map((item) => item.id)))}>
						{say("Only the {shown} listed", { shown: shown.length })}
					</button>
					<button
						type="button"
						className="hover:underline"
						onClick={() => {
							const listed = new Set(shown.map((item) => item.id));
							set(new Set([...on].filter((id) => !listed.has(id))));
						}}
					>
						{say("Without these")}
					</button>
				</div>
				<LongList rows={shown} height={26}>
					{(item) => (
						<label key={item.id} className="flex h-[26px] cursor-pointer items-center gap-2 rounded px-1 hover:bg-paper2">
							<input
								type="checkbox"
								className="accent-spruce"
								checked={on.has(item.id)}
								onChange={(event) => {
									const next = new Set(on);
									if (event.target.checked) next.add(item.id);
									else next.delete(item.id);
									set(next);
								}}
							/>
							<span className="shrink-0">{item.name}</span>
							<span className="ml-auto truncate quiet-line">{item.hint}</span>
						</label>
					)}
				</LongList>
			</PopoverPanel>
		</Popover>
	);
}
