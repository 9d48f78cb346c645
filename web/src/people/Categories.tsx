import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import type { Shape } from "../api/client";
import { say } from "../language/say";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Modal } from "../ui/Modal";
import { type Case, usePeopleWrites, type Variable } from "./data";
import { EditableText } from "./editing";
import { REASONS, reasonOf } from "./kinds";

/** Values in order with their counts: renamed in place, moved, merged, split, or made missing. */
export function Categories({ variable, cases }: { variable: Variable; cases: Case[] }) {
	const { case_many } = useProject();
	const mayCode = useMayCode() && variable.definition === null;
	const { changeVariable, changeCategories } = usePeopleWrites();
	const [ticked, setTicked] = useState<string[]>([]);
	const [splitting, setSplitting] = useState<string | null>(null);
	const grouped = variable.kind === "category" || variable.kind === "ordered";
	const most = Math.max(1, ...variable.bars.map((bar) => bar.count));
	const chosen = ticked.filter((label) => variable.categories.includes(label));
	const move = (from: number, by: number) => {
		const order = [...variable.categories];
		const [label] = order.splice(from, 1);
		order.splice(from + by, 0, label as string);
		changeVariable.mutate({ id: variable.id, order });
	};
	const change = (said: Omit<Shape<"CategoriesInRequest">, "cases" | "reason" | "name"> & Partial<Shape<"CategoriesInRequest">>) => {
		changeCategories.mutate({ id: variable.id, name: "", cases: [], reason: "unknown", ...said });
		setTicked([]);
	};
	return (
		<>
			<table className="mt-4 w-full text-[13.2px]">
				<caption className="mb-1 text-left text-[12.8px] font-semibold">{say("How the {many} spread", { many: case_many })}</caption>
				<tbody>
					{variable.bars.map((bar, place) => (
						<tr key={bar.label} className="border-b border-line2">
							{grouped && mayCode && (
								<td className="w-6">
									<input
										type="checkbox"
										className="accent-spruce"
										aria-label={say("Choose {label}", { label: bar.label })}
										checked={chosen.includes(bar.label)}
										onChange={(event) =>
											setTicked(event.target.checked ? [...chosen, bar.label] : chosen.filter((one) => one !== bar.label))
										}
									/>
								</td>
							)}
							<td className="py-1 pr-2">
								{grouped && mayCode ? (
									<EditableText
										label={say("Label of {label}", { label: bar.label })}
										value={bar.label}
										disabled={false}
										onSave={(name) => change({ do: "rename", labels: [bar.label], name })}
									/>
								) : (
									bar.label
								)}
							</td>
							<td className="w-20">
								<span className="block h-2 rounded-sm bg-bar" style={{ width: `${(100 * bar.count) / most}%` }} />
							</td>
							<td className="w-8 pl-2 text-right">{bar.count}</td>
							{grouped && mayCode && (
								<td className="w-12 pl-1 text-right whitespace-nowrap">
									<button
										type="button"
										aria-label={say("Move {label} up", { label: bar.label })}
										disabled={place === 0}
										className="sign text-quiet hover:text-ink disabled:opacity-20"
										onClick={() => move(place, -1)}
									>
										<ArrowUp size={13} />
									</button>
									<button
										type="button"
										aria-label={say("Move {label} down", { label: bar.label })}
										disabled={place === variable.bars.length - 1}
										className="sign text-quiet hover:text-ink disabled:opacity-20"
										onClick={() => move(place, 1)}
									>
										<ArrowDown size={13} />
									</button>
								</td>
							)}
						</tr>
					))}
					{variable.missing.map((bar) => (
						<tr key={bar.label} className="border-b border-line2 text-absent italic">
							{grouped && mayCode && <td />}
							<td className="py-1">{reasonOf(bar.label)}</td>
							<td />
							<td className="text-right">{bar.count}</td>
						</tr>
					))}
				</tbody>
			</table>
			{grouped && mayCode && (
				<div className="mt-2 flex flex-wrap items-center gap-2 text-[12.8px]">
					{chosen.length === 0 && (
						<span className="quiet-line">{say("Tick categories to merge them, split one, or call one missing.")}</span>
					)}
					{chosen.length > 1 && (
						<Button onClick={() => change({ do: "merge", labels: chosen, name: chosen[0] as string })}>
							{say("Merge into “{chosen}”", { chosen: chosen[0] })}
						</Button>
					)}
					{chosen.length === 1 && (
						<>
							<Button onClick={() => setSplitting(chosen[0] as string)}>{say("Split")}</Button>
							<Choice
								as="small"
								name={say("{chosen} is really missing", { chosen: chosen[0] })}
								value=""
								shown={say("Is really missing")}
								options={REASONS.map((one) => ({ value: one.value as string, label: one.label }))}
								onChange={(reason) => change({ do: "missing", labels: chosen, reason: reason as Shape<"MissingReason"> })}
							/>
						</>
					)}
				</div>
			)}
			{splitting && (
				<Split
					variable={variable}
					label={splitting}
					cases={cases.filter((row) => row.values[variable.id]?.text === splitting)}
					onClose={() => setSplitting(null)}
					onSplit={(name, ids) => {
						change({ do: "split", labels: [splitting], name, cases: ids });
						setSplitting(null);
					}}
				/>
			)}
		</>
	);
}

function Split({
	variable,
	label,
	cases,
	onClose,
	onSplit,
}: {
	variable: Variable;
	label: string;
	cases: Case[];
	onClose: () => void;
	onSplit: (name: string, ids: number[]) => void;
}) {
	const [name, setName] = useState("");
	const [ids, setIds] = useState<ReadonlySet<number>>(new Set());
	return (
		<Modal title={say("Split “{label}” of {name}", { label, name: variable.name })} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					onSplit(name, [...ids]);
				}}
			>
				<label className="block font-semibold">
					{say("New category")}
					<input className="field mt-1 mb-3 w-full font-normal" required value={name} onChange={(event) => setName(event.target.value)} />
				</label>
				<fieldset className="mb-3 max-h-64 pane rounded-md border border-line p-2">
					<legend className="px-1 text-[12.8px] font-semibold">{say("Who goes there")}</legend>
					{cases.map((row) => (
						<label key={row.id} className="flex items-center gap-2 py-0.5">
							<input
								type="checkbox"
								className="accent-spruce"
								checked={ids.has(row.id)}
								onChange={(event) => {
									const next = new Set(ids);
									if (event.target.checked) next.add(row.id);
									else next.delete(row.id);
									setIds(next);
								}}
							/>
							{row.identifier}
						</label>
					))}
				</fieldset>
				<Button look="main" type="submit" disabled={ids.size === 0}>
					{say("Split off {ids}", { ids: ids.size || "" })}
				</Button>
			</form>
		</Modal>
	);
}
