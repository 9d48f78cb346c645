import { queryOptions } from "@tanstack/react-query";
import { api, take } from "../api/client";
import type { paths } from "../api/schema.gen";
import { PATHS, type ReadName } from "./paths";

const PROJECT = "/api/projects/{project_id}";
type Said<Name extends ReadName> =
	paths[`${typeof PROJECT}${(typeof PATHS)[Name]}`]["get"]["responses"][200]["content"]["application/json"];

const within = (id: number) => ({ params: { path: { project_id: id } } });

/** The project itself: its name, its words and limits, and who one is in it. */
export const readProject = (id: number) => queryOptions({ queryKey: ["project", id], queryFn: () => take(api.GET(PROJECT, within(id))) });

/** A read of a project by its name: asked for by whoever needs it, and already while the first page is fetched. */
export const read = <Name extends ReadName>(name: Name, id: number) =>
	queryOptions({
		queryKey: ["project", id, name],
		queryFn: () => take<Said<Name>>(api.GET(`${PROJECT}${PATHS[name]}` as typeof PROJECT, within(id)) as never),
	});
