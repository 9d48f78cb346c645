import { memo, type RefObject, useMemo, useRef, useState } from "react";
import { language, say } from "../language/say";
import { MemosDialog } from "../memos/MemosOn";
import { useSorted, useTyped } from "../project/address";
import { useMayCode, useProject, useTellGone } from "../project/project";
import { useToasts } from "../ui/toasts";
import { useVirtual } from "../ui/virtual";
import { type Case, type Roster as RosterData, usePeopleWrites, type Variable } from "./data";
import { EditableText, ValueCell } from "./editing";
import { reasonOf } from "./kinds";
import { MiniBars } from "./MiniBars";
import { blockOf, placed } from "./paste";

type Sort = { by: number | "identifier" | "documents"; down: boolean };
const sortOf = (by: string, down: boolean): Sort => ({ by: by === "identifier" || by === "documents" ? by : Number(by), down });
const ROW = 33;
const MANY_ROWS = 200;
const MANY_COLUMNS = 20;
/** Width of what stands left and right of the variables. */
const EDGES = 120 + 110 + 110;

/** One row a case, one column a variable, each headed by its own small distribution. */
export function Roster({
	roster,
	chosen,
	onChoose,
	highlighted,
	onMerge,
}: {
	roster: RosterData;
	chosen: number | null;
	onChoose: (variable: number | null) => void;
	highlighted: number | null;
	onMerge: (row: Case) => void;
}) {
	const { case_one } = useProject();
	const mayCode = useMayCode();
	const { tell } = useToasts();
	const tellGone = useTellGone();
	const { renameCase, deleteCase, setValues } = usePeopleWrites();
	const [sorted, setSort] = useSorted<string>("identifier");
	const sort = useMemo(() => sortOf(sorted.by, sorted.down), [sorted.by, sorted.down]);
	const [words, setWords] = useTyped("words");
	const [remarked, setRemarked] = useState<Case | null>(null);
	const frame = useRef<HTMLDivElement>(null);
	const rows = useMemo(() => arranged(roster.cases, words, sort, roster.variables), [roster, words, sort]);
	const shown = useVirtual({
		count: rows.length,
		getScrollElement: () => frame.current,
		estimateSize: () => ROW,
		overscan: 5,
		initialRect: { width: 1000, height: 700 },
	});
	const items = shown.items;
	const columns = useColumns(roster, frame);
	const large = roster.cases.length > MANY_ROWS || columns.widths !== undefined;
	const before = items[0]?.start ?? 0;
	const after = shown.total - (items.at(-1)?.end ?? 0);
	const width = columns.inView.length + Number(columns.before > 0) + Number(columns.after > 0) + (mayCode ? 3 : 2);
	const by = (column: Sort["by"]) => setSort({ by: String(column), down: sort.by === column && !sort.down });
	const arrow = (column: Sort["by"]) => (sort.by === column ? (sort.down ? " ↓" : " ↑") : "");
	const paste = (text: string, row: Case, variable: Variable) => {
		const { cells, beyond } = placed(blockOf(text), rows, roster.variables, { case: row.id, variable: variable.id });
		setValues.mutate(
			{ of: "case", cells },
			{
				onSuccess: ({ count }) =>
					tell(
						beyond
							? say(
									"{values, plural, one {# value} other {# values}} changed. Ctrl Z takes {values, plural, one {it} other {them}} back. {cells, plural, one {# cell} other {# cells}} of the block reached beyond the roster.",
									{ values: count, cells: beyond },
								)
							: say(
									"{values, plural, one {# value} other {# values}} changed. Ctrl Z takes {values, plural, one {it} other {them}} back.",
									{ values: count },
								),
					),
			},
		);
	};
	const writes = useRef<Writes>(null as unknown as Writes);
	writes.current = {
		rename: (row, identifier) => renameCase.mutate({ id: row.id, identifier }),
		paste,
		merge: onMerge,
		memos: setRemarked,
		remove: (row) => deleteCase.mutate(row.id, { onSuccess: ({ said }) => tellGone(said) }),
	};
	return (
		<div className="flex filling min-h-0 flex-col">
			{remarked && <MemosDialog on="case" id={remarked.id} name={remarked.identifier} onClose={() => setRemarked(null)} />}
			<div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1 print:hidden">
				<input
					aria-label={say("Filter the roster")}
					placeholder={say("Filter, such as Holm or never")}
					className="field w-72"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				{mayCode && (
					<span className="quiet-line">{say("Click a value to change it; paste a block copied from a sheet onto its first cell.")}</span>
				)}
			</div>
			{/* A large roster’s layout is nobody else’s, and its head a layer of its own: it scrolls almost twice as fast. */}
			<div
				ref={frame}
				className={`pane rounded-lg border border-line bg-card print:[page:wide] ${large ? "w-full flex-1 [contain:strict] flow:h-[70vh] flow:flex-none print:h-auto print:[contain:none]" : "w-fit max-w-full"}`}
			>
				<table
					className={`border-separate border-spacing-0 ${columns.widths ? "table-fixed" : ""}`}
					style={columns.widths && { width: columns.total + EDGES }}
				>
					{columns.widths && (
						<colgroup>
							<col style={{ width: 120 }} />
							{columns.before > 0 && <col style={{ width: columns.before }} />}
							{columns.inView.map((variable) => (
								<col key={variable.id} style={{ width: columns.widths?.[variable.id] }} />
							))}
							{columns.after > 0 && <col style={{ width: columns.after }} />}
						</colgroup>
					)}
					<thead className={`sticky top-0 z-20 bg-card ${large ? "will-change-transform" : ""}`}>
						<tr>
							<th className="sticky left-0 z-10 border-r border-b border-line2 border-b-line bg-card px-2.5 py-2 text-left align-bottom text-[13px]">
								<button type="button" className="font-semibold capitalize" onClick={() => by("identifier")}>
									{case_one}
									{arrow("identifier")}
								</button>
								<span className="block text-[11.6px] font-normal text-quiet">{rows.length}</span>
							</th>
							{columns.before > 0 && <td className="border-b border-line" />}
							{columns.inView.map((variable) => (
								<th
									key={variable.id}
									aria-colindex={columns.place(variable) + 2}
									className={`border-r border-b border-line2 border-b-line px-2.5 py-2 text-left align-bottom text-[13px] ${chosen === variable.id ? "bg-spruce-soft" : ""}`}
									aria-sort={sort.by === variable.id ? (sort.down ? "descending" : "ascending") : "none"}
								>
									<button
										type="button"
										className="block max-w-36 text-left font-semibold leading-tight hover:text-spruce"
										onClick={() => onChoose(chosen === variable.id ? null : variable.id)}
										aria-expanded={chosen === variable.id}
									>
										{variable.name}
									</button>
									<button
										type="button"
										className="text-left text-[11.6px] font-normal text-quiet hover:text-ink"
										onClick={() => by(variable.id)}
										title={say("Sort by {name}", { name: variable.name })}
									>
										{kindWords(variable)}
										{arrow(variable.id)}
									</button>
									<MiniBars variable={variable} strong={chosen === variable.id} />
								</th>
							))}
							{columns.after > 0 && <td className="border-b border-line" />}
							<th className="border-b border-line px-2.5 py-2 text-right align-bottom text-[13px]">
								<button type="button" className="font-semibold" onClick={() => by("documents")}>
									{say("Documents{arrow}", { arrow: arrow("documents") })}
								</button>
							</th>
							{mayCode && (
								<th className="border-b border-line print:hidden">
									<span className="sr-only">{say("Merge or delete")}</span>
								</th>
							)}
						</tr>
					</thead>
					<tbody>
						{before > 0 && (
							<tr>
								<td colSpan={width} style={{ height: before }} />
							</tr>
						)}
						{items.map((item) => {
							const row = rows[item.index] as Case;
							return (
								<RosterRow
									key={row.id}
									row={row}
									variables={columns.inView}
									before={columns.before > 0}
									after={columns.after > 0}
									chosen={chosen}
									highlighted={highlighted === row.id}
									mayCode={mayCode}
									writes={writes}
								/>
							);
						})}
						{after > 0 && (
							<tr>
								<td colSpan={width} style={{ height: after }} />
							</tr>
						)}
					</tbody>
				</table>
				{rows.length === 0 && <p className="sticky left-0 w-fit p-3 quiet-line">{say("Nobody matches “{words}”.", { words })}</p>}
			</div>
		</div>
	);
}

type Writes = {
	rename: (row: Case, identifier: string) => void;
	paste: (text: string, row: Case, variable: Variable) => void;
	merge: (row: Case) => void;
	memos: (row: Case) => void;
	remove: (row: Case) => void;
};

/** Drawn again only when something of its own has changed, so that scrolling draws the rows that come. */
const RosterRow = memo(function RosterRow({
	row,
	variables,
	before,
	after,
	chosen,
	highlighted,
	mayCode,
	writes,
}: {
	row: Case;
	variables: Variable[];
	before: boolean;
	after: boolean;
	chosen: number | null;
	highlighted: boolean;
	mayCode: boolean;
	writes: RefObject<Writes>;
}) {
	return (
		<tr className={`[&>td]:border-b [&>td]:border-line2 ${highlighted ? "bg-apricot-soft" : "bg-card"}`} style={{ height: ROW }}>
			<td className="sticky left-0 z-[1] border-r bg-inherit px-2.5 font-semibold whitespace-nowrap">
				<EditableText
					label={say("ID of {identifier}", { identifier: row.identifier })}
					value={row.identifier}
					disabled={!mayCode}
					onSave={(identifier) => writes.current.rename(row, identifier)}
				/>
			</td>
			{before && <td />}
			{variables.map((variable) => (
				<td
					key={variable.id}
					className={`max-w-64 overflow-hidden border-r px-2.5 ${variable.kind === "number" ? "text-right" : ""} ${chosen === variable.id ? "bg-spruce-soft/40" : ""}`}
				>
					<ValueCell
						of="case"
						subject={row.id}
						name={row.identifier}
						cell={row.values[variable.id]}
						variable={variable}
						onPaste={(text) => writes.current.paste(text, row, variable)}
					/>
				</td>
			))}
			{after && <td />}
			<td className="px-2.5 text-right">{row.documents || <span className="text-quiet italic">{say("none")}</span>}</td>
			{mayCode && (
				<td className="px-2 whitespace-nowrap print:hidden">
					<button
						type="button"
						aria-label={say("Memos on {identifier}", { identifier: row.identifier })}
						title={say("Memos on this row")}
						className="mr-2 text-[12px] text-quiet hover:text-ink"
						onClick={() => writes.current.memos(row)}
					>
						{say("Memos")}
					</button>
					<button
						type="button"
						aria-label={say("Merge {identifier} with another", { identifier: row.identifier })}
						title={say("Two rows that are one person")}
						className="mr-2 text-[12px] text-quiet hover:text-ink"
						onClick={() => writes.current.merge(row)}
					>
						{say("Merge")}
					</button>
					<button
						type="button"
						aria-label={say("Delete {identifier}", { identifier: row.identifier })}
						title={say("Delete; undo brings it back")}
						className="sign text-quiet hover:text-danger"
						onClick={() => writes.current.remove(row)}
					>
						×
					</button>
				</td>
			)}
		</tr>
	);
});

const MADE: Record<NonNullable<Variable["definition"]>["kind"], string> = {
	bands: say("bands, follows the data"),
	crossing: say("crossing, follows the data"),
	count: say("count, follows the data"),
	cohort: say("cohort, follows the data"),
};
const SMALL_KINDS: Record<Variable["kind"], string> = {
	category: say("category"),
	ordered: say("ordered category"),
	number: say("number"),
	yes_no: say("yes / no"),
	date: say("date"),
	text: say("text"),
};

export function kindWords(variable: Variable): string {
	if (variable.problem) return say("what it is made of is gone");
	if (variable.definition) return MADE[variable.definition.kind];
	if (variable.kind === "category")
		return say("{categories, plural, one {# category} other {# categories}}", { categories: variable.categories.length });
	return SMALL_KINDS[variable.kind];
}

function arranged(cases: Case[], words: string, sort: Sort, variables: Variable[]): Case[] {
	const wanted = words.toLowerCase();
	const kept = wanted
		? cases.filter((row) =>
				`${row.identifier} ${Object.values(row.values)
					.map((value) => value.text || (value.missing ? reasonOf(value.missing) : ""))
					.join(" ")}`
					.toLowerCase()
					.includes(wanted),
			)
		: cases;
	const variable = variables.find((one) => one.id === sort.by);
	const value = (row: Case): string | number => {
		if (sort.by === "identifier") return row.identifier;
		if (sort.by === "documents") return row.documents;
		const text = row.values[sort.by]?.text ?? "";
		if (variable?.kind === "ordered") return variable.categories.indexOf(text);
		return variable?.kind === "number" ? (text === "" ? Number.POSITIVE_INFINITY : Number(text)) : text;
	};
	return kept
		.map((row) => [value(row), row] as const)
		.sort(([left], [right]) => {
			const order = typeof left === "number" && typeof right === "number" ? left - right : compareTexts(String(left), String(right));
			return sort.down ? -order : order;
		})
		.map(([, row]) => row);
}

/** Of many columns only those in view are drawn; then each has a width of its own beforehand. */
function useColumns(roster: RosterData, frame: RefObject<HTMLDivElement | null>) {
	const { variables } = roster;
	const widths = useMemo(
		() => (variables.length > MANY_COLUMNS ? Object.fromEntries(variables.map((one) => [one.id, widthOf(one)])) : undefined),
		[variables],
	);
	const virtual = useVirtual({
		count: variables.length,
		horizontal: true,
		enabled: widths !== undefined,
		getScrollElement: () => frame.current,
		estimateSize: (place) => widths?.[variables[place]?.id ?? 0] ?? 120,
		overscan: 3,
		initialRect: { width: 1000, height: 700 },
	});
	const seen = widths ? virtual.items : [];
	const first = seen[0]?.index ?? 0;
	const last = widths ? (seen.at(-1)?.index ?? -1) : variables.length - 1;
	const inView = useMemo(() => variables.slice(first, last + 1), [variables, first, last]);
	const total = widths ? virtual.total : 0;
	return {
		inView,
		widths,
		total,
		before: seen[0]?.start ?? 0,
		after: widths ? total - (seen.at(-1)?.end ?? total) : 0,
		place: (variable: Variable) => variables.indexOf(variable),
	};
}

/** Points that a column's name and longest value want, within reason. */
function widthOf(variable: Variable): number {
	const longest = Math.max(0, ...variable.categories.map((label) => label.length));
	const name = Math.max(...variable.name.split(/\s+/).map((word) => word.length), variable.name.length / 2);
	return Math.round(Math.min(240, Math.max(104, 26 + 7.2 * Math.max(longest, name))));
}

const { compare: compareTexts } = new Intl.Collator(language(), { numeric: true });
