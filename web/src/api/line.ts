/** How the line to the server is: it answers, it lets wait, or it doesn’t answer. */
export type Line = "here" | "slow" | "gone";

/** Milliseconds after which waiting is worth a word, and between two tries when nothing answers. */
const LONG = 5000;
const AGAIN = 3000;

let line: Line = "here";
const heard = new Set<() => void>();
const waited = new Map<Request, number>();
let trying: number | undefined;

export function lineNow(): Line {
	return line;
}

export function onLine(hear: () => void): () => void {
	heard.add(hear);
	return () => void heard.delete(hear);
}

function become(next: Line): void {
	if (next === line) return;
	line = next;
	window.clearInterval(trying);
	trying = next === "gone" ? window.setInterval(tryAgain, AGAIN) : undefined;
	for (const hear of heard) hear();
}

/** A read has gone out; one that takes long is worth a word. */
export function sent(request: Request): void {
	const late = window.setTimeout(() => line === "here" && become("slow"), LONG);
	waited.set(request, late);
}

/** Something came back, whatever it says. */
export function came(request: Request): void {
	over(request);
	become(line === "slow" && waited.size > 0 ? "slow" : "here");
}

/** It failed on the way; one that was called off says nothing of the line. */
export function failed(request: Request, error: unknown): void {
	over(request);
	if (!(error instanceof DOMException && error.name === "AbortError")) lost();
	else if (line === "slow" && !waited.size) become("here");
}

/** Nothing answered. */
export function lost(): void {
	become("gone");
}

function over(request: Request): void {
	window.clearTimeout(waited.get(request));
	waited.delete(request);
}

async function tryAgain(): Promise<void> {
	const answer = await fetch("/api/health").catch(() => null);
	if (answer?.ok) become("here");
}

/** Begin each test with nothing on its way. */
export function forgetLine(): void {
	for (const late of waited.values()) window.clearTimeout(late);
	waited.clear();
	window.clearInterval(trying);
	line = "here";
}

window.addEventListener("offline", lost);
window.addEventListener("online", () => void tryAgain());
