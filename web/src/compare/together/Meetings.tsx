import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import { Passage } from "../../evidence/Passage";
import { say } from "../../language/say";
import { useAddressedNumber } from "../../project/address";
import { useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Loading, Problem } from "../../ui/Empty";
import type { Cell, Together } from "./cell";

const STEP = 60;

/** Both passages of every meeting in one cell, each in its context. */
export function Meetings({
	body,
	cell,
	data,
	onClose,
}: {
	body: Shape<"TogetherInRequest">;
	cell: Cell;
	data: Together;
	onClose: () => void;
}) {
	const { id } = useProject();
	const [limit, setLimit] = useAddressedNumber("up", STEP);
	const asked = { ...body, ...cell, limit };
	const found = useQuery({
		queryKey: ["project", id, "meetings", asked],
		placeholderData: keepPreviousData,
		queryFn: () =>
			take(api.POST("/api/projects/{project_id}/compare/together/meetings", { params: { path: { project_id: id } }, body: asked })),
	});
	const [one, other] = [data.codes[cell.row]?.name, data.codes[cell.column]?.name];
	return (
		<aside aria-label={say("Evidence")} className="flex min-h-0 flex-col border-l border-line bg-card">
			<div className="flex items-start gap-2 border-b border-line px-4 py-3">
				<h2>
					{say("{one} with {other}", { one, other })}
					{cell.group !== null && ` · ${data.groups[cell.group]?.name}`}
				</h2>
				<button
					type="button"
					aria-label={say("Close the evidence")}
					className="ml-auto text-lg leading-none text-quiet hover:text-ink"
					onClick={onClose}
				>
					×
				</button>
			</div>
			<div className="flex-1 pane px-4 py-2">
				{found.error && <Problem error={found.error} />}
				{found.isPending && <Loading what={say("the passages")} />}
				{found.data && (
					<p className="mb-2 quiet-line">
						{say("{pairs, plural, one {# pair} other {# pairs}} of passages.", { pairs: found.data.total })}
					</p>
				)}
				{found.data?.meetings.map(({ first, second }) => (
					<article key={`${first.id}-${second.id}`} className="mb-3 border-b border-line2 pb-2">
						{first.id === second.id ? (
							<Passage passage={first} by={say("{people}, both codes", { people: first.people.join(", ") })} />
						) : (
							<div className="space-y-2">
								<Passage passage={first} by={`${first.people.join(", ")}, ${one}`} />
								<Passage passage={second} by={`${second.people.join(", ")}, ${other}`} />
							</div>
						)}
					</article>
				))}
				{found.data && found.data.more > 0 && (
					<Button onClick={() => setLimit(limit + STEP)}>{say("Show more of {more}", { more: found.data.more })}</Button>
				)}
			</div>
		</aside>
	);
}
