import { QUESTION } from "../../api/grammar.gen";
import { say } from "../../language/say";
import { Button } from "../../ui/Button";
import type { Question } from "../spec";
import type { Kept } from "./kept";

/** What a kept comparison asks about that isn't there as it was, and what it became. */
export function Gone({ kept, onTake }: { kept: Kept; onTake: (asked: Question) => void }) {
	if (kept.gone.length === 0) return null;
	return (
		<div role="alert" className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 rounded-md bg-apricot-soft px-3 py-1.5 text-[13.4px]">
			<span>
				{say("Since this was kept: {gone}.", {
					gone: kept.gone.map(lost).join("; "),
				})}
			</span>
			<Button onClick={() => onTake(followed(kept))}>
				{kept.gone.some((one) => one.became) ? say("Use what it became") : say("Leave it out")}
			</Button>
		</div>
	);
}

const WHAT: Record<Kept["gone"][number]["what"], string> = {
	code: say("code"),
	theme: say("theme"),
	query: say("saved query"),
	cohort: say("cohort"),
	variable: say("variable"),
	category: say("category"),
};

function lost({ what: kind, name, became }: Kept["gone"][number]): string {
	const what = WHAT[kind];
	if (name && became) return say("the {what} “{name}” became “{became}”", { what, name, became });
	if (name) return say("the {what} “{name}” was deleted or renamed", { what, name });
	return say("the {what} that it asked about was deleted or renamed", { what });
}

/** The question with everything that is gone replaced by what it became, or left out. */
export function followed(kept: Kept): Question {
	const asked = kept.asked as Question;
	const gone = new Map(kept.gone.filter((one) => one.what !== "category").map((one) => [`${one.what}:${one.id}`, one.now]));
	const ids = (what: string, list: number[]) => [
		...new Set(list.flatMap((id) => (gone.has(`${what}:${id}`) ? (gone.get(`${what}:${id}`) ?? []) : [id]))),
	];
	const labels = new Map(kept.gone.filter((one) => one.what === "category").map((one) => [one.name, one.became]));
	const named = (list: string[] | null | undefined) => {
		const next = list?.map((name) => labels.get(name) ?? name).filter(Boolean);
		return next?.length ? [...new Set(next)] : null;
	};
	const now = Object.fromEntries(
		Object.entries(asked).map(([name, value]) => {
			const part = QUESTION.find((one) => one.name === name);
			if (part?.way === "labels") return [name, named(value as string[] | null)];
			return [name, part?.kind && part.way === "ids" && value ? ids(part.kind, value as number[]) : value];
		}),
	) as unknown as Question;
	return { ...now, difference: labels.size ? null : (asked.difference ?? null) };
}
