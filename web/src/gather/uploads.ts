import { useSyncExternalStore } from "react";

/** A file that was chosen and isn't read yet. */
export interface OnWay {
	key: number;
	/** Whose, and into which project: nobody else sends it. */
	place: string;
	file: File;
	/** It waits for its turn, is being sent and read, or couldn't be, with the reason. */
	state: "waits" | "reading" | "failed";
	why: string;
	/** Sent by itself: together with others it was refused, and it may not be the one that is meant. */
	alone: boolean;
}

let all: OnWay[] = [];
let last = 0;
let calledOff = new AbortController();
const heard = new Set<() => void>();
/** Places to which some of what was chosen together has gone. */
const begun = new Set<string>();

function become(next: OnWay[]): void {
	all = next;
	for (const place of begun) if (!all.some((one) => one.place === place)) begun.delete(place);
	for (const hear of heard) hear();
}

/** The files on their way to a place, from the moment they were chosen; they go on when the page is left. */
export function useOnWay(place: string): OnWay[] {
	const found = useSyncExternalStore(
		(hear) => {
			heard.add(hear);
			return () => void heard.delete(hear);
		},
		() => all,
	);
	return found.filter((one) => one.place === place);
}

export function addFiles(place: string, files: File[]): void {
	const own = files.map((file) => {
		last += 1;
		return { key: last, place, file, state: "waits" as const, why: "", alone: false };
	});
	become([...all, ...own]);
}

/** Files and bytes that are sent together: what reads them has to be started each time. The first are few, so that something is seen at once. */
const FIRST = 4;
const TOGETHER = 24;
const BYTES = 16_000_000;

/** The next to be sent together, and what calls them off. */
export function takeNext(place: string): { files: OnWay[]; signal: AbortSignal } {
	const own = all.filter((one) => one.place === place);
	const waiting = own.filter((one) => one.state === "waits");
	const files = waiting[0]?.alone
		? waiting.slice(0, 1)
		: together(waiting, own.length === waiting.length && !begun.has(place) ? FIRST : TOGETHER);
	begun.add(place);
	const keys = new Set(files.map((one) => one.key));
	become(all.map((one) => (keys.has(one.key) ? { ...one, state: "reading" } : one)));
	return { files, signal: calledOff.signal };
}

export const somethingWaits = (place: string) => all.some((one) => one.place === place && one.state === "waits");
export const nothingOnWay = (place: string) => !all.some((one) => one.place === place && one.state !== "failed");

function together(waiting: OnWay[], most: number): OnWay[] {
	const files: OnWay[] = [];
	let bytes = 0;
	for (const one of waiting) {
		bytes += one.file.size;
		if (one.alone || files.length >= most || (files.length && bytes > BYTES)) break;
		files.push(one);
	}
	return files;
}

export function arrived(files: OnWay[]): void {
	const keys = new Set(files.map((one) => one.key));
	become(all.filter((one) => !keys.has(one.key)));
}

export function couldNot(files: OnWay[], why: string): void {
	const keys = new Set(files.map((one) => one.key));
	become(all.map((one) => (keys.has(one.key) ? { ...one, state: "failed", why } : one)));
}

/** A batch was refused: each of it is sent alone, so that only the one that is meant stays behind. */
export function oneByOne(files: OnWay[]): void {
	const keys = new Set(files.map((one) => one.key));
	become(all.map((one) => (keys.has(one.key) ? { ...one, state: "waits", alone: true } : one)));
}

export function againWithFailed(place: string): void {
	become(all.map((one) => (one.place === place && one.state === "failed" ? { ...one, state: "waits", why: "" } : one)));
}

/** Leave out what isn’t read yet. What is here already stays. */
export function callOff(place: string): void {
	become(all.filter((one) => one.place !== place));
	calledOff.abort();
	calledOff = new AbortController();
}
