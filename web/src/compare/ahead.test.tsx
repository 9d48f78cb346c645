import { QueryClient } from "@tanstack/react-query";
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { read } from "../project/reads";
import { show } from "../tests/harness";
import { CODEBOOK, COMPARISON, ROSTER } from "../tests/samples";
import { asked, calls, serve } from "../tests/server";
import { Compare, askAhead as ofCompare } from "./Compare";
import { askAhead as ofTogether, TogetherPage } from "./together/TogetherPage";

const MAP = { rows: [], groups: [], order: [0, 1], inertia: [], problem: "" };
const STANDS_OUT = {
	findings: [],
	marks: [],
	share: true,
	looked_at: 0,
	sure: 0,
	look: 0,
	by_chance: 0,
	otherwise: "",
	methods: "",
	sources: [],
};

function whoHasRead(): QueryClient {
	const client = new QueryClient();
	client.setQueryData(read("codebook", 7).queryKey, CODEBOOK as never);
	client.setQueryData(read("roster", 7).queryKey, ROSTER as never);
	client.setQueryData(read("variables", 7).queryKey, []);
	return client;
}

describe("what an address asks is asked before its page is drawn", () => {
	beforeEach(() =>
		serve({
			"GET /codebook": CODEBOOK,
			"GET /roster": ROSTER,
			"GET /variables": [],
			"GET /cohorts": { cohorts: [], of_documents: [] },
			"GET /compare/kept": [],
			"GET /compare/queries": [],
			"GET /themes": [],
			"POST /compare": COMPARISON,
			"POST /compare/stands-out": STANDS_OUT,
			"POST /compare/map": MAP,
			"POST /compare/together": new Promise(() => undefined),
		}),
	);

	it.each(["", "?measure=passages&rollup=0", "?codes=3&form=map"])("as the page itself asks it: “%s”", async (search) => {
		await ofCompare(whoHasRead(), 7, new URLSearchParams(search));
		const ahead = asked.filter((one) => one.route.startsWith("POST")).map(({ route, body }) => ({ route, body }));
		expect(ahead.map(({ route }) => route).includes("POST /compare/map")).toBe(search.includes("map"));
		expect(ahead.length).toBe(search.includes("map") ? 3 : 2);
		asked.length = 0;
		show(<Compare />, { at: `/projects/7/here${search}` });
		await screen.findByRole("region", { name: "Result" });
		const itself = asked.filter((one) => one.route.startsWith("POST")).map(({ route, body }) => ({ route, body }));
		expect(itself).toEqual(expect.arrayContaining(ahead));
	});

	it("codes with codes as well", async () => {
		void ofTogether(whoHasRead(), 7, new URLSearchParams("unit=seconds&within=4"));
		await waitFor(() => expect(calls("POST /compare/together")).toMatchObject([{ unit: "seconds", within: 4 }]));
		const [ahead] = calls("POST /compare/together");
		show(<TogetherPage />, { at: "/projects/7/here?unit=seconds&within=4" });
		await screen.findByText("How often do", { exact: false });
		await waitFor(() => expect(calls("POST /compare/together")[1]).toEqual(ahead));
	});

	it("but not in a scope whose counts aren’t there: other rows may be the usual ones", () => {
		for (const ask of [ofCompare, ofTogether]) expect(ask(whoHasRead(), 7, new URLSearchParams("cases=1"))).toBeUndefined();
		expect(ofCompare(new QueryClient(), 7, new URLSearchParams())).toBeUndefined();
		expect(asked).toEqual([]);
	});
});
