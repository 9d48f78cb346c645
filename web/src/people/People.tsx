import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useMayCode, useProject } from "../shell/project";
import { Button } from "../ui/Button";
import { Empty, Loading, Problem } from "../ui/Empty";
import { Modal } from "../ui/Modal";
import { counted } from "../ui/words";
import { usePeopleWrites, useRoster, useUnlinked } from "./data";
import { Linking } from "./Linking";
import { Roster } from "./Roster";
import { Workbench } from "./Workbench";

/** Who the people are, what is known of them, and which speaker is whom. */
export function People() {
	const project = useProject();
	const mayCode = useMayCode();
	const [params, setParams] = useSearchParams();
	const roster = useRoster();
	const unlinked = useUnlinked().data ?? [];
	const [adding, setAdding] = useState(false);
	if (roster.error) return <Problem error={roster.error} />;
	if (!roster.data) return <Loading what={project.case_many} />;
	const tab = params.get("tab") === "check" ? "check" : "roster";
	const variable = roster.data.variables.find((one) => one.id === Number(params.get("variable")));
	const set = (key: string, value: string | null) =>
		setParams((before) => {
			const next = new URLSearchParams(before);
			if (value === null) next.delete(key);
			else next.set(key, value);
			return next;
		});
	const look = (name: "roster" | "check", label: string, figure: React.ReactNode) => (
		<button
			type="button"
			aria-pressed={tab === name}
			onClick={() => set("tab", name === "roster" ? null : name)}
			className={`pb-0.5 text-[15px] font-semibold ${tab === name ? "shadow-[0_2px_0_var(--color-ink)]" : "text-quiet hover:text-ink"}`}
		>
			{label} <span className="text-[12.5px] font-medium">{figure}</span>
		</button>
	);
	const many = project.case_many;
	return (
		<div className={`grid h-full ${variable ? "grid-cols-[minmax(0,1fr)_340px]" : "grid-cols-1"}`}>
			<div className="flex min-h-0 min-w-0 flex-col">
				<div className="flex items-center gap-4 px-4.5 pt-3 pb-2.5">
					{look("roster", "Roster", roster.data.cases.length)}
					{look(
						"check",
						"Check",
						unlinked.length ? <span className="text-apricot-deep">{unlinked.length} to look at</span> : "nothing open",
					)}
					<span className="ml-auto" />
					{mayCode && (
						<>
							<Link
								to="../gather/bring-in"
								className="rounded-md border border-line bg-white px-2.5 py-1 text-[13px] font-semibold hover:border-quiet"
							>
								Bring in a sheet
							</Link>
							<Button onClick={() => setAdding(true)}>Add a {project.case_one}</Button>
						</>
					)}
				</div>
				<div className="min-h-0 flex-1 overflow-auto px-4.5 pb-4">
					{tab === "check" ? (
						<Linking rows={unlinked} cases={roster.data.cases} variables={roster.data.variables} />
					) : roster.data.cases.length === 0 ? (
						<Empty title={`No ${many} yet`}>
							<p>
								Bring in the sheet that says who they are (.csv or .xlsx): one row each, a column for their ID. Speakers are linked to them
								by label or file name.
							</p>
							{mayCode && (
								<Link to="../gather/bring-in" className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-white">
									Bring in a sheet
								</Link>
							)}
						</Empty>
					) : (
						<>
							<Roster
								roster={roster.data}
								chosen={variable?.id ?? null}
								onChoose={(id) => set("variable", id === null ? null : String(id))}
								highlighted={Number(params.get("case")) || null}
							/>
							{unlinked.length > 0 && (
								<button
									type="button"
									onClick={() => set("tab", "check")}
									className="mt-3 w-full rounded-lg border border-[#efcfa9] bg-apricot-soft px-3.5 py-2 text-left"
								>
									<b>
										{counted(unlinked.length, "speaker")} without a {project.case_one}.
									</b>{" "}
									{unlinked.reduce((sum, row) => sum + row.passages, 0)} passages of theirs are in no comparison yet.{" "}
									<span className="font-semibold text-spruce">Look at {unlinked.length === 1 ? "it" : "them"}</span>
								</button>
							)}
						</>
					)}
				</div>
			</div>
			{variable && <Workbench key={variable.id} variable={variable} onClose={() => set("variable", null)} />}
			{adding && <AddCase onClose={() => setAdding(false)} />}
		</div>
	);
}

function AddCase({ onClose }: { onClose: () => void }) {
	const { case_one } = useProject();
	const { addCase } = usePeopleWrites();
	const [identifier, setIdentifier] = useState("");
	return (
		<Modal title={`Add a ${case_one}`} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					addCase.mutate(identifier, { onSuccess: onClose });
				}}
			>
				<label className="block font-semibold">
					ID or pseudonym
					<input
						className="field mt-1 mb-3 w-full font-normal"
						required
						value={identifier}
						onChange={(event) => setIdentifier(event.target.value)}
					/>
				</label>
				{addCase.error && (
					<p role="alert" className="mb-2 text-danger">
						{addCase.error.message}
					</p>
				)}
				<Button look="main" type="submit">
					Add
				</Button>
			</form>
		</Modal>
	);
}
