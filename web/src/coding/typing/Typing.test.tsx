import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { show } from "../../tests/harness";
import { CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, Refused, serve } from "../../tests/server";
import { Desk } from "../desk/Desk";

const drawn = vi.hoisted(() => ({
	heard: {} as Record<string, (...said: unknown[]) => void>,
	zooms: [] as number[],
	made: [] as unknown[],
}));
vi.mock("wavesurfer.js", () => ({
	default: {
		create: (options: unknown) => {
			drawn.made.push(options);
			return {
				on: (name: string, hear: () => void) => {
					drawn.heard[name] = hear;
				},
				zoom: (to: number) => drawn.zooms.push(to),
				destroy: () => undefined,
				getWrapper: () => ({ clientWidth: 0 }),
				getScroll: () => 0,
				getWidth: () => 0,
			};
		},
	},
}));

const turn = (number: number, begin: number, finish: number, more = {}) => ({
	number,
	start: number - 1,
	end: Math.min(number, 2),
	speaker: 1,
	words: 0,
	time: "0:01",
	begin,
	finish,
	...more,
});
const DOCUMENT = {
	id: 5,
	title: "Jetty",
	kind: "recording",
	seconds: 20,
	text: "\n\n",
	words: 0,
	source_name: "jetty.wav",
	speakers: [
		{ id: 1, label: "Whole document", role: "participant", case: null, case_name: null },
		{ id: 2, label: "Bo", role: "participant", case: null, case_name: null },
	],
	turns: [turn(1, 1, 4), turn(2, 6, 9), turn(3, 12, 14)],
	sections: [],
	media: [{ role: "recording", number: 1, content_type: "audio/wav", width: 0, height: 0 }],
	pages: 0,
	passages: [],
	proposed: [],
};
const PATH = "/documents/5/turns";
const SOUND = {
	ready: true,
	seconds: 20,
	peaks: 50,
	warnings: ["The recording is damaged near 0:12."],
	stretches: [{ begin: 1, finish: 4, channel: 0 }],
};

beforeEach(() => {
	drawn.made.length = 0;
	HTMLMediaElement.prototype.play = vi.fn(async () => undefined);
	HTMLMediaElement.prototype.pause = vi.fn();
	serve({
		"GET !/session": SESSION,
		"GET /documents": [{ id: 5, title: "Jetty", passages: 0 }],
		"GET /documents/5": DOCUMENT,
		"GET /documents/5/sound": SOUND,
		"GET /documents/5/sound/peaks": () => new Response(new Uint8Array([0, 255, 30])),
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /transcriber": { there: true, name: "Stand-in", stand_in: true },
		[`PUT ${PATH}/1/text`]: {},
		[`PUT ${PATH}/2/text`]: {},
		[`POST ${PATH}/1/give`]: {},
		[`POST ${PATH}/1/split-at`]: {},
		[`POST ${PATH}/2/split-at`]: {},
		[`PATCH ${PATH}/1`]: {},
		[`DELETE ${PATH}/1`]: {},
		[`POST ${PATH}`]: { number: 2 },
		[`POST ${PATH}/laid`]: { count: 3 },
		[`POST ${PATH}/1/text`]: { places: [], total: 1, documents: 1, lost: [] },
	});
});

async function typing(more = {}) {
	nowServe("GET /documents/5", { ...DOCUMENT, ...more });
	const shown = show(<Desk />, { at: "/projects/7/code/5", path: "/projects/7/code/:documentId" });
	const first = await screen.findByRole<HTMLTextAreaElement>("textbox", { name: /What is said in turn 1,/ });
	return { ...shown, first, player: shown.container.querySelector("audio") as HTMLAudioElement };
}

describe("the typing desk", () => {
	it("takes the keys at the first turn without a word, keeps a turn by Enter and plays the next", async () => {
		const { user, first, player } = await typing();
		await waitFor(() => expect(document.activeElement).toBe(first));
		expect(HTMLMediaElement.prototype.play).not.toHaveBeenCalled();
		await user.keyboard("How was it?{Enter}");
		expect(calls(`PUT ${PATH}/1/text`)).toEqual([{ text: "How was it?", decisions: {}, begin: 1 }]);
		expect((document.activeElement as HTMLElement).dataset.typed).toBe("2");
		expect(player.currentTime).toBe(6);
		expect(HTMLMediaElement.prototype.play).toHaveBeenCalledTimes(1);
	});

	it("stops where the turn ends, and plays it again by a key", async () => {
		const { user, player } = await typing();
		await user.keyboard("{Alt>}r{/Alt}");
		expect(player.currentTime).toBe(1);
		player.currentTime = 3.9;
		fireEvent.timeUpdate(player);
		expect(HTMLMediaElement.prototype.pause).not.toHaveBeenCalled();
		player.currentTime = 4.1;
		fireEvent.timeUpdate(player);
		expect(HTMLMediaElement.prototype.pause).toHaveBeenCalledTimes(1);
	});

	it("cuts the words at the cursor and the sound where it plays; moves its times; says who speaks", async () => {
		const { user, player } = await typing();
		await user.keyboard("Late. Why?{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}");
		player.currentTime = 2.504;
		await user.keyboard("{Alt>}x{/Alt}");
		expect(calls(`POST ${PATH}/1/split-at`)).toEqual([{ at: 6, time: 2.5 }]);
		expect(calls(`PUT ${PATH}/1/text`)).toHaveLength(1);
		await user.keyboard("{Alt>}o{/Alt}");
		expect(calls(`PATCH ${PATH}/1`)).toEqual([{ begin: 1, finish: 2.5 }]);
		await user.keyboard("{Alt>}2{/Alt}");
		expect(calls(`POST ${PATH}/1/give`)).toEqual([{ speaker: 2 }]);
	});

	it("sends the same words once, though one leaves the field while they are on their way, and cuts them", async () => {
		const { user, player } = await typing();
		// The document as it is with them is on its way.
		nowServe("GET /documents/5", () => new Promise(() => undefined));
		await user.keyboard("Late. Why?{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}");
		player.currentTime = 2.5;
		await user.keyboard("{Alt>}x{/Alt}");
		await user.tab();
		await waitFor(() => expect(calls(`POST ${PATH}/1/split-at`)).toHaveLength(1));
		expect(calls(`PUT ${PATH}/1/text`)).toEqual([{ text: "Late. Why?", decisions: {}, begin: 1 }]);
	});

	it("takes words back that are on their way as well", async () => {
		const { user } = await typing();
		// The document as it is with them is on its way.
		nowServe("GET /documents/5", () => new Promise(() => undefined));
		await user.keyboard("Lat{Enter}");
		await waitFor(() => expect(calls(`PUT ${PATH}/1/text`)).toHaveLength(1));
		await user.click(screen.getByRole("textbox", { name: /turn 1/ }));
		await user.keyboard("{Control>}a{/Control}{Backspace}{Enter}");
		await waitFor(() => expect(calls(`PUT ${PATH}/1/text`).at(-1)).toEqual({ text: "", decisions: {}, begin: 1 }));
	});

	it("says where to cut by the words of the turn: those of turns before it may be on their way", async () => {
		const { user, player } = await typing();
		await user.keyboard("How was it?{Enter}Late. Why?{ArrowLeft}{ArrowLeft}{ArrowLeft}{ArrowLeft}");
		player.currentTime = 7;
		await user.keyboard("{Alt>}x{/Alt}");
		await waitFor(() => expect(calls(`POST ${PATH}/2/split-at`)).toEqual([{ at: 6, time: 7 }]));
	});

	it("joins, cuts and moves only what is kept: words that couldn’t be saved stop it, and stay", async () => {
		nowServe(`PUT ${PATH}/1/text`, new Refused("The server is busy.", 503));
		nowServe(`POST ${PATH}/1/join`, {});
		const { user, first } = await typing();
		await user.keyboard("Late.");
		await user.click(screen.getByRole("button", { name: "Join with the next" }));
		expect(await screen.findByText("The server is busy.")).toBeTruthy();
		expect(calls(`POST ${PATH}/1/join`)).toEqual([]);
		expect(first.value).toBe("Late.");
		nowServe(`PUT ${PATH}/1/text`, {});
		await user.click(screen.getByRole("button", { name: "Join with the next" }));
		await waitFor(() => expect(calls(`POST ${PATH}/1/join`)).toHaveLength(1));
		// It has become another: what was typed before isn’t laid over it.
		nowServe("GET /documents/5", {
			...DOCUMENT,
			text: "Late. Again.\n",
			words: 2,
			turns: [turn(1, 1, 9, { start: 0, end: 13, words: 2 }), turn(2, 12, 14, { start: 13, end: 13 })],
		});
		await user.click(screen.getByRole("button", { name: "Add a turn where it plays" }));
		await waitFor(() =>
			expect(screen.getByRole<HTMLTextAreaElement>("textbox", { name: /What is said in turn 1,/ }).value).toBe("Late. Again."),
		);
	});

	it("changes the speed by keys, and says it", async () => {
		const { user, player } = await typing();
		player.playbackRate = 1;
		await user.keyboard("{Alt>},{/Alt}");
		expect(player.playbackRate).toBe(0.75);
		await user.keyboard("{Alt>}..{/Alt}");
		expect(player.playbackRate).toBe(1.25);
	});

	it("asks what becomes of passages that would lose their words, with what was typed", async () => {
		nowServe(`PUT ${PATH}/1/text`, new Refused("“boat” is coded and would lose all its words.", 409));
		const { user } = await typing();
		await user.keyboard("Other words{Enter}");
		const dialog = await screen.findByRole("dialog", { name: "Turn 1" });
		expect(within(dialog).getByRole<HTMLTextAreaElement>("textbox").value).toBe("Other words");
	});

	it("adds and takes away turns, and lays them where somebody speaks", async () => {
		const { user, player } = await typing();
		player.currentTime = 4.5;
		await user.click(screen.getByRole("button", { name: "Add a turn where it plays" }));
		expect(calls(`POST ${PATH}`)).toEqual([{ begin: 4.5, finish: 6 }]);
		await user.click(screen.getByRole("button", { name: "Take the empty turn away" }));
		expect(calls(`DELETE ${PATH}/1`)).toHaveLength(1);
	});

	it("offers to lay turns where there are none yet, and says who would transcribe", async () => {
		const { user } = await typing({ text: "", turns: [{ ...turn(1, 0, 0), begin: null, finish: null, end: 0 }] });
		await user.click(await screen.findByRole("button", { name: "Lay empty turns where somebody speaks (1)" }));
		expect(calls(`POST ${PATH}/laid`)).toHaveLength(1);
		const stand_in = screen.getByRole("button", { name: "Have it transcribed by the stand-in" });
		expect(stand_in.title).toContain("understands nothing");
	});

	it("isn’t left when the first words are typed, and is left by a click", async () => {
		const { user } = await typing();
		nowServe("GET /documents/5", { ...DOCUMENT, text: "A\nB\nC", words: 3, turns: DOCUMENT.turns.map((one) => ({ ...one, words: 1 })) });
		await user.keyboard("A{Enter}");
		await waitFor(() => expect(screen.getByText("3 of 3 turns typed")).toBeTruthy());
		await user.click(screen.getByRole("button", { name: "Read and code" }));
		expect(await screen.findByRole("group", { name: /^Text of/ })).toBeTruthy();
		expect(screen.queryByRole("list", { name: "Turns of the recording" })).toBeNull();
	});

	it("draws the waveform from what was heard, says what is odd, and zooms", async () => {
		const { user } = await typing();
		await waitFor(() => expect(drawn.made).toHaveLength(1));
		expect(drawn.made[0]).toMatchObject({ duration: 20 });
		expect(screen.getByText("The recording is damaged near 0:12.")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Closer" }));
		// Twice as close as all of it in the window.
		expect(drawn.zooms.at(-1)).toBe((900 / 20) * 2);
	});
});

describe("a text that is brought later", () => {
	const FOUND = {
		words_before: 3,
		words: 7,
		turns: 2,
		passages: 2,
		lost: [{ passage: 91, document: 5, title: "Jetty", text: "the old pier", codes: ["Late"] }],
		speakers: [{ label: "Bo", role: "participant", turns: 2, words: 7 }],
		warnings: ["The text has no times."],
		first: ["How was it?"],
	};

	it("is shown first, decided about, and put in place of the other", async () => {
		serve({
			"GET !/session": SESSION,
			"GET /documents": [{ id: 5, title: "Jetty", passages: 0 }],
			"GET /documents/5/sound": SOUND,
			"GET /documents/5/sound/peaks": () => new Response(new Uint8Array([0, 9])),
			"GET /codebook": CODEBOOK,
			"GET /roster": ROSTER,
			"GET /transcriber": { there: false, name: "", stand_in: false },
			"POST /documents/5/text/preview": FOUND,
			"POST /documents/5/text": {},
		});
		const { user } = await typing({ words: 3, text: "A B C" });
		await user.click(screen.getByRole("button", { name: "Bring another text …" }));
		const dialog = await screen.findByRole("dialog", { name: "A text for this recording" });
		const file = new File(["WEBVTT"], "jetty.vtt");
		await user.upload(within(dialog).getByLabelText("The text’s file"), file);
		expect(await within(dialog).findByText("2 turns, 7 words, in place of 3 words")).toBeTruthy();
		expect(within(dialog).getByText("1 of 2 passages move with their words.")).toBeTruthy();
		const put = within(dialog).getByRole<HTMLButtonElement>("button", { name: "Put it in place of the other" });
		expect(put.disabled).toBe(true);
		await user.click(within(dialog).getByRole("radio", { name: "Take it off, with its codes" }));
		await user.click(put);
		await waitFor(() => expect(calls("POST /documents/5/text")).toHaveLength(1));
		await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
	});

	it("that is none is said", async () => {
		nowServe("POST /documents/5/text/preview", new Refused("That is no text.", 400));
		const { user } = await typing();
		await user.click(screen.getByRole("button", { name: "Bring a text …" }));
		const dialog = await screen.findByRole("dialog", { name: "A text for this recording" });
		await user.upload(within(dialog).getByLabelText("The text’s file"), new File(["x"], "jetty.vtt"));
		expect((await within(dialog).findByRole("alert")).textContent).toBe("That is no text.");
	});
});
