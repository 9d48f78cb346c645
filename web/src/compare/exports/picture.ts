import sans from "@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2?url";
import { say } from "../../language/say";

import { byDay, plain, plainly } from "./colours";

const FONT = "'Source Sans 3 Variable', 'Source Sans 3', sans-serif";
const SVG = "http://www.w3.org/2000/svg";

/** What stands on the screen as a drawing of its own: grounds, lines, words where they stand, and drawn forms whole.
 * `lines` (the sentence, what is left out) stand around it. It goes on somebody’s white page: always in the colours
 * of the day, whatever the screen shows. */
export function pictureOf(shown: HTMLElement, above: string[], below: string[]): string {
	return byDay(() => whole(shown, () => drawn(shown, above, below)));
}

/** Do something while what scrolls within it is as long and as wide as what it holds (styles.css). Nothing is painted in between. */
function whole<Made>(shown: HTMLElement, make: () => Made): Made {
	const frames = [...shown.querySelectorAll(".pane")].map((frame) => ({ frame, top: frame.scrollTop, left: frame.scrollLeft }));
	shown.dataset.whole = "";
	try {
		return make();
	} finally {
		delete shown.dataset.whole;
		for (const { frame, top, left } of frames) Object.assign(frame, { scrollTop: top, scrollLeft: left });
	}
}

function drawn(shown: HTMLElement, above: string[], below: string[]): string {
	const box = shown.getBoundingClientRect();
	const wide = Math.ceil(Math.max(shown.scrollWidth, box.width, 480)) + 32;
	const head = wrapped(above, wide - 32, 16);
	const foot = wrapped(below, wide - 32, 12.5);
	const top = 24 + head.length * 20;
	const high = Math.ceil(shown.scrollHeight) + top + 16 + foot.length * 17 + 16;
	const root = document.createElementNS(SVG, "svg");
	root.setAttribute("viewBox", `0 0 ${wide} ${high}`);
	root.setAttribute("width", String(wide));
	root.setAttribute("height", String(high));
	root.append(rect(0, 0, wide, high, "var(--color-card)"));
	head.forEach((line, at) => {
		root.append(text(16, 28 + at * 20, line, "var(--color-ink)", 16, 600));
	});
	const moved = document.createElementNS(SVG, "g");
	moved.setAttribute("transform", `translate(${16 - box.left + shown.scrollLeft} ${top - box.top + shown.scrollTop})`);
	trace(shown, moved);
	root.append(moved);
	foot.forEach((line, at) => {
		root.append(text(16, high - 16 - (foot.length - 1 - at) * 17, line, "var(--color-quiet)", 12.5, 400));
	});
	return plainly(new XMLSerializer().serializeToString(root));
}

function trace(element: Element, into: SVGElement): void {
	const look = getComputedStyle(element);
	if (look.display === "none" || look.visibility === "hidden" || element.classList.contains("sr-only")) return;
	const box = element.getBoundingClientRect();
	if (element instanceof SVGSVGElement) {
		const copy = element.cloneNode(true) as SVGSVGElement;
		for (const [name, value] of Object.entries({ x: box.left, y: box.top, width: box.width, height: box.height }))
			copy.setAttribute(name, String(value));
		copy.setAttribute("font-family", FONT);
		copy.setAttribute("font-size", look.fontSize);
		for (const part of copy.querySelectorAll("[tabindex]"))
			for (const name of ["tabindex", "role", "aria-label", "class"]) part.removeAttribute(name);
		into.append(copy);
		return;
	}
	if (!clear(look.backgroundColor)) into.append(rect(box.left, box.top, box.width, box.height, plain(look.backgroundColor)));
	for (const [side, x, y, w, h] of [
		["Top", box.left, box.top, box.width, 1],
		["Bottom", box.left, box.bottom - 1, box.width, 1],
		["Left", box.left, box.top, 1, box.height],
	] as const) {
		const width = Number.parseFloat(look[`border${side}Width`]);
		if (width > 0 && look[`border${side}Style`] !== "none" && !clear(look[`border${side}Color`]))
			into.append(rect(x, y, w, h, plain(look[`border${side}Color`])));
	}
	for (const child of element.childNodes) {
		if (child instanceof Element) trace(child, into);
		else if (child.nodeType === Node.TEXT_NODE && child.textContent?.trim()) words(child, look, into);
	}
}

/** Words line by line, where the browser has broken them. */
function words(node: ChildNode, look: CSSStyleDeclaration, into: SVGElement): void {
	const range = document.createRange();
	const said = node.textContent ?? "";
	let line = "";
	let from: DOMRect | null = null;
	let [first, upTo] = [new DOMRect(), new DOMRect()];
	const size = Number.parseFloat(look.fontSize);
	const upright = !look.writingMode.startsWith("vertical");
	const end = () => {
		if (!from || !line.trim()) return;
		const made = text(from.left, from.top + from.height / 2 + size * 0.34, line.trim(), plain(look.color), size, Number(look.fontWeight));
		// Where another type stands in for ours, the words still take the room they have.
		const long = upTo.right - from.left;
		if (line.trim().length > 1 && long > 0 && upright) {
			made.setAttribute("textLength", long.toFixed(1));
			made.setAttribute("lengthAdjust", "spacingAndGlyphs");
		}
		if (!upright) {
			const [turn, begin] = first.top > upTo.top ? [-90, first.bottom] : [90, first.top];
			const middle = first.left + first.width / 2;
			made.setAttribute("transform", `rotate(${turn} ${middle} ${begin})`);
			made.setAttribute("x", String(middle));
			made.setAttribute("y", String(begin + size * 0.34));
		}
		into.append(made);
	};
	for (let at = 0; at < said.length; at++) {
		range.setStart(node, at);
		range.setEnd(node, at + 1);
		const place = range.getBoundingClientRect();
		if (!place.width && !place.height) continue;
		// A line begins with its first letter, not with the space before it.
		if (!from && !said[at]?.trim()) continue;
		if (from && upright && Math.abs(place.top - from.top) > size / 2) {
			end();
			line = "";
			from = null;
		}
		if (!from) first = place;
		from ??= place;
		if (said[at]?.trim()) upTo = place;
		line += said[at];
	}
	end();
}

const clear = (colour: string) => colour === "transparent" || /,\s*0\)$/.test(colour);

function rect(x: number, y: number, width: number, height: number, fill: string): SVGRectElement {
	const made = document.createElementNS(SVG, "rect");
	for (const [name, value] of Object.entries({ x, y, width, height, fill })) made.setAttribute(name, String(value));
	return made;
}

function text(x: number, y: number, said: string, fill: string, size: number, weight: number): SVGTextElement {
	const made = document.createElementNS(SVG, "text");
	for (const [name, value] of Object.entries({ x, y, fill, "font-size": size, "font-weight": weight, "font-family": FONT }))
		made.setAttribute(name, String(value));
	made.textContent = said;
	return made;
}

/** Lines of about this width, broken between words. */
function wrapped(lines: string[], wide: number, size: number): string[] {
	// More than most letters take, also in the type that stands in for ours.
	const most = Math.max(20, Math.floor(wide / (0.56 * size)));
	return lines.flatMap((line) => {
		const made: string[] = [];
		let now = "";
		for (const word of line.split(" ")) {
			if (now && now.length + word.length + 1 > most) {
				made.push(now);
				now = word;
			} else now = now ? `${now} ${word}` : word;
		}
		return [...made, now];
	});
}

/** With the letters it is set in: it has to look the same where they aren’t. */
export async function withLetters(svg: string): Promise<string> {
	const bytes = new Uint8Array(await (await fetch(sans)).arrayBuffer());
	let letters = "";
	for (const byte of bytes) letters += String.fromCharCode(byte);
	const face = `<style>@font-face{font-family:'Source Sans 3 Variable';src:url(data:font/woff2;base64,${btoa(letters)});font-weight:200 900}</style>`;
	return svg.replace(/(<svg[^>]*>)/, `$1${face}`);
}

/** The same as points, at twice the size. */
export async function asPng(svg: string): Promise<Blob> {
	const image = new Image();
	image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
	await image.decode();
	const canvas = document.createElement("canvas");
	canvas.width = image.width * 2;
	canvas.height = image.height * 2;
	canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
	return new Promise((done, fail) =>
		canvas.toBlob(
			(blob) => (blob ? done(blob) : fail(new Error(say("The picture is too large to be made; hide some rows.")))),
			"image/png",
		),
	);
}
