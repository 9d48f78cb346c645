/** Answers that the server says again only where something moved since: they stay in this page's memory and nowhere else. */

const MOST = 60;
const MOST_LETTERS = 20_000_000;

interface Held {
	tag: string;
	said: string;
}

const held = new Map<string, Held>();
/** What each request said that it has: answers come in any order, and "nothing moved" is said of that one. */
const asked = new WeakMap<Request, Held>();
let letters = 0;

function drop(address: string): void {
	letters -= held.get(address)?.said.length ?? 0;
	held.delete(address);
}

/** Say which answer is here already. */
export function ask(request: Request): void {
	const known = held.get(request.url);
	if (!known) return;
	asked.set(request, known);
	request.headers.set("If-None-Match", known.tag);
}

/** Keep an answer that has a tag; give the one that is here where the server says that nothing moved. */
export async function answered(request: Request, response: Response): Promise<Response | undefined> {
	const known = asked.get(request);
	if (response.status === 304 && known) {
		// The one last asked for goes last.
		keep(request.url, known);
		return new Response(known.said, { status: 200, headers: { "Content-Type": "application/json" } });
	}
	const tag = response.headers.get("ETag");
	if (!tag || !response.ok) return undefined;
	keep(request.url, { tag, said: await response.clone().text() });
	return undefined;
}

function keep(address: string, answer: Held): void {
	drop(address);
	held.set(address, answer);
	letters += answer.said.length;
	for (const [address] of held) {
		if (held.size <= MOST && letters <= MOST_LETTERS) break;
		drop(address);
	}
}

/** Let all of it go: whoever signs out leaves nothing behind. */
export function letGo(): void {
	held.clear();
	letters = 0;
}
