/** What the head of the page says already, or asked for before any script ran, by address, until somebody takes it. */
const early = new Map<string, Promise<Response>>();

/** Milliseconds for which it is as good as a new answer. */
const FRESH = 5000;
const JSON_TYPE = { "Content-Type": "application/json" };

/** Take up what the head asked for; whether the server named anything for somebody who is signed in. */
export function takeUp(): boolean {
	for (const { dataset, textContent } of document.head.querySelectorAll<HTMLScriptElement>("script[data-said]"))
		early.set(String(dataset.said), Promise.resolve(new Response(textContent, { headers: JSON_TYPE })));
	for (const link of document.head.querySelectorAll<HTMLLinkElement>('link[rel="preload"][as="fetch"]')) {
		const answer = fetch(link.href);
		// Whoever takes it hears of what went wrong.
		answer.catch(() => undefined);
		early.set(link.getAttribute("href") as string, answer);
	}
	window.setTimeout(drop, FRESH);
	return early.size > 1;
}

/** Nothing that was asked for before something moved is an answer any more. */
export function drop(): void {
	early.clear();
}

/** The early answer to a read, once; any other request goes out. */
export function fetchEarly(request: Request): Promise<Response> {
	if (request.method !== "GET") return fetch(request);
	const { pathname, search } = new URL(request.url);
	const answer = early.get(pathname + search);
	early.delete(pathname + search);
	return answer ?? fetch(request);
}

/** The revision of a project that all early reads are at least of, once: what moved since then is to be asked for. */
export function earlyRevision(project: number): number | undefined {
	const said = document.head.querySelector<HTMLMetaElement>(`meta[name="revision"][data-project="${project}"]`);
	said?.remove();
	return said ? Number(said.content) : undefined;
}
