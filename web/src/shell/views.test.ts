import { expect, test } from "vitest";
import { viewAt } from "./views";

test("every page of a project has a name of its own", () => {
	const pages = [
		"gather",
		"gather/bring-in",
		"gather/texts",
		"people",
		"code/12",
		"code/answers",
		"code/codebook",
		"code/themes",
		"code/guide",
		"code/topics",
		"code/find",
		"code/memos",
		"compare",
		"compare/together",
		"compare/passages",
		"compare/overview",
		"compare/frozen/3",
		"report/exhibits/2",
		"report/digests",
		"members",
		"history",
	];
	const names = pages.map((page) => viewAt(`/projects/7/${page}`));
	expect(names).not.toContain("");
	expect(new Set(names).size).toBe(pages.length);
	expect(viewAt("/projects/7/code")).toBe(viewAt("/projects/7/code/12"));
	expect(viewAt("/projects/7/elsewhere")).toBe("");
});
