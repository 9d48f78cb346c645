import { useState } from "react";
import { Link } from "react-router";
import { ExhibitMenu } from "../../evidence/ExhibitMenu";
import { Passage } from "../../evidence/Passage";
import { phrase, say } from "../../language/say";
import { useAddress, useAddressedNumber } from "../../project/address";
import { useMayCode, useProject } from "../../project/project";
import { scopeRequest, useScope } from "../../project/scope";
import { Button } from "../../ui/Button";
import { Empty, Problem } from "../../ui/Empty";
import { Modal } from "../../ui/Modal";
import { useToasts } from "../../ui/toasts";
import { counted } from "../../ui/words";
import { ComparePages } from "../ComparePages";
import { ExportMenu, Head, Way } from "../exports/ExportMenu";
import { useSaving } from "../exports/saving";
import { FreezeFound } from "../frozen/Freeze";
import { BlocksEditor } from "./BlocksEditor";
import { type BlockCount, type Blocks, replaced } from "./blocks";
import { type SavedQuery, useFound, useQueries, useQueryWrites } from "./searches";

const EMPTY: Blocks = { join: "all", parts: [] };
const STEP = 100;

/** Passages by conditions: built from blocks that read as a sentence, counted as one builds, saved to be used elsewhere. */
export function PassagesPage() {
	const { case_one, case_many } = useProject();
	const mayCode = useMayCode();
	const [params, change] = useAddress();
	const saved = useQueries().data ?? [];
	const here = saved.find((one) => one.id === Number(params.get("saved")));
	const blocks = read(params.get("blocks")) ?? (here?.blocks as Blocks | undefined) ?? EMPTY;
	const [limit, setLimit] = useAddressedNumber("up", STEP);
	const found = useFound(blocks, limit);
	const set = (next: Blocks) => change({ blocks: JSON.stringify(next) });
	const { scope } = useScope();
	const { file } = useSaving();
	const out = (format: string) =>
		void file("compare/search/export", { blocks, scope: scopeRequest(scope), format }, say("Exported, with the conditions as a sentence."));
	const data = blocks.parts.length ? found.data : undefined;
	const changed = here && params.has("blocks") && JSON.stringify(here.blocks) !== JSON.stringify(blocks);
	return (
		<div className="filling pane px-4.5 py-3.5">
			<ComparePages />
			<div className="mt-3 grid cols-[minmax(0,1fr)_260px] gap-5 max-[900px]:grid-cols-1">
				<div>
					<section aria-label={say("Conditions")} className="rounded-lg border border-line bg-card p-4">
						{here && (
							<h2 className="title mb-2 text-[19px]!">
								{here.name}{" "}
								<span
									className={`ml-1 rounded-full px-2.5 py-0.5 align-middle text-[12.6px] font-semibold ${changed ? "bg-apricot-soft text-apricot-deep" : "bg-spruce-soft text-spruce"}`}
								>
									{changed ? say("Saved · changed here") : say("Saved · live")}
								</span>
							</h2>
						)}
						<BlocksEditor
							blocks={blocks}
							counts={data?.counts as BlockCount | undefined}
							path={[]}
							onChange={(path, block) => set(path.length ? replaced(blocks, path, block) : (block as Blocks))}
						/>
						{mayCode && (
							<Save
								blocks={blocks}
								here={here}
								changed={changed === true}
								onSaved={(id) => change({ saved: id === null ? null : String(id), blocks: null })}
							/>
						)}
					</section>
					{found.error && <Problem error={found.error} />}
					{!blocks.parts.length && (
						<Empty title={say("Which passages?")}>
							<p>{say("Choose a condition above, or a saved query at the side. Every condition shows how many passages it keeps.")}</p>
						</Empty>
					)}
					{data && (
						<section aria-label={say("Passages found")} className="mt-3" aria-busy={found.isPlaceholderData}>
							<div className="float-right flex gap-2">
								{here && !changed && (
									<span className="self-center text-[13px]">
										<ExhibitMenu query={here.id} label={say("Put all into an exhibit")} />
									</span>
								)}
								{mayCode && <FreezeFound blocks={blocks} name={here?.name ?? ""} />}
								<ExportMenu>
									<Head>
										{say("All {passages, plural, one {# passage} other {# passages}}, with who said them and their codes", {
											passages: data.passages,
										})}
									</Head>
									<Way label={say("Spreadsheet (.xlsx)")} onClick={() => out("xlsx")} />
									<Way label={say("Document (.docx)")} onClick={() => out("docx")} />
								</ExportMenu>
							</div>
							<p className="mb-2 text-[15px]" role="status">
								{phrase("<b>{passages, plural, one {# passage} other {# passages}}</b> by {people}.", {
									b: (inner) => <b>{inner}</b>,
									passages: data.passages,
									people: counted(data.people, case_one, case_many),
								})}
								{data.emptied_by && <b className="ml-1 text-danger">{emptied(data.emptied_by)}</b>}
							</p>
							{data.persons.map((person) => (
								<article key={person.case ?? "nobody"} className="mb-2 rounded-lg border border-line bg-card px-4 py-2.5">
									<h3 className="flex items-baseline gap-2 font-semibold">
										{person.identifier}
										<span className="text-[12.6px] font-normal text-quiet">{person.facts.map((fact) => fact.text).join(" · ")}</span>
										<span className="ml-auto text-[12.6px] font-normal text-quiet">
											{say("{passages, plural, one {# passage} other {# passages}}", { passages: person.total })}
										</span>
									</h3>
									<div className="space-y-2">
										{person.passages.map((passage) => (
											<Passage key={passage.id} passage={passage} />
										))}
									</div>
								</article>
							))}
							{data.more > 0 && <Button onClick={() => setLimit(limit + STEP)}>{say("Show more of {more}", { more: data.more })}</Button>}
						</section>
					)}
				</div>
				<SavedList
					saved={saved}
					here={here}
					mayCode={mayCode}
					onOpen={(id) => change({ saved: id === null ? null : String(id), blocks: null })}
				/>
			</div>
		</div>
	);
}

/** Which condition left nothing, by its place. */
function emptied(way: number[]): string {
	if (!way.length) return say("Nothing fits these conditions.");
	return say("Condition {way} left nothing.", { way: way.map((place) => place + 1).join(say(", in it ")) });
}

function read(text: string | null): Blocks | null {
	if (!text) return null;
	try {
		const found = JSON.parse(text) as Blocks;
		return Array.isArray(found.parts) ? found : null;
	} catch {
		return null;
	}
}

function Save({
	blocks,
	here,
	changed,
	onSaved,
}: {
	blocks: Blocks;
	here: SavedQuery | undefined;
	changed: boolean;
	onSaved: (id: number | null) => void;
}) {
	const { save, change } = useQueryWrites();
	const { tell } = useToasts();
	const [name, setName] = useState<string | null>(null);
	return (
		<div className="mt-3 flex gap-2">
			{here && changed && (
				<Button
					look="main"
					onClick={() =>
						change.mutate(
							{ id: here.id, blocks },
							{
								onSuccess: () => {
									tell(say("“{name}” is saved as it is now.", { name: here.name }));
									onSaved(here.id);
								},
							},
						)
					}
				>
					{say("Save these changes")}
				</Button>
			)}
			<Button disabled={!blocks.parts.length} onClick={() => setName("")}>
				{here ? say("Save as another") : say("Save this query")}
			</Button>
			{name !== null && (
				<Modal title={say("Save this query")} onClose={() => setName(null)}>
					<form
						onSubmit={(event) => {
							event.preventDefault();
							save.mutate(
								{ name, blocks },
								{
									onSuccess: ({ count }) => {
										tell(
											say("“{name}” is saved. It follows the data, and can be a row of a comparison or a scope.", { name: name.trim() }),
										);
										setName(null);
										onSaved(count);
									},
								},
							);
						}}
					>
						<input
							aria-label={say("Name of the query")}
							className="field mb-3 w-full"
							placeholder={say("such as: Late, and nobody said so")}
							value={name}
							maxLength={160}
							onChange={(event) => setName(event.target.value)}
							autoFocus
						/>
						<Button type="submit" look="main" disabled={!name.trim()}>
							{say("Save")}
						</Button>
					</form>
				</Modal>
			)}
		</div>
	);
}

function SavedList({
	saved,
	here,
	mayCode,
	onOpen,
}: {
	saved: SavedQuery[];
	here: SavedQuery | undefined;
	mayCode: boolean;
	onOpen: (id: number | null) => void;
}) {
	const { id } = useProject();
	const { remove } = useQueryWrites();
	const { tell } = useToasts();
	return (
		<aside aria-label={say("Saved queries")}>
			<h2 className="mb-1 font-semibold">{say("Saved queries")}</h2>
			{saved.length === 0 && (
				<p className="quiet-line">{say("None yet. A saved query is live: it can be a row of a comparison, and what a scope keeps.")}</p>
			)}
			<ul>
				{saved.map((one) => (
					<li key={one.id} className="flex items-center gap-2 border-b border-line2 py-1">
						<button
							type="button"
							aria-current={one.id === here?.id}
							title={one.name}
							className={`min-w-0 flex-1 truncate text-left ${one.id === here?.id ? "font-semibold text-spruce" : ""}`}
							onClick={() => onOpen(one.id)}
						>
							{one.name}
						</button>
						<Link
							className="text-[12.6px] font-semibold text-spruce hover:underline"
							to={`/projects/${id}/compare?codes=0&queries=${one.id}`}
						>
							{say("Compare")}
						</Link>
						{mayCode && (
							<button
								type="button"
								aria-label={say("Let go of {name}", { name: one.name })}
								className="sign text-quiet hover:text-danger"
								onClick={() =>
									remove.mutate(one.id, {
										onSuccess: () => {
											tell(say("“{name}” isn’t saved any more. Ctrl Z brings it back.", { name: one.name }));
											if (one.id === here?.id) onOpen(null);
										},
									})
								}
							>
								×
							</button>
						)}
					</li>
				))}
			</ul>
			{here && (
				<Button className="mt-2" onClick={() => onOpen(null)}>
					{say("A new query")}
				</Button>
			)}
		</aside>
	);
}
