import { useSyncExternalStore } from "react";
import type { Shape } from "../api/client";

/** Codes put on a place that the server hasn’t confirmed yet; kept in the browser, so that nothing is lost with the connection. */
export interface Waiting {
	key: string;
	account: number;
	project: number;
	document: number;
	/** As on the wire: positions are code points. */
	body: Shape<"CodingInRequest">;
	/** A few of the words, to say which. */
	said: string;
}

const KEPT_AS = "cohortia.waiting";
const listeners = new Set<() => void>();
let waiting: Waiting[] = kept();
let lost = false;
/** The one that is on its way to the server: nobody knows yet whether it arrived. */
let onItsWay: string | null = null;

function kept(): Waiting[] {
	try {
		const read: unknown = JSON.parse(window.localStorage.getItem(KEPT_AS) ?? "[]");
		return Array.isArray(read) ? read : [];
	} catch {
		return [];
	}
}

export function become(next: Waiting[], cut = lost): void {
	waiting = next;
	lost = cut;
	try {
		if (next.length) window.localStorage.setItem(KEPT_AS, JSON.stringify(next));
		else window.localStorage.removeItem(KEPT_AS);
	} catch {
		// A browser that keeps nothing still has them as long as the page is open.
	}
	for (const listen of listeners) listen();
}

/** Read again what is kept, as a page that opens does. */
export function readAgain(): void {
	waiting = kept();
	for (const listen of listeners) listen();
}

const senders = new Set<() => void>();

/** Call this as soon as there is something to send; the answer ends it. */
export function whenPosted(send: () => void): () => void {
	senders.add(send);
	return () => void senders.delete(send);
}

export function post(entry: Omit<Waiting, "key">): void {
	waiting = [...waiting, { ...entry, key: crypto.randomUUID?.() ?? `${Date.now()} ${Math.random()}` }];
	// On its way before the page is drawn: the server works meanwhile.
	for (const send of senders) send();
	become(waiting);
}

const subscribe = (listen: () => void) => {
	listeners.add(listen);
	return () => void listeners.delete(listen);
};

export function sendsNow(key: string | null): void {
	onItsWay = key;
}

export const nowWaiting = () => ({ waiting, lost });

export function useStore(): { waiting: Waiting[]; lost: boolean } {
	return { waiting: useSyncExternalStore(subscribe, () => waiting), lost: useSyncExternalStore(subscribe, () => lost) };
}

const byMember = (project: number, account?: number) => (one: Waiting) => one.project === project && one.account === account;

/** When all codings of a member are sent, or none is on its way because the connection is lost. */
export function settled(project: number, account?: number): Promise<void> {
	const done = () => !waiting.some(byMember(project, account)) || (lost && !onItsWay);
	if (done()) return Promise.resolve();
	return new Promise((resolve) => {
		const stop = subscribe(() => {
			if (!done()) return;
			stop();
			resolve();
		});
	});
}

/** Take the last coding of a member that waits out again; null where none does. */
export function takeBackLast(project: number, account?: number): Waiting | null {
	const last = waiting.filter(byMember(project, account)).at(-1) ?? null;
	if (last) become(waiting.filter((one) => one !== last));
	return last;
}
