import { useState } from "react";
import type { Code } from "../../codes/data";
import { phrase, say } from "../../language/say";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { useLook } from "../overview";

/** What in the codebook wants a look, each with what to do about it. */
export function LookList({ codes, onOpen, onTick }: { codes: Code[]; onOpen: (id: number) => void; onTick: (ids: number[]) => void }) {
	const { case_one } = useProject();
	const look = useLook().data;
	const [opened, setOpened] = useState<string | null>(null);
	const byId = new Map(codes.map((code) => [code.id, code]));
	const known = (ids: number[]) => ids.map((id) => byId.get(id)).filter((code) => code !== undefined);
	const alike = (look?.alike ?? []).filter((pair) => byId.has(pair.left) && byId.has(pair.right));
	const lists = [
		{ name: "undefined", says: say("without a definition"), codes: known(look?.undefined ?? []) },
		{ name: "unused", says: say("on no passage"), codes: known(look?.unused ?? []) },
		{ name: "one", says: say("by one {one} only", { one: case_one }), codes: known(look?.one_person ?? []) },
	].filter((list) => list.codes.length);
	if (!lists.length && !alike.length) return null;
	return (
		<section aria-label={say("What wants a look")} className="mb-3 rounded-lg border border-line bg-card px-3 py-2 text-[13px]">
			<p>
				<b>{say("Wants a look:")}</b>{" "}
				{[
					...lists.map((list) => ({
						name: list.name,
						says: `${say("{codes, plural, one {# code} other {# codes}}", { codes: list.codes.length })} ${list.says}`,
					})),
				]
					.concat(
						alike.length
							? [{ name: "alike", says: say("{pairs, plural, one {# pair} other {# pairs}} that may be one", { pairs: alike.length }) }]
							: [],
					)
					.map((one, place) => (
						<span key={one.name}>
							{place > 0 && " · "}
							<button
								type="button"
								aria-expanded={opened === one.name}
								className={`hover:underline ${opened === one.name ? "font-semibold text-ink" : "text-spruce"}`}
								onClick={() => setOpened(opened === one.name ? null : one.name)}
							>
								{one.says}
							</button>
						</span>
					))}
			</p>
			{lists
				.filter((list) => list.name === opened)
				.map((list) => (
					<p key={list.name} className="mt-1.5 flex flex-wrap gap-x-3 gap-y-0.5">
						{list.codes.map((code) => (
							<button key={code.id} type="button" className="text-left hover:text-spruce hover:underline" onClick={() => onOpen(code.id)}>
								{code.name}
							</button>
						))}
					</p>
				))}
			{opened === "alike" && (
				<ul className="mt-1.5 grid gap-1">
					{alike.map((pair) => (
						<li key={`${pair.left} ${pair.right} ${pair.by}`} className="flex items-center gap-2">
							<span>
								{phrase("<b>{name}</b> and <b>{name2}</b><part></part>", {
									b: (inner) => <b>{inner}</b>,
									name: byId.get(pair.left)?.name,
									name2: byId.get(pair.right)?.name,
									part: () => (
										<span className="text-quiet">
											{pair.by === "name"
												? say(": the names are nearly the same")
												: say(": {likeness} % of the passages of either carry both", { likeness: Math.round(pair.likeness * 100) })}
										</span>
									),
								})}
							</span>
							<Button look="plain" onClick={() => onTick([pair.left, pair.right])}>
								{say("Tick both")}
							</Button>
						</li>
					))}
				</ul>
			)}
		</section>
	);
}
