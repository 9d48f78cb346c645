import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { show } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, Refused, serve } from "../../tests/server";
import { Desk } from "../desk/Desk";
import { clock } from "./clock";

const TEXT = "So?\nLate, always late. I waited.";
const DOCUMENT = {
	id: 5,
	title: "At the lift",
	kind: "recording",
	seconds: 20,
	text: TEXT,
	words: 6,
	source_name: "lift.ogg",
	speakers: [
		{ id: 1, label: "INT", role: "interviewer", case: null, case_name: null },
		{ id: 2, label: "Olav", role: "participant", case: 21, case_name: "P10" },
	],
	turns: [
		{ number: 1, start: 0, end: 4, speaker: 1, words: 1, time: "0:00", begin: 0, finish: 2 },
		{ number: 2, start: 4, end: TEXT.length, speaker: 2, words: 5, time: "0:02", begin: 2.5, finish: 9 },
	],
	sections: [{ kind: "question", title: "What is hardest?", level: 1, start: 4, end: TEXT.length }],
	media: [{ role: "recording", number: 1, content_type: "audio/ogg", width: 0, height: 0 }],
	pages: 0,
	passages: [
		{
			id: 91,
			start: 4,
			end: 8,
			region: null,
			span: null,
			codings: [],
			memos: [{ id: 7, text: "Which boat?", kind: "analytic", author: "Rana", source: "Kim" }],
		},
	],
};
const TURN = "/documents/5/turns/2";

beforeEach(() => {
	HTMLMediaElement.prototype.play = vi.fn(async () => undefined);
	serve({
		"GET !/session": SESSION,
		"GET /documents": [{ id: 5, title: "T01", passages: 0 }],
		"GET /documents/5": DOCUMENT,
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /documents/5/sound": { ready: false, seconds: 20, peaks: 50, warnings: [], stretches: [] },
		"GET /transcriber": { there: false, name: "", stand_in: false },
		[`POST ${TURN}/split`]: {},
		"POST /documents/5/turns/1/join": {},
		[`POST ${TURN}/give`]: {},
		[`POST ${TURN}/text`]: { places: [], total: 1, documents: 1, lost: [] },
		[`PUT ${TURN}/text`]: {},
		"DELETE /memos/7": {},
		"DELETE /codings/70": {},
		"POST /documents/5/passages": { id: 95, start: 0, end: 0, region: null, span: null, codings: [], memos: [] },
		"PATCH /passages/95": [],
	});
});
async function desk(more = {}) {
	nowServe("GET /documents/5", { ...DOCUMENT, ...more });
	const shown = show(<Desk />, { at: "/projects/7/code/5", path: "/projects/7/code/:documentId" });
	await screen.findByRole("group", { name: /^Text of/ });
	return shown;
}

describe("a recording", () => {
	it("plays from a turn, and the turn that is heard stands out", async () => {
		const { user, container } = await desk();
		const player = container.querySelector("audio") as HTMLAudioElement;
		await user.click(screen.getByRole("button", { name: "Play turn 2" }));
		expect(player.currentTime).toBe(2.5);
		expect(HTMLMediaElement.prototype.play).toHaveBeenCalled();
		player.currentTime = 3;
		fireEvent.timeUpdate(player);
		await waitFor(() => expect(container.querySelector("#turn-2")?.className).toContain("bg-spruce-soft"));
		player.currentTime = 19;
		fireEvent.timeUpdate(player);
		await waitFor(() => expect(container.querySelector("#turn-2")?.className).not.toContain("bg-spruce-soft"));
	});

	it("says so when the browser can’t play it", async () => {
		const { container } = await desk();
		fireEvent.error(container.querySelector("audio") as HTMLAudioElement);
		expect(screen.getByText("This browser can’t play the recording.")).toBeTruthy();
	});

	it("tells the time as people do", () => {
		expect([clock(4.9), clock(65), clock(3727)]).toEqual(["0:04", "1:05", "1:02:07"]);
	});

	it("without a text says what to do, once nobody types", async () => {
		const turns = [{ ...DOCUMENT.turns[0], end: 0, words: 0 }];
		nowServe("GET /documents/5", { ...DOCUMENT, text: "", words: 0, turns, passages: [], sections: [] });
		const { user } = show(<Desk />, { at: "/projects/7/code/5?typing=0", path: "/projects/7/code/:documentId" });
		expect(await screen.findByText(/No text belongs to this recording yet/)).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Type it, or bring it" }));
		expect(await screen.findByRole("textbox", { name: /What is said in turn 1/ })).toBeTruthy();
	});
});

describe("pages beside the text", () => {
	it("are turned, and named for who can’t see them", async () => {
		const { user } = await desk({ kind: "pdf", pages: 2, media: [] });
		const pages = screen.getByRole("region", { name: "Pages" });
		expect(within(pages).getByRole("img").getAttribute("src")).toBe("/api/projects/7/documents/5/pages/1");
		await user.click(within(pages).getByRole("button", { name: "Next page" }));
		expect(within(pages).getByRole("img", { name: "At the lift, page 2" })).toBeTruthy();
		expect(within(pages).getByRole<HTMLButtonElement>("button", { name: "Next page" }).disabled).toBe(true);
	});

	const PICTURE = {
		kind: "image",
		text: "",
		turns: [],
		sections: [],
		media: [{ role: "picture", number: 1, content_type: "image/webp", width: 9, height: 9 }],
	};
	const region = { page: 1, left: 1000, top: 1000, right: 3000, bottom: 2000 };
	const coding = { id: 70, code: 2, coder: 1, initials: "R", coder_name: "Rana", rating: null, by_words: false };
	const drawn = { id: 95, start: 0, end: 0, region, span: null, codings: [coding], memos: [] };
	const look = async (more = {}) => {
		nowServe("GET /documents/5", { ...DOCUMENT, ...PICTURE, passages: [], ...more });
		const shown = show(<Desk />, { at: "/projects/7/code/5", path: "/projects/7/code/:documentId" });
		const picture = await screen.findByRole("img", { name: "At the lift, page 1" });
		const frame = picture.parentElement as HTMLElement;
		const canvas = frame.lastElementChild as HTMLElement;
		canvas.getBoundingClientRect = () => ({ left: 0, top: 0, width: 1000, height: 1000 }) as DOMRect;
		return { ...shown, canvas };
	};

	it("are marked by dragging over them, also when they are turned", async () => {
		const { user, canvas } = await look();
		await user.click(screen.getByRole("button", { name: "Turn by a quarter" }));
		fireEvent.pointerDown(canvas, { button: 0, clientX: 100, clientY: 200 });
		fireEvent.pointerMove(canvas, { clientX: 500, clientY: 600 });
		fireEvent.pointerUp(canvas);
		expect(screen.getByText("1 region")).toBeTruthy();
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "home{Enter}");
		await waitFor(() => expect(calls("POST /documents/5/passages")).toHaveLength(1));
		// Turned once clockwise: what is seen across runs up the upright picture.
		const upright = { page: 1, left: 2000, top: 5000, right: 6000, bottom: 9000 };
		expect(calls("POST /documents/5/passages")[0]).toEqual({ region: upright, codes: [4], new_codes: [] });
	});

	it("are marked by key alone, and a slip of the pointer marks nothing", async () => {
		const { user, canvas } = await look();
		fireEvent.pointerDown(canvas, { button: 0, clientX: 100, clientY: 200 });
		fireEvent.pointerMove(canvas, { clientX: 101, clientY: 201 });
		fireEvent.pointerUp(canvas);
		expect(screen.queryByText("1 region")).toBeNull();
		await user.click(screen.getByRole("button", { name: "New region" }));
		expect(document.activeElement?.getAttribute("aria-label")).toContain("The region drawn");
		await user.keyboard("{ArrowRight}{Shift>}{ArrowDown}{/Shift}1");
		await waitFor(() => expect(calls("POST /documents/5/passages")).toHaveLength(1));
		const put = { page: 1, left: 3600, top: 3500, right: 6600, bottom: 6600 };
		expect(calls("POST /documents/5/passages")[0]).toEqual({ region: put, codes: [3], new_codes: [] });
	});

	it("keep their regions, which are moved by key and carry cards", async () => {
		const { user } = await look({ passages: [drawn] });
		const box = screen.getByRole("button", { name: "Region with Missed boats" });
		await user.click(box);
		expect(box.getAttribute("aria-pressed")).toBe("true");
		box.focus();
		await user.keyboard("{ArrowDown}{ArrowDown}");
		await waitFor(() => expect(calls("PATCH /passages/95").length).toBeGreaterThan(0));
		expect(calls("PATCH /passages/95").at(-1)).toEqual({ region: { ...region, top: 1200, bottom: 2200 } });
		await user.click(screen.getByRole("button", { name: "Region to the right" }));
		await waitFor(() =>
			expect(calls("PATCH /passages/95").at(-1)).toEqual({
				region: { ...region, left: region.left + 100, right: region.right + 100 },
			}),
		);
		await user.click(screen.getByRole("button", { name: "Region taller" }));
		await waitFor(() => expect((calls("PATCH /passages/95").at(-1) as { region: typeof region }).region.bottom).toBe(region.bottom + 100));
		const cards = screen.getByRole("region", { name: "Regions of this page" });
		await user.click(within(cards).getByRole("button", { name: "Take Missed boats off" }));
		await waitFor(() => expect(calls("DELETE /codings/70")).toHaveLength(1));
	});
});

describe("spans of a recording", () => {
	it("are marked while listening, coded, and played over and over", async () => {
		const { user, container } = await desk({ passages: [] });
		const player = container.querySelector("audio") as HTMLAudioElement;
		player.currentTime = 3.456;
		await user.keyboard("{Alt>}i{/Alt}");
		player.currentTime = 5;
		await user.keyboard("{Alt>}o{/Alt}");
		expect(screen.getAllByText(/0:03–0:05/).length).toBeGreaterThan(0);
		await user.click(screen.getByRole("button", { name: /Loop/ }));
		player.currentTime = 5.1;
		fireEvent.timeUpdate(player);
		expect(player.currentTime).toBeCloseTo(3.456);
		await user.keyboard("{Alt>}b{/Alt}");
		expect(player.currentTime).toBeCloseTo(0.456);
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "home{Enter}");
		await waitFor(() => expect(calls("POST /documents/5/passages")).toHaveLength(1));
		expect(calls("POST /documents/5/passages")[0]).toEqual({ span: { begin: 3.46, finish: 5 }, codes: [4], new_codes: [] });
	});

	it("are taken from the turns that words stand in, and listed with their times", async () => {
		const span = { begin: 2.5, finish: 9 };
		const { user } = await desk({ passages: [{ id: 96, start: 0, end: 0, region: null, span, codings: [], memos: [] }] });
		expect(within(screen.getByRole("region", { name: "Spans of the recording" })).getByText("0:02–0:09")).toBeTruthy();
		screen.getByRole("group", { name: /^Text of/ }).focus();
		await user.keyboard("t");
		await user.click(screen.getByRole("button", { name: "Span of these turns, 0:02–0:09" }));
		await user.type(screen.getByRole("combobox", { name: "Coding line" }), "home{Enter}");
		await waitFor(() => expect(calls("POST /documents/5/passages")[0]).toMatchObject({ span }));
	});
});

/** The menu is made when its turn’s number is clicked. */
async function openMenu(user: { click: (on: Element) => Promise<void> }, turn: number) {
	const name = new RegExp(`^Turn ${turn}: split, join, change`);
	await user.click(screen.getByRole("button", { name }));
}

describe("a turn’s menu", () => {
	const open = async () => {
		const shown = await desk();
		await openMenu(shown.user, 2);
		return shown;
	};

	it("splits before the words that are selected, and says so while none are", async () => {
		const { user } = await open();
		expect(screen.getByRole("menuitem", { name: /Split before/ }).getAttribute("aria-disabled")).toBe("true");
		await user.keyboard("{Escape}");
		const text = screen.getByRole("group", { name: /^Text of/ });
		text.focus();
		await user.keyboard("{ArrowRight}{ArrowRight}{ArrowRight}{ArrowRight}");
		await openMenu(user, 2);
		await user.click(screen.getByRole("menuitem", { name: /Split before/ }));
		await waitFor(() => expect(calls(`POST ${TURN}/split`).length).toBe(1));
		const { at } = calls(`POST ${TURN}/split`)[0] as { at: number };
		expect(TEXT.slice(at - 1, at + 1)).toMatch(/^\s\w/);
	});

	it("joins and gives to others", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("menuitem", { name: "Give to INT" }));
		await waitFor(() => expect(calls(`POST ${TURN}/give`)).toEqual([{ speaker: 1 }]));
		await openMenu(user, 1);
		await user.click(screen.getByRole("menuitem", { name: "Join with the next turn" }));
		await waitFor(() => expect(calls("POST /documents/5/turns/1/join").length).toBe(1));
	});

	it("gives a turn to somebody new", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("menuitem", { name: "Give to somebody new …" }));
		const dialog = await screen.findByRole("dialog");
		await user.type(within(dialog).getByLabelText("Label"), "A passer-by");
		await user.click(within(dialog).getByRole("radio", { name: "other" }));
		await user.click(within(dialog).getByRole("button", { name: "Give the turn" }));
		await waitFor(() => expect(calls(`POST ${TURN}/give`)).toEqual([{ speaker: null, label: "A passer-by", role: "other" }]));
	});

	it("changes the text after a look at what becomes of the passages", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("menuitem", { name: "Change the text …" }));
		const dialog = await screen.findByRole("dialog");
		expect(within(dialog).getByText("One passage is marked here; each stays on its words.")).toBeTruthy();
		const field = within(dialog).getByRole("textbox", { name: "What the turn says" });
		await user.clear(field);
		await user.type(field, "I waited.");
		nowServe(`POST ${TURN}/text`, {
			places: [],
			total: 1,
			documents: 1,
			lost: [{ passage: 91, document: 5, title: "At the lift", text: "Late", codes: [] }],
		});
		await user.click(within(dialog).getByRole("button", { name: "Keep the change" }));
		const lost = await within(dialog).findByRole("region", { name: "Passages that lose their words" });
		expect(calls(`PUT ${TURN}/text`)).toEqual([]);
		await user.click(within(lost).getByRole("radio", { name: "Take it off, with its codes" }));
		await user.click(within(dialog).getByRole("button", { name: "Keep the change" }));
		await waitFor(() => expect(calls(`PUT ${TURN}/text`)).toEqual([{ text: "I waited.", decisions: { 91: "remove" } }]));
	});

	it("keeps what was typed when it can’t be saved", async () => {
		nowServe(`PUT ${TURN}/text`, new Refused("This turn isn’t in the document any more; reload it.", 404));
		const { user } = await open();
		await user.click(screen.getByRole("menuitem", { name: "Change the text …" }));
		const dialog = await screen.findByRole("dialog");
		await user.type(within(dialog).getByRole("textbox"), " More.");
		await user.click(within(dialog).getByRole("button", { name: "Keep the change" }));
		await waitFor(() => expect(calls(`PUT ${TURN}/text`).length).toBe(1));
		expect(within(dialog).getByRole<HTMLTextAreaElement>("textbox").value).toContain("More.");
	});
});

describe("what stands at a passage and above an answer", () => {
	it("is the memo with its author, which can be deleted, and the question", async () => {
		const { user } = await desk();
		expect(screen.getByRole("heading", { name: "What is hardest?" })).toBeTruthy();
		expect((await screen.findByRole("button", { name: /Memo on “Late”: Which boat\?/ })).textContent).toContain("— Kim");
		await user.click(screen.getByRole("button", { name: "Delete the memo" }));
		await waitFor(() => expect(calls("DELETE /memos/7").length).toBe(1));
	});
});
