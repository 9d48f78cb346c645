import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, type Shape, take } from "../api/client";
import { useDocuments } from "../gather/data";
import { phrase, say } from "../language/say";
import { useRoster } from "../people/data";
import { useProject, useWrite } from "../project/project";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { Segments } from "../ui/Segments";
import { useToasts } from "../ui/toasts";
import { isoDay } from "../ui/words";

type What = "case" | "document";
type Chosen = { what: What; id: number };

/** Erasing a person or a document for good, for owners. */
export function Forget() {
	const project = useProject();
	const [what, setWhat] = useState<What>("case");
	const [typed, setTyped] = useState("");
	const [chosen, setChosen] = useState<Chosen | null>(null);
	const list = useId();
	const people = useRoster().data?.cases.map((one) => ({ id: one.id, name: one.identifier }));
	const documents = useDocuments().data?.map((one) => ({ id: one.id, name: one.title }));
	const names = (what === "case" ? people : documents) ?? [];
	const found = names.find((one) => one.name === typed.trim());
	const noun = what === "case" ? project.case_one : say("document");
	return (
		<section aria-labelledby="forget" className="mt-6 rounded-lg border border-line bg-card p-4">
			<h2 id="forget" className="mb-2">
				{say("Forget a {one}, or a document", { one: project.case_one })}
			</h2>
			<p>
				{say(
					"For somebody who withdraws: what they said, what is known of them and what quotes them goes for good, from undo, frozen results and files that wait too. You see what goes before it does; and for who only asks, all that is held of them is a document.",
				)}
			</p>
			<form
				className="mt-3 flex flex-wrap items-end gap-3"
				onSubmit={(event) => {
					event.preventDefault();
					if (found) setChosen({ what, id: found.id });
				}}
			>
				<Segments
					name={say("What to forget")}
					value={what}
					options={[
						{ value: "case", label: say("A {one}", { one: project.case_one }) },
						{ value: "document", label: say("A document") },
					]}
					onChange={(now) => {
						setWhat(now);
						setTyped("");
					}}
				/>
				<input
					aria-label={say("Which {noun} to forget", { noun })}
					placeholder={say("Which {noun}?", { noun })}
					list={list}
					className="field w-64"
					value={typed}
					onChange={(event) => setTyped(event.target.value)}
				/>
				<datalist id={list}>
					{names.map((one) => (
						<option key={one.id} value={one.name} />
					))}
				</datalist>
				<Button type="submit" disabled={!found}>
					{say("See what would go")}
				</Button>
				{what === "case" && found && (
					<a
						className="self-center font-semibold text-spruce hover:underline"
						href={`/api/projects/${project.id}/held/${found.id}`}
						download
					>
						{say("What is held of them (.docx)")}
					</a>
				)}
			</form>
			{typed.trim() && !found && <p className="mt-1 quiet-line">{say("No {noun} is called so.", { noun })}</p>}
			{chosen && (
				<ForgetDialog
					chosen={chosen}
					onClose={() => {
						setChosen(null);
						setTyped("");
					}}
				/>
			)}
		</section>
	);
}

function ForgetDialog({ chosen, onClose }: { chosen: Chosen; onClose: () => void }) {
	const project = useProject();
	const { tell } = useToasts();
	const path = { project_id: project.id };
	const [typed, setTyped] = useState("");
	const [keep, setKeep] = useState(true);
	const found = useQuery({
		queryKey: ["project", project.id, "forget", chosen.what, chosen.id],
		queryFn: () => take(api.GET("/api/projects/{project_id}/forget", { params: { path, query: { [chosen.what]: chosen.id } } })),
		gcTime: 0,
	});
	const forget = useWrite(
		() =>
			take(
				api.POST("/api/projects/{project_id}/forget", {
					params: { path },
					body: { [chosen.what]: chosen.id, typed, keep_figures: keep },
				}),
			),
		{
			onSuccess: (done) => {
				tell(done.said);
				onClose();
			},
		},
	);
	const preview = found.data;
	const refused = useRefused(forget.error);
	return (
		<Modal title={say("What would go for good")} onClose={onClose} wide>
			{found.error && (
				<p role="alert" className="text-danger">
					{found.error.message}
				</p>
			)}
			{!preview && !found.error && <p role="status">{say("Looking for all that tells of it …")}</p>}
			{preview && (
				<form
					className="space-y-3"
					onSubmit={(event) => {
						event.preventDefault();
						forget.mutate(undefined);
					}}
				>
					<p className="font-serif text-xl font-semibold">{preview.called}</p>
					<ul className="list-disc space-y-1 pl-5">
						{lines(preview, project.case_one).map((line) => (
							<li key={line}>{line}</li>
						))}
					</ul>
					{preview.frozen > 0 && (
						<label className="flex items-center gap-2">
							<input type="checkbox" className="accent-spruce" checked={keep} onChange={(event) => setKeep(event.target.checked)} />
							{say(
								"Keep the figures of {frozen, plural, one {# frozen result} other {# frozen results}} with passages of theirs; the words go in any case",
								{ frozen: preview.frozen },
							)}
						</label>
					)}
					{preview.elsewhere.length > 0 && (
						<p className="rounded-md bg-apricot-soft px-3 py-2">
							{say(
								"A name of theirs stands in {texts, plural, one {# text} other {# texts}} of others, which stay as they are: {elsewhere}",
								{ texts: preview.elsewhere.length, elsewhere: preview.elsewhere.slice(0, 6).join(", ") },
							)}
							{preview.elsewhere.length > 6 && " …"}
							{say(". Look there, and change the words by hand.")}
						</p>
					)}
					<p className="quiet-line">
						{say(
							"Undo can’t bring it back; with it goes whatever was to be undone before today. {backups} Files that were exported or taken out of Cohortia aren’t reached.",
							{ backups: backups(preview) },
						)}
					</p>
					<label className="block">
						{phrase("Type <b>{called}</b> to forget it", { b: (inner) => <b>{inner}</b>, called: preview.called })}
						<input
							className="field mt-1 w-full"
							autoComplete="off"
							value={typed}
							onChange={(event) => setTyped(event.target.value)}
							{...refused.field}
						/>
					</label>
					{refused.said}
					<Button look="danger" type="submit" disabled={typed.trim() !== preview.called || forget.isPending}>
						{say("Forget for good")}
					</Button>
				</form>
			)}
		</Modal>
	);
}

type Preview = Shape<"ForgetPreview">;

function lines(preview: Preview, one: string): string[] {
	const quoted = (number: boolean) => preview.names.filter((name) => /^\d+$/.test(name) === number).map((name) => `“${name}”`);
	const [names, numbers] = [quoted(false), quoted(true)];
	const found = [
		preview.documents.length > 0 && say("Whole: {documents}", { documents: preview.documents.join(", ") }),
		preview.shared.length > 0 &&
			say(
				"{turns, plural, one {# turn} other {# turns}} of theirs in {shared}, where others speak too; pictures and recordings of {shared2, plural, one {it} other {them}} go, the others’ words stay",
				{ turns: preview.turns, shared: preview.shared.join(", "), shared2: preview.shared.length },
			),
		preview.values > 0 && say("{values, plural, one {# value} other {# values}} known of the {one}", { values: preview.values, one }),
		preview.passages > 0 &&
			say("{passages, plural, one {# passage} other {# passages}} with {codings, plural, one {# coding} other {# codings}}", {
				passages: preview.passages,
				codings: preview.codings,
			}),
		preview.memos + preview.digests + preview.pieces > 0 &&
			say(
				"{memos, plural, one {# memo} other {# memos}}, {digests, plural, one {# digest} other {# digests}}, {pieces, plural, one {# piece} other {# pieces}} of exhibits on them",
				{ memos: preview.memos, digests: preview.digests, pieces: preview.pieces },
			),
		preview.media > 0 &&
			say("{pictures, plural, one {# picture or recording} other {# pictures and recordings}}", { pictures: preview.media }),
		preview.staged > 0 &&
			say("{files, plural, one {# file} other {# files}} that {files, plural, one {waits} other {wait}} to be brought in", {
				files: preview.staged,
			}),
		preview.written > 0 &&
			say("Names and quotations in {things, plural, one {# thing} other {# things}} written here; the rest of each stays", {
				things: preview.written,
			}),
		names.length > 0 && say("Looked for under {names}", { names: names.join(", ") }),
		numbers.length > 0 &&
			say("{numbers} only where it stands alone: within a sentence a number is nearly always a figure", { numbers: numbers.join(", ") }),
	];
	return found.filter((line) => typeof line === "string");
}

function backups(preview: Preview): string {
	if (!preview.backups_by_themselves)
		return say("Backups that were made by hand still hold it: whoever looks after the server deletes them.");
	return say("Backups made until now still hold it; those made every night have gone by {which}.", {
		which: preview.backups_gone_by ? isoDay(preview.backups_gone_by) : say("and by"),
	});
}
