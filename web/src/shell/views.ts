import { say } from "../language/say";

/** What each page of a project is called, by its address within the project; the first that fits. */
const VIEWS: [RegExp, string][] = [
	[/^gather\/bring-in/, say("Bring in")],
	[/^gather\/texts/, say("Change texts")],
	[/^gather/, say("Documents")],
	[/^people/, say("People")],
	[/^code\/answers/, say("Answers")],
	[/^code\/codebook/, say("Codebook")],
	[/^code\/themes/, say("Themes")],
	[/^code\/guide/, say("Interview guide")],
	[/^code\/topics/, say("Topics")],
	[/^code\/find/, say("Find words")],
	[/^code\/memos/, say("Memos")],
	[/^code/, say("Read and code")],
	[/^compare\/together/, say("Codes with codes")],
	[/^compare\/passages/, say("Passages")],
	[/^compare\/overview/, say("Overview")],
	[/^compare\/frozen/, say("Frozen comparisons")],
	[/^compare/, say("Groups compared")],
	[/^report\/digests/, say("Digests")],
	[/^report/, say("Exhibits")],
	[/^words/, say("Words used here")],
	[/^members/, say("Members")],
	[/^history/, say("What was done")],
];

/** The page at an address (`/projects/7/code/find`). */
export function viewAt(pathname: string): string {
	const within = pathname.replace(/^\/projects\/\d+\/?/, "");
	return VIEWS.find(([address]) => address.test(within))?.[1] ?? "";
}
