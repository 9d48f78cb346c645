import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, type Shape, take } from "../api/client";
import { settled, takeBackLast } from "../coding/waiting";
import { useToasts } from "../ui/toasts";
import { useSession } from "./session";

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
	return useProject().role !== "viewer";
}

export function useStatus() {
	const { id } = useProject();
	return useQuery({
		queryKey: ["project", id, "status"],
		queryFn: () => take(api.GET("/api/projects/{project_id}/status", { params: { path: { project_id: id } } })),
		refetchInterval: (query) => (query.state.data?.jobs.length ? 700 : 15_000),
		placeholderData: keepPreviousData,
	});
}

/** A write inside the project, after those before it: afterwards everything shown of the project is read again. */
export function useWrite<Input, Output>(
	write: (input: Input) => Promise<Output>,
	options: { onSuccess?: (output: Output, input: Input) => void; quiet?: boolean } = {},
) {
	const { id } = useProject();
	const client = useQueryClient();
	const { warn } = useToasts();
	return useMutation({
		mutationFn: write,
		scope: { id: `project ${id}` },
		onSuccess: (output, input) => {
			void client.invalidateQueries({ queryKey: ["project", id] });
			options.onSuccess?.(output, input);
		},
		onError: (error) => {
			if (!options.quiet) warn(error.message);
		},
	});
}

export function useUndo() {
	const { id } = useProject();
	const { tell } = useToasts();
	const path = { params: { path: { project_id: id } } };
	// What was coded before the key must be there before it can be taken back; without a connection it still waits here.
	const account = useSession().data?.account?.id;
	const takenBack = async () => {
		await settled(id, account);
		const last = takeBackLast(id, account);
		return last ? { summary: `the codes on “${last.said}”` } : take(api.POST("/api/projects/{project_id}/undo", path));
	};
	const doneAgain = async () => {
		await settled(id, account);
		return take(api.POST("/api/projects/{project_id}/redo", path));
	};
	const undo = useWrite(takenBack, {
		onSuccess: ({ summary }) => tell(summary ? `Taken back: ${summary}` : "There is nothing of yours to take back."),
	});
	const redo = useWrite(doneAgain, {
		onSuccess: ({ summary }) => tell(summary ? `Done again: ${summary}` : "There is nothing to do again."),
	});
	return { undo, redo };
}
