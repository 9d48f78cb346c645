import { useEffect, useLayoutEffect, useRef } from "react";
import { useLocation, useNavigationType } from "react-router";

type Scrolled = Record<string, { top: number; left: number }>;

const KEPT = "cohortia scrolls";
/** Entries of the history whose places are kept. */
const MOST = 100;
/** Milliseconds that what was drawn may take to be as long as it was; whoever scrolls meanwhile is followed. */
const WAIT = 4000;

/** By the entry of the history, each pane of the page (by its place among them) and how far it was scrolled. */
const places = new Map<string, Scrolled>(read());

function read(): [string, Scrolled][] {
	try {
		return JSON.parse(window.sessionStorage.getItem(KEPT) ?? "[]");
	} catch {
		return [];
	}
}

const panes = () => [...document.querySelectorAll<HTMLElement>("main .pane")];

/** Going back, forward or loading anew shows every pane where it was; what only changes the address of a page leaves them. */
export function useScrollsKept(): void {
	const location = useLocation();
	const { pathname } = location;
	// The first entry of a visit bears the same key whatever its address is.
	const key = `${location.key} ${pathname}`;
	const way = useNavigationType();
	const before = useRef({ key, pathname });
	const now = useRef(key);
	useLayoutEffect(() => {
		const from = before.current;
		before.current = { key, pathname };
		now.current = key;
		if (from.key !== key && from.pathname === pathname && way !== "POP") {
			const left = places.get(from.key);
			if (left) places.set(key, { ...left });
			return;
		}
		const wanted = way === "POP" ? places.get(key) : undefined;
		return wanted && bringBack(wanted);
	}, [key, pathname, way]);
	useEffect(() => {
		const note = ({ target }: Event) => {
			if (!(target instanceof HTMLElement) || !target.matches("main .pane") || bringing) return;
			const held = places.get(now.current) ?? {};
			held[panes().indexOf(target)] = { top: target.scrollTop, left: target.scrollLeft };
			places.delete(now.current);
			places.set(now.current, held);
		};
		const keep = () => window.sessionStorage.setItem(KEPT, JSON.stringify([...places].slice(-MOST)));
		document.addEventListener("scroll", note, { capture: true, passive: true });
		window.addEventListener("pagehide", keep);
		return () => {
			document.removeEventListener("scroll", note, { capture: true });
			window.removeEventListener("pagehide", keep);
		};
	}, []);
}

/** While panes are brought to where they were, their scrolling is nobody’s. */
let bringing = false;

/** Scrolls panes as soon as they are long enough; ends when all are there, when hands move, or when it takes too long. */
function bringBack(wanted: Scrolled): () => void {
	const left = new Map(Object.entries(wanted).filter(([, { top, left: across }]) => top > 0 || across > 0));
	if (!left.size) return () => undefined;
	bringing = true;
	const end = () => {
		bringing = false;
		watcher.disconnect();
		window.clearTimeout(late);
		for (const one of HANDS) window.removeEventListener(one, end, { capture: true });
	};
	const place = () => {
		const all = panes();
		for (const [at, { top, left: across }] of left) {
			const pane = all[Number(at)];
			if (!pane || pane.scrollHeight - pane.clientHeight < top - 1) continue;
			pane.scrollTo({ top, left: across });
			left.delete(at);
		}
		if (!left.size) window.requestAnimationFrame(end);
	};
	const watcher = new MutationObserver(place);
	watcher.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ["style"] });
	const late = window.setTimeout(end, WAIT);
	for (const one of HANDS) window.addEventListener(one, end, { capture: true, passive: true });
	place();
	return end;
}

const HANDS = ["wheel", "touchstart", "pointerdown", "keydown"] as const;
