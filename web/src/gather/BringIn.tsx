import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take } from "../api/client";
import { phrase, say } from "../language/say";
import { useAddressed } from "../project/address";
import { useJob, useMayCode, useProject, useWrite } from "../project/project";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { useToasts } from "../ui/toasts";
import { ChooseFiles, DropZone } from "./DropZone";
import { type Staged, useStaged, useStagedWrites } from "./data";
import { Letters } from "./Letters";
import { labelOf } from "./labels";
import { MediaReading } from "./MediaReading";
import { Outcome } from "./Outcome";
import { SheetReading } from "./SheetReading";
import { SpeakersTable, speakersOf } from "./SpeakersTable";
import { TranscriptReading } from "./TranscriptReading";
import { FilesOnWay, useUploadPlace } from "./Uploading";
import { addFiles, useOnWay } from "./uploads";

/** One page, three parts that stay visible: what was found, how to read it, what will happen. */
export function BringIn() {
	const mayCode = useMayCode();
	const staged = useStaged();
	const [opened, open] = useAddressed("file", "");
	const chosen = opened === "speakers" ? opened : Number(opened) || null;
	const setChosen = (one: number | "speakers" | null) => open(one === null ? "" : String(one));
	const place = useUploadPlace();
	const onWay = useOnWay(place).length > 0;
	const { job, start } = useImport();
	const add = (files: File[]) => {
		if (!files.length) return;
		addFiles(place, files);
	};
	if (!mayCode)
		return (
			<Empty title={say("Only to be read")}>
				<p>{say("Your role in this project is viewer: you can read and compare, not bring in files.")}</p>
			</Empty>
		);
	const hindered = hindrance(staged);
	if (hindered) return <Problem error={hindered} />;
	if (!staged.data) return <Loading what={say("what waits")} />;
	const rows = staged.data;
	const everybody = speakersOf(rows);
	const talks = rows.filter((one) => one.transcript).length;
	const row = chosen === "speakers" ? undefined : (rows.find((one) => one.id === chosen) ?? rows[0]);
	return (
		<DropZone onFiles={add}>
			{rows.length === 0 && !onWay ? (
				<Empty title={say("Nothing waits to be brought in")}>
					<p>
						{say(
							"Drop files here: texts (.txt .md .docx .odt .rtf .html .pdf), timed texts (.vtt .srt), sheets (.csv .xlsx .xls .ods .sav .dta .sas7bdat), pictures (.png .jpg .gif .tif) and recordings (.ogg .mp3 .m4a .wav .mp4 .webm). Many at once is fine.",
						)}
					</p>
					<ChooseFiles main onFiles={add} />
				</Empty>
			) : (
				<div className="grid filling cols-[250px_minmax(0,1fr)_300px] gap-4 p-4.5">
					<Part number={1} title={say("What was found")}>
						<div className="pane rounded-lg border border-line bg-card">
							{talks > 1 && (
								<button
									type="button"
									aria-current={chosen === "speakers"}
									className={`w-full border-b border-line px-2.5 py-2 text-left ${chosen === "speakers" ? "bg-spruce-soft" : "hover:bg-paper2"}`}
									onClick={() => setChosen("speakers")}
								>
									<b>{say("All speakers")}</b>
									<span className="block text-[12.4px] text-quiet">
										{say(
											"{labels, plural, one {# label} other {# labels}} in {texts, plural, one {# text} other {# texts}}: correct once for all",
											{ labels: everybody.length, texts: talks },
										)}
									</span>
								</button>
							)}
							{rows.map((one) => (
								<FileRow key={one.id} row={one} on={one.id === row?.id} onChoose={() => setChosen(one.id)} />
							))}
							<FilesOnWay />
						</div>
						<div className="mt-2 flex items-center gap-2">
							<ChooseFiles onFiles={add} label={say("Add files")} />
							<span className="quiet-line">{say("or drop them here")}</span>
						</div>
					</Part>
					<Part number={2} title={say("How to read it")}>
						<div className="pane">
							{row?.problem && <UnreadableFile row={row} />}
							{chosen === "speakers" && <SpeakersTable speakers={everybody} />}
							{row && !row.problem && (row.kind === "image" || row.kind === "recording") && (
								<MediaReading key={`media-${row.id}`} row={row} rows={rows} />
							)}
							{row?.warnings.map((warning) => (
								<p key={warning} className="mb-2 rounded-md bg-apricot-soft px-3 py-2 text-[13px]">
									{warning}
								</p>
							))}
							{row && !row.problem && <Letters key={`letters-${row.id}`} row={row} />}
							{row?.kind === "transcript" && row.partner !== null && <PartOf row={row} rows={rows} />}
							{row?.transcript && <TranscriptReading key={row.id} row={row} transcript={row.transcript} />}
							{row?.sheet && <SheetReading key={row.id} row={row} sheet={row.sheet} />}
						</div>
					</Part>
					<Part number={3} title={say("What will happen")}>
						<Outcome rows={rows} job={job} onStart={() => start.mutate(undefined)} starting={start.isPending} />
					</Part>
				</div>
			)}
		</DropZone>
	);
}

/** Start the import and follow its job to the end. */
function useImport() {
	const { id } = useProject();
	const navigate = useNavigate();
	const { tell, warn } = useToasts();
	const [jobId, setJobId] = useState<number | null>(null);
	const start = useWrite(() => take(api.POST("/api/projects/{project_id}/bring-in", { params: { path: { project_id: id } } })), {
		onSuccess: (job) => setJobId(job.id),
	});
	const job = useJob(jobId, (ended) => {
		setJobId(null);
		if (ended.state === "done") {
			tell(say("{message} Ctrl Z takes all of it back.", { message: ended.message }));
			navigate("../people?tab=check");
		} else warn(ended.message);
	});
	return { job, start };
}

function Part({ number, title, children }: { number: number; title: string; children: React.ReactNode }) {
	return (
		<section className="flex min-h-0 flex-col" aria-label={title}>
			<h2 className="mb-2 flex items-center gap-2">
				<span className="grid size-5 place-items-center rounded-full bg-spruce text-xs text-on-spruce">{number}</span>
				{title}
			</h2>
			{children}
		</section>
	);
}

function FileRow({ row, on, onChoose }: { row: Staged; on: boolean; onChoose: () => void }) {
	const { correct, discard } = useStagedWrites();
	const said = row.problem
		? say("can’t be read")
		: row.transcript
			? `${say("{turns, plural, one {# turn} other {# turns}}", { turns: row.transcript.turns })} · ${row.transcript.speakers.map((speaker) => labelOf(speaker.label)).join(", ")}`
			: row.sheet
				? `${say("{rows, plural, one {# row} other {# rows}}", { rows: row.sheet.rows })} · ${say("{columns, plural, one {# column} other {# columns}}", { columns: row.sheet.columns.length })} · ${row.format}`
				: row.format;
	const stopped = (row.sheet?.problems.length ?? 0) > 0;
	return (
		<div className={`flex items-start gap-2 border-b border-line2 px-2.5 py-2 last:border-0 ${on ? "bg-spruce-soft" : ""}`}>
			<input
				type="checkbox"
				className="mt-1 accent-spruce"
				aria-label={say("Bring in {name}", { name: row.name })}
				disabled={Boolean(row.problem)}
				checked={row.included}
				onChange={(event) => correct.mutate({ id: row.id, included: event.target.checked })}
			/>
			{row.thumbnail && <img src={row.thumbnail} alt="" className="mt-0.5 size-9 rounded border border-line object-cover" />}
			<button type="button" className="min-w-0 flex-1 text-left" aria-current={on} onClick={onChoose}>
				<span className="block truncate font-semibold" title={row.name}>
					{row.name}
				</span>
				<span className={`block truncate text-[12.4px] ${row.problem || stopped ? "text-danger" : "text-quiet"}`}>
					{stopped && !row.problem ? say("needs a correction") : said}
				</span>
				{row.already && <span className="block text-[12.4px] text-apricot-deep">{say("brought in before")}</span>}
			</button>
			<button
				type="button"
				aria-label={say("Forget {name}", { name: row.name })}
				className="sign text-quiet hover:text-danger"
				onClick={() => discard.mutate(row.id)}
			>
				×
			</button>
		</div>
	);
}

/** A timed text whose recording waits too: one document of both. */
function PartOf({ row, rows }: { row: Staged; rows: Staged[] }) {
	const recording = rows.find((one) => one.id === row.partner);
	return (
		<p className="mb-2 rounded-md bg-spruce-soft px-3 py-2 text-[13px]">
			{phrase("This is the text of the recording <b>{name}</b>: the two become one document. Correct its speakers there.", {
				b: (inner) => <b>{inner}</b>,
				name: recording?.name,
			})}
		</p>
	);
}

function UnreadableFile({ row }: { row: Staged }) {
	return (
		<div className="rounded-lg border border-danger/40 bg-card p-5">
			<h2 className="mb-1">{say("{name} can’t be read", { name: row.name })}</h2>
			<p>{row.problem}</p>
			<p className="mt-2 quiet-line">{say("The other files aren’t touched by this; you can bring them in as they are.")}</p>
		</div>
	);
}
