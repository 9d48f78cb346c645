import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";
import { positionsOf } from "../api/positions";
import { type DeskDocument, withCodes } from "../coding/data";
import { Desk } from "../coding/desk/Desk";
import { useMoves } from "../project/moves";
import { useUndo } from "../project/project";
import { readAgain } from "../project/waiting";
import { show, texts } from "../tests/harness";
import { ACCOUNT, CODEBOOK, ROSTER, SESSION } from "../tests/samples";
import { asked, calls, LOST, Moved, nowServe, Refused, serve } from "../tests/server";
import { Arrivals, NotSaved } from "./Together";

const TEXT = "So?\nLate 🚢 again. I waited.";
const coding = (id: number, coder: number, name: string) => ({
	id,
	code: 2,
	coder,
	initials: name[0],
	coder_name: name,
	rating: null,
	by_words: false,
});
const DOCUMENT = {
	id: 5,
	title: "Pier",
	kind: "transcript",
	text: TEXT,
	words: 6,
	speakers: [{ id: 2, label: "P10", role: "participant", case: 21, case_name: "P10" }],
	turns: [{ number: 1, start: 0, end: [...TEXT].length, speaker: 2, words: 6, time: "", begin: null, finish: null }],
	sections: [],
	media: [],
	pages: 0,
	passages: [
		{ id: 91, start: 0, end: 3, region: null, span: null, codings: [coding(1, 1, "Rana")], memos: [] },
		{ id: 92, start: 18, end: 27, region: null, span: null, codings: [coding(2, 9, "Mika")], memos: [] },
	],
};
const PUT = "POST /documents/5/passages";
const tinted = () => texts(screen.getByRole("group", { name: /^Text of/ }).querySelectorAll(".coded"));

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /documents": [{ id: 5, title: "T01", passages: 0 }],
		"GET /documents/5": DOCUMENT,
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /themes": { questions: [], themes: [] },
		"GET /pulse": { revision: 3, moves: [], others: 3, by: "Mika", summary: "Put Late on “So?”" },
		[PUT]: DOCUMENT.passages[0],
		"POST /undo": { summary: "Put Late on “So?”", job: null },
	}),
);
afterEach(() => {
	window.localStorage.clear();
	act(readAgain);
});

async function desk(more?: ReactNode) {
	const shown = show(
		<>
			<NotSaved />
			<Arrivals />
			<Desk />
			{more}
		</>,
		{ at: "/projects/7/code/5", path: "/projects/7/code/:documentId" },
	);
	const text = await screen.findByRole("group", { name: /^Text of/ });
	const choose = async (keys: string) => {
		text.focus();
		await shown.user.keyboard(keys);
	};
	return { ...shown, choose };
}

it("keeps codings while the connection is lost, says so, and sends them in order when it is back", async () => {
	nowServe(PUT, LOST);
	const { choose } = await desk();
	await choose("t1");
	expect(await screen.findByText("1 coding not saved yet.")).toBeTruthy();
	await choose("thome{Enter}");
	expect(await screen.findByText("2 codings not saved yet.")).toBeTruthy();
	expect(tinted().join("|")).toBe("So?|Late 🚢 again.|I waited.");
	expect(JSON.parse(window.localStorage.getItem("cohortia.waiting") ?? "")).toHaveLength(2);

	nowServe(PUT, DOCUMENT.passages[0]);
	fireEvent(window, new Event("online"));
	await waitFor(() => expect(screen.queryByText(/not saved yet/)).toBeNull());
	const sent = calls(PUT).slice(-2);
	expect(sent).toEqual([
		{ start: 0, end: [...TEXT].length, begins: TEXT, ends: TEXT, codes: [3], new_codes: [] },
		{ start: 0, end: [...TEXT].length, begins: TEXT, ends: TEXT, codes: [4], new_codes: [] },
	]);
	expect(window.localStorage.getItem("cohortia.waiting")).toBeNull();
});

function Back() {
	const { undo } = useUndo();
	return (
		<button type="button" onClick={() => undo.mutate(undefined)}>
			Take back
		</button>
	);
}

it("takes back what still waits first, and asks the server only when all is sent", async () => {
	nowServe(PUT, LOST);
	const { choose, user } = await desk(<Back />);
	await choose("t1");
	expect(await screen.findByText("1 coding not saved yet.")).toBeTruthy();
	await user.click(screen.getByRole("button", { name: "Take back" }));
	await waitFor(() => expect(screen.queryByText(/not saved yet/)).toBeNull());
	expect(calls("POST /undo")).toHaveLength(0);
	expect(tinted()).toEqual(["So?", "I waited."]);

	let arrive = () => {};
	const way = new Promise<void>((resolve) => {
		arrive = resolve;
	});
	nowServe(PUT, async () => {
		await way;
		return DOCUMENT.passages[0];
	});
	await choose("t1");
	await user.click(screen.getByRole("button", { name: "Take back" }));
	expect(calls("POST /undo")).toHaveLength(0);
	arrive();
	await waitFor(() => expect(calls("POST /undo")).toHaveLength(1));
});

it("sends what a page that was closed had kept, and not what another member had", async () => {
	const body = { start: 4, end: 8, codes: [4], new_codes: [] };
	const kept = { key: "a", account: ACCOUNT.id, project: 7, document: 5, body, said: "Late" };
	window.localStorage.setItem("cohortia.waiting", JSON.stringify([kept, { ...kept, key: "b", account: 88 }]));
	act(readAgain);
	await desk();
	await waitFor(() => expect(calls(PUT)).toEqual([body]));
	await waitFor(() => expect(JSON.parse(window.localStorage.getItem("cohortia.waiting") ?? "[]")).toMatchObject([{ account: 88 }]));
});

it("keeps them while signed out, and lets go of what the server refuses", async () => {
	nowServe(PUT, new Refused("Please sign in.", 401));
	const { choose } = await desk();
	await choose("t1");
	expect(await screen.findByText("1 coding not saved yet.")).toBeTruthy();
	nowServe(PUT, new Refused("This code isn’t in the codebook any more.", 404));
	fireEvent(window, new Event("online"));
	expect((await screen.findByRole("alert")).textContent).toContain("isn’t in the codebook any more. The codes on “So?");
	await waitFor(() => expect(tinted()).toEqual(["So?", "I waited."]));
});

it("stays on the screen when reading again fails", async () => {
	const { user } = await desk();
	nowServe("GET /documents/5", new Refused("The server has a problem.", 500));
	nowServe("GET /codebook", LOST);
	nowServe("DELETE /codings/1", {});
	await user.click((await screen.findAllByRole("button", { name: "Take Missed boats off" }))[0] as HTMLElement);
	await waitFor(() => expect(calls("GET /documents/5").length).toBeGreaterThan(1));
	expect(tinted()).toEqual(["So?", "I waited."]);
});

it("shows others’ work as it arrives, and who did it", async () => {
	await desk();
	expect(tinted()).toEqual(["So?", "I waited."]);
	nowServe("GET /documents/5", { ...DOCUMENT, passages: DOCUMENT.passages.slice(0, 1) });
	const moves = [{ revision: 4, touched: ["coding.coding", "coding.passage"] }];
	nowServe("GET /pulse", { revision: 4, moves, others: 4, by: "Mika", summary: "Took Late off “I waited.”" });
	await waitFor(() => expect(tinted()).toEqual(["So?"]), { timeout: 8000 });
	expect(screen.getByRole("status", { name: "What others do" }).textContent).toBe("Mika, just now: Took Late off “I waited.”");
}, 12_000);

function Moves() {
	useMoves(7);
	return null;
}

it("asks for the codebook’s counts once after a coding, and for nothing else", async () => {
	const put = {
		id: 93,
		start: 0,
		end: [...TEXT].length,
		region: null,
		span: null,
		codings: [coding(3, 1, "Rana")],
		memos: [],
		undo: "Put it",
	};
	nowServe(PUT, new Moved(put, 4, "coding.coding coding.passage"));
	const { choose } = await desk(<Moves />);
	const before = asked.length;
	await choose("t1");
	await waitFor(() => expect(calls(PUT)).toHaveLength(1));
	await waitFor(() => expect(asked.slice(before).map((one) => one.route)).toContain("GET /codebook"));
	const made = asked.slice(before).map((one) => one.route);
	expect(made.filter((route) => route !== "GET /pulse")).toEqual([PUT, "GET /codebook"]);
	expect(tinted().join("|")).toBe("So?|Late 🚢 again.|I waited.");
});

it("shows everyone’s codings or one coder’s", async () => {
	const { user } = await desk();
	await user.click(screen.getByRole("button", { name: "Whose codings: Everyone’s codings" }));
	await user.click(screen.getByRole("option", { name: "Mika’s codings" }));
	await waitFor(() => expect(tinted()).toEqual(["I waited."]));
});

it("numbers what the server hasn’t numbered, each once and the same at every drawing", () => {
	const document = { ...DOCUMENT, positions: positionsOf(TEXT) } as unknown as DeskDocument;
	const once = () =>
		[
			{ start: 0, end: 3 },
			{ start: 4, end: 8 },
			{ start: 9, end: 11 },
		].reduce((shown, place) => withCodes(shown, place, { codes: [3, 4], new_codes: [{}] }, ACCOUNT), document);
	const ids = once().passages.flatMap((passage) => [passage.id, ...passage.codings.map((one) => one.id)]);
	expect(new Set(ids.filter((id) => id < 0)).size).toBe(2 + 3 * 3);
	expect(once()).toEqual(once());
});
