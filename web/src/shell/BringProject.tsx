import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Shape, sendWithProgress, take } from "../api/client";
import { phrase, say } from "../language/say";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Modal } from "../ui/Modal";
import { counted, moment } from "../ui/words";

type Arrived = Shape<"ArrivedOut">;
type Somebody = Shape<"SomebodyOut">;
type Becomes = Shape<"BecomesHere">;

/** A project's file chosen, looked into, brought in and opened. */
export function BringProject({ onClose }: { onClose: () => void }) {
	const [arrived, setArrived] = useState<Arrived | null>(null);
	const [job, setJob] = useState<number | null>(null);
	const letGo = () => {
		if (arrived && job === null) void api.DELETE("/api/project-files/{arrived_id}", { params: { path: { arrived_id: arrived.id } } });
		onClose();
	};
	return (
		<Modal title={say("Bring in a project")} onClose={letGo} wide>
			{job !== null ? (
				<UnderWay job={job} onClose={onClose} onAgain={() => setJob(null)} />
			) : arrived ? (
				<LookedInto key={arrived.id} file={arrived} onStarted={setJob} onOther={() => setArrived(null)} />
			) : (
				<Choose onArrived={setArrived} />
			)}
		</Modal>
	);
}

function Choose({ onArrived }: { onArrived: (file: Arrived) => void }) {
	const [sent, setSent] = useState(0);
	const upload = useMutation({
		mutationFn: (file: File) => {
			const form = new FormData();
			form.append("file", file);
			return sendWithProgress<Arrived>("/api/project-files", form, setSent);
		},
		onSuccess: onArrived,
	});
	return (
		<div className="space-y-3">
			<p>
				{phrase(
					"Choose the .zip that was made with <i>Take the project out</i> (under Members). It is looked into first; nothing is made yet.",
					{ i: (inner) => <i>{inner}</i> },
				)}
			</p>
			<input
				type="file"
				accept=".zip,application/zip"
				aria-label={say("File of a project")}
				disabled={upload.isPending}
				className="field w-full"
				onChange={(event) => {
					const file = event.target.files?.[0];
					setSent(0);
					if (file) upload.mutate(file);
				}}
			/>
			{upload.isPending && (
				<p role="status" className="quiet-line">
					{sent < 1 ? say("Sending: {sent} %", { sent: Math.round(sent * 100) }) : say("Looking into it …")}
				</p>
			)}
			{upload.error && (
				<p role="alert" className="text-danger">
					{upload.error.message}
				</p>
			)}
		</div>
	);
}

function LookedInto({ file, onStarted, onOther }: { file: Arrived; onStarted: (job: number) => void; onOther: () => void }) {
	const [trail, setTrail] = useState(file.trail);
	const [chosen, setChosen] = useState<Record<number, Becomes>>(() =>
		Object.fromEntries(file.people.map((one) => [one.id, one.me ? "me" : one.here && one.role ? "account" : "name"])),
	);
	const start = useMutation({
		mutationFn: () =>
			take(
				api.POST("/api/project-files/{arrived_id}/bring-in", {
					params: { path: { arrived_id: file.id } },
					body: { trail, people: file.people.map((one) => ({ id: one.id, becomes: chosen[one.id] ?? "name" })) },
				}),
			),
		onSuccess: (job) => onStarted(job.id),
	});
	const { counts } = file;
	return (
		<div className="space-y-4">
			<div>
				<p className="font-serif text-xl font-semibold">{file.name}</p>
				<p className="quiet-line">
					{say("Taken out on {made_at} · {n, number} MB", {
						made_at: moment(file.made_at),
						n: Math.max(1, Math.round(file.size / 1024 ** 2)),
					})}
				</p>
				<p className="mt-1">
					{[
						say("{documents, plural, one {# document} other {# documents}}", { documents: counts.documents }),
						counted(counts.cases, file.case_one, file.case_many),
						say("{codes, plural, one {# code} other {# codes}}", { codes: counts.codes }),
						say("{codings, plural, one {# coding} other {# codings}}", { codings: counts.codings }),
						say("{memos, plural, one {# memo} other {# memos}}", { memos: counts.memos }),
						say("{kept, plural, one {# kept comparison} other {# kept comparisons}}", { kept: counts.comparisons }),
						say("{frozen, plural, one {# frozen result} other {# frozen results}}", { frozen: counts.frozen }),
						say("{exhibits, plural, one {# exhibit} other {# exhibits}}", { exhibits: counts.exhibits }),
					].join(" · ")}
				</p>
				{file.missing > 0 && (
					<p className="mt-1 text-danger">
						{say(
							"{pictures, plural, one {# picture or recording} other {# pictures or recordings}} had been lost already when it was made.",
							{ pictures: file.missing },
						)}
					</p>
				)}
			</div>
			<section aria-labelledby="who-is-who">
				<h2 id="who-is-who">{say("Who is who here")}</h2>
				<p className="quiet-line">
					{say(
						"You become an owner. Whoever has an account here becomes a member with the role they had; of others only the name stands at what they wrote and coded.",
					)}
				</p>
				<ul className="mt-2 rounded-lg border border-line">
					{file.people.map((one) => (
						<Person
							key={one.id}
							one={one}
							value={chosen[one.id] ?? "name"}
							onChange={(becomes) => setChosen(withOneMe(chosen, one.id, becomes))}
						/>
					))}
				</ul>
			</section>
			{file.trail && (
				<label className="flex items-start gap-2">
					<input type="checkbox" className="mt-1 accent-spruce" checked={trail} onChange={(event) => setTrail(event.target.checked)} />
					<span>{say("With the trail of who did what when, so that undo goes on working")}</span>
				</label>
			)}
			{start.error && (
				<p role="alert" className="text-danger">
					{start.error.message}
				</p>
			)}
			<div className="flex gap-2">
				<Button look="main" disabled={start.isPending} onClick={() => start.mutate()}>
					{say("Bring it in")}
				</Button>
				<Button onClick={onOther}>{say("Another file")}</Button>
			</div>
		</div>
	);
}

/** Only one of them can be who is asked. */
function withOneMe(chosen: Record<number, Becomes>, id: number, becomes: Becomes): Record<number, Becomes> {
	const others = becomes === "me" ? Object.entries(chosen).map(([key, one]) => [key, one === "me" ? "name" : one]) : Object.entries(chosen);
	return { ...Object.fromEntries(others), [id]: becomes };
}

function Person({ one, value, onChange }: { one: Somebody; value: Becomes; onChange: (becomes: Becomes) => void }) {
	const options = [
		{ value: "name" as const, label: say("the name only") },
		...(one.here && !one.me
			? [
					{
						value: "account" as const,
						label: say("{display_name}, who signs in as {username}", { display_name: one.here.display_name, username: one.here.username }),
					},
				]
			: []),
		{ value: "me" as const, label: say("that’s me") },
	];
	return (
		<li className="flex items-center gap-3 border-b border-line2 px-3 py-1.5 last:border-0">
			<span className="font-semibold">{one.name}</span>
			<span className="quiet-line">
				{one.username} · {one.role ?? say("not a member any more")}
			</span>
			<span className="ml-auto w-72">
				<Choice name={say("Who {name} is here", { name: one.name })} value={value} options={options} onChange={onChange} />
			</span>
		</li>
	);
}

const ENDED = ["done", "failed", "cancelled"];

function UnderWay({ job, onClose, onAgain }: { job: number; onClose: () => void; onAgain: () => void }) {
	const client = useQueryClient();
	const navigate = useNavigate();
	const path = { params: { path: { job_id: job } } };
	const found = useQuery({
		queryKey: ["job", job],
		queryFn: () => take(api.GET("/api/jobs/{job_id}", path)),
		refetchInterval: (query) => (query.state.data && ENDED.includes(query.state.data.state) ? false : 500),
	}).data;
	const cancel = useMutation({ mutationFn: () => take(api.DELETE("/api/jobs/{job_id}", path)) });
	const project = found?.state === "done" ? found.project : null;
	useEffect(() => {
		if (project === null) return;
		void client.invalidateQueries({ queryKey: ["projects"] });
		onClose();
		navigate(`/projects/${project}`);
	}, [project, client, navigate, onClose]);
	if (found && ["failed", "cancelled"].includes(found.state))
		return (
			<div className="space-y-3">
				<p role="alert" className={found.state === "failed" ? "text-danger" : ""}>
					{found.message}
				</p>
				<Button onClick={onAgain}>{say("Back")}</Button>
			</div>
		);
	return (
		<div className="space-y-3">
			<p role="status">{found?.message || say("Waiting for its turn …")}</p>
			<progress
				className="h-2 w-full accent-spruce"
				max={found?.total || 1}
				value={found?.done ?? 0}
				aria-label={say("Bringing in the project")}
			/>
			<Button disabled={cancel.isPending} onClick={() => cancel.mutate()}>
				{say("Cancel")}
			</Button>
		</div>
	);
}
