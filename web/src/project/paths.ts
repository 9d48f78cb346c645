/** Reads of a project that say the same whatever a page shows, and where they are asked for within the project. They have no more in
 * them than words: the build reads this, to tell the server what an address needs. */
export const PATHS = {
	status: "/status",
	documents: "/documents",
	roster: "/roster",
	codebook: "/codebook",
	staged: "/staged",
	variables: "/variables",
	cohorts: "/cohorts",
	unlinked: "/unlinked",
	answers: "/answers",
	look: "/codebook/look",
	themes: "/themes",
	guide: "/guide",
	memos: "/memos",
	"memo kinds": "/memos/kinds",
	kept: "/compare/kept",
	queries: "/compare/queries",
	frozen: "/compare/frozen",
	exhibits: "/exhibits",
	digests: "/digests",
	members: "/members",
	trail: "/trail",
	invitations: "/invitations",
	names: "/names",
	check: "/check",
	scopes: "/compare/scopes",
} as const;

export type ReadName = keyof typeof PATHS;
