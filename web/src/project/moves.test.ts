import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, expect, it, vi } from "vitest";
import { hear, isOwn, movesTold } from "../api/written";
import { readAgain, restsOn } from "./moves";

afterEach(() => vi.restoreAllMocks());

it("knows what rests on what", () => {
	expect(restsOn(["project", 7, "codebook"], ["coding.coding"])).toBe(true);
	expect(restsOn(["project", 7, "compare", {}], ["people.value"])).toBe(true);
	expect(restsOn(["project", 7, "roster"], ["report.memo"])).toBe(false);
	expect(restsOn(["project", 7, "scopes"], ["coding.coding"])).toBe(false);
	expect(restsOn(["project", 7], ["coding.coding"])).toBe(false);
	// A limit or a role changes everything; so may what nobody has written down.
	expect(restsOn(["project", 7, "scopes"], ["projects.project"])).toBe(true);
	expect(restsOn(["project", 7, "scopes"], null)).toBe(true);
	expect(restsOn(["project", 7, "something new"], ["report.memo"])).toBe(true);
	expect(restsOn(["session"], null)).toBe(false);
});

it("hears of writes by what their answers say", () => {
	const before = movesTold();
	hear("http://page/api/projects/7/codebook", new Headers({ "X-Revision": "12", "X-Touched": "coding.code" }));
	hear("/api/projects/7/staged", new Headers());
	hear("/api/session", new Headers({ "X-Revision": "13" }));
	expect(movesTold()).toBe(before + 1);
	expect(isOwn(7, 12)).toBe(true);
	expect(isOwn(7, 13)).toBe(false);
	expect(isOwn(8, 12)).toBe(false);
});

it("reads again only what rests on what was touched, in this project", () => {
	const client = new QueryClient();
	const keys = [
		["project", 7, "codebook"],
		["project", 7, "scopes"],
		["project", 7, "documents"],
		["project", 8, "codebook"],
	];
	for (const key of keys) client.setQueryData(key, {});
	readAgain(client, 7, ["coding.coding"], ["documents"]);
	expect(keys.map((key) => client.getQueryState(key)?.isInvalidated)).toEqual([true, false, true, false]);
});

it("lets no answer that was on its way take back what a write’s own answer says", async () => {
	const client = new QueryClient();
	const key = ["project", 7, "document", 5];
	const answers: ((said: string) => void)[] = [];
	const wait = () => new Promise<string>((done) => answers.push(done));
	client.setQueryData(key, "as it was read");
	const watching = new QueryObserver(client, { queryKey: key, queryFn: wait }).subscribe(() => undefined);
	readAgain(client, 7, ["coding.coding"], ["document"]);
	client.setQueryData(key, "with the coding");
	expect(answers).toHaveLength(2);
	answers[0]?.("without it");
	await Promise.resolve();
	expect(client.getQueryData(key)).toBe("with the coding");
	answers[1]?.("as the server has it now");
	await vi.waitFor(() => expect(client.getQueryData(key)).toBe("as the server has it now"));
	// Nothing is asked for where nothing was on its way.
	readAgain(client, 7, ["coding.coding"], ["document"]);
	expect(answers).toHaveLength(2);
	watching();
});
