import type { FetchQueryOptions, QueryClient } from "@tanstack/react-query";
import { type ComponentType, useEffect, useState } from "react";
import { matchPath } from "react-router";
import { takeUp } from "../api/early";
import { say } from "../language/say";
import { read, readProject } from "../project/reads";
import { whoIsThere } from "../project/session";
import { Loading } from "../ui/Empty";
import { readsOf, WITHIN } from "./heads";

/** Asks for what an address asks, from what has been read, before its page is drawn. */
type Ahead = (client: QueryClient, project: number, address: URLSearchParams) => Promise<unknown> | undefined;

/** A page that is fetched when somebody first goes to it, or before, when there is nothing else to do. One that couldn’t
 * be fetched is asked for again when it is shown again. It waits for its own code: behind a boundary of Suspense, React would
 * hold it back for 300 ms once it had shown that it waits. */
export function page<Name extends string>(name: Name, load: () => Promise<Record<Name, ComponentType> & { askAhead?: Ahead }>) {
	let there: ComponentType | null = null;
	let ahead: Ahead | undefined;
	const bring = () =>
		load().then((found) => {
			there = found[name] as ComponentType;
			ahead = found.askAhead;
		});
	const Page = () => {
		const [Held, hold] = useState<ComponentType | null>(() => there);
		const [missing, miss] = useState(false);
		useEffect(() => {
			if (Held) return;
			let left = false;
			const unless = (act: () => void) => () => left || act();
			bring().then(
				unless(() => hold(() => there)),
				unless(() => miss(true)),
			);
			return () => {
				left = true;
			};
		}, [Held]);
		if (missing) throw new Error(say("The page couldn’t be fetched: the server doesn’t answer, or Cohortia was renewed meanwhile."));
		return Held ? <Held /> : <Loading what={say("the page")} />;
	};
	return Object.assign(Page, { fetch: bring, askAhead: ((...asked) => ahead?.(...asked)) as Ahead });
}

export const Frame = page("Frame", () => import("./Frame"));
export const Projects = page("Projects", () => import("./Projects"));
export const AccountPage = page("AccountPage", () => import("../accounts/AccountPage"));

const MODULES = {
	AnswersPage: page("AnswersPage", () => import("../coding/answers/AnswersPage")),
	BringIn: page("BringIn", () => import("../gather/BringIn")),
	CodebookPage: page("CodebookPage", () => import("../coding/codebook/CodebookPage")),
	Compare: page("Compare", () => import("../compare/Compare")),
	Desk: page("Desk", () => import("../coding/desk/Desk")),
	DigestsPage: page("DigestsPage", () => import("../report/DigestsPage")),
	ExhibitsPage: page("ExhibitsPage", () => import("../report/ExhibitsPage")),
	FindPage: page("FindPage", () => import("../coding/find/FindPage")),
	FrozenPage: page("FrozenPage", () => import("../compare/frozen/FrozenPage")),
	GuidePage: page("GuidePage", () => import("../coding/guide/GuidePage")),
	TopicsPage: page("TopicsPage", () => import("../coding/topics/TopicsPage")),
	History: page("History", () => import("./History")),
	Members: page("Members", () => import("./Members")),
	MemosPage: page("MemosPage", () => import("../coding/memos/MemosPage")),
	OverviewPage: page("OverviewPage", () => import("../compare/overview/OverviewPage")),
	PassagesPage: page("PassagesPage", () => import("../compare/passages/PassagesPage")),
	People: page("People", () => import("../people/People")),
	Shelf: page("Shelf", () => import("../gather/Shelf")),
	Texts: page("Texts", () => import("../gather/Texts")),
	ThemesPage: page("ThemesPage", () => import("../coding/themes/ThemesPage")),
	TogetherPage: page("TogetherPage", () => import("../compare/together/TogetherPage")),
	WordsPage: page("WordsPage", () => import("../help/WordsPage")),
};

/** The pages of a project, by their address within it. */
export const PAGES = Object.entries(WITHIN).map(([address, { page, reads }]) => ({ address, Page: MODULES[page], reads }));

let first: Promise<unknown> = Promise.resolve();
let there = true;

/** Whether what the first address needs has come, or can’t. */
export function useFirstThere(): boolean {
	const [come, setCome] = useState(there);
	useEffect(() => void first.then(() => setCome(true)), []);
	return come;
}

/** Milliseconds for which the first drawing waits for what is on its way; then the page says what it waits for. */
const LONG = 1500;
/** The same for what is asked only from what has come. */
const SHORT = 200;

/** The page of a project that an address is of: what stands in the place of a number is one, or it is another page’s name. */
export function pageAt(pathname: string) {
	const found = PAGES.find(({ address }) => {
		const named = matchPath(`/projects/:projectId/${address}`, pathname)?.params;
		return named && Object.values(named).every((one) => /^\d+$/.test(one ?? ""));
	});
	return found ?? PAGES[0];
}

/** Take up what the head of the page has asked for already. Until that is there, or it takes long, nothing need be drawn: each
 * state between would be drawn, laid out and painted, while what comes next waits for it. */
export async function fetchFor({ pathname, search }: Pick<Location, "pathname" | "search">, client: QueryClient): Promise<void> {
	if (!takeUp()) return;
	there = false;
	const id = Number(matchPath("/projects/:id/*", pathname)?.params.id);
	const page = pageAt(pathname);
	const asked = id ? [readProject(id), ...readsOf(page?.reads ?? []).map((name) => read(name, id))] : [];
	const answers = Promise.all([whoIsThere, ...asked].map((one) => client.prefetchQuery(one as FetchQueryOptions)));
	const wanted = id && page ? [Frame, page.Page] : [pathname === "/account" ? AccountPage : Projects];
	first = Promise.allSettled(wanted.map((one) => one.fetch())).then(() => {
		there = true;
	});
	const within = (most: number) => new Promise((go) => window.setTimeout(go, most));
	await Promise.race([Promise.all([first, answers]), within(LONG)]);
	if (!id || !page) return;
	try {
		await Promise.race([page.Page.askAhead(client, id, new URLSearchParams(search)), within(SHORT)]);
	} catch {
		// An address that it stumbles over: the page says so, in its place.
	}
}

/** Milliseconds between looking whether anything else is asked for. */
const LATER = 250;

/** Fetch what wasn’t gone to yet, one after the other, while nobody waits: then every step opens at once. */
export async function fetchTheRest(client: QueryClient): Promise<void> {
	const { connection } = navigator as { connection?: { saveData?: boolean } };
	if (connection?.saveData) return;
	for (const one of [Frame, ...Object.values(MODULES)]) {
		do await new Promise((go) => window.setTimeout(go, LATER));
		while (client.isFetching());
		await one.fetch().catch(() => undefined);
	}
}
