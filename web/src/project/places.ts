import { useEffect } from "react";
import { useLocation } from "react-router";
import { SCOPE } from "../api/grammar.gen";

/** Which page of its project an address is: the same for every document, exhibit and frozen comparison. */
export function pageAt(pathname: string): { project: string; page: string } | null {
	const found = /^\/projects\/(\d+)\/(.+?)\/?$/.exec(pathname);
	return found?.[1] && found[2]
		? { project: found[1], page: found[2].replace(/\/\d+$/, "").replace(/^report\/exhibits$/, "report") }
		: null;
}

/** Pages that one goes to for a moment, and not back to by going to their step. */
const PASSING = new Set(["gather/bring-in", "gather/texts", "members", "history", "words"]);
const SCOPE_WORDS: string[] = SCOPE.map((part) => part.address);

/** Addresses of what isn’t there any more. */
const gone = new Set<string>();

const kept = (project: string | number) => `cohortia places ${project}`;

function held(project: string | number): Record<string, string> {
	try {
		return JSON.parse(window.sessionStorage.getItem(kept(project)) ?? "{}");
	} catch {
		return {};
	}
}

/** Each page as it was left in this tab: going back to it by its name brings its rows, its form and what was open.
 * The scope isn’t part of it: that is the same on every page. */
export function useRememberPlaces(): void {
	const { pathname, search } = useLocation();
	useEffect(() => {
		const at = pageAt(pathname);
		if (!at || PASSING.has(at.page) || gone.has(pathname)) return;
		const params = new URLSearchParams(search);
		for (const word of SCOPE_WORDS) params.delete(word);
		const said = params.toString();
		const step = at.page.split("/")[0] ?? "";
		const address = pathname + (said && `?${said}`);
		window.sessionStorage.setItem(
			kept(at.project),
			JSON.stringify({ ...held(at.project), [at.page]: address, [`last of ${step}`]: address }),
		);
	}, [pathname, search]);
}

/** The page of its project that one is at, and the way to others, each as it was left. */
export function usePlace(project: number) {
	const { pathname, search } = useLocation();
	const at = pageAt(pathname)?.page ?? "";
	const places = held(project);
	const page = (one: string) => (one === at ? pathname + search : (places[one] ?? `/projects/${project}/${one}`));
	const within = (step: string) => at.split("/")[0] === step;
	// Whoever is in a step already goes to its first page.
	return { at, page, within, step: (one: string) => (within(one) ? page(one) : (places[`last of ${one}`] ?? page(one))) };
}

/** What this address names isn’t there (any more): its page isn’t remembered so. */
export function useGonePlace(missing: boolean): void {
	const { pathname } = useLocation();
	useEffect(() => {
		const at = pageAt(pathname);
		if (!missing || !at) return;
		gone.add(pathname);
		const places = Object.entries(held(at.project)).filter(([, address]) => address.split("?")[0] !== pathname);
		window.sessionStorage.setItem(kept(at.project), JSON.stringify(Object.fromEntries(places)));
	}, [missing, pathname]);
}
