import { queryOptions } from "@tanstack/react-query";
import { api, take } from "../api/client";

const within = (id: number) => ({ params: { path: { project_id: id } } });

/** What every page of a project stands on: asked for by whoever needs it, and already while the first page is fetched. */
export const reads = {
	project: (id: number) =>
		queryOptions({ queryKey: ["project", id], queryFn: () => take(api.GET("/api/projects/{project_id}", within(id))) }),
	status: (id: number) =>
		queryOptions({ queryKey: ["project", id, "status"], queryFn: () => take(api.GET("/api/projects/{project_id}/status", within(id))) }),
	documents: (id: number) =>
		queryOptions({
			queryKey: ["project", id, "documents"],
			queryFn: () => take(api.GET("/api/projects/{project_id}/documents", within(id))),
		}),
	roster: (id: number) =>
		queryOptions({ queryKey: ["project", id, "roster"], queryFn: () => take(api.GET("/api/projects/{project_id}/roster", within(id))) }),
	codebook: (id: number) =>
		queryOptions({
			queryKey: ["project", id, "codebook"],
			queryFn: () => take(api.GET("/api/projects/{project_id}/codebook", within(id))),
		}),
};
