import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import type { DeskDocument, Stretch } from "../data";

/** On paper, beneath a turn: the passages that begin in it, with their codes, who put them, and memos. */
export function OnPaper({ document, codes, turn }: { document: DeskDocument; codes: Code[]; turn: Stretch }) {
	const names = new Map(codes.map((code) => [code.id, code.name]));
	const own = document.passages.filter((passage) => passage.end > passage.start && passage.start >= turn.start && passage.start < turn.end);
	if (!own.length) return null;
	return (
		<ul className="mb-3 ml-30 border-l border-line pl-2 text-[11px] leading-snug text-quiet">
			{own.map((passage) => (
				<li key={passage.id}>
					“{shortened(document.text.slice(passage.start, passage.end))}”:{" "}
					<b className="text-ink">
						{passage.codings.map((coding) => `${names.get(coding.code) ?? ""} (${coding.initials})`).join(", ") || say("no code")}
					</b>
					{passage.memos.map((memo) => (
						<span key={memo.id} className="block">
							{memo.text} — {memo.source || memo.author}
						</span>
					))}
				</li>
			))}
		</ul>
	);
}

/** Enough to find it by in the text above. */
function shortened(said: string): string {
	const words = said.trim().split(/\s+/);
	return words.length <= 10 ? words.join(" ") : `${words.slice(0, 5).join(" ")} … ${words.slice(-4).join(" ")}`;
}
