import { screen, waitFor, within } from "@testing-library/react";
import { expect, it } from "vitest";
import { FirstSteps } from "../shell/FirstSteps";
import { address, show, texts } from "../tests/harness";
import { calls, nowServe, serve } from "../tests/server";
import { Term } from "./Term";
import { inWordsOf, TERMS, type Words } from "./terms";
import { WordsPage } from "./WordsPage";

const STATUS = { documents: 0, cases: 0, linked_cases: 0, codings: 0, comparisons: 0, jobs: [] };

it("says what a word means where it stands, in the project’s own words, by key too", async () => {
	serve({});
	const { user } = show(<Term of="base">as a share of</Term>, { project: { case_one: "site", case_many: "sites" } });
	await user.tab();
	await user.keyboard("{Enter}");
	expect(await screen.findByText(/Of sites: those of the group who have material in scope/)).toBeTruthy();
	await user.click(screen.getByRole("link", { name: "All words" }));
	expect(address()).toBe("/projects/7/words");
	await user.keyboard("{Escape}");
});

it("lists every word once, and leaves no place for a case’s word open", () => {
	serve({});
	show(<WordsPage />, { at: "/projects/7/words#sure", project: { case_one: "site", case_many: "sites" } });
	const named = texts(screen.getAllByRole("term"));
	expect(named).toHaveLength(Object.keys(TERMS).length);
	expect(new Set(named).size).toBe(named.length);
	expect(named).toContain("Site");
	expect(document.body.textContent).not.toMatch(/[{}]|people/);
	for (const { said } of Object.values<Words>(TERMS)) expect(inWordsOf(said, "site", "sites")).toMatch(/^\p{Lu}.*\.$/u);
});

it("shows the way to a first comparison until it is gone", async () => {
	serve({ "GET /status": { ...STATUS, documents: 3, cases: 2 } });
	const { user, unmount } = show(<FirstSteps />);
	const steps = within(await screen.findByRole("navigation", { name: "To a first comparison" }));
	expect(steps.getAllByRole("img", { name: "done:" })).toHaveLength(2);
	expect(steps.getByRole("link", { current: "step" }).textContent).toBe("Link speakers to people");
	await user.click(steps.getByRole("button", { name: "Send the first steps away" }));
	expect(screen.queryByRole("navigation", { name: "To a first comparison" })).toBeNull();
	unmount();
	window.sessionStorage.clear();
	nowServe("GET /status", { ...STATUS, documents: 3, cases: 2, linked_cases: 2, codings: 9, comparisons: 1 });
	const { container } = show(<FirstSteps />);
	await waitFor(() => expect(calls("GET /status").length).toBeGreaterThan(0));
	expect(container.querySelector("nav")).toBeNull();
});
