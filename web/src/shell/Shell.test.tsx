import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { address, PROJECT, show, texts } from "../tests/harness";
import { ACCOUNT, CODEBOOK, ROSTER, SESSION, STATUS } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { App } from "./App";
import { FindAnything } from "./FindAnything";
import { Members } from "./Members";
import { Projects } from "./Projects";
import { ScopeLine } from "./ScopeLine";

const DOCUMENTS = [
	{
		id: 5,
		title: "P10 pier",
		source_name: "a",
		words: 10,
		turns: 1,
		passages: 0,
		last_coded: null,
		speakers: [],
		kind: "image",
		values: {},
		thumbnail: false,
	},
	{
		id: 6,
		title: "Shop",
		source_name: "b",
		words: 20,
		turns: 1,
		passages: 0,
		last_coded: null,
		speakers: [],
		kind: "image",
		values: {},
		thumbnail: false,
	},
];
const PROJECT_OUT = { ...PROJECT, documents: 2, cases: 3, codes: 4 };

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET !/projects": [PROJECT_OUT],
		"GET /": PROJECT_OUT,
		"GET /roster": ROSTER,
		"GET /documents": DOCUMENTS,
		"GET /variables": [],
		"GET /codebook": CODEBOOK,
		"GET /status": STATUS,
		"POST /undo": { summary: "Late put on a passage", job: null },
		"POST /redo": { summary: "", job: null },
	}),
);

describe("signing in", () => {
	it("comes before anything else, at whatever address", async () => {
		nowServe("GET !/session", { ...SESSION, account: null });
		show(<App />, { at: "/projects/7/compare" });
		expect(await screen.findByRole("button", { name: "Sign in" })).toBeTruthy();
	});

	it("says what is wrong and keeps the name typed", async () => {
		nowServe("GET !/session", { ...SESSION, account: null });
		nowServe("POST !/session", new Refused("Name or password is wrong.", 403));
		const { user } = show(<App />, { at: "/" });
		await user.type(await screen.findByLabelText("Name"), "rana");
		await user.type(screen.getByLabelText("Password"), "nonsense");
		await user.click(screen.getByRole("button", { name: "Sign in" }));
		expect((await screen.findByRole("alert")).textContent).toBe("Name or password is wrong.");
		expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("rana");
	});

	it("opens the address that was asked for", async () => {
		nowServe("GET !/session", { ...SESSION, account: null });
		nowServe("POST !/session", SESSION);
		const { user } = show(<App />, { at: "/projects/7/gather" });
		await user.type(await screen.findByLabelText("Name"), "rana");
		await user.type(screen.getByLabelText("Password"), "right");
		await user.click(screen.getByRole("button", { name: "Sign in" }));
		expect(await screen.findByRole("heading", { name: "Documents" })).toBeTruthy();
		expect(calls("POST !/session")).toEqual([{ username: "rana", password: "right" }]);
	});
});

describe("the frame", () => {
	it("shows how far along each step is", async () => {
		show(<App />, { at: "/projects/7/gather" });
		const steps = await screen.findByRole("navigation", { name: "Steps" });
		await waitFor(() => expect(texts(steps.querySelectorAll("a")).slice(0, 3)).toEqual(["Gather 2", "People 1", "Code 3"]));
	});

	it("takes back by Ctrl Z, but not while a field with text is typed in", async () => {
		const { user } = show(<App />, { at: "/projects/7/gather" });
		await user.type(await screen.findByRole("textbox", { name: "Filter documents" }), "pier");
		await user.keyboard("{Control>}z{/Control}");
		expect(calls("POST /undo")).toEqual([]);
		await user.click(screen.getByRole("heading", { name: "Documents", level: 2 }));
		await user.keyboard("{Control>}z{/Control}");
		expect(await screen.findByText("Taken back: Late put on a passage")).toBeTruthy();
		await user.keyboard("{Control>}y{/Control}");
		expect(await screen.findByText("There is nothing to do again.")).toBeTruthy();
	});

	it("says that much is taken back when its job has ended", async () => {
		const job = { id: 5, title: "Taking back: Brought in 900 documents", state: "running", done: 1, total: 9, message: "", project: 7 };
		nowServe("POST /undo", { summary: null, job });
		nowServe("GET /jobs/5", job);
		const { user } = show(<App />, { at: "/projects/7/gather" });
		await screen.findByRole("navigation", { name: "Steps" });
		await user.keyboard("{Control>}z{/Control}");
		await waitFor(() => expect(calls("GET /jobs/5").length).toBeGreaterThan(0));
		expect(screen.queryByText(/^Taken back/)).toBeNull();
		nowServe("GET /jobs/5", { ...job, state: "done", message: "Taken back: Brought in 900 documents" });
		expect(await screen.findByText("Taken back: Brought in 900 documents", {}, { timeout: 3000 })).toBeTruthy();
	});

	it("finds anything by Ctrl K and part of its name, and goes there", async () => {
		const { user } = show(<FindAnything />);
		await user.keyboard("{Control>}k{/Control}");
		await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("combobox", { name: "Find anything" })));
		await user.keyboard("missed{Escape}");
		await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
		await user.keyboard("{Control>}k{/Control}");
		await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("combobox", { name: "Find anything" })));
		await user.keyboard("missed bo");
		const options = await screen.findAllByRole("option");
		expect(texts(options)).toEqual(["Missed boatscode: compare it"]);
		await user.click(options[0] as HTMLElement);
		expect(address()).toBe("/projects/7/compare?codes=2");
	});

	it("says that nothing is called that only once everything is there to look through", async () => {
		const { user } = show(<FindAnything />);
		await user.keyboard("{Control>}k{/Control}");
		await user.type(await screen.findByRole("combobox", { name: "Find anything" }), "zebra");
		await waitFor(() => expect(calls("GET /roster").length).toBe(1));
		expect(await screen.findByText("Nothing here is called that.")).toBeTruthy();
	});
});

describe("the scope line", () => {
	it("tells what is in play", async () => {
		const { container } = show(<ScopeLine />, { at: "/projects/7/gather" });
		await waitFor(() => expect(texts(container.querySelectorAll("div.w-full"))).toEqual(["Looking at all 3 people and all 2 documents."]));
	});

	it("says no number before it is known", async () => {
		nowServe("GET /codebook", new Promise(() => {}));
		const { container } = show(<ScopeLine />, { at: "/projects/7/compare" });
		await waitFor(() => expect(calls("GET /codebook")).toHaveLength(1));
		expect(texts(container.querySelectorAll("div.w-full"))).toEqual(["Looking at …"]);
	});

	it("narrows by value, says what is left out, and clears", async () => {
		const { user, container } = show(<ScopeLine />, { at: "/projects/7/compare" });
		await user.click(await screen.findByRole("button", { name: "all 3 people" }));
		await user.type(await screen.findByRole("textbox", { name: "Filter people by name or value" }), "holm");
		await user.click(screen.getByRole("button", { name: "Only the 1 listed" }));
		expect(address()).toBe("/projects/7/compare?cases=21");
		expect(container.textContent).toContain("Leaves out 2 people");
		await user.keyboard("{Escape}");
		await user.click(screen.getByRole("button", { name: "Clear" }));
		expect(address()).toBe("/projects/7/compare");
	});

	it("takes single people out and back in", async () => {
		const { user } = show(<ScopeLine />, { at: "/projects/7/compare" });
		await user.click(await screen.findByRole("button", { name: "all 3 people" }));
		await user.click(await screen.findByRole("checkbox", { name: /P2/ }));
		expect(address()).toBe("/projects/7/compare?cases=21.23");
		await user.click(screen.getByRole("checkbox", { name: /P2/ }));
		expect(address()).toBe("/projects/7/compare");
	});
});

describe("members", () => {
	const MEMBERS = [
		{ id: 1, role: "owner", account: ACCOUNT },
		{ id: 2, role: "coder", account: { id: 2, username: "mika", display_name: "Mika", initials: "M" } },
	];
	beforeEach(() => {
		nowServe("GET /members", MEMBERS);
		nowServe("PATCH /members/2", {});
		nowServe("POST /members", {});
	});

	it("gives a member another role", async () => {
		const { user } = show(<Members />);
		await user.click(await screen.findByRole("button", { name: "Role of Mika: coder" }));
		await user.click(await screen.findByRole("option", { name: /^viewer/ }));
		await waitFor(() => expect(calls("PATCH /members/2")).toEqual([{ role: "viewer" }]));
	});

	it("shows a coder who is here, and no more", async () => {
		show(<Members />, { project: { role: "coder" } });
		expect(await screen.findByText("Mika")).toBeTruthy();
		expect(screen.queryByRole("button", { name: "Remove" })).toBeNull();
		expect(screen.queryByText("Add a member")).toBeNull();
	});

	it("adds one, and keeps what was typed when it is refused", async () => {
		nowServe("POST /members", new Refused("This password is too short.", 400));
		const { user } = show(<Members />);
		await user.type(await screen.findByLabelText("Signs in as"), "vera");
		await user.click(screen.getByRole("button", { name: "Add" }));
		expect((await screen.findByRole("alert")).textContent).toContain("This password is too short.");
		expect(screen.getByLabelText<HTMLInputElement>("Signs in as").value).toBe("vera");
		nowServe("POST /members", {});
		await user.click(screen.getByRole("button", { name: "Add" }));
		await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Signs in as").value).toBe(""));
		expect(calls("POST /members").at(-1)).toMatchObject({ username: "vera", role: "coder" });
	});

	it("lets owners set what may leave with the project’s words, and kept within bounds", async () => {
		nowServe("PATCH /", {});
		const { user } = show(<Members />, { project: { hide_below: 3, round_to: 0 } });
		const field = await screen.findByLabelText<HTMLInputElement>(/Hide cells of fewer than/);
		expect(field.value).toBe("3");
		await user.clear(field);
		await user.type(field, "99");
		expect(field.value).toBe("50");
		await user.click(screen.getByRole("button", { name: /^Rounding of counts/ }));
		await user.click(screen.getByRole("option", { name: "rounded to 5s" }));
		await user.click(screen.getByRole("button", { name: "Save" }));
		await waitFor(() => expect(calls("PATCH /").at(-1)).toMatchObject({ hide_below: 50, round_to: 5, case_many: "people" }));
	});

	it("doesn’t offer that to others", async () => {
		show(<Members />, { project: { role: "coder" } });
		await screen.findByRole("heading", { name: "Members" });
		expect(screen.queryByLabelText(/Hide cells of fewer than/)).toBeNull();
	});
});

describe("projects", () => {
	it("makes one with the researcher’s own word for a case, and goes there", async () => {
		nowServe("POST !/projects", { ...PROJECT_OUT, id: 9 });
		const { user } = show(<Projects />, { at: "/", path: "/" });
		await user.click(await screen.findByRole("button", { name: "New project" }));
		const dialog = screen.getByRole("dialog");
		await user.type(within(dialog).getByLabelText("Name"), "Wells");
		await user.clear(within(dialog).getByLabelText("One case is a"));
		await user.type(within(dialog).getByLabelText("One case is a"), "household");
		await user.clear(within(dialog).getByLabelText("Several are"));
		await user.type(within(dialog).getByLabelText("Several are"), "households");
		await user.click(within(dialog).getByRole("button", { name: "Make the project" }));
		await waitFor(() => expect(calls("POST !/projects")).toEqual([{ name: "Wells", case_one: "household", case_many: "households" }]));
		expect(address()).toBe("/projects/9/gather");
	});
});
