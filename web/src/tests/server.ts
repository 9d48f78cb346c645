/** A server in memory: answers by route, and remembers what was asked of it. */

export interface Asked {
	route: string;
	body: unknown;
}
type Answer = unknown | ((body: unknown, path: string) => unknown);

/** An answer that isn't 200: the server's sentence. */
export class Refused {
	constructor(
		readonly sentence: string,
		readonly status = 400,
	) {}
}

/** An answer to a write that says which revision it made, and what it touched. */
export class Moved {
	constructor(
		readonly body: unknown,
		readonly revision: number,
		readonly touched: string,
	) {}
}

/** No answer at all: the connection is lost. */
export const LOST = Symbol("lost");

let routes: Record<string, Answer> = {};
export let asked: Asked[] = [];

/** Begin a test: routes are `GET /roster` (inside the project) or `GET !/projects` (outside one). */
export function serve(given: Record<string, Answer>): void {
	routes = { ...given };
	asked = [];
}

/** Change one answer in the middle of a test. */
export function nowServe(route: string, answer: Answer): void {
	routes[route] = answer;
}

/** The bodies of every call of a route. */
export function calls(route: string): unknown[] {
	return asked.filter((one) => one.route === route).map((one) => one.body);
}

export async function answer(request: Request): Promise<Response> {
	const path = new URL(request.url).pathname.replace(/^\/api/, "");
	const inside = path.match(/^\/projects\/\d+(\/.*)?$/);
	const route = `${request.method} ${inside ? (inside[1] ?? "/") : `!${path}`}`;
	const text = await request.text();
	const body = text.startsWith("{") ? JSON.parse(text) : text;
	asked.push({ route, body });
	if (!(route in routes)) return json({ error: `No answer for ${route}` }, 404);
	const known = routes[route];
	const said = await (typeof known === "function" ? known(body, path) : known);
	if (said === LOST) throw new TypeError("Failed to fetch");
	if (said instanceof Response) return said;
	if (said instanceof Moved) return json(said.body, 200, { "X-Revision": String(said.revision), "X-Touched": said.touched });
	return said instanceof Refused ? json({ error: said.sentence }, said.status) : json(said ?? {}, 200);
}

/** An answer with headers of its own. */
export function withHeaders(body: unknown, more: Record<string, string>): Answer {
	return () => json(body, 200, more);
}

function json(body: unknown, status: number, more: Record<string, string> = {}): Response {
	return new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json", ...more } });
}
