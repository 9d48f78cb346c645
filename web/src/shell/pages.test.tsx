import { QueryClient } from "@tanstack/react-query";
import { screen, waitFor } from "@testing-library/react";
import { Suspense } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { show } from "../tests/harness";
import { asked, serve } from "../tests/server";
import { Mishap } from "../ui/Mishap";
import { fetchFor, page } from "./pages";

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
			<Suspense fallback={<p>on its way</p>}>
				<Late />
			</Suspense>
		</Mishap>,
	);
	expect((await screen.findByRole("alert")).textContent).toContain("The page couldn’t be fetched: the server doesn’t answer");
	broken = false;
	await user.click(screen.getByRole("button", { name: "Show the page again" }));
	expect(await screen.findByText("Here it is")).toBeTruthy();
});

it("what a project’s pages stand on is asked for at once by whoever was in, and by nobody else", async () => {
	const any = { documents: [], variables: [] };
	serve({
		"GET /": any,
		"GET /status": any,
		"GET /documents": any,
		"GET /roster": any,
		"GET /codebook": any,
	});
	fetchFor("/projects/7/gather", new QueryClient());
	expect(asked).toEqual([]);
	localStorage.setItem("cohortia.been-in", "1");
	fetchFor("/projects/7/gather", new QueryClient());
	await waitFor(() => expect(asked.length).toBe(5));
	expect(asked.map((one) => one.route).sort()).toEqual(["GET /", "GET /codebook", "GET /documents", "GET /roster", "GET /status"]);
});
