import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Memo } from "../../memos/data";
import { matching, openBrackets, pieces, plainly, putIn, type Thing } from "../../memos/linked";
import { address, show, texts } from "../../tests/harness";
import { ACCOUNT, CODEBOOK, ROSTER, SESSION } from "../../tests/samples";
import { calls, nowServe, serve } from "../../tests/server";
import { CodebookPage } from "../codebook/CodebookPage";
import { MemosPage } from "./MemosPage";

const memo = (id: number, text: string, more: Partial<Memo> = {}): Memo => ({
	id,
	text,
	kinds: ["codebook"],
	links: [],
	author: "Rana",
	author_id: ACCOUNT.id,
	source: "",
	made_at: "2026-01-05T10:00:00Z",
	on: "code",
	on_id: 2,
	name: "Missed boats",
	document: null,
	...more,
});
const MEMOS = [
	memo(4, "Too wide? See [[Waiting]] and [[nothing]].", {
		links: [{ said: "Waiting", thing: "code", id: 3, name: "Waiting now" }],
	}),
	memo(5, "I nod.", { kinds: [], on: "project", on_id: null, name: "the project", made_at: "2026-03-01T10:00:00Z" }),
	memo(6, "Ask Kim.", {
		kinds: ["team", 11],
		author: "Mika",
		author_id: 9,
		on: "case",
		on_id: 21,
		name: "P10",
		made_at: "2026-02-01T10:00:00Z",
	}),
];

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /memos": MEMOS,
		"GET /memos/kinds": [{ id: 11, name: "Doubts", memos: 1 }],
		"GET /codebook": CODEBOOK,
		"GET /roster": ROSTER,
		"GET /documents": [],
		"GET /themes": { themes: [], questions: [] },
		"GET /compare/kept": [],
		"PATCH /memos": { count: 2 },
		"PATCH /memos/4": {},
		"PATCH /memos/6": {},
		"POST /memos": { count: 7 },
	}),
);

async function open(search = "") {
	const shown = show(<MemosPage />, { at: `/projects/7/code/memos${search}` });
	await screen.findAllByRole("checkbox", { name: /^Tick the memo/ });
	return shown;
}
const shownMemos = () =>
	texts(document.querySelectorAll("article")).map((text) => MEMOS.find((one) => text.includes(one.text.slice(0, 5)))?.id);

describe("memos", () => {
	it.each([
		["?kind=codebook", [4]],
		["?kind=11", [6]],
		["?kind=none", [5]],
		["?by=Mika", [6]],
		["?on=case", [6]],
		["?since=2026-01-20&until=2026-02-20", [6]],
		["?words=waiting+now", [4]],
		["?sort=oldest", [4, 6, 5]],
		["?sort=by", [6, 4, 5]],
		["?sort=on", [5, 4, 6]],
		["?open=6", [6, 4, 5]],
	])("are found and ordered by what the address says: %s", async (search, ids) => {
		await open(search as string);
		expect(shownMemos()).toEqual(ids);
	});

	it("open what they are on and what they speak of, under its present name", async () => {
		await open();
		expect(screen.getAllByRole("link", { name: "Missed boats" })[0]?.getAttribute("href")).toBe(
			"/projects/7/code/codebook?open=2&show=card",
		);
		expect(screen.getByRole("link", { name: "P10" }).getAttribute("href")).toBe("/projects/7/people?case=21");
		const link = screen.getByRole("link", { name: "Waiting now" });
		expect(link.getAttribute("href")).toBe("/projects/7/code/codebook?open=3&show=card");
		expect(link.getAttribute("title")).toContain("Waiting");
		expect(link.closest("p")?.textContent).toBe("Too wide? See Waiting now and nothing.");
	});

	it("are written with what they speak of offered behind two brackets, by keys alone", async () => {
		const { user } = await open();
		const field = screen.getByRole<HTMLTextAreaElement>("textbox", { name: "New memo" });
		await user.type(field, "Like [[[[wait");
		const list = await screen.findByRole("listbox", { name: "What the memo speaks of" });
		await waitFor(() => expect(texts(within(list).getAllByRole("option"))[0]).toContain("Waiting"));
		expect(field.getAttribute("aria-activedescendant")).toBe(within(list).getAllByRole("option")[0]?.id);
		await user.keyboard("{Enter}");
		expect(field.value).toBe("Like [[Waiting]]");
		await user.keyboard(" again");
		await user.click(screen.getByRole("button", { name: "Keep the memo" }));
		await waitFor(() =>
			expect(calls("POST /memos")).toEqual([
				{ text: "Like [[Waiting]] again", links: [{ said: "Waiting", thing: "code", id: 3 }], kinds: ["reflexive"] },
			]),
		);
	});

	it("say when nothing is called so; Esc lets the brackets be", async () => {
		const { user } = await open();
		const field = screen.getByRole<HTMLTextAreaElement>("textbox", { name: "New memo" });
		await user.type(field, "On [[[[zzz");
		expect(await screen.findByText(/Nothing is called so/)).toBeTruthy();
		await user.keyboard("{Escape}");
		expect(screen.queryByText(/Nothing is called so/)).toBeNull();
		expect(field.value).toBe("On [[zzz");
	});

	it("are of as many kinds as are ticked", async () => {
		const { user } = await open("?kind=11");
		await user.click(screen.getByRole("button", { name: "Kinds of memo: Team, Doubts" }));
		await user.click(await screen.findByRole("checkbox", { name: /^Method/ }));
		await waitFor(() => expect(calls("PATCH /memos/6")).toEqual([{ kinds: ["team", 11, "method"] }]));
	});

	it("are changed in their words", async () => {
		const { user } = await open("?kind=codebook");
		await user.click(screen.getByRole("button", { name: "Change" }));
		const field = screen.getByRole<HTMLTextAreaElement>("textbox", { name: "The memo" });
		await user.clear(field);
		await user.type(field, "No.");
		await user.click(screen.getByRole("button", { name: "Keep" }));
		await waitFor(() => expect(calls("PATCH /memos/4")).toEqual([{ text: "No.", links: [] }]));
	});

	it("that are ticked are given a kind and put on something, all in one step", async () => {
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: "Tick all shown" }));
		await user.click(screen.getByRole("checkbox", { name: /^Tick the memo “Ask Kim/ }));
		const bar = screen.getByRole("region", { name: "With the ticked memos" });
		expect(bar.textContent).toContain("2 memos ticked");
		await user.click(within(bar).getByRole("button", { name: "Give a kind" }));
		await user.click(await screen.findByRole("button", { name: "Doubts" }));
		await waitFor(() => expect(calls("PATCH /memos")).toEqual([{ memos: [4, 5], give: [11] }]));
		await user.click(within(bar).getByRole("button", { name: "Put them on …" }));
		await user.type(await screen.findByRole("combobox", { name: "Put the memos on" }), "Waiting");
		await user.click(await screen.findByRole("option", { name: /^Waiting/ }));
		await waitFor(() => expect(calls("PATCH /memos").at(-1)).toEqual({ memos: [4, 5], put_on: "code", put_on_id: 3 }));
	});

	it("leave as a file, those that are shown in their order", async () => {
		const made = vi.fn(() => "blob:memos");
		vi.stubGlobal("URL", Object.assign(URL, { createObjectURL: made, revokeObjectURL: vi.fn() }));
		nowServe("POST /memos/file/docx", "words");
		const { user } = await open("?sort=oldest");
		await user.click(screen.getByRole("button", { name: "Take out as .docx" }));
		await waitFor(() => expect(made).toHaveBeenCalledOnce());
		expect(calls("POST /memos/file/docx")).toEqual([{ memos: [4, 6, 5] }]);
	});

	it("stand as a list, one of them open beside it", async () => {
		const { user } = show(<MemosPage />, { at: "/projects/7/code/memos?look=list" });
		await user.click(await screen.findByRole("button", { name: "Ask Kim." }));
		expect(address()).toContain("open=6");
		const beside = screen.getByRole("complementary", { name: "The memo chosen" });
		expect(beside.textContent).toContain("Team, Doubts");
		expect(texts(document.querySelectorAll("th")).filter(Boolean)).toEqual(["Ticked", "The memo", "Kinds", "On", "By", "Written"]);
	});

	it("are made into documents, and written on a code where it stands", async () => {
		const speaking = memo(8, "More of [[it]].", { on: "project", links: [{ said: "it", thing: "code", id: 2, name: "Missed boats" }] });
		nowServe("GET /memos", [memo(3, "A stage.", { kinds: ["analytic"] }), speaking]);
		nowServe("POST /memos/3/document", { count: 88 });
		const { user, unmount } = await open();
		await user.click(screen.getAllByRole("button", { name: "Make it a document" })[0] as Element);
		await waitFor(() => expect(address()).toBe("/projects/7/code/88"));
		unmount();
		const card = show(<CodebookPage />, { at: "/projects/7/code/codebook?open=2&show=card" });
		await card.user.click(await screen.findByRole("button", { name: "1 memo on Missed boats" }));
		const dialog = await screen.findByRole("dialog", { name: "Memos on Missed boats" });
		expect(dialog.textContent).toContain("A stage.");
		expect(dialog.textContent).toContain("Others that speak of itCodebook Rana, 5 January 2026More of Missed boats.");
		await card.user.type(within(dialog).getByRole("textbox", { name: "New memo" }), "Or a wait?");
		await card.user.click(within(dialog).getByRole("button", { name: "Keep the memo" }));
		await waitFor(() => expect(calls("POST /memos")).toEqual([{ text: "Or a wait?", links: [], kinds: ["codebook"], code: 2 }]));
	});

	it("have kinds of the project’s own, made, renamed and deleted", async () => {
		nowServe("POST /memos/kinds", { count: 12 });
		nowServe("PATCH /memos/kinds/11", {});
		nowServe("DELETE /memos/kinds/11", {});
		const { user } = await open();
		await user.click(screen.getByRole("button", { name: "Kinds …" }));
		const dialog = await screen.findByRole("dialog", { name: "Kinds of memos" });
		await user.type(within(dialog).getByRole("textbox", { name: "Name of a new kind" }), "Hunches{Enter}");
		await waitFor(() => expect(calls("POST /memos/kinds")).toEqual([{ name: "Hunches" }]));
		const own = within(dialog).getByRole("textbox", { name: "Name of the kind “Doubts”" });
		await user.type(own, " here{Enter}");
		await waitFor(() => expect(calls("PATCH /memos/kinds/11")).toEqual([{ name: "Doubts here" }]));
		await user.click(within(dialog).getByRole("button", { name: "Delete" }));
		await waitFor(() => expect(calls("DELETE /memos/kinds/11")).toHaveLength(1));
	});
});

describe("what memos speak of", () => {
	const things: Thing[] = [
		{ thing: "code", id: 1, name: "Long waiting", kind: "code" },
		{ thing: "code", id: 2, name: "Waiting", kind: "code" },
		{ thing: "theme", id: 2, name: "Waiting", kind: "theme" },
	];

	it("is looked for in brackets that aren’t closed", () => {
		expect(openBrackets("a [[wai", 7)).toEqual({ start: 2, typed: "wai" });
		expect(openBrackets("a [[wai]] b", 11)).toBeNull();
		expect(openBrackets("a [[x\ny", 7)).toBeNull();
		expect(openBrackets("none", 4)).toBeNull();
		expect(matching(things, "wai").map((one) => one.name)).toEqual(["Waiting", "Waiting", "Long waiting"]);
	});

	it("is put in by a name that means one thing only", () => {
		const first = putIn("a [[wai]] b", [], { start: 2, caret: 7 }, things[1] as Thing);
		expect(first).toEqual({ text: "a [[Waiting]] b", links: [{ said: "Waiting", thing: "code", id: 2 }], caret: 13 });
		const second = putIn(`${first.text} [[`, first.links, { start: 16, caret: 18 }, things[2] as Thing);
		expect(second.text).toBe("a [[Waiting]] b [[Waiting (theme)]]");
		expect(second.links.map((one) => one.said)).toEqual(["Waiting", "Waiting (theme)"]);
		const odd = putIn("[[", [], { start: 0, caret: 2 }, { thing: "document", id: 9, name: "A [draft]  of\nit", kind: "document" });
		expect(odd.text).toBe("[[A draft of it]]");
	});

	it("stands in the text in pieces, and without brackets where nothing opens", () => {
		expect(pieces("a [[b  c]] d [[]]")).toEqual([
			{ words: "a ", said: null },
			{ words: "b  c", said: "b c" },
			{ words: " d [[]]", said: null },
		]);
		expect(plainly("a [[b]] c")).toBe("a b c");
	});
});
