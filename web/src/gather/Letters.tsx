import { say } from "../language/say";
import { Choice } from "../ui/Choice";
import { type Staged, useStagedWrites } from "./data";

/** How the letters of a file are stored, where it doesn't say so itself: a line of it in each way that they could be. */
export function Letters({ row }: { row: Staged }) {
	const { correct } = useStagedWrites();
	const { encoding } = row;
	if (!encoding) return null;
	return (
		<section aria-labelledby="letters" className="mb-2 rounded-lg border border-line bg-card p-3 text-[13px]">
			<h3 id="letters" className="mb-1 font-semibold">
				{say("How its letters are stored")}
			</h3>
			<div className="flex items-center gap-3">
				<span className="w-64 shrink-0">
					<Choice
						name={say("How letters are stored")}
						value={encoding.read_as}
						options={encoding.choices.map((one) => ({ value: one.id, label: one.words, hint: one.sample }))}
						onChange={(read_as) => correct.mutate({ id: row.id, choices: { ...row.choices, encoding: read_as } })}
						disabled={correct.isPending}
					/>
				</span>
				<span className="min-w-0 truncate font-serif text-[15px]" dir="auto">
					{encoding.choices.find((one) => one.id === encoding.read_as)?.sample}
				</span>
			</div>
			{correct.error && (
				<p role="alert" className="mt-1 text-danger">
					{correct.error.message}
				</p>
			)}
		</section>
	);
}
