/** When whoever is signed in will be signed out for having done nothing, as the last answer said; null while that is far off. */
let ends: number | null = null;
const heard = new Set<() => void>();

export function endOfSession(): number | null {
	return ends;
}

export function onEnding(hear: () => void): () => void {
	heard.add(hear);
	return () => void heard.delete(hear);
}

/** Every answer says it anew: one to something that was done says nothing of it. */
export function hearOfEnd(headers: Headers): void {
	const seconds = headers.get("X-Session-Ends");
	const next = seconds === null ? null : Date.now() + Number(seconds) * 1000;
	// The same end, told again a little later, isn't news.
	if (next !== null && ends !== null && Math.abs(next - ends) < 30_000) return;
	if (next === ends) return;
	ends = next;
	for (const hear of heard) hear();
}
