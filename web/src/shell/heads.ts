import { PATHS, type ReadName } from "../project/paths";

/** What an address needs as soon as it is opened. The server says it in the head of the page (`server/shell/heads.py`): who is
 * there and the little that all of a project rests on at once, the rest by its address, so that it is on its way before the first
 * script runs. All at a time: a browser asks for six things at once, and on a poor line whatever is seventh waits for another round. */
interface Head {
	/** The module of its page. */
	page: string;
	/** What that asks for at once, whatever stands behind the address’s "?". */
	reads: readonly ReadName[];
	/** The same of one thing that the address names, as the server has it within the project. */
	one?: string;
}

/** The pages of a project, by their address within it. */
export const WITHIN = {
	gather: { page: "Shelf", reads: ["variables"] },
	people: { page: "People", reads: ["unlinked", "cohorts"] },
	code: { page: "Desk", reads: [] },
	"code/:documentId": { page: "Desk", reads: [], one: "/documents/:documentId" },
	compare: { page: "Compare", reads: ["variables", "cohorts", "kept"] },
	report: { page: "ExhibitsPage", reads: ["exhibits"] },
	"report/exhibits/:exhibitId": { page: "ExhibitsPage", reads: ["exhibits"], one: "/exhibits/:exhibitId" },
	"gather/bring-in": { page: "BringIn", reads: ["staged"] },
	"gather/texts": { page: "Texts", reads: [] },
	"code/answers": { page: "AnswersPage", reads: ["answers"] },
	"code/codebook": { page: "CodebookPage", reads: ["look"] },
	"code/themes": { page: "ThemesPage", reads: ["themes"] },
	"code/guide": { page: "GuidePage", reads: ["guide"] },
	"code/find": { page: "FindPage", reads: [] },
	"code/topics": { page: "TopicsPage", reads: [] },
	"code/memos": { page: "MemosPage", reads: ["memos", "memo kinds"] },
	"compare/together": { page: "TogetherPage", reads: ["themes", "variables"] },
	"compare/passages": { page: "PassagesPage", reads: ["queries"] },
	"compare/overview": { page: "OverviewPage", reads: ["variables"] },
	"compare/frozen": { page: "FrozenPage", reads: ["frozen"] },
	"compare/frozen/:frozenId": { page: "FrozenPage", reads: ["frozen"] },
	"report/digests": { page: "DigestsPage", reads: ["themes", "digests"] },
	words: { page: "WordsPage", reads: [] },
	members: { page: "Members", reads: ["members"] },
	history: { page: "History", reads: ["trail"] },
} as const satisfies Record<string, Head>;

/** What every page of a project stands on. */
const FRAME = { page: "Frame", said: ["", PATHS.status], reads: ["documents", "roster", "codebook"] } as const;

export interface Needed {
	address: string;
	pages: string[];
	/** Addresses of reads that are answered in the head, and of those that are asked for from there. */
	said: string[];
	asked: string[];
}

function within(address: string, { page, reads, one }: Head): Needed {
	const asked = [...FRAME.reads, ...reads].map((name) => PATHS[name] as string).concat(one ?? []);
	const inProject = (path: string) => `/api/projects/:projectId${path}`;
	return {
		address: `/projects/:projectId${address && "/"}${address}`,
		pages: [FRAME.page, page],
		said: ["/api/session", ...FRAME.said.map(inProject)],
		asked: asked.map(inProject),
	};
}

/** All that a page of a project reads at once. */
export function readsOf(own: readonly ReadName[]): ReadName[] {
	return ["status", ...FRAME.reads, ...own];
}

/** Every address, with the pages and reads that it needs. */
export const HEADS: Needed[] = [
	{ address: "/", pages: ["Projects"], said: ["/api/session", "/api/projects"], asked: [] },
	{ address: "/account", pages: ["AccountPage"], said: ["/api/session", "/api/account"], asked: [] },
	within("", WITHIN.gather),
	...Object.entries(WITHIN).map(([address, head]) => within(address, head)),
];
