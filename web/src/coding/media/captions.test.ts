import { renderHook } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import type { DeskDocument } from "../data";
import { cuesOf, useCaptions } from "./captions";

const TEXT = "Why?\nI <waited> & left.\nOh.";
const TALK = {
	text: TEXT,
	speakers: [
		{ id: 1, label: "Interviewer", case_name: "" },
		{ id: 2, label: "P7", case_name: "Maren" },
	],
	turns: [
		{ speaker: 1, start: 0, end: 5, begin: 0.5, finish: 2 },
		{ speaker: 2, start: 5, end: 24, begin: 2.5, finish: null },
		{ speaker: 1, start: 24, end: 27, begin: 9, finish: 9 },
		{ speaker: 1, start: 27, end: 27, begin: null, finish: null },
	],
} as unknown as DeskDocument;

it("captions say who says what, when, in words that can’t be taken for marks", () => {
	expect(cuesOf(TALK)).toEqual([
		{ begin: 0.5, finish: 2, text: "Interviewer: Why?" },
		{ begin: 2.5, finish: 9, text: "Maren: I &lt;waited&gt; &amp; left." },
		{ begin: 9, finish: 9.5, text: "Interviewer: Oh." },
	]);
});

it("captions are put on the film once, and are shown or hidden", () => {
	vi.stubGlobal(
		"VTTCue",
		class {
			constructor(
				readonly startTime: number,
				readonly endTime: number,
				readonly text: string,
			) {}
		},
	);
	const track = {
		mode: "",
		cues: [] as unknown[],
		addCue: (cue: unknown) => track.cues.push(cue),
		removeCue: (cue: unknown) => track.cues.splice(track.cues.indexOf(cue), 1),
	};
	const film = {
		textTracks: [] as unknown[],
		addTextTrack: vi.fn(() => {
			film.textTracks.push(track);
			return track;
		}),
	};
	const { rerender } = renderHook(({ shown }) => useCaptions({ current: film as unknown as HTMLVideoElement }, TALK, shown), {
		initialProps: { shown: true },
	});
	expect([track.mode, track.cues.length]).toEqual(["showing", 3]);
	rerender({ shown: false });
	expect([track.mode, track.cues.length, film.addTextTrack.mock.calls.length]).toEqual(["hidden", 3, 1]);
	vi.unstubAllGlobals();
});
