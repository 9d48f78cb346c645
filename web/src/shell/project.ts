import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, type Shape, take } from "../api/client";
import { useToasts } from "../ui/toasts";

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

/** A write inside the project: afterwards everything shown of the project is read again. */
export function useWrite<Input, Output>(
	write: (input: Input) => Promise<Output>,
	options: { onSuccess?: (output: Output, input: Input) => void; quiet?: boolean } = {},
) {
	const { id } = useProject();
	const client = useQueryClient();
	const { warn } = useToasts();
	return useMutation({
		mutationFn: write,
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
	const undo = useWrite(() => take(api.POST("/api/projects/{project_id}/undo", path)), {
		onSuccess: ({ summary }) => tell(summary ? `Taken back: ${summary}` : "There is nothing of yours to take back."),
	});
	const redo = useWrite(() => take(api.POST("/api/projects/{project_id}/redo", path)), {
		onSuccess: ({ summary }) => tell(summary ? `Done again: ${summary}` : "There is nothing to do again."),
	});
	return { undo, redo };
}
