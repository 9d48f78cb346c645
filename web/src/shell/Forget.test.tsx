import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { show } from "../tests/harness";
import { calls, Refused, serve } from "../tests/server";
import { Forget } from "./Forget";

const PREVIEW = {
	called: "P07",
	documents: ["P07_pier"],
	shared: ["Group_norrby"],
	names: ["P07", "Anna", "41"],
	turns: 4,
	passages: 12,
	codings: 15,
	values: 8,
	memos: 1,
	digests: 2,
	pieces: 0,
	media: 1,
	staged: 1,
	frozen: 2,
	written: 3,
	elsewhere: ["P09_home"],
	backups_gone_by: "2027-05-01",
	backups_by_themselves: true,
};

async function opened(more: Record<string, unknown> = {}) {
	serve({
		"GET /roster": { cases: [{ id: 7, identifier: "P07" }], variables: [], columns: [] },
		"GET /documents": [{ id: 3, title: "P07_pier" }],
		"GET /forget": PREVIEW,
		"POST /forget": { said: "The person is forgotten." },
		...more,
	});
	const { user } = show(<Forget />);
	await user.type(await screen.findByLabelText("Which person to forget"), "P07");
	await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: "See what would go" }).disabled).toBe(false));
	await user.click(screen.getByRole("button", { name: "See what would go" }));
	return { user, dialog: await screen.findByRole("dialog", { name: "What would go for good" }) };
}

describe("forgetting", () => {
	it("says all that goes before it does, and what isn’t reached", async () => {
		const { dialog } = await opened();
		await within(dialog).findByText("Whole: P07_pier");
		for (const said of [
			"4 turns of theirs in Group_norrby, where others speak too",
			"8 values known of the person",
			"12 passages with 15 codings",
			"1 memo, 2 digests, 0 pieces of exhibits",
			"1 file that waits to be brought in",
			"Looked for under “P07”, “Anna”",
			"“41” only where it stands alone",
			"A name of theirs stands in 1 text of others, which stay as they are: P09_home.",
			"those made every night have gone by 1 May 2027",
		])
			expect(dialog.textContent).toContain(said);
	});

	it("wants the name typed, and sends whether figures stay", async () => {
		const { user, dialog } = await opened();
		const button = await within(dialog).findByRole<HTMLButtonElement>("button", { name: "Forget for good" });
		expect(button.disabled).toBe(true);
		await user.type(within(dialog).getByRole("textbox"), "P07");
		await user.click(within(dialog).getByRole("checkbox"));
		await user.click(button);
		await waitFor(() => expect(calls("POST /forget")).toEqual([{ case: 7, typed: "P07", keep_figures: false }]));
		await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
	});

	it("says why it can’t be done", async () => {
		const { user, dialog } = await opened({ "POST /forget": new Refused("An import is under way.") });
		await user.type(await within(dialog).findByRole("textbox"), "P07{Enter}");
		expect((await within(dialog).findByRole("alert")).textContent).toBe("An import is under way.");
	});

	it("gives what is held of somebody as a document", async () => {
		const { user, dialog } = await opened();
		await user.click(within(dialog).getByRole("button", { name: "Close" }));
		await user.type(screen.getByLabelText("Which person to forget"), "P07");
		expect(screen.getByRole("link", { name: /What is held of them/ }).getAttribute("href")).toBe("/api/projects/7/held/7");
	});

	it("knows who and what there is", async () => {
		serve({ "GET /roster": { cases: [], variables: [], columns: [] }, "GET /documents": [{ id: 3, title: "P07_pier" }] });
		const { user } = show(<Forget />);
		await user.type(await screen.findByLabelText("Which person to forget"), "P9");
		expect(screen.getByText("No person is called so.")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "A document" }));
		await user.type(screen.getByLabelText("Which document to forget"), "P07_pier");
		await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: "See what would go" }).disabled).toBe(false));
	});
});
