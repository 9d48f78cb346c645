import { Link, useNavigate } from "react-router";
import { phrase, say } from "../../language/say";
import { type Memo, useMemos, useMemoWrites } from "../../memos/data";
import { MEMO_KINDS } from "../../memos/memos";
import { NewMemo } from "../../memos/NewMemo";
import { useAddress, useTyped } from "../../project/address";
import { useDraft } from "../../project/draft";
import { type Play, usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { decides, works } from "../../project/roles";
import { useSession } from "../../project/session";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { languageOf } from "../../ui/language";
import { useToasts } from "../../ui/toasts";
import { longDay } from "../../ui/words";
import { CodePages } from "../CodePages";

/** All memos of the project, by kind; what each is on is one click away. */
export function MemosPage() {
	const mayCode = useMayCode();
	const memos = useMemos();
	const play = usePlay();
	const [params, set] = useAddress();
	const [words, setWords] = useTyped("words");
	const only = params.get("kind") ?? "all";
	const hindered = hindrance(memos);
	if (hindered) return <Problem error={hindered} />;
	if (!memos.data) return <Loading what={say("the memos")} />;
	const wanted = words.trim().toLowerCase();
	const shown = memos.data.filter(
		(memo) =>
			(only === "all" || memo.kind === only) &&
			inPlay(memo, play) &&
			(!wanted || `${memo.text} ${memo.name} ${memo.author} ${memo.source}`.toLowerCase().includes(wanted)),
	);
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3">
			<div className="mb-2 flex flex-wrap items-center gap-3">
				<CodePages figures={{ "code/memos": String(memos.data.length) }} />
				<input
					aria-label={say("Find in memos")}
					placeholder={say("Find in memos")}
					className="field ml-4 w-52"
					value={words}
					onChange={(event) => setWords(event.target.value)}
				/>
				<span className="w-40">
					<Choice
						name={say("Kind")}
						value={only}
						options={[
							{ value: "all", label: say("All kinds") },
							...MEMO_KINDS.map((one) => ({ value: one.value as string, label: one.label })),
						]}
						onChange={(value) => set({ kind: value === "all" ? null : value })}
					/>
				</span>
				<span className="quiet-line">{say("{memos, plural, one {# memo} other {# memos}}", { memos: shown.length })}</span>
			</div>
			<div className="min-h-0 max-w-3xl flex-1 pane pb-6">
				{mayCode && (
					<div className="mb-4">
						<NewMemo
							on={{}}
							kind="reflexive"
							placeholder={say("A memo on the project as a whole. One on a passage is written on its card at the desk.")}
						/>
					</div>
				)}
				{shown.map((memo) => (
					<MemoEntry key={memo.id} memo={memo} />
				))}
				{shown.length === 0 && <p className="quiet-line">{memos.data.length ? say("No memo answers to that.") : say("No memos yet.")}</p>}
			</div>
		</div>
	);
}

/** What is on a person or in a document that the scope leaves out stays out; the rest is of the project. */
function inPlay(memo: Memo, play: Play): boolean {
	if (memo.on === "case") return !play.cases || play.cases.has(memo.on_id ?? 0);
	return !play.documents || memo.document === null || play.documents.has(memo.document);
}

function MemoEntry({ memo }: { memo: Memo }) {
	const project = useProject();
	const me = useSession().data?.account?.id;
	const { change, intoDocument: becomeDocument } = useMemoWrites();
	const { tell } = useToasts();
	const navigate = useNavigate();
	const intoDocument = () =>
		becomeDocument.mutate(memo.id, {
			onSuccess: ({ count }) => {
				tell(say("The memo is a document now. Ctrl Z takes it back."));
				navigate(`/projects/${project.id}/code/${count}`);
			},
		});
	const { remove } = useMemoWrites();
	const [editing, setEditing, done] = useDraft<string | null>(`memo ${memo.id}`, null);
	const mine = works(project.role) && (memo.author_id === me || decides(project.role));
	const where: Record<string, string | null> = {
		passage: `code/${memo.document}?passage=${memo.on_id}`,
		document: `code/${memo.document}`,
		code: `code/codebook?open=${memo.on_id}&show=card`,
		theme: `code/themes?open=${memo.on_id}`,
		comparison: `compare?kept=${memo.on_id}`,
		case: "people",
		project: null,
	};
	const to = where[memo.on];
	return (
		<article className="mb-3 rounded-lg border border-line bg-card p-3">
			<p className="mb-1 flex flex-wrap items-baseline gap-x-2 text-[12.6px] text-quiet">
				{phrase("<b>{label}</b>{source} · {value} · on", {
					b: (inner) => <b className="font-semibold text-ink">{inner}</b>,
					label: MEMO_KINDS.find((one) => one.value === memo.kind)?.label,
					source: memo.source || memo.author,
					value: longDay(memo.made_at),
				})}{" "}
				{to ? (
					<Link className="min-w-0 truncate text-spruce hover:underline" to={`/projects/${project.id}/${to}`}>
						{memo.on === "passage" ? `“${memo.name}”` : memo.name}
					</Link>
				) : (
					memo.name
				)}
			</p>
			{editing === null ? (
				<p className="font-serif leading-snug whitespace-pre-line" dir="auto" lang={languageOf(memo.text)}>
					{memo.text}
				</p>
			) : (
				<textarea
					aria-label={say("The memo")}
					rows={4}
					className="field w-full font-serif"
					dir="auto"
					value={editing}
					onChange={(event) => setEditing(event.target.value)}
				/>
			)}
			{mine && (
				<div className="mt-1 flex gap-2 text-[13px]">
					{editing === null ? (
						<>
							<Button look="plain" title={say("To be coded like any other; the memo stays")} onClick={intoDocument}>
								{say("Make it a document")}
							</Button>
							<Button look="plain" onClick={() => setEditing(memo.text)}>
								{say("Change")}
							</Button>
							<Button look="plain" onClick={() => remove.mutate(memo.id)} title={say("Undo brings it back")}>
								{say("Delete")}
							</Button>
						</>
					) : (
						<>
							<Button disabled={!editing.trim()} onClick={() => change.mutate({ id: memo.id, text: editing }, { onSuccess: done })}>
								{say("Keep")}
							</Button>
							<Button look="plain" onClick={done}>
								{say("Leave as it was")}
							</Button>
						</>
					)}
				</div>
			)}
		</article>
	);
}
