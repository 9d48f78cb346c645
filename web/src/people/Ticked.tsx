import type { ReactNode } from "react";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { Button } from "../ui/Button";
import type { UnlinkedGroup } from "./unlinked";

/** Above the tray: tick many at once, and say of all that are ticked who they are. */
export function Ticked({
	groups,
	chosen,
	onTick,
	onAccept,
	onNew,
	onInterviewer,
	onNobody,
	children,
}: {
	groups: UnlinkedGroup[];
	chosen: UnlinkedGroup[];
	onTick: (keys: string[], on: boolean) => void;
	onAccept: (groups: UnlinkedGroup[]) => void;
	onNew: () => void;
	onInterviewer: () => void;
	onNobody: () => void;
	/** The field that finds one person for all. */
	children: ReactNode;
}) {
	const { case_one, case_many } = useProject();
	const proposed = chosen.filter((group) => group.rows.every((row) => row.case !== null));
	const likely = groups.filter((group) => group.proposed?.certainty === "likely");
	const all = groups.length > 0 && chosen.length === groups.length;
	return (
		<div className="flex min-h-11 flex-wrap items-center gap-2 border-t border-line2 px-3.5 py-1.5">
			<label className="mr-1 flex min-h-6 items-center gap-2">
				<input
					type="checkbox"
					className="accent-spruce"
					checked={all}
					onChange={(event) =>
						onTick(
							groups.map((group) => group.key),
							event.target.checked,
						)
					}
				/>
				{chosen.length ? say("{chosen} ticked", { chosen: chosen.length }) : say("All")}
			</label>
			{chosen.length === 0 ? (
				<>
					<span className="quiet-line">{say("Tick several to say of all at once who they are.")}</span>
					{likely.length > 0 && (
						<Button
							onClick={() =>
								onTick(
									likely.map((group) => group.key),
									true,
								)
							}
						>
							{say("Tick the {likely} likely {likely, plural, one {one} other {ones}}", { likely: likely.length })}
						</Button>
					)}
				</>
			) : (
				<>
					{proposed.length > 0 && (
						<Button look="main" onClick={() => onAccept(proposed)}>
							{say("Link {proposed} as proposed", { proposed: proposed.length })}
						</Button>
					)}
					{children}
					<Button onClick={onNew}>
						{chosen.length === 1 ? say("A new {one}", { one: case_one }) : say("New {many}", { many: case_many })}
					</Button>
					<Button onClick={onInterviewer}>{say("Interviewers")}</Button>
					<Button onClick={onNobody}>{say("Nobody in particular")}</Button>
				</>
			)}
		</div>
	);
}
