import { ArrowDown, ArrowUp, AudioLines, FileText, Image, ListChecks, ScrollText } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, take } from "../api/client";
import { language, say } from "../language/say";
import { useDocumentVariables } from "../people/data";
import { ValueCell } from "../people/editing";
import { useSorted, useTyped } from "../project/address";
import { useMayCode, useProject, useStatus, useWrite } from "../project/project";
import { Button } from "../ui/Button";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { Room } from "../ui/Room";
import { TakeOutMenu, waysOfTexts } from "../ui/TakeOutMenu";
import { useToasts } from "../ui/toasts";
import { useLong } from "../ui/virtual";
import { number } from "../ui/words";
import { ChooseFiles, DropZone } from "./DropZone";
import { type ShelfDocument, useDocuments } from "./data";
import { labelOf } from "./labels";
import { useUploadPlace } from "./Uploading";
import { addFiles } from "./uploads";

type Column = "title" | "words" | "turns" | "passages" | "touched";
const COLUMNS: { key: Column; label: string; number?: boolean }[] = [
	{ key: "title", label: say("Document") },
	{ key: "words", label: say("Words"), number: true },
	{ key: "turns", label: say("Turns"), number: true },
	{ key: "passages", label: say("Passages"), number: true },
	{ key: "touched", label: say("Last coded") },
];

/** The shelf of documents. */
export function Shelf() {
	const project = useProject();
	const place = useUploadPlace();
	const navigate = useNavigate();
	const mayCode = useMayCode();
	const documents = useDocuments();
	const staged = useStatus().data?.staged ?? 0;
	const variables = useDocumentVariables().data ?? [];
	const { tell } = useToasts();
	const bring = (files: File[]) => {
		if (!mayCode || !files.length) return;
		addFiles(place, files);
		navigate("bring-in");
	};
	const [words, setWords] = useTyped("words");
	const [order, setOrder] = useSorted<Column>("title");
	const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
	const remove = useWrite(
		(ids: number[]) =>
			take(
				api.POST("/api/projects/{project_id}/documents/delete", {
					params: { path: { project_id: project.id } },
					body: { documents: ids },
				}),
			),
		{
			onSuccess: ({ count }) => {
				setPicked(new Set());
				tell(
					say(
						"{documents, plural, one {# document} other {# documents}} deleted. Ctrl Z brings {documents, plural, one {it} other {them}} back.",
						{ documents: count },
					),
				);
			},
		},
	);
	const frame = useRef<HTMLDivElement>(null);
	const rows = useMemo(() => arranged(documents.data ?? [], words, order), [documents.data, words, order]);
	const drawn = useLong(rows.length, frame, 53);
	const columns = variables.length + COLUMNS.length + (mayCode ? 2 : 1);
	const hindered = hindrance(documents);
	if (hindered) return <Problem error={hindered} />;
	if (!documents.data) return <Loading what={say("documents")} />;
	if (!documents.data.length)
		return (
			<DropZone onFiles={bring}>
				<Empty title={say("No documents yet")}>
					<p>
						{say(
							"Drop transcripts here (.docx, .txt, .odt, .pdf, .vtt …), pictures, recordings, and the sheet that says who the {many} are (.xlsx, .csv, .sav …). You see what was found before anything is brought in.",
							{ many: project.case_many },
						)}
					</p>
					{mayCode && <ChooseFiles main onFiles={bring} label={say("Choose files")} />}
					{staged > 0 && (
						<p>
							<Link className="font-semibold text-spruce underline" to="bring-in">
								{say("{files, plural, one {# file} other {# files}} waiting to be brought in", { files: staged })}
							</Link>
						</p>
					)}
				</Empty>
			</DropZone>
		);
	return (
		<DropZone onFiles={bring}>
			<div className="flex filling flex-col p-4.5">
				<div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1.5 print:hidden">
					<h2 className="title">{say("Documents")}</h2>
					<input
						aria-label={say("Filter documents")}
						placeholder={say("Filter by name or speaker")}
						className="field w-72"
						value={words}
						onChange={(event) => setWords(event.target.value)}
					/>
					{picked.size > 0 && mayCode && (
						<>
							<span className="quiet-line">{say("{picked} selected", { picked: picked.size })}</span>
							<Button look="danger" onClick={() => remove.mutate([...picked])}>
								{say("Delete")}
							</Button>
						</>
					)}
					<span className="ml-auto" />
					<TakeOutMenu
						name={say("Take out")}
						groups={[
							textsOut(project.id, picked, rows),
							{
								title: say("The list of all documents"),
								ways: (["xlsx", "csv"] as const).map((ending) => ({
									ending,
									href: `/api/projects/${project.id}/lists/documents/${ending}`,
									hint: say("with what is known of them"),
								})),
							},
						]}
					/>
					{staged > 0 && (
						<Link className="font-semibold text-apricot-deep underline" to="bring-in">
							{say("{files, plural, one {# file} other {# files}} waiting", { files: staged })}
						</Link>
					)}
					{mayCode && (
						<Link
							to="texts"
							className="rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap hover:border-quiet"
						>
							{say("Replace · Names")}
						</Link>
					)}
					{mayCode && <ChooseFiles main onFiles={bring} label={say("Bring in files")} />}
				</div>
				<div ref={frame} className="pane rounded-lg border border-line bg-card">
					<table className="w-full border-collapse">
						<thead className="sticky top-0 z-10 bg-card shadow-[0_1px_0_var(--color-line)]">
							<tr>
								{mayCode && (
									<th className="w-9 px-3">
										<input
											type="checkbox"
											aria-label={say("Select all listed")}
											className="accent-spruce"
											checked={rows.length > 0 && rows.every((row) => picked.has(row.id))}
											onChange={(event) => setPicked(event.target.checked ? new Set(rows.map((row) => row.id)) : new Set())}
										/>
									</th>
								)}
								{COLUMNS.slice(0, 1).map((column) => (
									<SortHead key={column.key} column={column} order={order} onOrder={setOrder} />
								))}
								<th className="px-3 py-2 text-left text-[13px] font-semibold">{say("Speakers")}</th>
								{variables.map((variable) => (
									<th key={variable.id} className="px-3 py-2 text-left text-[13px] font-semibold">
										{variable.name}
									</th>
								))}
								{COLUMNS.slice(1).map((column) => (
									<SortHead key={column.key} column={column} order={order} onOrder={setOrder} />
								))}
							</tr>
						</thead>
						<tbody>
							<Room high={drawn.before} width={columns} />
							{drawn.items.map(({ index }) => {
								const row = rows[index] as ShelfDocument;
								return (
									<tr key={row.id} ref={drawn.measure} data-index={index} className="border-t border-line2 hover:bg-paper">
										{mayCode && (
											<td className="px-3">
												<input
													type="checkbox"
													aria-label={say("Select {title}", { title: row.title })}
													className="accent-spruce"
													checked={picked.has(row.id)}
													onChange={(event) => {
														const next = new Set(picked);
														if (event.target.checked) next.add(row.id);
														else next.delete(row.id);
														setPicked(next);
													}}
												/>
											</td>
										)}
										<td className="max-w-72 px-3 py-2">
											<Kind row={row} projectId={project.id} />
											<Link to={`../code/${row.id}`} className="font-semibold text-spruce hover:underline">
												{row.title}
											</Link>
											<span className="block truncate quiet-line" title={row.source_name}>
												{row.source_name}
											</span>
										</td>
										<td className="px-3">
											<Speakers row={row} />
										</td>
										{variables.map((variable) => (
											<td key={variable.id} className="px-3">
												<ValueCell of="document" subject={row.id} name={row.title} cell={row.values[variable.id]} variable={variable} />
											</td>
										))}
										<td className="px-3 text-right">{number(row.words)}</td>
										<td className="px-3 text-right">{row.turns}</td>
										<td className="px-3 text-right">{row.passages || <span className="text-quiet">{say("none")}</span>}</td>
										<td className="px-3 quiet-line">{row.last_coded ?? say("not yet")}</td>
									</tr>
								);
							})}
							<Room high={drawn.after} width={columns} />
						</tbody>
					</table>
					{rows.length === 0 && <p className="p-4 quiet-line">{say("No document matches “{words}”.", { words })}</p>}
				</div>
				<p className="mt-2 quiet-line">
					{say(
						"{documents, plural, one {# document} other {# documents}} · {words, plural, one {# word} other {# words}} in all. Files can be dropped anywhere here.",
						{ documents: rows.length, words: rows.reduce((sum, row) => sum + row.words, 0) },
					)}
				</p>
			</div>
		</DropZone>
	);
}

const KINDS = {
	transcript: { icon: ScrollText, said: say("Transcript") },
	answers: { icon: ListChecks, said: say("Answers") },
	pdf: { icon: FileText, said: say("PDF") },
	image: { icon: Image, said: say("Picture") },
	recording: { icon: AudioLines, said: say("Recording") },
};

/** What a document is: its small picture where it has one, else a sign; named for who can’t see it. */
function Kind({ row, projectId }: { row: ShelfDocument; projectId: number }) {
	const { icon: Sign, said } = KINDS[row.kind];
	if (row.thumbnail)
		return (
			<img
				src={`/api/projects/${projectId}/documents/${row.id}/media/thumbnail/1`}
				alt={said}
				title={said}
				className="float-left mr-2.5 size-9 rounded border border-line object-cover"
			/>
		);
	return (
		<span
			role="img"
			aria-label={said}
			title={said}
			className="float-left mt-0.5 mr-2.5 grid size-9 place-items-center rounded bg-paper2 text-quiet"
		>
			<Sign size={17} aria-hidden="true" />
		</span>
	);
}

/** Who speaks, and which of them are linked: a dot and a word, never colour alone. */
function Speakers({ row }: { row: ShelfDocument }) {
	const { case_one } = useProject();
	return (
		<span className="flex flex-wrap gap-1">
			{row.speakers.map((speaker) => {
				const unlinked = speaker.role === "participant" && speaker.case === null;
				const said =
					speaker.role !== "participant"
						? speaker.role
						: unlinked
							? say("not linked to a {one}", { one: case_one })
							: say("linked to {case_name}", { case_name: speaker.case_name });
				return (
					<span
						key={speaker.id}
						title={`${labelOf(speaker.label)}: ${said}`}
						className={`rounded-full px-2 text-[12px] ${unlinked ? "bg-apricot-soft font-semibold text-apricot-deep" : speaker.role === "participant" ? "bg-spruce-soft text-spruce" : "bg-paper2 text-quiet"}`}
					>
						{labelOf(speaker.label)}
						{speaker.case_name && speaker.case_name !== speaker.label ? ` → ${speaker.case_name}` : ""}
						{unlinked ? " ?" : ""}
					</span>
				);
			})}
		</span>
	);
}

function SortHead({
	column,
	order,
	onOrder,
}: {
	column: (typeof COLUMNS)[number];
	order: { by: Column; down: boolean };
	onOrder: (order: { by: Column; down: boolean }) => void;
}) {
	const on = order.by === column.key;
	return (
		<th
			className={`px-3 py-2 text-[13px] ${column.number ? "text-right" : "text-left"}`}
			aria-sort={on ? (order.down ? "descending" : "ascending") : "none"}
		>
			<button
				type="button"
				className="inline-flex items-center gap-1 font-semibold"
				onClick={() => onOrder({ by: column.key, down: on ? !order.down : Boolean(column.number) })}
			>
				{column.label}
				{on && (order.down ? <ArrowDown size={12} /> : <ArrowUp size={12} />)}
			</button>
		</th>
	);
}

function arranged(documents: ShelfDocument[], words: string, order: { by: Column; down: boolean }): ShelfDocument[] {
	const wanted = words.toLowerCase();
	const kept = documents.filter((row) =>
		`${row.title} ${row.source_name} ${row.speakers.map((speaker) => `${speaker.label} ${speaker.case_name ?? ""}`).join(" ")}`
			.toLowerCase()
			.includes(wanted),
	);
	const value = (row: ShelfDocument): string | number => (order.by === "touched" ? (row.last_coded ?? "") : row[order.by]);
	const compare = (a: ShelfDocument, b: ShelfDocument) => {
		const [left, right] = [value(a), value(b)];
		return typeof left === "number" && typeof right === "number"
			? left - right
			: String(left).localeCompare(String(right), language(), { numeric: true });
	};
	return kept.sort((a, b) => (order.down ? -compare(a, b) : compare(a, b)));
}

/** Documents taken out whole: the one that is selected as a file, several, or all of them, in a .zip. */
function textsOut(project: number, picked: ReadonlySet<number>, rows: { id: number; title: string }[]) {
	const path = `/api/projects/${project}/documents`;
	const [only] = picked;
	if (only !== undefined && picked.size === 1)
		return { title: rows.find((row) => row.id === only)?.title ?? say("The document selected"), ways: waysOfTexts(`${path}/${only}/file`) };
	if (picked.size === 0) return { title: say("All documents, in a .zip"), ways: waysOfTexts(`${path}/files`) };
	return {
		title: say("The {picked, number} documents selected, in a .zip", { picked: picked.size }),
		ways: waysOfTexts(`${path}/files`, `?documents=${[...picked].join(".")}`),
	};
}
