import { useMemo, useRef, useState } from "react";
import { type Code, useCodebook, useCodeWrites } from "../../codes/data";
import { anyKind, KINDS } from "../../codes/kinds";
import { NewCode } from "../../codes/NewCode";
import { branches, flat, wordsOf } from "../../codes/tree";
import { say } from "../../language/say";
import { useAddress, useTyped } from "../../project/address";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { codeColour } from "../../ui/palette";
import { Room } from "../../ui/Room";
import { TakeOut } from "../../ui/TakeOut";
import { useLong } from "../../ui/virtual";
import { CodePages } from "../CodePages";
import { ReadingPane } from "../ReadingPane";
import { CodebookFileDialog } from "./CodebookFileDialog";
import { CodeCard } from "./CodeCard";
import { KindOfTicked, KindShown, kindIn } from "./Kinds";
import { LookList } from "./LookList";
import { MergeDialog } from "./MergeDialog";
import { SplitDialog } from "./SplitDialog";

/** The codebook as a whole: every code with its counts; merge, split, park; what wants a look; reading beside it. */
export function CodebookPage() {
	const project = useProject();
	const mayCode = useMayCode();
	const codebook = useCodebook();
	const { changeCodes } = useCodeWrites();
	const [params, set] = useAddress();
	const [words, setWords] = useTyped("words");
	const [marked, setTicked] = useState<number[]>([]);
	const [asking, setAsking] = useState<"merge" | "split" | "file" | "new" | null>(null);
	const codes = codebook.data?.codes ?? [];
	const rows = useMemo(() => flat(branches(codes)), [codes]);
	const open = codes.find((code) => code.id === Number(params.get("open")));
	// Somebody else may have merged away what was ticked.
	const tickedCodes = codes.filter((code) => marked.includes(code.id));
	const ticked = tickedCodes.map((code) => code.id);
	const [alone] = tickedCodes;
	const showing = params.get("show") ?? "passages";
	const kind = kindIn(params.get("kind"));
	const frame = useRef<HTMLDivElement>(null);
	const wanted = words.trim().toLowerCase();
	const shown = rows.filter(({ code }) => (!wanted || wordsOf(code).includes(wanted)) && (kind === null || code.kind === kind));
	const active = shown.filter(({ code }) => !code.parked);
	const drawn = useLong(active.length, frame, 31);
	const hindered = hindrance(codebook);
	if (hindered) return <Problem error={hindered} />;
	if (!codebook.data) return <Loading what={say("the codebook")} />;
	const parked = shown.filter(({ code }) => code.parked);
	const tick = (id: number) => setTicked(ticked.includes(id) ? ticked.filter((one) => one !== id) : [...ticked, id]);
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3">
			<div className="mb-2 flex flex-wrap items-center gap-3">
				<CodePages figures={{ "code/codebook": String(codes.length) }} />
				<input
					aria-label={say("Find in the codebook")}
					placeholder={say("Find a code")}
					className="field ml-4 w-52"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<TakeOut
					path={`/api/projects/${project.id}/codebook/file`}
					endings={["xlsx", "csv", "qdc"]}
					what={(ending) =>
						ending === "qdc"
							? say("The open exchange standard for codebooks, for other programs")
							: say("With definitions, counts and themes")
					}
				/>
				<span className="ml-auto flex flex-wrap items-center gap-2 print:hidden">
					{mayCode && (
						<>
							{ticked.length > 0 && (
								<span className="quiet-line">{say("{codes, plural, one {# code} other {# codes}} ticked", { codes: ticked.length })}</span>
							)}
							<Button onClick={() => setAsking("new")}>{say("New code …")}</Button>
							<Button title={say("A codebook from a file: merged into this one, or put in its place")} onClick={() => setAsking("file")}>
								{say("Bring in …")}
							</Button>
							<Button disabled={ticked.length < 2} title={say("Tick two codes or more")} onClick={() => setAsking("merge")}>
								{say("Merge …")}
							</Button>
							<Button disabled={ticked.length !== 1} title={say("Tick one code")} onClick={() => setAsking("split")}>
								{say("Split …")}
							</Button>
							<Button
								disabled={!ticked.length}
								title={say("Out of the way, and still findable")}
								onClick={() => {
									changeCodes.mutate({ codes: ticked, parked: !tickedCodes.every((code) => code.parked) });
									setTicked([]);
								}}
							>
								{ticked.length > 0 && tickedCodes.every((code) => code.parked) ? say("Take back") : say("Park")}
							</Button>
						</>
					)}
				</span>
			</div>
			<div className={`grid min-h-0 flex-1 gap-4 ${open ? "cols-[minmax(0,1fr)_minmax(300px,40%)]" : "grid-cols-1"}`}>
				<div ref={frame} className="pane pb-4">
					<LookList codes={codes} onOpen={(id) => set({ open: String(id) })} onTick={setTicked} />
					<div className="mb-1.5 flex flex-wrap items-baseline gap-x-3 quiet-line">
						<p className="mr-auto">
							{say(
								"Click a code to read its passages by {one} and to see its card; tick codes to merge, split or park them, or to say whether they describe or interpret.",
								{ one: project.case_one },
							)}
						</p>
						{mayCode && ticked.length > 0 && (
							<KindOfTicked
								onChoose={(one) => {
									changeCodes.mutate({ codes: ticked, kind: one });
									setTicked([]);
								}}
							/>
						)}
						{(anyKind(codes) || kind !== null) && <KindShown kind={kind} onChange={(one) => set({ kind: one })} />}
					</div>
					<table className="w-full border-separate border-spacing-0 rounded-lg border border-line bg-card text-[13.4px]">
						<thead className="sticky top-0 z-10 bg-card">
							<tr className="[&>th]:border-b [&>th]:border-line [&>th]:px-2.5 [&>th]:py-1.5 [&>th]:text-left [&>th]:font-semibold">
								<th className="w-6">
									<span className="sr-only">{say("Ticked")}</span>
								</th>
								<th>{say("Code")}</th>
								<th className="w-20 !text-right">{say("Passages")}</th>
								<th className="w-20 !text-right capitalize">{project.case_many}</th>
								<th className="w-24 !text-right">{say("Documents")}</th>
								<th className={open ? "w-1/4" : "w-1/2"}>{say("What it means")}</th>
							</tr>
						</thead>
						<tbody>
							<Room high={drawn.before} width={6} />
							{drawn.items.map(({ index }) => {
								const branch = active[index] as (typeof active)[number];
								return (
									<Row
										key={branch.code.id}
										beneath={branch.code.branch_passages}
										code={branch.code}
										depth={branch.depth}
										ticked={ticked.includes(branch.code.id)}
										open={open?.id === branch.code.id}
										onTick={tick}
										onOpen={(id) => set({ open: open?.id === id ? null : String(id) })}
									/>
								);
							})}
							<Room high={drawn.after} width={6} />
							{parked.length > 0 && (
								<tr>
									<td colSpan={6} className="border-t border-line bg-paper2 px-2.5 py-1 font-semibold">
										{say("Parked, {codes, plural, one {# code} other {# codes}}", { codes: parked.length })}
									</td>
								</tr>
							)}
							{parked.map(({ code }) => (
								<Row
									key={code.id}
									code={code}
									depth={0}
									ticked={ticked.includes(code.id)}
									open={open?.id === code.id}
									onTick={tick}
									onOpen={(id) => set({ open: open?.id === id ? null : String(id) })}
								/>
							))}
						</tbody>
					</table>
					{shown.length === 0 && (
						<p className="p-3 quiet-line">
							{wanted
								? say("No code holds “{words}”.", { words })
								: kind !== null
									? say("No code is so.")
									: say("No codes yet. They are made at the reading desk.")}
						</p>
					)}
				</div>
				{open && (
					<aside aria-label={say("The code chosen")} className="pane rounded-t-lg border border-b-0 border-line bg-card">
						<div className="flex gap-4 border-b border-line px-3.5 pt-2 text-[13.4px]">
							{["passages", "card"].map((name) => (
								<button
									key={name}
									type="button"
									aria-pressed={showing === name}
									className={`border-b-2 pb-1.5 font-semibold ${showing === name ? "border-ink" : "border-transparent text-quiet"}`}
									onClick={() => set({ show: name })}
								>
									{name === "passages" ? say("{name}: its passages", { name: open.name }) : say("Its card")}
								</button>
							))}
						</div>
						{showing === "card" ? (
							<CodeCard
								key={open.id}
								code={open}
								codes={codes}
								pin={codebook.data.pins.find((pin) => pin.code === open.id)?.key ?? null}
								onClose={() => set({ open: null })}
								whole
							/>
						) : (
							<div className="p-3.5">
								<ReadingPane of="code" which={open.id} />
							</div>
						)}
					</aside>
				)}
			</div>
			{asking === "new" && (
				<NewCode codes={codes} onClose={() => setAsking(null)} onMade={(id) => set({ open: String(id), show: "card" })} />
			)}
			{asking === "file" && <CodebookFileDialog onClose={() => setAsking(null)} />}
			{asking === "merge" && tickedCodes.length > 0 && (
				<MergeDialog
					codes={tickedCodes}
					onClose={(done) => {
						setAsking(null);
						if (done) setTicked([]);
					}}
				/>
			)}
			{asking === "split" && alone && (
				<SplitDialog
					code={alone}
					onClose={(done) => {
						setAsking(null);
						if (done) setTicked([]);
					}}
				/>
			)}
		</div>
	);
}

function Row({
	code,
	beneath = 0,
	depth,
	ticked,
	open,
	onTick,
	onOpen,
}: {
	code: Code;
	beneath?: number;
	depth: number;
	ticked: boolean;
	open: boolean;
	onTick: (id: number) => void;
	onOpen: (id: number) => void;
}) {
	return (
		<tr className={`[&>td]:border-t [&>td]:border-line2 [&>td]:px-2.5 [&>td]:py-1 ${open ? "bg-spruce-soft" : ""}`}>
			<td>
				<input type="checkbox" aria-label={say("Tick {name}", { name: code.name })} checked={ticked} onChange={() => onTick(code.id)} />
			</td>
			<td style={{ paddingLeft: 10 + depth * 18 }}>
				<button
					type="button"
					className="inline-flex items-center gap-1.5 text-left font-semibold hover:text-spruce"
					aria-expanded={open}
					onClick={() => onOpen(code.id)}
				>
					<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
					{code.name}
				</button>
				{code.kind && <span className="ml-2 quiet-line">{KINDS[code.kind]}</span>}
			</td>
			<td className="text-right">
				{code.passages ||
					(beneath ? (
						<span className="text-quiet" title={say("On the codes beneath, each passage once")}>
							({beneath})
						</span>
					) : (
						<span className="text-quiet">{say("none")}</span>
					))}
			</td>
			<td className="text-right">{code.people || ""}</td>
			<td className="text-right">{code.documents || ""}</td>
			<td className="max-w-0 truncate text-quiet" title={code.definition}>
				{code.definition || <i>{say("no definition")}</i>}
			</td>
		</tr>
	);
}
