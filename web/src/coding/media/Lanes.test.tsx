import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { CODEBOOK } from "../../tests/samples";
import type { DeskDocument, Passage } from "../data";
import { type Lane, Lanes } from "./Lanes";
import { codeLanes, speakerLanes, topsOf } from "./lanes";

const coding = (code: number) => ({ id: code, code, coder: 1, initials: "R", coder_name: "Rana", rating: null, by_words: false });
const passage = (more: Partial<Passage>): Passage => ({
	id: 1,
	start: 0,
	end: 0,
	region: null,
	span: null,
	codings: [],
	memos: [],
	...more,
});
const [first, second] = CODEBOOK.codes as unknown as [{ id: number }, { id: number }];
const DOCUMENT = {
	id: 5,
	kind: "recording",
	seconds: 20,
	speakers: [
		{ id: 1, label: "INT", role: "interviewer", case: null, case_name: null },
		{ id: 2, label: "Whole document", role: "participant", case: 21, case_name: "P10" },
		{ id: 3, label: "Nobody", role: "other", case: null, case_name: null },
	],
	turns: [
		{ number: 1, start: 0, end: 4, speaker: 1, words: 1, time: "", begin: 0, finish: 2 },
		{ number: 2, start: 4, end: 30, speaker: 2, words: 0, time: "", begin: 4, finish: 8 },
	],
	passages: [
		passage({ id: 91, start: 5, end: 9, codings: [coding(second.id)] }),
		passage({ id: 92, span: { begin: 10, finish: 14 }, codings: [coding(first.id)], memos: [{ id: 1 } as never] }),
	],
} as unknown as DeskDocument;
const mine = () => true;
const onPlay = vi.fn();
const onActive = vi.fn();
const onMark = vi.fn();
const onMove = vi.fn();

function lanes(more: { lanes?: Lane[]; active?: number | null } = {}) {
	const shown = render(
		<Lanes
			lanes={more.lanes ?? codeLanes(DOCUMENT, CODEBOOK.codes as never, mine, null)}
			view={{ begin: 0, finish: 20 }}
			length={20}
			active={more.active ?? null}
			marked={null}
			now={0}
			onPlay={onPlay}
			onActive={onActive}
			onMark={onMark}
			onMove={onMove}
		/>,
	);
	const frame = screen.getByRole("region", { name: "Along the recording" }).lastElementChild as HTMLElement;
	frame.getBoundingClientRect = () => ({ left: 0, width: 200 }) as DOMRect;
	frame.setPointerCapture = vi.fn();
	return { ...shown, frame };
}

beforeEach(() => {
	vi.clearAllMocks();
	HTMLElement.prototype.setPointerCapture = vi.fn();
});

describe("what runs along a recording", () => {
	it("is each speaker’s turns, whoever speaks; one without words is said to be empty", () => {
		const [asks, answers, ...more] = speakerLanes(DOCUMENT);
		expect(more).toEqual([]);
		expect([asks?.name, answers?.name]).toEqual(["INT", "P10"]);
		expect(answers?.pieces).toEqual([{ key: "turn 2", begin: 4, finish: 8, name: "Turn 2", empty: true }]);
	});

	it("is each code’s passages: spans, and words by the times of their turns", () => {
		const found = codeLanes(DOCUMENT, CODEBOOK.codes as never, mine, null);
		const of = (id: number) => found.find((lane) => lane.key === `code ${id}`)?.pieces[0];
		expect(of(first.id)).toMatchObject({ begin: 10, finish: 14, span: true, memos: 1, passage: 92 });
		expect(of(second.id)).toMatchObject({ begin: 4, finish: 8, span: false, passage: 91 });
		const tops = topsOf(CODEBOOK.codes as never, found);
		expect(tops.length).toBeGreaterThan(0);
		expect(tops.every((code) => code.parent === null)).toBe(true);
	});

	it("plays and takes in hand what is pressed, also by key", async () => {
		lanes();
		const piece = screen.getByRole("button", { name: /a span, 0:10–0:14, 1 memo$/ });
		await userEvent.click(piece);
		expect(onPlay).toHaveBeenCalledWith(10);
		expect(onActive).toHaveBeenCalledWith(92);
		fireEvent.keyDown(piece, { key: " ", code: "Space" });
		expect(onPlay).toHaveBeenCalledTimes(2);
	});

	it("is marked by dragging over it, and a slip of the pointer marks nothing", () => {
		const { frame } = lanes();
		fireEvent.pointerDown(frame, { clientX: 50, button: 0 });
		fireEvent.pointerMove(frame, { clientX: 20 });
		fireEvent.pointerUp(frame);
		expect(onMark).toHaveBeenCalledWith({ begin: 2, finish: 5 });
		fireEvent.pointerDown(frame, { clientX: 50, button: 0 });
		fireEvent.pointerMove(frame, { clientX: 51 });
		fireEvent.pointerUp(frame);
		expect(onMark).toHaveBeenCalledTimes(1);
	});

	it("is moved and trimmed in hand, by key and by its ends; out of hand it stays", () => {
		const { unmount } = lanes();
		fireEvent.keyDown(screen.getByRole("button", { name: /a span/ }), { key: "ArrowRight", code: "ArrowRight" });
		expect(onMove).not.toHaveBeenCalled();
		unmount();
		lanes({ active: 92 });
		const piece = screen.getByRole("button", { name: /a span/ });
		fireEvent.keyDown(piece, { key: "ArrowRight", code: "ArrowRight" });
		expect(onMove).toHaveBeenLastCalledWith(92, { begin: 11, finish: 15 });
		fireEvent.keyDown(piece, { key: "ArrowLeft", code: "ArrowLeft", shiftKey: true, altKey: true });
		expect(onMove).toHaveBeenLastCalledWith(92, { begin: 11, finish: 14.9 });
		const end = piece.lastElementChild as HTMLElement;
		fireEvent.pointerDown(end, { clientX: 149, button: 0 });
		fireEvent.pointerMove(end, { clientX: 129 });
		fireEvent.pointerUp(end);
		expect(onMove).toHaveBeenLastCalledWith(92, { begin: 10, finish: 12 });
	});
});
