import { fetched } from "../api/files";
import { say } from "../language/say";
import { useAddressed, useAddressedNumber } from "../project/address";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { apart } from "../ui/copying";
import { Loading, Problem } from "../ui/Empty";
import { Modal } from "../ui/Modal";
import { groupMark } from "../ui/palette";
import { Segments } from "../ui/Segments";
import { useToasts } from "../ui/toasts";
import { decimal, percent } from "../ui/words";
import { useDistribution, type Variable } from "./data";
import { reasonOf } from "./kinds";

/** How a variable spreads, for everyone or by another one: as a table or as bars, sorted, exported. */
export function DistributionView({ variable, variables, onClose }: { variable: Variable; variables: Variable[]; onClose: () => void }) {
	const { id, case_many } = useProject();
	const [by, setBy] = useAddressedNumber("by", 0);
	const [form, setForm] = useAddressed("form", "bars", ["bars", "table"]);
	const [order, setOrder] = useAddressed("order", "own", ["own", "size"]);
	const { warn } = useToasts();
	const found = useDistribution(variable.id, by);
	const data = found.data;
	const groups = data ? data.groups.map((_, place) => place).filter((place) => !by || place > 0 || form === "table") : [];
	const places = data ? data.values.map((_, place) => place) : [];
	if (data && order === "size") places.sort((a, b) => (data.shares[b]?.[0]?.count ?? 0) - (data.shares[a]?.[0]?.count ?? 0));
	const grouping = variables.filter((one) => one.id !== variable.id && ["category", "ordered", "yes_no"].includes(one.kind));
	const mark = (place: number) => (by ? groupMark(place - 1) : { colour: "var(--color-spruce)", shape: "" });
	return (
		<Modal title={variable.name} wide onClose={onClose}>
			<div className="mb-3 flex flex-wrap items-center gap-3 text-[13px]">
				<span>{say("How {many} answer, by", { many: case_many })}</span>
				<span className="w-44">
					<Choice
						name={say("By")}
						value={by}
						options={[{ value: 0, label: say("nothing: everyone") }, ...grouping.map((one) => ({ value: one.id, label: one.name }))]}
						onChange={setBy}
					/>
				</span>
				<Segments
					name={say("Form")}
					value={form}
					options={[
						{ value: "bars", label: say("Bars") },
						{ value: "table", label: say("Table") },
					]}
					onChange={setForm}
				/>
				<Segments
					name={say("Order")}
					value={order}
					options={[
						{ value: "own", label: say("Its order") },
						{ value: "size", label: say("By size") },
					]}
					onChange={setOrder}
				/>
				<Button
					className="ml-auto"
					onClick={() =>
						void fetched(`/api/projects/${id}/variables/${variable.id}/distribution/export`, found.asked).catch((error: Error) =>
							warn(error.message),
						)
					}
				>
					{say("Export .csv")}
				</Button>
			</div>
			{found.error && <Problem error={found.error} />}
			{found.isPending && <Loading what={say("the distribution")} />}
			{data && (
				// biome-ignore lint/a11y/noNoninteractiveTabindex: a long table has to be scrolled by keyboard too
				<div className="max-h-[60vh] pane" tabIndex={0}>
					<table className="w-full text-[13.4px]">
						<thead>
							<tr className="border-b border-line text-left">
								<th className="py-1 pr-3 font-semibold">{say("Value")}</th>
								{groups.map((place) => (
									<th key={data.groups[place]} className="px-2 font-semibold" style={{ color: mark(place).colour }}>
										<span aria-hidden="true">{mark(place).shape}</span> {data.groups[place]}
										<small className="block font-normal text-quiet">{say("{bases} known", { bases: data.bases[place] })}</small>
									</th>
								))}
							</tr>
						</thead>
						<tbody>
							{places.map((row) => (
								<tr key={data.values[row]} className="border-b border-line2">
									<th scope="row" className="max-w-56 py-1 pr-3 text-left font-medium">
										{data.values[row]}
									</th>
									{groups.map((place) => {
										const one = data.shares[row]?.[place];
										const interval =
											one?.low != null && one.high != null
												? say("95 % interval {low} to {high} %", { low: percent(one.low), high: percent(one.high) })
												: "";
										return (
											<td
												key={data.groups[place]}
												{...apart([
													[say("share"), one?.share ?? null],
													[say("count"), one?.count ?? null],
													[say("base"), data.bases[place] ?? null],
												])}
												className="min-w-24 px-2 py-1.5"
												title={interval}
											>
												{form === "bars" && (
													<span className="relative mb-0.5 block h-2.5 rounded-sm bg-paper2">
														<i
															className="absolute inset-y-0 left-0 rounded-sm"
															style={{
																width: `${100 * (one?.share ?? 0)}%`,
																background: `color-mix(in srgb, ${mark(place).colour} 62%, var(--color-bar-ground))`,
															}}
														/>
														{one?.low != null && one.high != null && (
															<u
																className="absolute top-1/2 h-px bg-ink"
																style={{ left: `${100 * one.low}%`, width: `${100 * (one.high - one.low)}%` }}
															/>
														)}
													</span>
												)}
												<b>{percent(one?.share ?? null)}</b> <span className="text-quiet">{one?.count}</span>
											</td>
										);
									})}
								</tr>
							))}
							{data.missing.map((one) => (
								<tr key={one.reason} className="border-b border-line2 text-absent italic">
									<th scope="row" className="py-1 pr-3 text-left font-normal">
										{reasonOf(one.reason)}
									</th>
									{groups.map((place) => (
										<td key={data.groups[place]} className="px-2">
											{one.counts[place]}
										</td>
									))}
								</tr>
							))}
							{variable.kind === "number" && (
								<tr className="border-b border-line2">
									<th scope="row" className="py-1 pr-3 text-left font-medium">
										{say("Mean (sd), median")}
									</th>
									{groups.map((place) => {
										const one = data.summaries[place];
										return (
											<td key={data.groups[place]} className="px-2">
												{one ? `${decimal(one.mean, 1)} (${one.deviation == null ? "–" : decimal(one.deviation, 1)}), ${one.median}` : "–"}
											</td>
										);
									})}
								</tr>
							)}
						</tbody>
					</table>
				</div>
			)}
			<p className="mt-2 quiet-line">
				{say("Shares in percent of those whose value is known; missing values are counted apart. Line: 95 % interval (Wilson).")}
			</p>
		</Modal>
	);
}
