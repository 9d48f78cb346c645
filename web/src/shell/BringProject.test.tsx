import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { address, show } from "../tests/harness";
import { answer, calls, Refused, serve } from "../tests/server";
import { BringProject } from "./BringProject";
import { TakeOut } from "./TakeOut";

const account = (id: number, username: string) => ({ id, username, display_name: `${username} here`, initials: "XX" });
const FILE = {
	id: 4,
	name: "After the winter timetable",
	case_one: "household",
	case_many: "households",
	made_at: "2026-11-20T08:00:00Z",
	size: 3 * 1024 ** 2,
	trail: true,
	missing: 0,
	counts: { documents: 94, cases: 26, codes: 1, codings: 553, memos: 6, comparisons: 3, frozen: 2, exhibits: 2 },
	people: [
		{ id: 1, name: "Rana Aske", username: "rana", role: "owner", here: account(1, "rana"), me: true },
		{ id: 2, name: "Mika Kell", username: "mika", role: "coder", here: account(2, "mika"), me: false },
		{ id: 3, name: "Vera Lund", username: "vera", role: null, here: null, me: false },
	],
};
const JOB = { id: 9, title: "Bringing in", state: "running", done: 3, total: 10, message: "Bringing in codes", project: null };

/** The browser's own way of sending a form, answered by the server in memory. */
class Sending {
	upload: { onprogress?: (event: object) => void } = {};
	status = 0;
	response: unknown = null;
	onload = () => {};
	onerror = () => {};
	private path = "";
	open(_method: string, path: string) {
		this.path = path;
	}
	setRequestHeader() {}
	send() {
		this.upload.onprogress?.({ lengthComputable: true, loaded: 1, total: 2 });
		void answer(new Request(`http://here${this.path}`, { method: "POST", body: "form" })).then(async (said) => {
			this.status = said.status;
			this.response = await said.json();
			this.onload();
		});
	}
}

async function chosen(routes: Record<string, unknown> = {}) {
	vi.stubGlobal("XMLHttpRequest", Sending);
	serve({ "POST !/project-files": FILE, "POST !/project-files/4/bring-in": JOB, "GET !/jobs/9": JOB, ...routes });
	const closed = vi.fn();
	const { user } = show(<BringProject onClose={closed} />);
	await user.upload(await screen.findByLabelText("File of a project"), new File(["zip"], "it.zip"));
	return { user, closed };
}

describe("bringing a project in", () => {
	it("says what is in the file and who is who, and sends what was chosen", async () => {
		const { user } = await chosen();
		expect(await screen.findByText(/94 documents · 26 households · 1 code · 553 codings · 6 memos/)).toBeTruthy();
		const people = screen.getByRole("region", { name: "Who is who here" });
		expect(within(people).getByRole("button", { name: /Who Rana Aske is here/ }).textContent).toContain("that’s me");
		expect(within(people).getByRole("button", { name: /Who Mika Kell is here/ }).textContent).toContain("mika here, who signs in as mika");
		expect(within(people).getByRole("button", { name: /Who Vera Lund is here/ }).textContent).toContain("the name only");
		expect(people.textContent).toContain("vera · not a member any more");
		await user.click(within(people).getByRole("button", { name: /Who Vera Lund is here/ }));
		await user.click(screen.getByRole("option", { name: "that’s me" }));
		expect(within(people).getByRole("button", { name: /Who Rana Aske is here/ }).textContent).toContain("the name only");
		await user.click(screen.getByRole("checkbox", { name: /With the trail/ }));
		await user.click(screen.getByRole("button", { name: "Bring it in" }));
		await waitFor(() =>
			expect(calls("POST !/project-files/4/bring-in")).toEqual([
				{
					trail: false,
					people: [
						{ id: 1, becomes: "name" },
						{ id: 2, becomes: "account" },
						{ id: 3, becomes: "me" },
					],
				},
			]),
		);
		expect(await screen.findByText("Bringing in codes")).toBeTruthy();
	});

	it("opens the project when it is there", async () => {
		const { user, closed } = await chosen({ "GET !/jobs/9": { ...JOB, state: "done", message: "Brought in.", project: 12 } });
		await user.click(await screen.findByRole("button", { name: "Bring it in" }));
		await waitFor(() => expect(address()).toBe("/projects/12"));
		expect(closed).toHaveBeenCalled();
	});

	it("says why it failed, and leads back to the file", async () => {
		const { user } = await chosen({ "GET !/jobs/9": { ...JOB, state: "failed", message: "The file isn’t whole. Nothing was written." } });
		await user.click(await screen.findByRole("button", { name: "Bring it in" }));
		expect((await screen.findByRole("alert")).textContent).toContain("The file isn’t whole. Nothing was written.");
		await user.click(screen.getByRole("button", { name: "Back" }));
		expect(await screen.findByText("After the winter timetable")).toBeTruthy();
	});

	it("says what a file that isn’t one lacks, and can be told another", async () => {
		await chosen({ "POST !/project-files": new Refused("This isn’t a project’s file.") });
		expect((await screen.findByRole("alert")).textContent).toContain("This isn’t a project’s file.");
		expect((screen.getByLabelText("File of a project") as HTMLInputElement).disabled).toBe(false);
	});

	it("tells what had been lost, and lets go of a file that isn’t brought in", async () => {
		const { user, closed } = await chosen({
			"POST !/project-files": { ...FILE, missing: 2, trail: false },
			"DELETE !/project-files/4": {},
		});
		expect(await screen.findByText("2 pictures or recordings had been lost already when it was made.")).toBeTruthy();
		expect(screen.queryByRole("checkbox")).toBeNull();
		await user.click(screen.getByRole("button", { name: "Close" }));
		await waitFor(() => expect(calls("DELETE !/project-files/4")).toHaveLength(1));
		expect(closed).toHaveBeenCalled();
	});
});

describe("taking a project out", () => {
	it("is a link, with the trail or without", async () => {
		serve({});
		const { user } = show(<TakeOut />);
		const link = await screen.findByRole("link", { name: "Take the project out" });
		expect(link.getAttribute("href")).toBe("/api/projects/7/file?trail=true");
		await user.click(screen.getByRole("checkbox", { name: /With the trail/ }));
		expect(link.getAttribute("href")).toBe("/api/projects/7/file?trail=false");
	});
});
