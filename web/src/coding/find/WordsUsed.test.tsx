import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, it } from "vitest";
import { address, show, texts } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, serve } from "../../tests/server";
import { LikeDialog } from "../cards/LikeDialog";
import { FindPage } from "./FindPage";

const WORDS = {
	groups: [
		{ name: "Holm", words: 2000 },
		{ name: "Strand", words: 500 },
	],
	people: 4,
	different: 3,
	left_out: 9,
	unsaid: 4,
	by_chance: 6,
	dropped: ["island"],
	words: [
		{ word: "boat", count: 30, people: 4, by_group: [20, 10], rates: [10, 20], apart: [-2.4, 2.4], stands_out: [-1, 1] },
		{ word: "bus", count: 5, people: 1, by_group: [4, 1], rates: [2, 2], apart: [0.2, -0.2], stands_out: [0, 0] },
	],
};
const HIT = {
	document: 6,
	title: "Garden",
	turn: 4,
	speaker: "P2",
	case: 22,
	start: 10,
	end: 25,
	before: "",
	text: "The boat again.",
	after: "",
};

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"POST /words": WORDS,
		"POST /find": { total: 0, documents: 0, people: [], groups: [], near: [], hits: [], more: 0 },
		"GET /passages/91/like": [
			{ ...HIT, likeness: 0.61, codes: [4] },
			{ ...HIT, turn: 9, start: 90, end: 99, likeness: 0.3, codes: [] },
		],
		"PUT /find": { count: 1 },
		"PUT /words": { count: 1 },
	}),
);

it("lists the words used most as rates by group, and any word opens its hits", async () => {
	const { user } = show(<FindPage />, { at: "/projects/7/code/find?groups=11" });
	const list = await screen.findByRole("region", { name: "Words used most" });
	await waitFor(() =>
		expect(texts(list.querySelectorAll("tbody tr"))).toEqual(["boat30410▼ less20▲ moreLeave out", "bus512.02.0Leave out"]),
	);
	expect(calls("POST /words")[0]).toEqual({ everybodys: false, idle: "english", variable: 11 });
	expect(list.textContent).toContain("3 different words by 4 people, 9 of nearly everybody’s left out");
	expect(list.textContent).toContain("Even where groups don’t differ about 6 such marks would stand among these words");
	await user.click(within(list).getByRole("button", { name: "boat" }));
	expect(address()).toContain("text=boat&how=words");
	await waitFor(() => expect(calls("POST /find")).toMatchObject([{ text: "boat", how: "words" }]));
	await user.click(screen.getByRole("button", { name: "Words used most" }));
	expect(address()).not.toContain("text=");
});

it("leaves a word out by a click, and lists it again by another", async () => {
	const { user } = show(<FindPage />, { at: "/projects/7/code/find?idle=none" });
	await user.click(await screen.findByRole("button", { name: "Leave out “boat”" }));
	await waitFor(() => expect(calls("PUT /words")).toEqual([{ drop: ["boat"] }]));
	expect(calls("POST /words")[0]).toEqual({ everybodys: false });
	await user.click(screen.getByRole("button", { name: "1 word left out by hand" }));
	await user.click(screen.getByRole("button", { name: "List “island” again" }));
	await waitFor(() => expect(calls("PUT /words").at(-1)).toEqual({ keep: ["island"] }));
});

it("shows words as a cloud: beside the group that says them more, as large as there are people who do", async () => {
	const { user } = show(<FindPage />, { at: "/projects/7/code/find?groups=11&as=cloud" });
	const strand = await screen.findByRole("region", { name: "Strand" });
	const boat = within(strand).getByRole("button", { name: "boat, said by 4 people" });
	const bus = within(screen.getByRole("region", { name: /^no group more/ })).getByRole("button", { name: "bus, said by 1 person" });
	expect(Number.parseFloat(boat.style.fontSize)).toBeGreaterThan(Number.parseFloat(bus.style.fontSize));
	expect(screen.getByRole("region", { name: "Holm" }).textContent).toContain("no word more than the others");
	await user.click(boat);
	expect(address()).toContain("text=boat&how=words");
});

it("suggests turns like a passage, and codes only those that were ticked", async () => {
	const coding = { id: 1, code: 2, coder: 1, initials: "R", coder_name: "Rana", rating: null, by_words: false };
	const passage = { id: 91, start: 0, end: 4, region: null, span: null, codings: [coding], memos: [] };
	const { user } = show(<LikeDialog passage={passage} onClose={() => undefined} />);
	expect(await screen.findByText(/likeness 0.61/)).toBeTruthy();
	const put = await screen.findByRole<HTMLButtonElement>("button", { name: "Put Missed boats on those ticked" });
	expect(put.disabled).toBe(true);
	await user.click(screen.getByRole("checkbox", { name: "Tick Garden, turn 9" }));
	await user.click(screen.getByRole("button", { name: "Put Missed boats on 1 turn" }));
	await waitFor(() => expect(calls("PUT /find")).toEqual([{ hits: [{ document: 6, start: 90, end: 99 }], extent: "hit", codes: [2] }]));
});

it("counts hits by group, with how many of each say it", async () => {
	const people = [{ case: 22, count: 2, identifier: "P2", facts: [] }];
	const groups = [{ name: "Holm", hits: 2, people: 1, size: 3 }];
	nowServe("POST /find", { total: 2, documents: 1, people, groups, near: [], hits: [HIT], more: 1 });
	show(<FindPage />, { at: "/projects/7/code/find?text=boat&groups=11" });
	const list = await screen.findByRole("list", { name: "Hits by group" });
	expect(texts(list.children)).toEqual(["Holm1 of 3, 2 hits"]);
	expect(calls("POST /find")[0]).toMatchObject({ text: "boat", variable: 11 });
});
