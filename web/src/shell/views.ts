/** What each page of a project is called, by its address within the project; the first that fits. */
const VIEWS: [RegExp, string][] = [
	[/^gather\/bring-in/, "Bring in"],
	[/^gather\/texts/, "Change texts"],
	[/^gather/, "Documents"],
	[/^people/, "People"],
	[/^code\/answers/, "Answers"],
	[/^code\/codebook/, "Codebook"],
	[/^code\/themes/, "Themes"],
	[/^code\/find/, "Find words"],
	[/^code\/memos/, "Memos"],
	[/^code/, "Read and code"],
	[/^compare\/together/, "Codes with codes"],
	[/^compare\/passages/, "Passages"],
	[/^compare\/overview/, "Overview"],
	[/^compare\/frozen/, "Frozen comparisons"],
	[/^compare/, "Groups compared"],
	[/^report\/digests/, "Digests"],
	[/^report/, "Exhibits"],
	[/^words/, "Words used here"],
	[/^members/, "Members"],
	[/^history/, "What was done"],
];

/** The page at an address (`/projects/7/code/find`). */
export function viewAt(pathname: string): string {
	const within = pathname.replace(/^\/projects\/\d+\/?/, "");
	return VIEWS.find(([address]) => address.test(within))?.[1] ?? "";
}
