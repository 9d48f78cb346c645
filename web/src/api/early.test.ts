import { QueryClient } from "@tanstack/react-query";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { readAgain } from "../project/moves";
import { earlyRevision, fetchEarly, takeUp } from "./early";

let went: string[] = [];

function head(html: string) {
	document.head.innerHTML = html;
}

const asked = (path: string) => `<link rel="preload" as="fetch" crossorigin="anonymous" href="${path}">`;
const said = (path: string, what: unknown) => `<script type="application/json" data-said="${path}">${JSON.stringify(what)}</script>`;
const get = async (address: string, method = "GET") => (await fetchEarly(new Request(address, { method }))).text();

beforeEach(() => {
	vi.useFakeTimers();
	went = [];
	vi.stubGlobal("fetch", async (what: string | Request) => {
		const address = typeof what === "string" ? what : what.url;
		went.push(address);
		return new Response(`${went.length}`);
	});
});

afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

describe("what the head of a page asked for", () => {
	const home = new URL("/api/projects/7/roster", location.href).href;

	it("goes out once, and is an answer once", async () => {
		head(said("/api/session", { account: 1 }) + asked("/api/projects/7/roster"));
		expect(takeUp()).toBe(true);
		expect(went).toEqual([home]);
		expect(await get(home)).toBe("1");
		expect(went.length).toBe(1);
		expect(await get(home)).toBe("2");
	});

	it("is answered by what the head says already", async () => {
		head(said("/api/session", { account: null }));
		expect(takeUp()).toBe(false);
		expect(await get(new URL("/api/session", location.href).href)).toBe('{"account":null}');
		expect(went).toEqual([]);
	});

	it("is no answer any more once something moved", async () => {
		head(said("/api/session", {}) + asked("/api/projects/7/roster"));
		takeUp();
		readAgain(new QueryClient(), 7, ["coding.code"]);
		expect(await get(home)).toBe("2");
	});

	it("is no answer to a question that is sent", async () => {
		head(said("/api/session", {}) + asked("/api/projects/7/roster"));
		takeUp();
		expect([await get(home, "POST"), await get(home)]).toEqual(["2", "1"]);
	});

	it("is no answer any more after a while", async () => {
		head(said("/api/session", {}) + asked("/api/projects/7/roster"));
		takeUp();
		vi.advanceTimersByTime(5000);
		expect(await get(home)).toBe("2");
	});

	it("that failed says so to whoever takes it, and the next asks anew", async () => {
		vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
		head(said("/api/session", {}) + asked("/api/projects/7/roster"));
		takeUp();
		await expect(fetchEarly(new Request(home))).rejects.toThrow("Failed to fetch");
		vi.stubGlobal("fetch", async () => new Response("here"));
		expect(await get(home)).toBe("here");
	});
});

it("the revision of a project that the head tells is told once, for that project", () => {
	head('<meta name="revision" data-project="7" content="41">');
	expect(earlyRevision(8)).toBeUndefined();
	expect(earlyRevision(7)).toBe(41);
	expect(earlyRevision(7)).toBeUndefined();
});
