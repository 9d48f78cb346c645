import { onlineManager } from "@tanstack/react-query";
import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";
import { drop } from "../api/early";
import { letGo } from "../api/held";
import { forgetLine } from "../api/line";
import { dropDrafts } from "../project/draft";
import { resetKeys, turnSingleKeys } from "../project/keys";
import { answer } from "./server";

// Waiting is for what happens, not for the clock: a busy machine isn’t a failure.
configure({ asyncUtilTimeout: 15_000 });

// What jsdom lacks and the components use.
class NoObserver {
	observe() {}
	unobserve() {}
	disconnect() {}
}
globalThis.ResizeObserver = NoObserver as typeof ResizeObserver;
// Nothing has a height here, so a list that draws what is in view would draw nothing.
vi.mock("@tanstack/react-virtual", () => ({
	useVirtualizer: ({ count }: { count: number }) => ({
		getVirtualItems: () => Array.from({ length: count }, (_, index) => ({ index, start: 0, end: 0 })),
		getTotalSize: () => 0,
	}),
}));
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.getAnimations = () => [];
Range.prototype.getClientRects = () => [] as unknown as DOMRectList;

/** Node's own Request wants a whole address; a page has one. */
const NodeRequest = globalThis.Request;
globalThis.Request = class extends NodeRequest {
	constructor(input: RequestInfo | URL, init?: RequestInit) {
		super(typeof input === "string" && input.startsWith("/") ? `http://page.test${input}` : input, init);
	}
} as typeof Request;
globalThis.fetch = async (input, init) => answer(new Request(typeof input === "string" ? new URL(input, location.href) : input, init));

afterEach(() => {
	cleanup();
	letGo();
	drop();
	forgetLine();
	dropDrafts();
	resetKeys();
	turnSingleKeys(true);
	onlineManager.setOnline(true);
	window.getSelection()?.removeAllRanges();
	window.localStorage.clear();
	window.sessionStorage.clear();
	document.head.replaceChildren();
	document.body.replaceChildren();
});
