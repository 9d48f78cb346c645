import { QueryClient } from "@tanstack/react-query";
import { screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { show } from "../tests/harness";
import { asked, serve } from "../tests/server";
import { Mishap } from "../ui/Mishap";
import { HEADS } from "./heads";
import { fetchFor, PAGES, page, pageAt } from "./pages";

afterEach(() => void vi.restoreAllMocks());

it("a page that couldn’t be fetched says so, and is fetched again when it is shown again", async () => {
	vi.spyOn(console, "error").mockImplementation(() => undefined);
	let broken = true;
	const Late = page("Late", async () => {
		if (broken) throw new TypeError("Failed to fetch dynamically imported module");
		return { Late: () => <p>Here it is</p> };
	});
	const { user } = show(
		<Mishap at="">
			<Late />
		</Mishap>,
	);
	expect((await screen.findByRole("alert")).textContent).toContain("The page couldn’t be fetched: the server doesn’t answer");
	broken = false;
	await user.click(screen.getByRole("button", { name: "Show the page again" }));
	expect(await screen.findByText("Here it is")).toBeTruthy();
});

it("what a page stands on is read before it is drawn, where the head says who is there", async () => {
	const any = { documents: [], variables: [] };
	serve({
		"GET /": any,
		"GET /status": any,
		"GET /documents": any,
		"GET /roster": any,
		"GET /codebook": any,
		"GET /themes": [],
		"GET /digests": [],
	});
	const nobody = new QueryClient();
	await fetchFor({ pathname: "/projects/7/report/digests", search: "" }, nobody);
	expect(asked).toEqual([]);
	const says = (path: string) => `<script type="application/json" data-said="${path}">{"account":{"id":1}}</script>`;
	document.head.innerHTML = says("/api/session") + says("/api/projects/7");
	const client = new QueryClient();
	await fetchFor({ pathname: "/projects/7/report/digests", search: "" }, client);
	expect(asked.map((one) => one.route).sort()).toEqual(
		["GET /codebook", "GET /digests", "GET /documents", "GET /roster", "GET /status", "GET /themes"].sort(),
	);
	expect(client.getQueryData(["session"])).toEqual({ account: { id: 1 } });
	expect(client.getQueryData(["project", 7, "digests"])).toEqual([]);
});

it("a page that waits long for its reads is drawn all the same", async () => {
	vi.useFakeTimers();
	serve({ "GET /": () => new Promise(() => undefined) });
	document.head.innerHTML = ["/api/session", "/api/other"]
		.map((path) => `<script type="application/json" data-said="${path}">{}</script>`)
		.join("");
	let drawn = false;
	void fetchFor({ pathname: "/projects/7/members", search: "" }, new QueryClient()).then(() => {
		drawn = true;
	});
	await vi.advanceTimersByTimeAsync(1000);
	expect(drawn).toBe(false);
	await vi.advanceTimersByTimeAsync(1000);
	expect(drawn).toBe(true);
	vi.useRealTimers();
});

it("an address is of its own page, though a number could stand where its name does", () => {
	for (const { address } of PAGES.filter((one) => !one.address.includes(":")))
		expect(pageAt(`/projects/7/${address}`)?.address).toBe(address);
	expect(pageAt("/projects/7/code/33")?.address).toBe("code/:documentId");
	expect(pageAt("/projects/7/report/exhibits/3")?.address).toBe("report/exhibits/:exhibitId");
	expect(pageAt("/projects/7/nowhere")?.address).toBe("gather");
});

it("a page goes by the names of its module and of what it reads", () => {
	for (const { pages, asked: reads, said } of HEADS) {
		expect(pages.length).toBeGreaterThan(0);
		for (const address of [...reads, ...said]) expect(address).toMatch(/^\/api\/[\w/:-]+$/);
	}
	expect(HEADS.find(({ address }) => address === "/projects/:projectId/code/:documentId")?.asked).toContain(
		"/api/projects/:projectId/documents/:documentId",
	);
});

it("an address that what is asked ahead stumbles over is drawn all the same", async () => {
	const any = { documents: [], variables: [{ kind: "category" }], codes: null };
	serve({
		"GET /": any,
		"GET /status": any,
		"GET /documents": any,
		"GET /roster": any,
		"GET /codebook": { codes: [null] },
		"GET /variables": [],
		"GET /cohorts": any,
		"GET /compare/kept": [],
	});
	document.head.innerHTML = ["/api/session", "/api/projects/7"]
		.map((path) => `<script type="application/json" data-said="${path}">{"account":{"id":1}}</script>`)
		.join("");
	await expect(fetchFor({ pathname: "/projects/7/compare", search: "" }, new QueryClient())).resolves.toBeUndefined();
});
