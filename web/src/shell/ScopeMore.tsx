import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Shape, take } from "../api/client";
import { useQueries } from "../compare/passages/searches";
import { say } from "../language/say";
import { GroupEditor, useCounts } from "../people/Conditions";
import { useCohorts, useRoster } from "../people/data";
import { complete, type Group, type Kept, replaced } from "../project/condition";
import { scopeAddress } from "../project/grammar";
import { useScopeCounts } from "../project/play";
import { useMayCode, useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { readScope, type Scope, scopeRequest, useScope, WHOLE } from "../project/scope";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Day } from "../ui/Day";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { counted, listed } from "../ui/words";

const NONE: Group = { join: "all", parts: [] };
const PART: Record<string, string> = {
	cases: say("the choice of people"),
	who: say("the conditions on people"),
	documents: say("the choice of documents"),
	document_cohorts: say("the cohort of documents"),
	coders: say("the choice of coders"),
	codes: say("the choice of codes"),
	since: say("the first day"),
	until: say("the last day"),
	query: say("the saved query"),
};

/** What the scope leaves out; where it leaves nothing, which part of it did that. */
export function ScopeLeft({ out }: { out: string[] }) {
	const { scope } = useScope();
	const { case_one, case_many } = useProject();
	const counts = useScopeCounts(scope).data;
	if (counts?.emptied_by)
		return <b className="text-danger">{say("No passage is left: {part} left none.", { part: PART[counts.emptied_by] })}</b>;
	const without = out.length > 0 && say("Leaves out {out}", { out: listed(out) });
	const left =
		counts &&
		say("{with_material} of {of_cases} and {passages, plural, one {# passage} other {# passages}} of {of_passages} in play", {
			with_material: counts.with_material,
			of_cases: counted(counts.of_cases, case_one, case_many),
			passages: counts.passages,
			of_passages: counts.of_passages,
		});
	return <>{[without, left].filter(Boolean).join(" · ")}</>;
}

/** How many of the people have anything to say in scope, where not all have. */
export function WithMaterial() {
	const { scope } = useScope();
	const counts = useScopeCounts(scope).data;
	if (!counts || counts.with_material === counts.cases) return null;
	return (
		<span title={say("The others have no material in scope, so nothing of theirs is counted")}>
			{say(" ({with_material} with material)", { with_material: counts.with_material })}
		</span>
	);
}

/** Further conditions in words, and the scopes that are saved. */
function codedWithin(since: string | null | undefined, until: string | null | undefined): string | null {
	if (since && until) return say("coded from {since} until {until}", { since, until });
	if (since) return say("coded from {since}", { since });
	return until ? say("coded until {until}", { until }) : null;
}

export function ScopeMore({ cases }: { cases: number }) {
	const { case_many } = useProject();
	const { scope, change, narrowed } = useScope();
	const [asking, setAsking] = useState(false);
	const queries = useQueries().data ?? [];
	const ofDocuments = useCohorts().data?.of_documents ?? [];
	const said = [
		scope.document_cohorts &&
			say("documents of “{name}”", {
				name: listed(scope.document_cohorts.map((id) => ofDocuments.find((one) => one.id === id)?.name ?? say("a cohort that is gone"))),
			}),
		scope.who &&
			say("{many} by {conditions, plural, one {# condition} other {# conditions}}", {
				many: case_many,
				conditions: scope.who.parts.length,
			}),
		codedWithin(scope.since, scope.until),
		scope.query && say("passages of “{name}”", { name: queries.find((one) => one.id === scope.query)?.name ?? say("a query") }),
	].filter(Boolean);
	return (
		<>
			{say(", with")}{" "}
			<button type="button" className="border-b border-dashed border-edge font-semibold text-ink" onClick={() => setAsking(true)}>
				{said.length ? said.join(", ") : say("no further conditions")}
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
	const ofDocuments = useCohorts().data?.of_documents ?? [];
	const queries = useQueries().data ?? [];
	const [who, setWho] = useState<Group>(scope.who ?? NONE);
	const counts = useCounts(who);
	const set = (next: Group) => {
		setWho(next);
		if (complete(next)) onChange({ who: next.parts.length ? next : null });
	};
	return (
		<Modal title={say("What is in play")} onClose={onClose} wide>
			<h3 className="mb-1 font-semibold">{say("By {many}: what is known of them, what they mention", { many: case_many })}</h3>
			<GroupEditor
				group={who}
				kept={counts.data as Kept | undefined}
				path={[]}
				variables={variables}
				onChange={(path, part) => set(path.length ? replaced(who, path, part) : (part as Group))}
			/>
			<p className="mt-1 mb-3 text-[13px] text-quiet" role="status">
				{counts.data && complete(who)
					? say("{count} of {cases} fit.", { count: counted(counts.data.count, case_one, case_many), cases })
					: say("Complete the condition to see how many fit.")}
			</p>
			{ofDocuments.length > 0 && (
				<>
					<h3 className="mb-1 font-semibold">{say("By a cohort of documents")}</h3>
					<div className="mb-3">
						<Choice
							name={say("Cohort of documents")}
							value={scope.document_cohorts?.[0] ?? null}
							options={[
								{ value: null as number | null, label: say("all documents") },
								...ofDocuments.map((one) => ({ value: one.id as number | null, label: one.name })),
							]}
							onChange={(cohort) => onChange({ document_cohorts: cohort === null ? null : [cohort] })}
						/>
					</div>
				</>
			)}
			<h3 className="mb-1 font-semibold">{say("By the day of coding")}</h3>
			<p className="mb-3 flex items-center gap-2 text-[13.4px]">
				{say("from")}
				<Day name={say("First day")} value={scope.since} onChange={(since) => onChange({ since })} />
				{say("until")}
				<Day name={say("Last day")} value={scope.until} onChange={(until) => onChange({ until })} />
			</p>
			<h3 className="mb-1 font-semibold">{say("By a saved query on passages")}</h3>
			{queries.length ? (
				<Choice
					name={say("Saved query")}
					value={scope.query}
					options={[
						{ value: null as number | null, label: say("all passages") },
						...queries.map((one) => ({ value: one.id as number | null, label: one.name })),
					]}
					onChange={(query) => onChange({ query })}
				/>
			) : (
				<p className="quiet-line">{say("None is saved yet: make one under Compare, Passages.")}</p>
			)}
			<div className="mt-4">
				<Button look="main" onClick={onClose}>
					{say("Done")}
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
	const found = useQuery(read("scopes", id)).data;
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
			<PopoverButton className="text-[13px] font-semibold text-spruce hover:underline">{say("Saved scopes ▾")}</PopoverButton>
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
										aria-label={say("Let go of {name}", { name: one.name })}
										className="sign text-quiet hover:text-danger"
										onClick={() => remove.mutate(one.id)}
									>
										×
									</button>
								)}
							</div>
						))}
						{found.length === 0 && <p className="px-1 quiet-line">{say("None is saved yet.")}</p>}
						{narrowed && mayCode && (
							<form
								className="mt-2 flex gap-2 border-t border-line2 pt-2"
								onSubmit={(event) => {
									event.preventDefault();
									save.mutate({ name, scope: scopeRequest(scope) }, { onSuccess: () => setName("") });
								}}
							>
								<input
									aria-label={say("Name of this scope")}
									placeholder={say("Name this scope")}
									className="field min-w-0 flex-1"
									value={name}
									{...refused.field}
									onChange={(event) => setName(event.target.value)}
								/>
								<Button type="submit" disabled={!name.trim()}>
									{say("Save")}
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
