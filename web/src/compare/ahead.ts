import type { QueryClient } from "@tanstack/react-query";
import { read } from "../project/reads";
import { readScope, scopeRequest } from "../project/scope";
import { comparing, mapping, standingOut } from "./data";
import { questionIn, rowsAsked } from "./spec";
import { readView } from "./view";

/** What an address asks is counted while its page is drawn for the first time. */
export function askAhead(client: QueryClient, id: number, params: URLSearchParams): Promise<unknown> | undefined {
	const codes = client.getQueryData(read("codebook", id).queryKey)?.codes;
	const variables = client.getQueryData(read("roster", id).queryKey)?.variables;
	const ofDocuments = client.getQueryData(read("variables", id).queryKey);
	const scope = readScope(params);
	// In a scope of its own the counts that the usual rows are chosen by aren’t there yet.
	if (!codes || !variables || !ofDocuments || (!params.has("codes") && Object.keys(scopeRequest(scope)).length)) return undefined;
	const question = questionIn(params, codes, variables, ofDocuments, scope);
	if (!question || !rowsAsked(question)) return undefined;
	const shown = [client.prefetchQuery(comparing(id, question))];
	if (readView(params).form === "map") shown.push(client.prefetchQuery(mapping(id, question)));
	void client.prefetchQuery(standingOut(id, question));
	return Promise.all(shown);
}
