import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, show } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, serve } from "../../tests/server";
import { TopicsPage } from "./TopicsPage";

const phrase = (id: number, said: string, left_out = false) => ({ id, said, left_out, hits: 5, people: 4 });
const topic = (id: number, name: string, more: object = {}) => ({
	id,
	name,
	code: null,
	dropped: false,
	phrases: [phrase(id * 10, name), phrase(id * 10 + 1, "the driver", true)],
	hits: 7,
	unticked: 1,
	people: 6,
	documents: 5,
	not_linked: 0,
	groups: [],
	...more,
});
const TOPICS = {
	topics: [
		topic(1, "bus driver"),
		topic(2, "letter"),
		topic(3, "rain", { dropped: true }),
		topic(4, "clinic", { code: CODEBOOK.codes[0]?.id }),
	],
	groups: [],
	people: 26,
};
const hit = (start: number, text: string, marks: number[][], ticked = true) => ({
	document: 5,
	title: "Pier",
	turn: 2,
	speaker: "P1",
	case: 3,
	start,
	end: start + text.length,
	before: "",
	text,
	after: "",
	marks,
	ticked,
}); // prettier-ignore
const HITS = { hits: [hit(0, "The 🚌 driver left.", [[6, 12]]), hit(40, "A screw driver.", [[8, 14]], false)], total: 8, more: 6 };

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /answers": [{ question: "Why?", answers: 60, coded: 3 }],
		"POST /topics": TOPICS,
		"POST /topics/1/hits": HITS,
		"PUT /topics/1/hits": { count: 1 },
		"PATCH /topics/1": {},
		"PATCH /topics/phrases/10": {},
		"POST /topics/merge": { count: 1 },
		"POST /topics/drop": {},
		"POST /topics/1/keep": { code: 9 },
		"POST /topics/propose": { id: 4, title: "Proposing topics", state: "running", message: "", done: 0, total: 100 },
		"GET /jobs/4": { id: 4, title: "Proposing topics", state: "running", message: "Phrases are gathered", done: 40, total: 100 },
	}),
);

async function topics(at = "/projects/7/code/topics?topic=1") {
	const shown = show(<TopicsPage />, { at });
	await screen.findByRole("region", { name: "Topics" });
	return shown;
}

describe("topics", () => {
	it("says who says them of whom, what was kept as which code, and keeps dropped ones at the foot", async () => {
		const { user } = await topics();
		const row = (await screen.findByRole("button", { name: "bus driver" })).closest("tr") as HTMLElement;
		expect(row.textContent).toContain("6 of 26");
		expect(within(row).getByText("bus driver", { selector: "span" })).toBeTruthy();
		expect(screen.getByText(`kept as the code “${CODEBOOK.codes[0]?.name}”`)).toBeTruthy();
		expect(screen.queryByRole("checkbox", { name: "Tick the topic “clinic”" })).toBeNull();
		expect(screen.queryByRole("button", { name: "rain" })).toBeNull();
		await user.click(screen.getByRole("button", { name: "1 topic dropped" }));
		await user.click(screen.getByRole("button", { name: "Take “rain” back" }));
		await waitFor(() => expect(calls("POST /topics/drop")).toEqual([{ topics: [3], dropped: false }]));
	});

	it("merges and drops what is ticked, in the order of the list", async () => {
		const { user } = await topics();
		await user.click(screen.getByRole("checkbox", { name: "Tick the topic “letter”" }));
		expect(screen.queryByRole("button", { name: /Merge into/ })).toBeNull();
		await user.click(screen.getByRole("checkbox", { name: "Tick the topic “bus driver”" }));
		await user.click(screen.getByRole("button", { name: "Merge into “bus driver”" }));
		await waitFor(() => expect(calls("POST /topics/merge")).toEqual([{ topics: [1, 2] }]));
		await user.click(screen.getByRole("checkbox", { name: "Tick the topic “letter”" }));
		await user.click(screen.getByRole("button", { name: "Drop" }));
		await waitFor(() => expect(calls("POST /topics/drop")).toEqual([{ topics: [2], dropped: true }]));
	});

	it("shows hits with the words marked by code points, and unticks one at once", async () => {
		const { user } = await topics();
		const list = await screen.findByRole("list", { name: "Hits" });
		expect([...list.querySelectorAll("mark")].map((one) => one.textContent)).toEqual(["driver", "driver"]);
		const first = within(list).getByRole("checkbox", { name: "It is about this: “The 🚌 driver left.”" });
		expect((first as HTMLInputElement).checked).toBe(true);
		await user.click(first);
		expect((first as HTMLInputElement).checked).toBe(false);
		await waitFor(() =>
			expect(calls("PUT /topics/1/hits")).toEqual([{ hits: [{ document: 5, start: 0, end: 19 }], ticked: false, scope: {} }]),
		);
		await user.click(screen.getByRole("checkbox", { name: "all 8, listed or not" }));
		await waitFor(() => expect(calls("PUT /topics/1/hits")[1]).toEqual({ every: true, ticked: true, scope: {} }));
		await user.click(screen.getByRole("button", { name: "List more: 6 are left" }));
		await waitFor(() => expect(calls("POST /topics/1/hits").at(-1)).toEqual({ scope: {}, skip: 2 }));
	});

	it("renames, leaves a phrase out, and keeps what is ticked as a code within the scope", async () => {
		const { user } = await topics("/projects/7/code/topics?topic=1&documents=5");
		const pane = await screen.findByRole("region", { name: "The topic “bus driver”" });
		const name = within(pane).getByRole("textbox", { name: "Name of the topic" });
		await user.clear(name);
		await user.type(name, "The driver{Enter}");
		await waitFor(() => expect(calls("PATCH /topics/1")).toEqual([{ name: "The driver" }]));
		await user.click(within(pane).getByRole("button", { name: /^bus driver/ }));
		await waitFor(() => expect(calls("PATCH /topics/phrases/10")).toEqual([{ left_out: true }]));
		expect(within(pane).getByRole("button", { name: /^the driver/, pressed: false })).toBeTruthy();
		await user.click(within(pane).getByRole("button", { name: "Keep as a code on 7 passages" }));
		await waitFor(() => expect(calls("POST /topics/1/keep")).toEqual([{ name: "bus driver", parent: null, scope: { documents: [5] } }]));
	});

	it("proposes from one question’s answers, says how far it is, and that what isn’t kept goes", async () => {
		const { user } = await topics();
		await user.click(screen.getByRole("button", { name: "Propose anew …" }));
		const dialog = await screen.findByRole("dialog", { name: "Propose topics" });
		expect(dialog.textContent).toContain("The 3 topics that you haven’t kept go, also what was dropped; Ctrl Z brings them back.");
		await user.click(within(dialog).getByRole("button", { name: /From/ }));
		await user.click(await screen.findByRole("option", { name: /answers to “Why\?”/ }));
		await user.click(within(dialog).getByRole("button", { name: "Propose" }));
		await waitFor(() => expect(calls("POST /topics/propose")).toEqual([{ language: "english", many: 12, question: "Why?", scope: {} }]));
		expect(await screen.findByText("Phrases are gathered 40 %")).toBeTruthy();
		expect(address()).not.toContain("topic=1");
	});

	it("says what topics are where there are none, and leaves a viewer nothing to press", async () => {
		nowServe("POST /topics", { ...TOPICS, topics: [] });
		show(<TopicsPage />, { at: "/projects/7/code/topics", project: { role: "viewer" } });
		expect(await screen.findByText("No topics proposed yet")).toBeTruthy();
		expect(screen.queryByRole("button", { name: /Propose/ })).toBeNull();
	});
});
