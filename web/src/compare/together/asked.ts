import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { api, type Shape, take } from "../../api/client";
import type { Code } from "../../codes/data";
import { branches, flat } from "../../codes/tree";
import { read } from "../../project/reads";
import { readScope, type Scope, scopeRequest } from "../../project/scope";

type Question = Shape<"TogetherInRequest">;

const NEAR = ["turn", "overlap", "turns", "paragraphs", "seconds"] as const;
/** How near, as it is chosen: the distance itself is typed beside it. */
export type Near = (typeof NEAR)[number];
const USUAL_DISTANCE: Partial<Record<Near, number>> = { turns: 1, paragraphs: 1, seconds: 10 };

/** To begin with, so many codes at most. */
const USUAL = 60;

/** What an address asks of the codes there are. */
export function asked(params: URLSearchParams, codes: Code[], scope: Scope): { body: Question; near: Near; within: number } {
	const known = new Set(codes.map((code) => code.id));
	const ordered = flat(branches(codes)).map(({ code }) => code);
	const used = ordered.filter((code) => !code.parked && code.passages > 0);
	const said = params.get("codes");
	const chosen =
		said === null
			? used.slice(0, USUAL).map((code) => code.id)
			: said
					.split(".")
					.map(Number)
					.filter((one) => known.has(one));
	const near = NEAR.find((one) => one === params.get("unit")) ?? "turn";
	const within = near === "turn" ? 0 : Number(params.get("within") ?? USUAL_DISTANCE[near]) || 0;
	const unit = near === "turn" ? "turns" : near;
	return {
		near,
		within,
		body: {
			codes: chosen,
			measure: (params.get("measure") ?? "people") as Question["measure"],
			unit,
			within: unit === "overlap" ? 0 : within,
			roll_up: params.get("rollup") === "1",
			columns: "variable",
			variable: Number(params.get("variable")) || null,
			scope: scopeRequest(scope),
		},
	};
}

/** How often codes meet. */
export const meeting = (id: number, body: Question) =>
	queryOptions({
		queryKey: ["project", id, "together", body],
		queryFn: () => take(api.POST("/api/projects/{project_id}/compare/together", { params: { path: { project_id: id } }, body })),
	});

/** What an address asks is counted while its page is drawn for the first time. */
export function askAhead(client: QueryClient, id: number, params: URLSearchParams): Promise<unknown> | undefined {
	const codes = client.getQueryData(read("codebook", id).queryKey)?.codes;
	const scope = readScope(params);
	if (!codes || (!params.has("codes") && Object.keys(scopeRequest(scope)).length)) return undefined;
	const { body } = asked(params, codes, scope);
	return body.codes.length > 1 ? client.prefetchQuery(meeting(id, body)) : undefined;
}
