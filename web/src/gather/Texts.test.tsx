import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { show, texts } from "../tests/harness";
import { calls, nowServe, serve } from "../tests/server";
import type { Staged } from "./data";
import { SpeakersTable, speakersOf } from "./SpeakersTable";
import { Texts } from "./Texts";

const place = (document: number, start: number, found = "boat") => ({
	document,
	title: document === 5 ? "Pier" : "Shop",
	start,
	before: "the ",
	found,
	after: " was late",
	replacement: "ferry",
});
const PREVIEW = { places: [place(5, 4), place(5, 40), place(6, 9)], total: 3, documents: 2, lost: [] };
const LOST = { passage: 91, document: 5, title: "Pier", text: "boat", codes: ["Late"] };

beforeEach(() =>
	serve({
		"POST /replace/preview": PREVIEW,
		"POST /replace": { count: 3 },
		"GET /names": [{ name: "Anna Berg", pseudonym: "Maren" }],
		"PUT /names": [],
		"POST /names/preview": { ...PREVIEW, places: [place(5, 4, "Anna Berg")], total: 1, documents: 1 },
		"POST /names/anonymise": { count: 4 },
	}),
);

async function looked() {
	const shown = show(<Texts />);
	await shown.user.type(screen.getByLabelText("Find"), "boat");
	await shown.user.type(screen.getByLabelText("Replace by"), "ferry");
	await shown.user.click(screen.getByRole("button", { name: "Look" }));
	await screen.findByText("3 places");
	return shown;
}

describe("find and replace", () => {
	it("shows every place in its context before anything is changed", async () => {
		await looked();
		expect(texts(screen.getAllByRole("row"))[0]).toBe("Pierthe boat ferry was late");
		expect(calls("POST /replace")).toEqual([]);
		expect(calls("POST /replace/preview")).toEqual([{ find: "boat", replacement: "ferry", words: true, case: false }]);
	});

	it("replaces all, or only the places that are ticked", async () => {
		const { user } = await looked();
		await user.click(screen.getAllByRole("checkbox", { name: /^Replace in Pier/ })[0] as HTMLElement);
		await user.click(screen.getByRole("button", { name: "Replace the 2 ticked" }));
		await waitFor(() => expect(calls("POST /replace").at(-1)).toMatchObject({ places: { 5: [40], 6: [9] } }));
		expect(await screen.findByText("Replaced in 3 places. Ctrl Z takes it back.")).toBeTruthy();
	});

	it("asks about passages that would lose their words, and waits for the answer", async () => {
		nowServe("POST /replace/preview", { ...PREVIEW, lost: [LOST] });
		const { user } = await looked();
		const button = () => screen.getByRole<HTMLButtonElement>("button", { name: "Replace all 3" });
		expect(button().disabled).toBe(true);
		const asked = screen.getByRole("region", { name: "Passages that lose their words" });
		await user.click(within(asked).getByRole("radio", { name: "Keep on the nearest word" }));
		await user.click(button());
		await waitFor(() => expect(calls("POST /replace").at(-1)).toMatchObject({ decisions: { 91: "keep" } }));
	});

	it("looks again when what is searched changes", async () => {
		const { user } = await looked();
		await user.type(screen.getByLabelText("Find"), "s");
		expect(screen.queryByText("3 places")).toBeNull();
	});

	it("says when nothing is found", async () => {
		nowServe("POST /replace/preview", { places: [], total: 0, documents: 0, lost: [] });
		const { user } = show(<Texts />);
		await user.type(screen.getByLabelText("Find"), "zebra{Enter}");
		expect(await screen.findByText("“zebra” stands in no document.")).toBeTruthy();
	});

	it("is not for viewers", () => {
		show(<Texts />, { project: { role: "viewer" } });
		expect(screen.getByText("Only to be read")).toBeTruthy();
	});
});

describe("names", () => {
	it("are listed, kept, looked for and replaced", async () => {
		const { user } = show(<Texts />, { at: "/projects/7/gather/texts?tab=names" });
		await user.type(await screen.findByLabelText("Name 2"), "Olav");
		await user.type(screen.getByLabelText("Pseudonym 2"), "Erik");
		await user.click(screen.getByRole("button", { name: "Keep the list" }));
		await waitFor(() =>
			expect(calls("PUT /names")).toEqual([
				{
					pairs: [
						{ name: "Anna Berg", pseudonym: "Maren" },
						{ name: "Olav", pseudonym: "Erik" },
					],
				},
			]),
		);
		await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: "Look where they stand" }).disabled).toBe(false));
		await user.click(screen.getByRole("button", { name: "Look where they stand" }));
		await user.click(await screen.findByRole("button", { name: "Put the pseudonyms in" }));
		await waitFor(() => expect(calls("POST /names/anonymise")).toEqual([{ decisions: {} }]));
	});
});

describe("speakers of a batch", () => {
	const row = (id: number, name: string, speakers: [string, string, number][], more = {}) =>
		({
			id,
			name,
			kind: "transcript",
			partner: null,
			transcript: {
				speakers: speakers.map(([label, role, words]) => ({
					label,
					role,
					words,
					turns: 1,
					first_words: "Hm",
					written: [label],
					reason: "",
				})),
			},
			...more,
		}) as unknown as Staged;
	const ROWS = [
		row(1, "a.txt", [
			["Int.", "interviewer", 5],
			["Anna", "participant", 90],
		]),
		row(2, "b.txt", [
			["INT", "participant", 6],
			["Anna", "other", 70],
		]),
		row(3, "talk.vtt", [["Anna", "participant", 10]], { partner: 4 }),
	];

	it("stand once each, with all their texts, and not twice for a recording’s text", () => {
		const found = speakersOf(ROWS);
		expect(found.map((one) => [one.label, one.texts.length, one.words])).toEqual([
			["Anna", 2, 160],
			["INT", 1, 6],
			["Int.", 1, 5],
		]);
		expect(found[0]?.roles).toEqual(["participant", "other"]);
	});

	it("are merged, renamed and given a role once for all", async () => {
		serve({ "POST /staged/speakers": { count: 2 } });
		const { user } = show(<SpeakersTable speakers={speakersOf(ROWS)} />);
		expect(screen.getByRole("button", { name: "Role of Anna in all texts: differs" })).toBeTruthy();
		await user.click(screen.getByRole("checkbox", { name: "Tick INT" }));
		await user.click(screen.getByRole("checkbox", { name: "Tick Int." }));
		await user.click(screen.getByRole("button", { name: "Make interviewer" }));
		await waitFor(() =>
			expect(calls("POST /staged/speakers").at(-1)).toEqual({ changes: { INT: { role: "interviewer" }, "Int.": { role: "interviewer" } } }),
		);
		await user.clear(screen.getByRole("textbox", { name: "Name of Anna in all texts" }));
		await user.type(screen.getByRole("textbox", { name: "Name of Anna in all texts" }), "P7{Enter}");
		await waitFor(() => expect(calls("POST /staged/speakers").at(-1)).toEqual({ changes: { Anna: { name: "P7" } } }));
	});
});
