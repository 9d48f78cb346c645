import { afterEach, describe, expect, it } from "vitest";
import { answered, ask, letGo } from "./held";

const ADDRESS = "http://localhost/api/projects/1/codes";
const get = (address = ADDRESS) => new Request(address);
const said = (words: string, tag: string) => new Response(words, { headers: { ETag: tag } });

/** A request as it is sent. */
function sent(address = ADDRESS): Request {
	const request = get(address);
	ask(request);
	return request;
}

const known = (address = ADDRESS): string | null => sent(address).headers.get("If-None-Match");
const unmoved = () => new Response(null, { status: 304 });

describe("answers that are here already", () => {
	afterEach(letGo);

	it("are asked for by their tag and given again where nothing moved", async () => {
		expect(known()).toBeNull();
		expect(await answered(get(), said('{"codes":[1]}', '"7.a"'))).toBeUndefined();
		expect(known()).toBe('"7.a"');
		const again = await answered(sent(), unmoved());
		expect(again?.status).toBe(200);
		expect(await again?.json()).toEqual({ codes: [1] });
	});

	it("give way to a newer one, and keep out what has no tag or went wrong", async () => {
		await answered(get(), said("old", '"7.a"'));
		await answered(get(), said("new", '"8.b"'));
		expect(known()).toBe('"8.b"');
		expect(await (await answered(sent(), unmoved()))?.text()).toBe("new");
		await answered(get(`${ADDRESS}?other`), new Response("{}"));
		await answered(get(`${ADDRESS}?wrong`), new Response("{}", { status: 500, headers: { ETag: '"9.c"' } }));
		expect(known(`${ADDRESS}?other`)).toBeNull();
		expect(known(`${ADDRESS}?wrong`)).toBeNull();
	});

	it("are those that were asked with, whatever late answer has come between", async () => {
		const slow = sent();
		await answered(get(), said("after", '"8.b"'));
		const again = sent();
		await answered(slow, said("before", '"7.a"'));
		expect(await (await answered(again, unmoved()))?.text()).toBe("after");
		expect(known()).toBe('"8.b"');
	});

	it("leave the answer to be read by whoever asked", async () => {
		const fresh = said("read me", '"7.a"');
		await answered(get(), fresh);
		expect(await fresh.text()).toBe("read me");
	});

	it("are as many as fit; the ones not looked at longest go first", async () => {
		for (let at = 0; at < 60; at++) await answered(get(`${ADDRESS}/${at}`), said("x", '"1.a"'));
		await answered(sent(`${ADDRESS}/0`), unmoved());
		await answered(get(`${ADDRESS}/60`), said("x", '"1.a"'));
		expect([0, 1, 2, 60].map((at) => known(`${ADDRESS}/${at}`))).toEqual(['"1.a"', null, '"1.a"', '"1.a"']);
		await answered(get(ADDRESS), said("y".repeat(21_000_000), '"2.a"'));
		expect(known(`${ADDRESS}/60`)).toBeNull();
	});

	it("are gone when somebody signs out", async () => {
		await answered(get(), said("x", '"1.a"'));
		letGo();
		expect(known()).toBeNull();
	});
});
