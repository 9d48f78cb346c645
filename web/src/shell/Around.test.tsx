import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { AccountMenu } from "../accounts/AccountMenu";
import { show, texts } from "../tests/harness";
import { SESSION, STATUS } from "../tests/samples";
import { calls, nowServe, serve } from "../tests/server";
import { History } from "./History";
import { Jobs } from "./Jobs";

const JOB = { id: 3, title: "Bringing in 40 files", state: "running", done: 10, total: 40, message: "" };

beforeEach(() =>
	serve({
		"GET !/session": SESSION,
		"GET /status": { ...STATUS, jobs: [JOB] },
		"DELETE /jobs/3": {},
		"GET /trail": [
			{ revision: 9, actor: "Rana", summary: "Put Late on “the boat”", undone: false, at: "2026-03-02T10:00:00Z" },
			{ revision: 8, actor: "Mika", summary: "Deleted P3", undone: true, at: "2026-03-01T09:00:00Z" },
		],
		"PUT !/password": {},
		"DELETE !/session": {},
	}),
);

describe("work under way", () => {
	it("says how far it is and can be cancelled", async () => {
		const { user } = show(<Jobs />);
		const bar = await screen.findByRole<HTMLProgressElement>("progressbar", { name: "Bringing in 40 files" });
		expect([bar.value, bar.max]).toEqual([10, 40]);
		await user.click(screen.getByRole("button", { name: "Cancel" }));
		await waitFor(() => expect(calls("DELETE /jobs/3").length).toBe(1));
	});

	it("is nothing where there is none", async () => {
		nowServe("GET /status", STATUS);
		const { container } = show(<Jobs />);
		await waitFor(() => expect(calls("GET /status").length).toBe(1));
		expect(container.querySelector("progress")).toBeNull();
	});
});

describe("the trail", () => {
	it("lists who did what, and what was taken back in words too", async () => {
		show(<History />);
		const list = await screen.findByRole("list");
		expect(texts(within(list).getAllByRole("listitem")).map((text) => text.replace(/^.*\d\d:\d\d/, ""))).toEqual([
			"Put Late on “the boat”Rana",
			"Deleted P3 (taken back)Mika",
		]);
	});
});

describe("the account", () => {
	const open = async () => {
		const shown = show(<AccountMenu projectId={7} />);
		await shown.user.click(await screen.findByRole("button", { name: "Account of Rana" }));
		return shown;
	};

	it("leads to members, to the trail and out", async () => {
		const { user } = await open();
		expect(screen.getByRole("menuitem", { name: "Members" }).getAttribute("href")).toBe("/projects/7/members");
		await user.click(screen.getByRole("menuitem", { name: "Sign out" }));
		await waitFor(() => expect(calls("DELETE !/session").length).toBe(1));
	});
});
