import type { Shape } from "../../api/client";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { counted } from "../../ui/words";

type Word = Shape<"WordOut">;
interface Props {
	words: Word[];
	onWord: (word: string) => void;
}

const SMALLEST = 12;
const LARGEST = 32;

/** Words as large as there are people who say them; beside the group that says them more than the others, the most telling at the top,
 * and beneath those of which that can’t be told. */
export function WordCloud({ groups, words, onWord }: Props & { groups: string[] }) {
	const { case_many } = useProject();
	const most = Math.max(1, ...words.map((word) => word.people));
	const apart = groups.length > 1;
	const rest = apart ? words.filter((word) => !word.stands_out.includes(1)) : words;
	return (
		<div className="min-h-56 flex-1 space-y-4 pane rounded-t-lg border border-b-0 border-line bg-card p-3">
			<p className="quiet-line">
				{apart
					? say("Size: how many {many} say it. Place: beside the group that says it more than the others, the most telling first.", {
							many: case_many,
						})
					: say("Size: how many {many} say it, those that most say first.", { many: case_many })}
			</p>
			{apart && (
				<div className="grid gap-4 cols-[repeat(auto-fit,minmax(180px,1fr))]">
					{groups.map((name, at) => (
						<section key={name} aria-label={name} className="border-t-2 border-line pt-1.5">
							<h2 className="mb-1 text-[14px]!">{name}</h2>
							<Sized words={ofGroup(words, at)} most={most} onWord={onWord} />
						</section>
					))}
				</div>
			)}
			<section
				aria-label={say("no group more than the others, as far as can be told")}
				className={apart ? "border-t-2 border-line pt-1.5" : ""}
			>
				{apart && <h2 className="mb-1 text-[14px]!">{say("no group more than the others, as far as can be told")}</h2>}
				<Sized words={[...rest].sort((a, b) => b.people - a.people)} most={most} onWord={onWord} />
			</section>
		</div>
	);
}

function Sized({ words, most, onWord }: Props & { most: number }) {
	const { case_one, case_many } = useProject();
	if (!words.length) return <p className="quiet-line">{say("no word more than the others")}</p>;
	return (
		<ul className="flex flex-wrap items-baseline gap-x-3 gap-y-0.5">
			{words.map((word) => {
				const people = counted(word.people, case_one, case_many);
				return (
					<li key={word.word}>
						<button
							type="button"
							className="min-h-6 font-serif leading-tight text-spruce hover:underline"
							style={{ fontSize: Math.max(SMALLEST, (LARGEST * word.people) / most) }}
							aria-label={say("{word}, said by {people}", { word: word.word, people })}
							title={say("{times, plural, one {# time} other {# times}} by {people}: read where", { times: word.count, people })}
							onClick={() => onWord(word.word)}
						>
							{word.word}
						</button>
					</li>
				);
			})}
		</ul>
	);
}

/** What a group says more than the others, by two standard errors; a word that two do stands with the one that does more. */
function ofGroup(words: Word[], at: number): Word[] {
	const own = words.filter((word) => word.stands_out[at] === 1 && word.apart[at] === Math.max(...word.apart));
	return own.sort((a, b) => (b.apart[at] ?? 0) - (a.apart[at] ?? 0));
}
