import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, type Shape, take } from "../api/client";
import { phrase, say } from "../language/say";
import { useMayCode, useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { Button } from "../ui/Button";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { Segments } from "../ui/Segments";
import { useToasts } from "../ui/toasts";
import { type Decisions, Lost, undecided } from "./Lost";

type Preview = Shape<"Preview">;

/** Changes over many texts: find and replace, and pseudonyms for names; always with a look before. */
export function Texts() {
	const mayCode = useMayCode();
	const [params, setParams] = useSearchParams();
	const tab = params.get("tab") === "names" ? "names" : "replace";
	if (!mayCode)
		return (
			<Empty title={say("Only to be read")}>
				<p>{say("Your role in this project is viewer: you can read and compare, not change texts.")}</p>
			</Empty>
		);
	return (
		<div className="filling pane p-4.5">
			<div className="mb-4 flex items-center gap-4">
				<h2 className="title">{say("Change texts")}</h2>
				<Segments
					name={say("What to do")}
					value={tab}
					options={[
						{ value: "replace", label: say("Find and replace") },
						{ value: "names", label: say("Names and pseudonyms") },
					]}
					onChange={(next) => setParams(next === "names" ? { tab: next } : {})}
				/>
			</div>
			{tab === "replace" ? <Replace /> : <Names />}
		</div>
	);
}

function Replace() {
	const { id } = useProject();
	const { tell } = useToasts();
	const path = { params: { path: { project_id: id } } };
	const [said, setSaid] = useState({ find: "", replacement: "", words: true, case: false });
	const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
	const [decisions, setDecisions] = useState<Decisions>({});
	const look = useMutation({ mutationFn: () => take(api.POST("/api/projects/{project_id}/replace/preview", { ...path, body: said })) });
	const preview = look.data;
	const key = (place: Preview["places"][number]) => `${place.document} ${place.start}`;
	const change = useWrite(() => {
		const places: Record<string, number[]> = {};
		for (const place of preview?.places ?? [])
			if (!left.has(key(place))) places[place.document] = [...(places[place.document] ?? []), place.start];
		const all = left.size === 0;
		return take(api.POST("/api/projects/{project_id}/replace", { ...path, body: { ...said, decisions, ...(all ? {} : { places }) } }));
	});
	const set = (part: Partial<typeof said>) => {
		setSaid({ ...said, ...part });
		look.reset();
		setLeft(new Set());
	};
	return (
		<div className="max-w-5xl">
			<form
				className="mb-4 flex flex-wrap items-end gap-3"
				onSubmit={(event) => {
					event.preventDefault();
					look.mutate();
				}}
			>
				<label className="text-[13px] font-semibold">
					{say("Find")}
					<input
						className="field mt-1 block w-64 font-normal"
						required
						value={said.find}
						onChange={(event) => set({ find: event.target.value })}
					/>
				</label>
				<label className="text-[13px] font-semibold">
					{say("Replace by")}
					<input
						className="field mt-1 block w-64 font-normal"
						value={said.replacement}
						onChange={(event) => set({ replacement: event.target.value })}
					/>
				</label>
				<label className="flex items-center gap-1.5 pb-1.5">
					<input
						type="checkbox"
						className="accent-spruce"
						checked={said.words}
						onChange={(event) => set({ words: event.target.checked })}
					/>
					{say("Whole words")}
				</label>
				<label className="flex items-center gap-1.5 pb-1.5">
					<input type="checkbox" className="accent-spruce" checked={said.case} onChange={(event) => set({ case: event.target.checked })} />
					{say("Capitals matter")}
				</label>
				<Button type="submit" look={preview ? "usual" : "main"}>
					{say("Look")}
				</Button>
			</form>
			{look.error && <Problem error={look.error} />}
			{preview && preview.total === 0 && <p className="quiet-line">{say("“{find}” stands in no document.", { find: said.find })}</p>}
			{preview && preview.total > 0 && (
				<>
					<Lost lost={preview.lost} decisions={decisions} onDecide={setDecisions} />
					<p className="mb-2">
						{phrase(
							"<b>{places, plural, one {# place} other {# places}}</b> in {documents, plural, one {# document} other {# documents}}",
							{ b: (inner) => <b>{inner}</b>, places: preview.total, documents: preview.documents },
						)}
						{preview.places.length < preview.total && say("; the first {places} are listed", { places: preview.places.length })}
						{say(". Passages stay on their words.")}
					</p>
					<Places preview={preview} left={left} onLeft={setLeft} keyOf={key} />
					<Button
						look="main"
						className="mt-3"
						disabled={change.isPending || undecided(preview.lost, decisions)}
						onClick={() =>
							change.mutate(undefined, {
								onSuccess: ({ count }) => {
									tell(say("Replaced in {places, plural, one {# place} other {# places}}. Ctrl Z takes it back.", { places: count }));
									look.reset();
								},
							})
						}
					>
						{left.size === 0
							? say("Replace all {total}", { total: preview.total })
							: say("Replace the {places} ticked", { places: preview.places.length - left.size })}
					</Button>
				</>
			)}
		</div>
	);
}

function Places({
	preview,
	left,
	onLeft,
	keyOf,
}: {
	preview: Preview;
	left?: ReadonlySet<string>;
	onLeft?: (left: ReadonlySet<string>) => void;
	keyOf: (place: Preview["places"][number]) => string;
}) {
	return (
		<div className="max-h-[46vh] pane rounded-lg border border-line bg-card">
			<table className="w-full text-[13.4px]">
				<tbody>
					{preview.places.map((place) => (
						<tr key={keyOf(place)} className="border-b border-line2 last:border-0">
							{left && onLeft && (
								<td className="w-8 pl-3">
									<input
										type="checkbox"
										className="accent-spruce"
										aria-label={say("Replace in {title}: {before}{found}", {
											title: place.title,
											before: place.before,
											found: place.found,
										})}
										checked={!left.has(keyOf(place))}
										onChange={(event) => {
											const next = new Set(left);
											if (event.target.checked) next.delete(keyOf(place));
											else next.add(keyOf(place));
											onLeft(next);
										}}
									/>
								</td>
							)}
							<td className="max-w-40 truncate px-3 py-1 text-quiet">{place.title}</td>
							<td className="px-2 font-serif" dir="auto">
								<span className="text-quiet">{place.before}</span>
								<s className="text-danger">{place.found}</s> <b className="text-spruce">{place.replacement || "∅"}</b>
								<span className="text-quiet">{place.after}</span>
							</td>
						</tr>
					))}
				</tbody>
			</table>
		</div>
	);
}

function Names() {
	const { id } = useProject();
	const navigate = useNavigate();
	const { tell, warn } = useToasts();
	const path = { params: { path: { project_id: id } } };
	const pairs = useQuery(read("names", id));
	const [rows, setRows] = useState<Shape<"NamePairOut">[] | null>(null);
	const [decisions, setDecisions] = useState<Decisions>({});
	const save = useWrite(
		(said: Shape<"NamePairOut">[]) => take(api.PUT("/api/projects/{project_id}/names", { ...path, body: { pairs: said } })),
		{
			onSuccess: () => setRows(null),
		},
	);
	const look = useMutation({
		mutationFn: () => take(api.POST("/api/projects/{project_id}/names/preview", path)),
		onError: (error) => warn(error.message),
	});
	const change = useWrite(() => take(api.POST("/api/projects/{project_id}/names/anonymise", { ...path, body: { decisions } })), {
		onSuccess: ({ count }) => {
			tell(say("Pseudonyms stand in {places, plural, one {# place} other {# places}} now. Ctrl Z takes it back.", { places: count }));
			navigate("..", { relative: "path" });
		},
	});
	const hindered = hindrance(pairs);
	if (hindered) return <Problem error={hindered} />;
	if (!pairs.data) return <Loading what={say("the names")} />;
	const shown = rows ?? pairs.data;
	const edit = (place: number, part: Partial<Shape<"NamePairOut">>) => {
		setRows(
			[...shown, ...(place === shown.length ? [{ name: "", pseudonym: "" }] : [])].map((row, at) =>
				at === place ? { ...row, ...part } : row,
			),
		);
		look.reset();
	};
	const preview = look.data;
	const half = shown.find((row) => !row.name.trim() !== !row.pseudonym.trim());
	const missing =
		half &&
		(half.name.trim()
			? say("“{name}” has no pseudonym yet.", { name: half.name.trim() })
			: say("“{pseudonym}” stands for no name yet.", { pseudonym: half.pseudonym.trim() }));
	const filled = shown.filter((row) => row.name.trim());
	/** What was typed is kept first: looking is for the list as it stands. */
	const lookFor = () => {
		if (rows === null) look.mutate();
		else save.mutate(filled, { onSuccess: () => look.mutate() });
	};
	return (
		<div className="max-w-5xl">
			<p className="mb-3 quiet-line">
				{say(
					"Real names and the pseudonyms that stand for them, in every text, title and speaker’s label. The list is kept apart: it is in no export, and viewers don’t see it.",
				)}
			</p>
			<table className="mb-3">
				<thead>
					<tr className="text-left text-[13px]">
						<th className="font-semibold">{say("Name in the material")}</th>
						<th className="pl-3 font-semibold">{say("Pseudonym")}</th>
					</tr>
				</thead>
				<tbody>
					{[...shown, { name: "", pseudonym: "" }].map((row, place) => (
						// biome-ignore lint/suspicious/noArrayIndexKey: a row is its place while it is typed
						<tr key={place}>
							<td className="py-0.5">
								<input
									aria-label={say("Name {place}", { place: place + 1 })}
									className="field w-56"
									value={row.name}
									onChange={(event) => edit(place, { name: event.target.value })}
								/>
							</td>
							<td className="py-0.5 pl-3">
								<input
									aria-label={say("Pseudonym {place}", { place: place + 1 })}
									className="field w-56"
									value={row.pseudonym}
									onChange={(event) => edit(place, { pseudonym: event.target.value })}
								/>
							</td>
						</tr>
					))}
				</tbody>
			</table>
			<div className="flex gap-2">
				<Button disabled={rows === null || save.isPending || Boolean(half)} onClick={() => save.mutate(filled)}>
					{say("Keep the list")}
				</Button>
				<Button
					look={preview ? "usual" : "main"}
					disabled={Boolean(half) || filled.length === 0 || save.isPending || look.isPending}
					onClick={lookFor}
				>
					{say("Look where they stand")}
				</Button>
				<span role="status" className="self-center quiet-line">
					{missing ?? (look.isPending ? say("Looking …") : "")}
				</span>
			</div>
			{preview && preview.total === 0 && (
				<p role="status" className="mt-4">
					{say(
						"None of these names stands in any text. Names are looked for as whole words, in capitals or not: is one spelt otherwise in the material?",
					)}
				</p>
			)}
			{preview && (
				<div className="mt-4">
					<Lost lost={preview.lost} decisions={decisions} onDecide={setDecisions} />
					{preview.total > 0 && (
						<p className="mb-2">
							{phrase(
								"<b>{places, plural, one {# place} other {# places}}</b> in {documents, plural, one {# document} other {# documents}}, besides titles and labels.",
								{ b: (inner) => <b>{inner}</b>, places: preview.total, documents: preview.documents },
							)}
						</p>
					)}
					{preview.places.length > 0 && <Places preview={preview} keyOf={(place) => `${place.document} ${place.start}`} />}
					<Button
						look="main"
						className="mt-3"
						disabled={change.isPending || undecided(preview.lost, decisions)}
						onClick={() => change.mutate(undefined)}
					>
						{say("Put the pseudonyms in")}
					</Button>
				</div>
			)}
		</div>
	);
}
