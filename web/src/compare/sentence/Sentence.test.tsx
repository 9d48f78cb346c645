import { screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { show, texts } from "../../tests/harness";
import { CODEBOOK, COMPARISON, ROSTER } from "../../tests/samples";
import { serve } from "../../tests/server";
import { Compare } from "../Compare";

it("says nothing by half while it is being counted", async () => {
	let come = (_: unknown) => {};
	serve({
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /variables": [],
		"GET /cohorts": { cohorts: [], in_none: [], in_several: [] },
		"GET /compare/kept": [],
		"GET /themes": { questions: [], themes: [] },
		"GET /memos": [],
		"POST /compare/stands-out": {
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
		},
		"POST /compare": () => new Promise((answer) => (come = answer)),
	});
	const { container } = show(<Compare />, { at: "/projects/7/compare?codes=3.4&variable=11" });
	expect(await screen.findByText("Counting …")).toBeTruthy();
	const sentence = () => texts(container.querySelectorAll("h2"))[0] ?? "";
	expect(sentence()).toMatch(/^Compare 2 rows across \S.*\.$/);
	expect(sentence()).not.toContain("counting");
	come(COMPARISON);
	expect(await screen.findByRole("region", { name: "Result" })).toBeTruthy();
	expect(sentence()).toContain(", counting ");
	expect(screen.queryByText("Counting …")).toBeNull();
});
