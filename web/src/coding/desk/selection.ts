import type { Stretch } from "../data";

/** Where a point of the page lies in the document's text; null outside of it. */
function offsetOf(root: HTMLElement, node: Node, offset: number): number | null {
	if (!root.contains(node)) return null;
	if (node.nodeType === Node.TEXT_NODE) {
		const holder = node.parentElement?.closest<HTMLElement>("[data-at]");
		return holder && root.contains(holder) ? Number(holder.dataset.at) + offset : null;
	}
	const element = node as HTMLElement;
	const child = element.childNodes[offset];
	const next = child instanceof HTMLElement ? (child.matches("[data-at]") ? child : child.querySelector<HTMLElement>("[data-at]")) : null;
	if (next) return Number(next.dataset.at);
	const inside = [...element.querySelectorAll<HTMLElement>("[data-at]")].at(-1) ?? element.closest<HTMLElement>("[data-at]");
	return inside ? Number(inside.dataset.at) + (inside.textContent?.length ?? 0) : null;
}

/** The page's selection as a stretch of the text, drawn in to whole characters and non-spaces. */
export function selectedStretch(root: HTMLElement, text: string): Stretch | null {
	const selection = window.getSelection();
	if (!selection || selection.isCollapsed || selection.rangeCount === 0) return null;
	const range = selection.getRangeAt(0);
	const start = offsetOf(root, range.startContainer, range.startOffset);
	const end = offsetOf(root, range.endContainer, range.endOffset);
	return start === null || end === null ? null : drawnIn(text, start, end);
}

/** The place in the text beneath a point of the window; null outside of it. */
export function offsetAt(root: HTMLElement, x: number, y: number): number | null {
	const range = document.caretRangeFromPoint?.(x, y);
	return range ? offsetOf(root, range.startContainer, range.startOffset) : null;
}

/** Without spaces at the ends, and never through the middle of a character. */
export function drawnIn(text: string, from: number, to: number): Stretch | null {
	let [start, end] = from <= to ? [from, to] : [to, from];
	const segmenter = new Intl.Segmenter(undefined, { granularity: "grapheme" });
	const around = segmenter.segment(text);
	const first = around.containing(Math.min(start, text.length - 1));
	if (first) start = first.index;
	const last = around.containing(end);
	if (last && last.index < end) end = last.index + last.segment.length;
	while (start < end && /\s/.test(text[start] as string)) start += 1;
	while (end > start && /\s/.test(text[end - 1] as string)) end -= 1;
	return start < end ? { start, end } : null;
}

/** The words of a text as stretches (UAX 29), for moving by keyboard. */
export function wordsOf(text: string): Stretch[] {
	const segmenter = new Intl.Segmenter(undefined, { granularity: "word" });
	return [...segmenter.segment(text)]
		.filter((part) => part.isWordLike)
		.map((part) => ({ start: part.index, end: part.index + part.segment.length }));
}

/** The stretch with the whole of the words that it begins and ends in. */
export function wholeWords(words: Stretch[], { start, end }: Stretch): Stretch {
	const first = words[lastIndex(words, (word) => word.start <= start)];
	const last = words[lastIndex(words, (word) => word.start < end)];
	return {
		start: first && first.start < start && start < first.end ? first.start : start,
		end: last && last.start < end && end < last.end ? last.end : end,
	};
}

export type Move = "next" | "previous" | "longer" | "shorter" | "down" | "up";

/** The selection after one key: by words sideways, by turns up and down. */
export function moved(words: Stretch[], turns: Stretch[], now: Stretch | null, move: Move): Stretch | null {
	if (!words.length) return null;
	if (now === null) return words.find((word) => word.start >= (turns[0]?.start ?? 0)) ?? null;
	const first = lastIndex(words, (word) => word.start <= now.start);
	const last = lastIndex(words, (word) => word.start < now.end);
	const at = (index: number) => words[Math.max(0, Math.min(words.length - 1, index))] as Stretch;
	if (move === "next") return at(last + 1);
	if (move === "previous") return at(first - 1);
	if (move === "longer") return { start: now.start, end: at(last + 1).end };
	if (move === "shorter") return last > first ? { start: now.start, end: at(last - 1).end } : at(first);
	const turn = lastIndex(turns, (one) => one.start <= now.start);
	const next = turns[turn + (move === "down" ? 1 : -1)];
	return next ? (words.find((word) => word.start >= next.start) ?? now) : now;
}

function lastIndex<T>(rows: T[], holds: (row: T) => boolean): number {
	let low = 0;
	let high = rows.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (holds(rows[middle] as T)) low = middle + 1;
		else high = middle;
	}
	return Math.max(0, low - 1);
}
