import { useRef } from "react";
import { say } from "../../language/say";
import { type Memo, useKindsNamed } from "../../memos/data";
import { beginning } from "../../memos/linked";
import { Room } from "../../ui/Room";
import { useLong } from "../../ui/virtual";
import { isoDay, longDay } from "../../ui/words";
import { OnWhat } from "./MemoCard";
import { writer } from "./shown";

const ROW = 33;

/** Memos a line each; one opens beside the list. */
export function MemoList({
	memos,
	open,
	ticked,
	onTick,
	onOpen,
}: {
	memos: Memo[];
	open: number | null;
	ticked: number[];
	onTick: (id: number) => void;
	onOpen: (id: number | null) => void;
}) {
	const named = useKindsNamed();
	const frame = useRef<HTMLDivElement>(null);
	const drawn = useLong(memos.length, frame, ROW);
	return (
		<div ref={frame} className="pane min-h-0 flex-1 pb-4">
			<table className="w-full table-fixed border-separate border-spacing-0 rounded-lg border border-line bg-card text-[13.4px]">
				<thead className="sticky top-0 z-10 bg-card">
					<tr className="[&>th]:border-b [&>th]:border-line [&>th]:px-2.5 [&>th]:py-1.5 [&>th]:text-left [&>th]:font-semibold">
						<th className="w-9">
							<span className="sr-only">{say("Ticked")}</span>
						</th>
						<th>{say("The memo")}</th>
						<th className="w-40">{say("Kinds")}</th>
						<th className="w-1/4">{say("On")}</th>
						<th className="w-28">{say("By")}</th>
						<th className="w-28">{say("Written")}</th>
					</tr>
				</thead>
				<tbody>
					<Room high={drawn.before} width={6} />
					{drawn.items.map(({ index }) => {
						const memo = memos[index] as Memo;
						return (
							<tr
								key={memo.id}
								className={`[&>td]:truncate [&>td]:border-t [&>td]:border-line2 [&>td]:px-2.5 [&>td]:py-1 ${memo.id === open ? "bg-spruce-soft" : ""}`}
							>
								<td>
									<input
										type="checkbox"
										aria-label={say("Tick the memo “{name}”", { name: memo.text.slice(0, 40) })}
										checked={ticked.includes(memo.id)}
										onChange={() => onTick(memo.id)}
									/>
								</td>
								<td>
									<button
										type="button"
										className="max-w-full truncate text-left font-serif hover:text-spruce"
										aria-expanded={memo.id === open}
										onClick={() => onOpen(memo.id === open ? null : memo.id)}
									>
										{beginning(memo.text)}
									</button>
								</td>
								<td title={named(memo.kinds)}>{named(memo.kinds) || <span className="text-quiet">{say("none")}</span>}</td>
								<td>
									<OnWhat memo={memo} />
								</td>
								<td title={writer(memo)}>{writer(memo)}</td>
								<td title={longDay(memo.made_at)}>{isoDay(memo.made_at)}</td>
							</tr>
						);
					})}
					<Room high={drawn.after} width={6} />
				</tbody>
			</table>
		</div>
	);
}
