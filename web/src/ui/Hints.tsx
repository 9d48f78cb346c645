import { type CSSProperties, useEffect, useState } from "react";

interface Hint {
	words: string;
	place: CSSProperties;
}

/** Widest, how far from the edge of the window, and the room that is wanted beneath, in pixels. */
const WIDE = 320;
const EDGE = 8;
const ROOM = 90;

/** What a mouse is told by resting on something, keys are told by coming to it: the `title` of what has them, and of what
 * stands in it. Esc puts it away (WCAG 1.4.13). Screen readers read titles by themselves. */
export function Hints() {
	const [hint, setHint] = useState<Hint | null>(null);
	useEffect(() => {
		const away = () => setHint(null);
		// Not after a click: whoever has a mouse rests it.
		let keys = false;
		const press = (event: KeyboardEvent) => {
			keys = true;
			if (event.key === "Escape") away();
		};
		const point = () => {
			keys = false;
			away();
		};
		const come = ({ target }: FocusEvent) => {
			if (!(target instanceof HTMLElement || target instanceof SVGElement) || !keys) return setHint(null);
			const words = wordsOf(target);
			if (!words) return setHint(null);
			const box = target.getBoundingClientRect();
			const left = Math.max(EDGE, Math.min(box.left, window.innerWidth - WIDE - EDGE));
			const above = window.innerHeight - box.bottom < ROOM;
			setHint({ words, place: { left, ...(above ? { bottom: window.innerHeight - box.top + 6 } : { top: box.bottom + 6 }) } });
		};
		document.addEventListener("focusin", come);
		document.addEventListener("focusout", away);
		document.addEventListener("keydown", press, true);
		document.addEventListener("pointerdown", point, true);
		document.addEventListener("scroll", away, true);
		return () => {
			document.removeEventListener("focusin", come);
			document.removeEventListener("focusout", away);
			document.removeEventListener("keydown", press, true);
			document.removeEventListener("pointerdown", point, true);
			document.removeEventListener("scroll", away, true);
		};
	}, []);
	if (!hint) return null;
	return (
		<div
			aria-hidden="true"
			data-hint
			className="pointer-events-none fixed z-60 max-w-80 rounded-md border border-line bg-card px-2.5 py-1 text-[12.6px] whitespace-pre-line text-ink shadow-lg"
			style={hint.place}
		>
			{hint.words}
		</div>
	);
}

/** What is one thing to press, whatever it is made of. */
const SMALL = "a, button, input, summary, label, [role=button], [role=option], [role=menuitem]";

/** Each once, and none that can be read there anyway. */
function wordsOf(target: Element): string {
	const shown = (target.textContent ?? "").replace(/\s+/g, " ");
	// Of a whole text or list that has the keys, what stands in it isn’t its own.
	const within = target.matches(SMALL) ? [...target.querySelectorAll("[title]")] : [];
	const own = [target, ...within].map((one) => one.getAttribute("title") ?? "");
	// A drawn mark has its title as an element.
	const drawn =
		target instanceof SVGElement ? [...target.children].filter((one) => one.tagName === "title").map((one) => one.textContent ?? "") : [];
	const found = [...new Set([...own, ...drawn].map((words) => words.trim()).filter(Boolean))];
	return found.filter((words) => drawn.includes(words) || !shown.includes(words)).join("\n");
}
