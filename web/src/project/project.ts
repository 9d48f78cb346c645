import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useRef, useState } from "react";
import { api, type Shape, take } from "../api/client";
import { drop } from "../api/early";
import { movesTold } from "../api/written";
import { say } from "../language/say";
import { useToasts } from "../ui/toasts";
import { read } from "./reads";
import { works } from "./roles";
import { useSession } from "./session";
import { settled, takeBackLast } from "./waiting";

export type Project = Shape<"ProjectOut">;

export const ProjectContext = createContext<Project | null>(null);

/** The project that this page is in. */
export function useProject(): Project {
	const project = useContext(ProjectContext);
	if (!project) throw new Error("This component stands outside a project.");
	return project;
}

/** Whether the member may change things here. */
export function useMayCode(): boolean {
	return works(useProject().role);
}

export function useStatus() {
	const { id } = useProject();
	return useQuery({
		...read("status", id),
		refetchInterval: (query) => (query.state.data?.jobs.length ? 700 : 15_000),
		placeholderData: keepPreviousData,
	});
}

/** A write inside the project, after those before it: afterwards what rests on what it touched is read again, or, where its
 * answer doesn’t say that, everything shown of the project. */
export function useWrite<Input, Output>(
	write: (input: Input) => Promise<Output>,
	options: { onSuccess?: (output: Output, input: Input) => void; quiet?: boolean } = {},
) {
	const { id } = useProject();
	const client = useQueryClient();
	const { warn } = useToasts();
	return useMutation({
		mutationFn: async (input: Input) => {
			const before = movesTold();
			const output = await write(input);
			if (movesTold() === before) {
				drop();
				void client.invalidateQueries({ queryKey: ["project", id] });
			}
			return output;
		},
		scope: { id: `project ${id}` },
		onSuccess: (output, input) => {
			options.onSuccess?.(output, input);
		},
		onError: (error) => {
			if (!options.quiet) warn(error.message);
		},
	});
}

export type Job = Shape<"JobOut">;

/** Follows a job to its end: then all that is shown of the project is read again, and `ended` is told. */
export function useJob(jobId: number | null, ended: (job: Job) => void): Job | undefined {
	const { id } = useProject();
	const client = useQueryClient();
	const tell = useRef(ended);
	tell.current = ended;
	const job = useQuery({
		queryKey: ["project", id, "job", jobId],
		queryFn: () =>
			take(
				api.GET("/api/projects/{project_id}/jobs/{job_id}", {
					params: { path: { project_id: id, job_id: jobId ?? 0 } },
				}),
			),
		enabled: jobId !== null,
		refetchInterval: 500,
	}).data;
	useEffect(() => {
		if (!job || job.id !== jobId || job.state === "waiting" || job.state === "running") return;
		void client.invalidateQueries({ queryKey: ["project", id] });
		tell.current(job);
	}, [job, jobId, id, client]);
	return jobId === null ? undefined : job;
}

/** A job that was begun here: how far it is, and, at its end, its own sentence. */
export function useToldJob(): [Job | undefined, (begun: Job) => void] {
	const { tell, warn } = useToasts();
	const [jobId, setJobId] = useState<number | null>(null);
	const job = useJob(jobId, ({ state, message }) => {
		setJobId(null);
		if (state === "done") tell(message);
		else warn(message);
	});
	return [job, ({ id }) => setJobId(id)];
}

export function useUndo() {
	const { id } = useProject();
	const { tell } = useToasts();
	const [, follow] = useToldJob();
	const path = { params: { path: { project_id: id } } };
	// What was coded before the key must be there before it can be taken back; without a connection it still waits here.
	const account = useSession().data?.account?.id;
	const takenBack = async () => {
		await settled(id, account);
		const last = takeBackLast(id, account);
		return last
			? { summary: say("the codes on “{said}”", { said: last.said }), job: null }
			: take(api.POST("/api/projects/{project_id}/undo", path));
	};
	const doneAgain = async () => {
		await settled(id, account);
		return take(api.POST("/api/projects/{project_id}/redo", path));
	};
	const said = (done: string, nothing: string) => (turned: { summary: string | null; job: Job | null }) => {
		if (turned.job) follow(turned.job);
		else tell(turned.summary ? `${done}: ${turned.summary}` : nothing);
	};
	const undo = useWrite(takenBack, { onSuccess: said(say("Taken back"), say("There is nothing of yours to take back.")) });
	const redo = useWrite(doneAgain, { onSuccess: said(say("Done again"), say("There is nothing to do again.")) });
	return { undo, redo };
}

/** Says what went, with the way to have it back. */
export function useTellGone() {
	const { tell } = useToasts();
	const { undo } = useUndo();
	return (said: string) => tell(`${said}.`, { label: say("Undo"), act: () => undo.mutate(undefined) });
}
