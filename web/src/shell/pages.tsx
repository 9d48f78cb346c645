import type { QueryClient } from "@tanstack/react-query";
import { type ComponentType, lazy } from "react";
import { matchPath } from "react-router";
import { say } from "../language/say";
import { reads } from "../project/reads";
import { wasIn } from "../project/session";

/** A page that is fetched when somebody first goes to it, or before, when there is nothing else to do. One that couldn’t
 * be fetched is asked for again when it is shown again. */
export function page<Name extends string>(name: Name, load: () => Promise<Record<Name, ComponentType>>) {
	const fetched = () =>
		load().then(
			(found) => ({ default: found[name] as ComponentType }),
			() => {
				held = lazy(fetched);
				throw new Error(say("The page couldn’t be fetched: the server doesn’t answer, or Cohortia was renewed meanwhile."));
			},
		);
	let held = lazy(fetched);
	const Page = () => {
		const Held = held;
		return <Held />;
	};
	return Object.assign(Page, { fetch: load });
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
	for (const one of wanted) void one.fetch().catch(() => undefined);
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
