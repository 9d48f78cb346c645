import { useState } from "react";
import { say } from "../../language/say";
import { type Memo, useKinds, useKindsNamed, useMemos } from "../../memos/data";
import { MEMO_ON, type MemoOn } from "../../memos/memos";
import { NewMemo } from "../../memos/NewMemo";
import { useAddress, useTyped } from "../../project/address";
import { usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Day } from "../../ui/Day";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { CodePages } from "../CodePages";
import { KindsDialog } from "./KindsDialog";
import { MemoCard, useMayChange } from "./MemoCard";
import { MemoList } from "./MemoList";
import { lookedIn, type Sort, shownOf, writer } from "./shown";
import { TakeOutMemos, TickedMemos } from "./Ticked";

/** All memos of the project: found by what they say, their kinds, author, day and what they are on; as cards or a list. */
export function MemosPage() {
	const mayCode = useMayCode();
	const memos = useMemos();
	const play = usePlay();
	const named = useKindsNamed();
	const mayChange = useMayChange();
	const [params, set] = useAddress();
	const [words, setWords] = useTyped("words");
	const [marked, setTicked] = useState<number[]>([]);
	const [kinds, setKinds] = useState(false);
	const hindered = hindrance(memos);
	if (hindered) return <Problem error={hindered} />;
	if (!memos.data) return <Loading what={say("the memos")} />;
	const all = memos.data;
	const shown = shownOf(all, lookedIn(params, words), play, named);
	const asList = params.get("look") === "list";
	const open = all.find((memo) => memo.id === Number(params.get("open")));
	const ticked = shown.filter((memo) => marked.includes(memo.id));
	const tick = (id: number) => setTicked(marked.includes(id) ? marked.filter((one) => one !== id) : [...marked, id]);
	// A memo that a link leads to is shown first, among cards too.
	const cards = open ? [open, ...shown.filter((memo) => memo !== open)] : shown;
	const whole = ticked.length === shown.length;
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3">
			<div className="mb-2 flex flex-wrap items-center gap-3">
				<CodePages figures={{ "code/memos": String(all.length) }} />
				<input
					aria-label={say("Find in memos")}
					placeholder={say("Find in memos")}
					className="field ml-4 w-48"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<TakeOutMemos memos={shown.map((memo) => memo.id)} name={say("Take out as")} />
				{mayCode && (
					<span className="ml-auto">
						<Button onClick={() => setKinds(true)}>{say("Kinds …")}</Button>
					</span>
				)}
			</div>
			<Narrowed memos={all} shown={shown.length}>
				<Choice
					as="small"
					name={say("Shown as")}
					value={asList ? "list" : "cards"}
					options={[
						{ value: "cards", label: say("cards") },
						{ value: "list", label: say("a list") },
					]}
					onChange={(look) => set({ look: look === "list" ? "list" : null, open: null })}
				/>
				{shown.length > 0 && (
					<Button look="plain" onClick={() => setTicked(whole ? [] : shown.map((memo) => memo.id))}>
						{whole ? say("Untick all") : say("Tick all shown")}
					</Button>
				)}
			</Narrowed>
			{ticked.length > 0 && (
				<TickedMemos memos={ticked.map((memo) => memo.id)} mayChange={ticked.every(mayChange)} onDone={() => setTicked([])} />
			)}
			{asList ? (
				<div className={`grid min-h-0 flex-1 gap-4 ${open ? "cols-[minmax(0,1fr)_minmax(300px,38%)]" : "grid-cols-1"}`}>
					<MemoList
						memos={shown}
						open={open?.id ?? null}
						ticked={marked}
						onTick={tick}
						onOpen={(id) => set({ open: id === null ? null : String(id) })}
					/>
					{open && (
						<aside aria-label={say("The memo chosen")} className="pane rounded-t-lg border border-b-0 border-line bg-card">
							<MemoCard key={open.id} memo={open} ticked={false} onTick={() => undefined} bare />
						</aside>
					)}
				</div>
			) : (
				<div className="-mx-1 min-h-0 max-w-3xl flex-1 pane px-1 pt-1 pb-6">
					{mayCode && (
						<div className="mb-4">
							<NewMemo
								on={{}}
								kind="reflexive"
								placeholder={say(
									"A memo on the project as a whole. One on a passage is written on its card at the desk. [[ names a code, a person, a document …",
								)}
							/>
						</div>
					)}
					{cards.map((memo) => (
						<MemoCard key={memo.id} memo={memo} ticked={marked.includes(memo.id)} onTick={() => tick(memo.id)} />
					))}
				</div>
			)}
			{shown.length === 0 && <p className="pb-6 quiet-line">{all.length ? say("No memo answers to that.") : say("No memos yet.")}</p>}
			{kinds && <KindsDialog onClose={() => setKinds(false)} />}
		</div>
	);
}

/** By what the memos are narrowed, and in which order they stand. */
function Narrowed({ memos, shown, children }: { memos: Memo[]; shown: number; children: React.ReactNode }) {
	const { case_one } = useProject();
	const [params, set] = useAddress();
	const kinds = useKinds();
	const looked = lookedIn(params, "");
	const on: Record<MemoOn, string> = {
		project: say("the project"),
		passage: say("passages"),
		code: say("codes"),
		theme: say("themes"),
		document: say("documents"),
		case: say("a {one}", { one: case_one }),
		comparison: say("comparisons"),
	};
	const sorts: Record<Sort, string> = {
		newest: say("newest first"),
		oldest: say("oldest first"),
		on: say("by what they are on"),
		by: say("by author"),
		kind: say("by kind"),
	};
	const authors = [...new Set(memos.map(writer))].sort((a, b) => a.localeCompare(b));
	return (
		<div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px] text-quiet">
			<span>{say("{shown, plural, one {# memo} other {# memos}}", { shown })}</span>
			<Choice<string>
				as="small"
				name={say("Kind")}
				value={params.get("kind") ?? "all"}
				options={[
					{ value: "all", label: say("of all kinds") },
					...kinds.map((one) => ({ value: String(one.value), label: one.label })),
					{ value: "none", label: say("of no kind") },
				]}
				onChange={(kind) => set({ kind: kind === "all" ? null : kind })}
			/>
			<Choice<string>
				as="small"
				name={say("By whom")}
				value={looked.by ?? ""}
				options={[{ value: "", label: say("by anybody") }, ...authors.map((one) => ({ value: one, label: say("by {one}", { one }) }))]}
				onChange={(by) => set({ by: by || null })}
			/>
			<Choice<string>
				as="small"
				name={say("On what")}
				value={looked.on ?? ""}
				options={[
					{ value: "", label: say("on anything") },
					...MEMO_ON.map((one) => ({ value: one, label: say("on {what}", { what: on[one] }) })),
				]}
				onChange={(what) => set({ on: what || null })}
			/>
			<span className="flex flex-wrap items-center gap-1.5">
				{say("written from")}
				<Day name={say("Written from this day")} value={looked.since} onChange={(since) => set({ since })} />
				{say("until")}
				<Day name={say("Written until this day")} value={looked.until} onChange={(until) => set({ until })} />
			</span>
			<Choice<Sort>
				as="small"
				name={say("Order")}
				value={looked.sort}
				options={(Object.keys(sorts) as Sort[]).map((value) => ({ value, label: sorts[value] }))}
				onChange={(sort) => set({ sort: sort === "newest" ? null : sort })}
			/>
			{children}
		</div>
	);
}
