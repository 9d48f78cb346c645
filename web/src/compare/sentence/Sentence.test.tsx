import { screen, waitFor } from "@testing-library/react";
import { expect, it } from "vitest";
import { show, texts } from "../../tests/harness";
import { CODEBOOK, COMPARISON, ROSTER } from "../../tests/samples";
import { calls, Refused, serve } from "../../tests/server";
import { Compare } from "../Compare";

const PAGE = {
	"GET /codebook": CODEBOOK,
	"GET /roster": ROSTER,
	"GET /variables": [],
	"GET /cohorts": { cohorts: [], of_documents: [], in_none: [], in_several: [] },
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
};

it("says nothing by half while it is being counted", async () => {
	let come = (_: unknown) => {};
	serve({ ...PAGE, "POST /compare": () => new Promise((answer) => (come = answer)) });
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

it("lets what made it refuse be changed", async () => {
	serve({ ...PAGE, "POST /compare": new Refused("Too many groups: choose fewer.") });
	const { user } = show(<Compare />, { at: "/projects/7/compare?codes=3.4&variable=11&second=12" });
	expect((await screen.findByRole("alert")).textContent).toBe("Too many groups: choose fewer.");
	expect(screen.queryByText(/tests/)).toBeNull();
	await user.click(screen.getByRole("button", { name: /^Branches: .*rolled up/ }));
	await user.click(screen.getByRole("option", { name: /^not rolled up/ }));
	await waitFor(() => expect(calls("POST /compare").at(-1)).toMatchObject({ roll_up: false }));
});
