import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { type Condition, complete, type Group, operatorsFor, replaced } from "../project/condition";
import { address, show, texts } from "../tests/harness";
import { ROSTER } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { Cohorts } from "./Cohorts";
import { rosterOf } from "./data";

const { cases, variables } = rosterOf(ROSTER);
const HOLM = { variable: 11, operator: "is", values: ["Holm"] } as const;
const DAILY = { id: 5, name: "From Holm", description: "", condition: { join: "all", parts: [HOLM] }, cases: [21], problem: "" };

beforeEach(() =>
	serve({
		"GET /cohorts": { cohorts: [DAILY], of_documents: [], in_none: [22], in_several: [] },
		"POST /cohorts": { ...DAILY, id: 6 },
		"POST /cohorts/count": { count: 2, parts: [{ count: 2, parts: [] }] },
		"PATCH /cohorts/5": {},
		"PATCH /cohorts/8": {},
		"GET /documents": [],
		"GET /variables": [],
		"DELETE /cohorts/5": {},
	}),
);
const page = (project = {}) => show(<Cohorts cases={cases} variables={variables} />, { project });

describe("conditions", () => {
	const group: Group = {
		join: "all",
		parts: [
			{ ...HOLM, values: ["Holm"] },
			{ join: "any", parts: [{ variable: 12, operator: "below", values: [] }] },
		],
	};

	it("are complete only when every part says enough", () => {
		expect(complete(group)).toBe(false);
		expect(complete({ variable: 12, operator: "is_missing", values: [] })).toBe(true);
		expect(complete({ variable: 12, operator: "below", values: [""] })).toBe(false);
	});

	it("are changed at a place without touching the rest", () => {
		const limit: Condition = { variable: 12, operator: "below", values: [30] };
		const changed = replaced(group, [1, 0], limit);
		expect(complete(changed)).toBe(true);
		expect(changed.parts[0]).toBe(group.parts[0]);
		expect(replaced(group, [1], null).parts).toHaveLength(1);
		expect((replaced(group, [1, 0], null).parts[1] as Group).parts).toEqual([]);
	});

	it("offer what makes sense for a kind", () => {
		expect(operatorsFor("number").map((one) => one.label)).toEqual(["is at least", "is below", "is known", "is missing"]);
		expect(operatorsFor("date").map((one) => one.label)).toContain("is on or after");
		expect(operatorsFor("category").map((one) => one.value)).toEqual(["is", "is_not", "has_value", "is_missing"]);
	});
});

describe("cohorts", () => {
	it("say what one is while there are none, and begin one", async () => {
		nowServe("GET /cohorts", { cohorts: [], of_documents: [], in_none: [21, 22, 23], in_several: [] });
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: "Make a cohort" }));
		expect(screen.getByRole("region", { name: "New cohort" })).toBeTruthy();
		expect(screen.queryByText(/In none:/)?.closest(".hidden")).toBeTruthy();
	});

	it("list who is in them, in none and in several", async () => {
		page();
		expect((await screen.findByRole("button", { name: /From Holm/ })).textContent).toContain("1 person · follows the data");
		expect(screen.getByText(/In none: P2/)).toBeTruthy();
	});

	it("are built by conditions, with the count of each part", async () => {
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: "Make a cohort" }));
		const editor = screen.getByRole("region", { name: "New cohort" });
		await user.type(within(editor).getByRole("textbox", { name: "Name of the cohort" }), "Holm and young");
		await user.click(within(editor).getByRole("button", { name: "Add a condition" }));
		expect(within(editor).getByRole<HTMLButtonElement>("button", { name: "Make the cohort" }).disabled).toBe(true);
		await user.click(within(editor).getByRole("button", { name: "Holm" }));
		expect((await within(editor).findByText("2 people")).parentElement?.textContent).toContain("of 3 fit");
		await user.click(within(editor).getByRole("button", { name: "Make the cohort" }));
		await waitFor(() =>
			expect(calls("POST /cohorts")).toEqual([{ name: "Holm and young", of: "case", condition: { join: "all", parts: [HOLM] } }]),
		);
	});

	it("name the condition that keeps nobody", async () => {
		nowServe("POST /cohorts/count", {
			count: 0,
			parts: [
				{ count: 3, parts: [] },
				{ count: 0, parts: [] },
			],
		});
		nowServe("GET /cohorts", {
			cohorts: [{ ...DAILY, condition: { join: "all", parts: [HOLM, { variable: 12, operator: "below", values: [5] }] } }],
			of_documents: [],
			in_none: [],
			in_several: [],
		});
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: /From Holm/ }));
		expect(await screen.findByText(/Condition 2 keeps nobody\./)).toBeTruthy();
	});

	it("take a number’s limit, another way of joining, and groups within", async () => {
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: /From Holm/ }));
		const editor = screen.getByRole("region", { name: "Cohort From Holm" });
		await user.click(within(editor).getByRole("button", { name: "Add a group" }));
		await user.click(within(editor).getAllByRole("button", { name: "Variable: Island" })[1] as HTMLElement);
		await user.click(await screen.findByRole("option", { name: "Age" }));
		await user.type(within(editor).getByRole("spinbutton", { name: "Limit of Age" }), "40");
		await user.click(within(editor).getAllByRole("button", { name: /^Join: all/ })[0] as HTMLElement);
		await user.click(await screen.findByRole("option", { name: /it is not so/ }));
		await user.click(within(editor).getByRole("button", { name: "Keep the changes" }));
		await waitFor(() =>
			expect(calls("PATCH /cohorts/5")).toEqual([
				{
					name: "From Holm",
					condition: {
						join: "any",
						negated: true,
						parts: [HOLM, { join: "any", parts: [{ variable: 12, operator: "at_least", values: [40] }] }],
					},
				},
			]),
		);
	});

	it("may ask for another cohort, in it or not", async () => {
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: "Make a cohort" }));
		const editor = screen.getByRole("region", { name: "New cohort" });
		await user.type(within(editor).getByRole("textbox", { name: "Name of the cohort" }), "Not of Holm");
		await user.click(within(editor).getByRole("button", { name: "Add a cohort" }));
		await user.click(within(editor).getByRole("button", { name: "Cohort: choose one" }));
		await user.click(await screen.findByRole("option", { name: "From Holm" }));
		await user.click(within(editor).getByRole("button", { name: "Whether they belong: are in the cohort" }));
		await user.click(await screen.findByRole("option", { name: "are not in the cohort" }));
		await user.click(within(editor).getByRole("button", { name: "Make the cohort" }));
		const parts = [{ cohorts: [5], how: "none" }];
		await waitFor(() => expect(calls("POST /cohorts")).toEqual([{ name: "Not of Holm", of: "case", condition: { join: "all", parts } }]));
	});

	it("are picked by hand", async () => {
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: /From Holm/ }));
		await user.click(screen.getByRole("button", { name: "By hand" }));
		await user.click(screen.getByRole("checkbox", { name: "P3" }));
		await user.click(screen.getByRole("button", { name: "Keep the changes" }));
		await waitFor(() => expect(calls("PATCH /cohorts/5")).toEqual([{ name: "From Holm", picked: [21, 23] }]));
	});

	it("say why one can’t be deleted", async () => {
		nowServe("DELETE /cohorts/5", new Refused("The variable “In Holm” is made of this cohort; delete that first.", 409));
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: /From Holm/ }));
		await user.click(screen.getByRole("button", { name: "Delete" }));
		expect((await screen.findByRole("alert")).textContent).toContain("is made of this cohort");
	});

	it("are only to be read by a viewer", async () => {
		const { user, container } = page({ role: "viewer" });
		await user.click(await screen.findByRole("button", { name: /From Holm/ }));
		expect(texts(container.querySelectorAll("button")).filter((text) => /Make|Keep|Delete/.test(text))).toEqual([]);
	});

	it("can be of documents: their facts and codes, their titles, cohorts of their kind", async () => {
		nowServe("GET /documents", [
			{ id: 1, title: "Pier" },
			{ id: 2, title: "Garden" },
		]);
		nowServe("GET /variables", [{ ...variables[0], id: 31, name: "Wave", of: "document" }]);
		const WINTER = { ...DAILY, id: 8, name: "Winter talks", condition: null, cases: [], documents: [1] };
		nowServe("GET /cohorts", { cohorts: [DAILY], of_documents: [WINTER], in_none: [22], in_several: [] });
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: "of documents" }));
		expect(await screen.findByText("1 document · picked by hand")).toBeTruthy();
		expect(screen.queryByText("From Holm")).toBeNull();
		expect(address()).toContain("of=document");
		await user.click(screen.getByRole("button", { name: /Winter talks/ }));
		const editor = screen.getByRole("region", { name: "Cohort Winter talks" });
		await user.click(within(editor).getByRole("checkbox", { name: "Garden" }));
		await user.click(within(editor).getByRole("button", { name: "Keep the changes" }));
		await waitFor(() => expect(calls("PATCH /cohorts/8")).toEqual([{ name: "Winter talks", picked: [1, 2] }]));
		await user.click(screen.getByRole("button", { name: "Make a cohort" }));
		const fresh = screen.getByRole("region", { name: "New cohort" });
		await user.type(within(fresh).getByRole("textbox", { name: "Name of the cohort" }), "All else");
		expect(within(fresh).getByText("Those of which")).toBeTruthy();
		await user.click(within(fresh).getByRole("button", { name: "Add a condition" }));
		expect(within(fresh).getByRole("button", { name: "Variable: Wave" })).toBeTruthy();
		await user.click(within(fresh).getByRole("button", { name: "Take this condition out" }));
		await user.click(within(fresh).getByRole("button", { name: "Add a cohort" }));
		await user.click(within(fresh).getByRole("button", { name: "Cohort: choose one" }));
		await user.click(await screen.findByRole("option", { name: "Winter talks" }));
		await user.click(within(fresh).getByRole("button", { name: "Make the cohort" }));
		const parts = [{ cohorts: [8], how: "any" }];
		await waitFor(() => expect(calls("POST /cohorts")).toEqual([{ name: "All else", of: "document", condition: { join: "all", parts } }]));
		expect(calls("POST /cohorts/count").at(-1)).toMatchObject({ of: "document" });
	});

	it("ask about nothing where nothing is known of documents", async () => {
		const { user } = page();
		await user.click(await screen.findByRole("button", { name: "of documents" }));
		await user.click(await screen.findByRole("button", { name: "Make a cohort" }));
		const editor = screen.getByRole("region", { name: "New cohort" });
		expect(within(editor).getByRole("button", { name: "Add a condition" })).toHaveProperty("disabled", true);
		expect(within(editor).queryByRole("button", { name: "Add a group" })).toBeNull();
		expect(within(editor).getByRole("button", { name: "Add what is coded in them" })).toHaveProperty("disabled", false);
	});
});
