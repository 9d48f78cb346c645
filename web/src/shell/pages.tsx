import type { QueryClient } from "@tanstack/react-query";
import { type ComponentType, lazy, useEffect, useState } from "react";
import { matchPath } from "react-router";
import { say } from "../language/say";
import { reads } from "../project/reads";
import { wasIn } from "../project/session";

/** A page that is fetched when somebody first goes to it, or before, when there is nothing else to do. One that couldn’t
 * be fetched is asked for again when it is shown again. */
export function page<Name extends string>(name: Name, load: () => Promise<Record<Name, ComponentType>>) {
	let there: ComponentType | null = null;
	const bring = () =>
		load().then((found) => {
			there = found[name] as ComponentType;
			return { default: there };
		});
	const fetched = () =>
		bring().catch(() => {
			held = lazy(fetched);
			throw new Error(say("The page couldn’t be fetched: the server doesn’t answer, or Cohortia was renewed meanwhile."));
		});
	let held = lazy(fetched);
	const Page = () => {
		// What is there already is shown at once: React holds back what follows a fallback for 300 ms.
		const [Held] = useState<ComponentType>(() => there ?? held);
		return <Held />;
	};
	return Object.assign(Page, { fetch: bring });
}

export const Frame = page("Frame", () => import("./Frame"));
export const Projects = page("Projects", () => import("./Projects"));
export const AccountPage = page("AccountPage", () => import("../accounts/AccountPage"));

const Shelf = page("Shelf", () => import("../gather/Shelf"));
const Desk = page("Desk", () => import("../coding/desk/Desk"));
const ExhibitsPage = page("ExhibitsPage", () => import("../report/ExhibitsPage"));
const FrozenPage = page("FrozenPage", () => import("../compare/frozen/FrozenPage"));

/** The pages of a project, by their address within it. */
export const PAGES = {
	gather: Shelf,
	people: page("People", () => import("../people/People")),
	code: Desk,
	"code/:documentId": Desk,
	compare: page("Compare", () => import("../compare/Compare")),
	report: ExhibitsPage,
	"report/exhibits/:exhibitId": ExhibitsPage,
	"gather/bring-in": page("BringIn", () => import("../gather/BringIn")),
	"gather/texts": page("Texts", () => import("../gather/Texts")),
	"code/answers": page("AnswersPage", () => import("../coding/answers/AnswersPage")),
	"code/codebook": page("CodebookPage", () => import("../coding/codebook/CodebookPage")),
	"code/themes": page("ThemesPage", () => import("../coding/themes/ThemesPage")),
	"code/find": page("FindPage", () => import("../coding/find/FindPage")),
	"code/memos": page("MemosPage", () => import("../coding/memos/MemosPage")),
	"compare/together": page("TogetherPage", () => import("../compare/together/TogetherPage")),
	"compare/passages": page("PassagesPage", () => import("../compare/passages/PassagesPage")),
	"compare/overview": page("OverviewPage", () => import("../compare/overview/OverviewPage")),
	"compare/frozen": FrozenPage,
	"compare/frozen/:frozenId": FrozenPage,
	"report/digests": page("DigestsPage", () => import("../report/DigestsPage")),
	words: page("WordsPage", () => import("../help/WordsPage")),
	members: page("Members", () => import("./Members")),
	history: page("History", () => import("./History")),
};

let first: Promise<unknown> = Promise.resolve();

/** Whether what the first address needs has come, or can’t. */
export function useFirstThere(): boolean {
	const [there, setThere] = useState(false);
	useEffect(() => void first.then(() => setThere(true)), []);
	return there;
}

/** Begin to fetch what the address will need, while it is still being asked who is there. */
export function fetchFor(pathname: string, client: QueryClient): void {
	if (!wasIn()) return;
	const id = Number(matchPath("/projects/:id/*", pathname)?.params.id);
	if (id) {
		void client.prefetchQuery(reads.project(id));
		void client.prefetchQuery(reads.status(id));
		void client.prefetchQuery(reads.documents(id));
		void client.prefetchQuery(reads.roster(id));
		void client.prefetchQuery(reads.codebook(id));
	}
	const found = Object.entries(PAGES).find(([path]) => matchPath(`/projects/:projectId/${path}`, pathname));
	const wanted = pathname.startsWith("/projects/") ? [Frame, (found ?? ["", Shelf])[1]] : [Projects];
	first = Promise.allSettled(wanted.map((one) => one.fetch()));
}

/** Milliseconds between looking whether anything else is asked for. */
const LATER = 250;

/** Fetch what wasn’t gone to yet, one after the other, while nobody waits: then every step opens at once. */
export async function fetchTheRest(client: QueryClient): Promise<void> {
	const { connection } = navigator as { connection?: { saveData?: boolean } };
	if (connection?.saveData) return;
	for (const one of [Frame, ...Object.values(PAGES)]) {
		do await new Promise((go) => window.setTimeout(go, LATER));
		while (client.isFetching());
		await one.fetch().catch(() => undefined);
	}
}
