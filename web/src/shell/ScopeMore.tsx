import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Shape, take } from "../api/client";
import { useQueries } from "../compare/passages/searches";
import { GroupEditor, useCounts } from "../people/Conditions";
import { useRoster } from "../people/data";
import { complete, type Group, type Kept, replaced } from "../project/condition";
import { scopeAddress } from "../project/grammar";
import { useScopeCounts } from "../project/play";
import { useMayCode, useProject, useWrite } from "../project/project";
import { readScope, type Scope, scopeRequest, useScope, WHOLE } from "../project/scope";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Day } from "../ui/Day";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { counted } from "../ui/words";

const NONE: Group = { join: "all", parts: [] };
const PART: Record<string, string> = {
	cases: "the choice of people",
	who: "the conditions on people",
	documents: "the choice of documents",
	coders: "the choice of coders",
	codes: "the choice of codes",
	since: "the first day",
	until: "the last day",
	query: "the saved query",
};

/** What the scope leaves out; where it leaves nothing, which part of it did that. */
export function ScopeLeft({ out }: { out: string[] }) {
	const { scope } = useScope();
	const { case_one, case_many } = useProject();
	const counts = useScopeCounts(scope).data;
	if (counts?.emptied_by) return <b className="text-danger">No passage is left: {PART[counts.emptied_by]} left none.</b>;
	const without = out.length > 0 && `Leaves out ${out.join(" and ")}`;
	const left =
		counts &&
		`${counts.with_material} of ${counted(counts.of_cases, case_one, case_many)} and ${counted(counts.passages, "passage")} of ${counts.of_passages} in play`;
	return <>{[without, left].filter(Boolean).join(" · ")}</>;
}

/** How many of the people have anything to say in scope, where not all have. */
export function WithMaterial() {
	const { scope } = useScope();
	const counts = useScopeCounts(scope).data;
	if (!counts || counts.with_material === counts.cases) return null;
	return <span title="The others have no material in scope, so nothing of theirs is counted"> ({counts.with_material} with material)</span>;
}

/** Further conditions in words, and the scopes that are saved. */
export function ScopeMore({ cases }: { cases: number }) {
	const { case_many } = useProject();
	const { scope, change, narrowed } = useScope();
	const [asking, setAsking] = useState(false);
	const queries = useQueries().data ?? [];
	const said = [
		scope.who && `${case_many} by ${counted(scope.who.parts.length, "condition")}`,
		(scope.since || scope.until) && `coded ${scope.since ? `from ${scope.since}` : ""} ${scope.until ? `until ${scope.until}` : ""}`.trim(),
		scope.query && `passages of “${queries.find((one) => one.id === scope.query)?.name ?? "a query"}”`,
	].filter(Boolean);
	return (
		<>
			, with{" "}
			<button type="button" className="border-b border-dashed border-edge font-semibold text-ink" onClick={() => setAsking(true)}>
				{said.length ? said.join(", ") : "no further conditions"}
			</button>
			<Saved
				narrowed={narrowed}
				scope={scope}
				onOpen={(next) => change({ ...WHOLE, ...readScope(new URLSearchParams(scopeAddress(next))) })}
			/>
			{asking && <Conditions scope={scope} cases={cases} onClose={() => setAsking(false)} onChange={change} />}
		</>
	);
}

function Conditions({
	scope,
	cases,
	onClose,
	onChange,
}: {
	scope: Scope;
	cases: number;
	onClose: () => void;
	onChange: (part: Partial<Scope>) => void;
}) {
	const { case_one, case_many } = useProject();
	const variables = useRoster().data?.variables ?? [];
	const queries = useQueries().data ?? [];
	const [who, setWho] = useState<Group>(scope.who ?? NONE);
	const counts = useCounts(who);
	const set = (next: Group) => {
		setWho(next);
		if (complete(next)) onChange({ who: next.parts.length ? next : null });
	};
	return (
		<Modal title="What is in play" onClose={onClose} wide>
			<h3 className="mb-1 font-semibold">By {case_many}: what is known of them, what they mention</h3>
			<GroupEditor
				group={who}
				kept={counts.data as Kept | undefined}
				path={[]}
				variables={variables}
				onChange={(path, part) => set(path.length ? replaced(who, path, part) : (part as Group))}
			/>
			<p className="mt-1 mb-3 text-[13px] text-quiet" role="status">
				{counts.data && complete(who)
					? `${counted(counts.data.count, case_one, case_many)} of ${cases} fit.`
					: "Complete the condition to see how many fit."}
			</p>
			<h3 className="mb-1 font-semibold">By the day of coding</h3>
			<p className="mb-3 flex items-center gap-2 text-[13.4px]">
				from
				<Day name="First day" value={scope.since} onChange={(since) => onChange({ since })} />
				until
				<Day name="Last day" value={scope.until} onChange={(until) => onChange({ until })} />
			</p>
			<h3 className="mb-1 font-semibold">By a saved query on passages</h3>
			{queries.length ? (
				<Choice
					name="Saved query"
					value={scope.query}
					options={[
						{ value: null as number | null, label: "all passages" },
						...queries.map((one) => ({ value: one.id as number | null, label: one.name })),
					]}
					onChange={(query) => onChange({ query })}
				/>
			) : (
				<p className="quiet-line">None is saved yet: make one under Compare, Passages.</p>
			)}
			<div className="mt-4">
				<Button look="main" onClick={onClose}>
					Done
				</Button>
			</div>
		</Modal>
	);
}

function Saved({ narrowed, scope, onOpen }: { narrowed: boolean; scope: Scope; onOpen: (scope: Shape<"ScopeIn">) => void }) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const path = { project_id: id };
	const [name, setName] = useState("");
	const found = useQuery({
		queryKey: ["project", id, "saved scopes"],
		queryFn: () => take(api.GET("/api/projects/{project_id}/compare/scopes", { params: { path } })),
	}).data;
	const save = useWrite((body: Shape<"SavedScopeInRequest">) =>
		take(api.POST("/api/projects/{project_id}/compare/scopes", { params: { path }, body })),
	);
	const refused = useRefused(save.error);
	const remove = useWrite((scope_id: number) =>
		take(api.DELETE("/api/projects/{project_id}/compare/scopes/{scope_id}", { params: { path: { ...path, scope_id } } })),
	);
	if (!found || (!found.length && !narrowed)) return null;
	return (
		<Popover className="ml-2 inline">
			<PopoverButton className="text-[13px] font-semibold text-spruce hover:underline">Saved scopes ▾</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-40 w-80 rounded-lg border border-line bg-card p-2 text-[13.4px] text-ink shadow-lg"
			>
				{({ close }) => (
					<>
						{found.map((one) => (
							<div key={one.id} className="flex items-center gap-2 rounded px-1 py-0.5 hover:bg-paper2">
								<button
									type="button"
									className="min-w-0 flex-1 truncate text-left font-medium"
									onClick={() => {
										onOpen(one.scope);
										close();
									}}
								>
									{one.name}
								</button>
								{mayCode && (
									<button
										type="button"
										aria-label={`Let go of ${one.name}`}
										className="sign text-quiet hover:text-danger"
										onClick={() => remove.mutate(one.id)}
									>
										×
									</button>
								)}
							</div>
						))}
						{found.length === 0 && <p className="px-1 quiet-line">None is saved yet.</p>}
						{narrowed && mayCode && (
							<form
								className="mt-2 flex gap-2 border-t border-line2 pt-2"
								onSubmit={(event) => {
									event.preventDefault();
									save.mutate({ name, scope: scopeRequest(scope) }, { onSuccess: () => setName("") });
								}}
							>
								<input
									aria-label="Name of this scope"
									placeholder="Name this scope"
									className="field min-w-0 flex-1"
									value={name}
									{...refused.field}
									onChange={(event) => setName(event.target.value)}
								/>
								<Button type="submit" disabled={!name.trim()}>
									Save
								</Button>
							</form>
						)}
						{refused.said}
					</>
				)}
			</PopoverPanel>
		</Popover>
	);
}
