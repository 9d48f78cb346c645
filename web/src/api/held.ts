/** Answers that the server says again only where something moved since: they stay in this page's memory and nowhere else. */

const MOST = 60;
const MOST_LETTERS = 20_000_000;

interface Held {
	tag: string;
	said: string;
}

const held = new Map<string, Held>();
let letters = 0;

function drop(address: string): void {
	letters -= held.get(address)?.said.length ?? 0;
	held.delete(address);
}

/** Say which answer is here already. */
export function ask(request: Request): void {
	const known = held.get(request.url);
	if (known) request.headers.set("If-None-Match", known.tag);
}

/** Keep an answer that has a tag; give the one that is here where the server says that nothing moved. */
export async function answered(request: Request, response: Response): Promise<Response | undefined> {
	const known = held.get(request.url);
	if (response.status === 304 && known) {
		// The one last asked for goes last.
		held.delete(request.url);
		held.set(request.url, known);
		return new Response(known.said, { status: 200, headers: { "Content-Type": "application/json" } });
	}
	const tag = response.headers.get("ETag");
	if (!tag || !response.ok) return undefined;
	const said = await response.clone().text();
	drop(request.url);
	held.set(request.url, { tag, said });
	letters += said.length;
	for (const [address] of held) {
		if (held.size <= MOST && letters <= MOST_LETTERS) break;
		drop(address);
	}
	return undefined;
}

/** Let all of it go: whoever signs out leaves nothing behind. */
export function letGo(): void {
	held.clear();
	letters = 0;
}
