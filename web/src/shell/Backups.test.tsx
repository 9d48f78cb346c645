import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { show } from "../tests/harness";
import { serve } from "../tests/server";
import { Backups } from "./Backups";

const NIGHTLY = {
	by_themselves: true,
	kept: "7 days, 5 weeks, 6 months",
	last_whole_at: "2026-11-28T02:00:04Z",
	size: 48 * 1024 ** 2,
	locked: true,
	problem: "",
	gone_by: "2027-05-01",
};

function standing(more: Partial<typeof NIGHTLY> | object) {
	serve({ "GET !/backups": { ...NIGHTLY, ...more } });
	show(<Backups />);
	return screen.findByRole("region", { name: "Backups of this server" });
}

describe("backups", () => {
	it("are told with their day, size and end", async () => {
		const region = await standing({});
		expect(region.textContent).toContain("The last whole one: 28 Nov 2026");
		expect(region.textContent).toContain("48 MB, encrypted. It is dropped by 1 May 2027 at the latest.");
		expect(region.textContent).toContain("Kept are the last of 7 days, 5 weeks, 6 months.");
		expect(region.textContent).not.toContain("isn’t whole");
	});

	it("that failed are said first, beside the last whole one", async () => {
		const region = await standing({ problem: "The disk is full.", locked: false, size: 12 });
		expect(region.textContent).toMatch(/The newest one isn’t whole\. The disk is full\. Tell whoever.*The last whole one/);
		expect(region.textContent).toContain("1 MB, not encrypted");
	});

	it("that nobody makes are said, with what to do", async () => {
		const region = await standing({ by_themselves: false, last_whole_at: null, size: 0, gone_by: null });
		expect(region.textContent).toContain("There is no backup yet.");
		expect(region.textContent).toContain("bin/backup");
	});
});
