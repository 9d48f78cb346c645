import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import { KINDS, REASONS } from "../gather/SheetReading";
import { useMayCode, useProject } from "../shell/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { counted } from "../ui/words";
import { usePeopleWrites, type Variable } from "./data";

/** A variable by itself: name, type, order, missing reasons, what it means. */
export function Workbench({ variable, onClose }: { variable: Variable; onClose: () => void }) {
	const project = useProject();
	const mayCode = useMayCode();
	const { changeVariable, deleteVariable } = usePeopleWrites();
	const [name, setName] = useState(variable.name);
	const [description, setDescription] = useState(variable.description);
	const change = (part: Omit<Parameters<typeof changeVariable.mutate>[0], "id">) => changeVariable.mutate({ id: variable.id, ...part });
	const grouped = variable.kind === "category" || variable.kind === "ordered";
	const total = variable.bars.reduce((sum, bar) => sum + bar.count, 0);
	const most = Math.max(1, ...variable.bars.map((bar) => bar.count));
	const move = (from: number, by: number) => {
		const order = [...variable.categories];
		const [label] = order.splice(from, 1);
		order.splice(from + by, 0, label as string);
		change({ order });
	};
	return (
		<aside aria-label={`Variable ${variable.name}`} className="overflow-auto border-l border-line bg-white p-4">
			<div className="flex items-center">
				<span className="quiet-line">Variable of a {project.case_one}</span>
				<button type="button" aria-label="Close" className="ml-auto text-quiet hover:text-ink" onClick={onClose}>
					×
				</button>
			</div>
			<input
				aria-label="Name of the variable"
				disabled={!mayCode}
				className="-ml-1 w-full rounded px-1 font-serif text-xl font-semibold hover:bg-paper2"
				value={name}
				onChange={(event) => setName(event.target.value)}
				onBlur={() => name !== variable.name && change({ name })}
			/>
			<p className="quiet-line">
				{variable.kind === "text" ? variable.bars[0]?.label : counted(total, "value")}
				{variable.missing.map((bar) => ` · ${bar.count} ${bar.label.replace("_", " ")}`).join("")}
			</p>
			<div className="mt-3 text-[12.8px] font-semibold">
				Type
				<div className="mt-1 font-normal">
					<Choice name="Type" value={variable.kind} options={KINDS} onChange={(kind) => change({ kind })} disabled={!mayCode} />
				</div>
			</div>
			{variable.kind !== "text" && (
				<table className="mt-4 w-full text-[13.2px]">
					<caption className="mb-1 text-left text-[12.8px] font-semibold">How the {project.case_many} spread</caption>
					<tbody>
						{variable.bars.map((bar, place) => (
							<tr key={bar.label} className="border-b border-line2">
								<td className="py-1 pr-2">{bar.label}</td>
								<td className="w-24">
									<span className="block h-2 rounded-sm bg-[#9DB9B6]" style={{ width: `${(100 * bar.count) / most}%` }} />
								</td>
								<td className="w-8 pl-2 text-right">{bar.count}</td>
								{grouped && mayCode && (
									<td className="w-12 pl-1 whitespace-nowrap text-right">
										<button
											type="button"
											aria-label={`Move ${bar.label} up`}
											disabled={place === 0}
											className="text-quiet hover:text-ink disabled:opacity-20"
											onClick={() => move(place, -1)}
										>
											<ArrowUp size={13} />
										</button>
										<button
											type="button"
											aria-label={`Move ${bar.label} down`}
											disabled={place === variable.bars.length - 1}
											className="text-quiet hover:text-ink disabled:opacity-20"
											onClick={() => move(place, 1)}
										>
											<ArrowDown size={13} />
										</button>
									</td>
								)}
							</tr>
						))}
						{variable.missing.map((bar) => (
							<tr key={bar.label} className="border-b border-line2 text-[#766f5f] italic">
								<td className="py-1">{bar.label.replace("_", " ")}</td>
								<td />
								<td className="text-right">{bar.count}</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			<div className="mt-4 text-[12.8px] font-semibold">
				An empty cell means
				<div className="mt-1 font-normal">
					<Choice
						name="An empty cell means"
						value={variable.when_empty}
						options={REASONS}
						onChange={(when_empty) => change({ when_empty })}
						disabled={!mayCode}
					/>
				</div>
				<p className="mt-1 font-normal text-quiet">Missing values are left out of every table, and said so beneath it.</p>
			</div>
			<label className="mt-3 block text-[12.8px] font-semibold">
				What it means
				<textarea
					rows={3}
					disabled={!mayCode}
					className="field mt-1 w-full font-normal"
					value={description}
					onChange={(event) => setDescription(event.target.value)}
					onBlur={() => description !== variable.description && change({ description })}
				/>
			</label>
			{mayCode && (
				<Button look="danger" className="mt-4" onClick={() => deleteVariable.mutate(variable.id, { onSuccess: onClose })}>
					Delete the variable
				</Button>
			)}
		</aside>
	);
}
