import { Link, useNavigate } from "react-router";
import { say } from "../../language/say";
import { type Memo, useKindsNamed, useMemoWrites } from "../../memos/data";
import { KindsChoice } from "../../memos/KindsChoice";
import { MemoField, type Written } from "../../memos/MemoField";
import { MemoText } from "../../memos/MemoText";
import { useDraft } from "../../project/draft";
import { useProject } from "../../project/project";
import { decides, works } from "../../project/roles";
import { useSession } from "../../project/session";
import { Button } from "../../ui/Button";
import { useToasts } from "../../ui/toasts";
import { longDay } from "../../ui/words";
import { placeOn, writer } from "./shown";

/** Whether the member may change a memo: its author, or an owner. */
export function useMayChange(): (memo: Memo) => boolean {
	const { role } = useProject();
	const me = useSession().data?.account?.id;
	return (memo) => works(role) && (memo.author_id === me || decides(role));
}

/** What a memo is on; it opens. */
export function OnWhat({ memo }: { memo: Memo }) {
	const { id } = useProject();
	const to = placeOn(memo);
	const name = memo.on === "passage" ? `“${memo.name}”` : memo.name;
	if (!to) return <span>{name}</span>;
	return (
		<Link className="max-w-full min-w-0 truncate text-spruce hover:underline" title={name} to={`/projects/${id}/${to}`}>
			{name}
		</Link>
	);
}

/** A memo as a card: what it says, of which kinds, on what, and what can be done with it. */
export function MemoCard({ memo, ticked, onTick, bare = false }: { memo: Memo; ticked: boolean; onTick: () => void; bare?: boolean }) {
	const project = useProject();
	const named = useKindsNamed();
	const mine = useMayChange()(memo);
	const { change, remove, intoDocument: becomeDocument } = useMemoWrites();
	const { tell } = useToasts();
	const navigate = useNavigate();
	const [editing, setEditing, done] = useDraft<Written | null>(`memo ${memo.id}`, null);
	const intoDocument = () =>
		becomeDocument.mutate(memo.id, {
			onSuccess: ({ count }) => {
				tell(say("The memo is a document now. Ctrl Z takes it back."));
				navigate(`/projects/${project.id}/code/${count}`);
			},
		});
	return (
		<article className={bare ? "p-3.5" : "mb-3 rounded-lg border border-line bg-card p-3"}>
			<p className="mb-1 flex flex-wrap items-baseline gap-x-2 text-[12.6px] text-quiet">
				{!bare && (
					<input
						type="checkbox"
						className="self-center"
						aria-label={say("Tick the memo “{name}”", { name: memo.text.slice(0, 40) })}
						checked={ticked}
						onChange={onTick}
					/>
				)}
				{mine ? (
					<KindsChoice small value={memo.kinds} onChange={(kinds) => change.mutate({ id: memo.id, kinds })} />
				) : (
					<b className="font-semibold text-ink">{named(memo.kinds) || say("No kind")}</b>
				)}
				<span>{say("{source} · {value} · on", { source: writer(memo), value: longDay(memo.made_at) })}</span>
				<OnWhat memo={memo} />
			</p>
			{editing === null ? (
				<MemoText text={memo.text} links={memo.links} />
			) : (
				<MemoField name={say("The memo")} rows={5} className="field w-full resize-y font-serif" value={editing} onChange={setEditing} />
			)}
			{mine && (
				<div className="mt-1 flex flex-wrap items-center gap-2 text-[13px]">
					{editing === null ? (
						<>
							<Button look="plain" onClick={() => setEditing({ text: memo.text, links: [] })}>
								{say("Change")}
							</Button>
							<Button look="plain" title={say("To be coded like any other; the memo stays")} onClick={intoDocument}>
								{say("Make it a document")}
							</Button>
							<Button look="plain" onClick={() => remove.mutate(memo.id)} title={say("Undo brings it back")}>
								{say("Delete")}
							</Button>
						</>
					) : (
						<>
							<Button disabled={!editing.text.trim()} onClick={() => change.mutate({ id: memo.id, ...editing }, { onSuccess: done })}>
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
