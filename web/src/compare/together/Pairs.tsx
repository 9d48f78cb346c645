import { phrase, say } from "../../language/say";
import { useAddressed } from "../../project/address";
import { Choice } from "../../ui/Choice";
import { groupMark } from "../../ui/palette";
import { underOne } from "../../ui/words";
import type { Cell, Together } from "./cell";

const SHOWN = 12;

interface Props {
	data: Together;
	onOpen: (cell: Cell) => void;
}

/** Pairs of different codes neither of which lies beneath the other, each once. */
function pairsOf(data: Together): [number, number][] {
	const related = new Set(data.lineage.flatMap(([a, b]) => [`${a}-${b}`, `${b}-${a}`]));
	return data.codes.flatMap((_, row) =>
		data.codes
			.map((__, column): [number, number] => [row, column])
			.slice(row + 1)
			.filter(([a, b]) => !related.has(`${a}-${b}`)),
	);
}

/** The pairs that meet most, in words. */
export function Most({ data, onOpen }: Props) {
	const { counts, likeness } = data.whole;
	const times = (a: number, b: number) => Math.max(counts[a]?.[b] ?? 0, counts[b]?.[a] ?? 0);
	const told = pairsOf(data)
		.filter(([a, b]) => times(a, b) > 0)
		.sort((x, y) => times(...y) - times(...x) || (likeness[y[0]]?.[y[1]] ?? 0) - (likeness[x[0]]?.[x[1]] ?? 0));
	return (
		<section aria-label={say("Meet most")} className="min-w-0">
			<h2 className="mb-1">
				{phrase("Meet most <span>· how often, likeness</span>", {
					span: (inner) => <span className="font-normal text-quiet">{inner}</span>,
				})}
			</h2>
			<ul className="rounded-lg border border-line bg-card px-3 py-1 text-[13px]">
				{told.slice(0, SHOWN).map(([a, b]) => (
					<Pair
						key={`${a}-${b}`}
						data={data}
						pair={[a, b]}
						said={say("{times}, {figure} likeness", { times: times(a, b), figure: figure(likeness[a]?.[b] ?? null) })}
						onOpen={() => onOpen({ row: a, column: b, group: null })}
					>
						<b className="w-7 text-right">{times(a, b)}</b>{" "}
						<span className="w-9 text-right text-quiet">{figure(likeness[a]?.[b] ?? null)}</span>
					</Pair>
				))}
				{told.length === 0 && (
					<li className="py-1 quiet-line">{say("None of these codes meet so. Let them lie some turns apart, in the sentence above.")}</li>
				)}
			</ul>
		</section>
	);
}

/** Where the likeness of two codes differs most between two groups. */
export function Gap({ data, onOpen }: Props) {
	const [said, setSaid] = useAddressed("between", `0 ${data.groups.length - 1}`);
	const named = said.split(" ").map(Number) as [number, number];
	const chosen: [number, number] = named.every((place) => data.groups[place]) ? named : [0, data.groups.length - 1];
	const [first, second] = chosen.map((place) => data.groups[place]);
	if (!first || !second) return null;
	const options = data.groups.flatMap((one, a) =>
		data.groups.flatMap((other, b) => (a === b ? [] : [{ value: `${a} ${b}`, label: `${one.name} − ${other.name}` }])),
	);
	const gap = ([a, b]: [number, number]) => (first.likeness[a]?.[b] ?? 0) - (second.likeness[a]?.[b] ?? 0);
	const told = pairsOf(data)
		.filter((pair) => gap(pair) !== 0)
		.sort((x, y) => Math.abs(gap(y)) - Math.abs(gap(x)));
	return (
		<section aria-label={say("Differences in likeness")} className="min-w-0">
			<h2 className="mb-1 flex items-center gap-1">
				{say("Differences in likeness")}
				<Choice as="small" name={say("Between")} value={chosen.join(" ")} options={options} onChange={setSaid} />
			</h2>
			<ul className="rounded-lg border border-line bg-card px-3 py-1 text-[13px]">
				{told.slice(0, SHOWN).map((pair) => {
					const higher = gap(pair) > 0 ? chosen[0] : chosen[1];
					return (
						<Pair
							key={pair.join("-")}
							data={data}
							pair={pair}
							said={say("likeness {figure} in {name}, {figure2} in {name2}", {
								figure: figure(first.likeness[pair[0]]?.[pair[1]] ?? 0),
								name: first.name,
								figure2: figure(second.likeness[pair[0]]?.[pair[1]] ?? 0),
								name2: second.name,
							})}
							onOpen={() => onOpen({ row: pair[0], column: pair[1], group: higher })}
						>
							<span className="whitespace-nowrap text-quiet">
								{figure(first.likeness[pair[0]]?.[pair[1]] ?? 0)} − {figure(second.likeness[pair[0]]?.[pair[1]] ?? 0)}
							</span>
							<b className="w-10 text-right whitespace-nowrap" style={{ color: groupMark(data.groups[higher]?.mark ?? 0).colour }}>
								{gap(pair) > 0 ? "+" : "−"}
								{figure(Math.abs(gap(pair)))}
							</b>
						</Pair>
					);
				})}
				{told.length === 0 && <li className="py-1 quiet-line">{say("No pair differs: none meets in either, or all alike.")}</li>}
			</ul>
			<p className="mt-1 text-[12.6px] text-quiet">
				{say("Not tested: with few meetings, one person can make such a difference. Read them.")}
			</p>
		</section>
	);
}

const figure = (likeness: number | null) => (likeness === null ? "–" : underOne(likeness, 2));

interface PairProps {
	data: Together;
	pair: [number, number];
	/** The figures, as they are read out. */
	said: string;
	onOpen: () => void;
	children: React.ReactNode;
}

function Pair({ data, pair: [a, b], said, onOpen, children }: PairProps) {
	const words = say("{name} with {name2}: {said}", { name: data.codes[a]?.name, name2: data.codes[b]?.name, said });
	return (
		<li className="border-b border-line2 last:border-0">
			<button
				type="button"
				aria-label={say("{words}. Open the passages", { words })}
				className="flex w-full items-baseline gap-2 py-1 text-left hover:text-spruce"
				onClick={onOpen}
			>
				<span className="min-w-0 flex-1">
					{data.codes[a]?.name} <span className="text-quiet">{say("with")}</span> {data.codes[b]?.name}
				</span>{" "}
				{children}
			</button>
		</li>
	);
}
