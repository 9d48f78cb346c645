import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { PROJECT, show } from "../tests/harness";
import { COMPARISON, QUESTION } from "../tests/samples";
import { calls, Refused, serve } from "../tests/server";
import { Adjusted } from "./Adjusted";
import { Export } from "./exports/Export";
import { GuardedPicture } from "./exports/ExportMenu";
import { madeOf, short } from "./figures";
import { legendOf } from "./legend";
import { Steady } from "./Steady";
import { readView } from "./view";

const HELD = { ...QUESTION, adjusted: [12, 13] };
const CELL = { plain: 0.4, standardised: 0.31, odds_ratio: 0.62, low: 0.2, high: 1.9 };
const FIRST = { plain: 0.5, standardised: 0.45, odds_ratio: 1, low: null, high: null };
const ROW = { kind: "code", id: 2, name: "Missed boats", colour: 2, cells: [FIRST, CELL], p: 0.031, why_not: "", separated: false };
const ADJUSTED = {
	facts: ["Age", "Vehicle", "Island"],
	people: 74,
	unknown: 6,
	problem: "",
	notes: ["6 people are left out."],
	rows: [ROW],
};

describe("several facts held at once", () => {
	const adjusted = (more = {}) => {
		serve({ "POST /compare/adjusted": { ...ADJUSTED, ...more } });
		return show(<Adjusted question={HELD} result={COMPARISON} />);
	};

	it("shows each group’s share as it is and as it would be, with odds over the first group", async () => {
		adjusted();
		expect(await screen.findByRole("heading", { name: "If the groups were alike in Age, Vehicle and Island" })).toBeTruthy();
		expect(screen.getByText(/of 74 whose facts are known/)).toBeTruthy();
		const cells = screen.getAllByRole("cell");
		expect(cells[0]?.textContent).toBe("50 → 45odds 1");
		expect(cells[1]?.textContent).toBe("40 → 31odds 0.62 (0.20 to 1.90)");
		expect(cells[2]?.textContent).toBe(".031");
		expect(screen.getByText("6 people are left out.")).toBeTruthy();
		expect(calls("POST /compare/adjusted")[0]).toMatchObject({ adjusted: [12, 13], variable: 11 });
	});

	it("says of a row why it isn’t computed, and marks one that facts part", async () => {
		const why = ["few", "all", "nobody"].map((why_not, at) => ({ ...ROW, id: 10 + at, name: `Code ${why_not}`, why_not, p: null }));
		adjusted({ rows: [{ ...ROW, separated: true }, ...why] });
		expect(await screen.findByText("parted")).toBeTruthy();
		expect(screen.getByText("Not computed: too few mention it, or don’t.")).toBeTruthy();
		expect(screen.getByText("Not computed: everybody mentions it.")).toBeTruthy();
		expect(screen.getByText("Not computed: nobody mentions it.")).toBeTruthy();
	});

	it("tells a group nobody of which was taken in, and an end that isn’t there", async () => {
		const nobody = { plain: null, standardised: null, odds_ratio: null, low: null, high: null };
		adjusted({ rows: [{ ...ROW, cells: [{ ...CELL, high: null }, nobody] }] });
		expect(await screen.findByText("odds 0.62 (0.20 to ∞)")).toBeTruthy();
		expect(screen.getByText("nobody taken in")).toBeTruthy();
	});

	it("gives the one sentence that says why not, or that no row has enough people", async () => {
		const { unmount } = adjusted({ problem: "Island follows from the groups.", rows: [] });
		expect(await screen.findByText("Island follows from the groups.")).toBeTruthy();
		expect(screen.queryByRole("table")).toBeNull();
		unmount();
		adjusted({ rows: [{ ...ROW, why_not: "few" }] });
		expect(await screen.findByText("No row has enough people for that.")).toBeTruthy();
		expect(screen.queryByRole("table")).toBeNull();
	});

	it("shows a refusal as it is", async () => {
		serve({ "POST /compare/adjusted": new Refused("Age makes the groups, so it can’t be held at once.") });
		show(<Adjusted question={HELD} result={COMPARISON} />);
		expect(await screen.findByText("Age makes the groups, so it can’t be held at once.")).toBeTruthy();
	});
});

describe("the ways out", () => {
	const onLeast = vi.fn();
	const onLeaving = vi.fn();
	const open = async (project = {}, least = 0, form: "table" | "people" | "map" = "table") => {
		onLeast.mockClear();
		onLeaving.mockClear();
		const shown = show(
			<Export
				question={QUESTION}
				result={COMPARISON}
				view={{ ...readView(new URLSearchParams()), form }}
				least={least}
				onLeast={onLeast}
				onLeaving={onLeaving}
			/>,
			{ project: { ...PROJECT, ...project } },
		);
		await shown.user.click(screen.getByRole("button", { name: "Export ▾" }));
		return { ...shown, panel: await screen.findByRole("dialog", { name: "Export" }) };
	};

	it("stays open while a limit is typed, and hands it on", async () => {
		serve({});
		const { user, panel } = await open();
		const field = within(panel).getByRole("spinbutton", { name: /Hide cells of fewer than/ });
		await user.click(field);
		await user.keyboard("{ArrowUp}4");
		expect(screen.getByRole("dialog", { name: "Export" })).toBeTruthy();
		expect(onLeast).toHaveBeenCalled();
		expect(within(panel).getByText("Figure, as it stands")).toBeTruthy();
	});

	it("says the project’s own limit, and never shows a looser one", async () => {
		serve({});
		const { panel } = await open({ hide_below: 5 }, 2);
		expect(within(panel).getByRole("spinbutton").getAttribute("value")).toBe("5");
		expect(within(panel).getByText("The project’s own limit is 5: it can be tightened here, not loosened.")).toBeTruthy();
		expect(within(panel).getByText("Figure, with the same hidden")).toBeTruthy();
	});

	it("says that counts leave rounded", async () => {
		serve({});
		const { panel } = await open({ round_to: 3 });
		expect(within(panel).getByText("Counts leave rounded to 3s.")).toBeTruthy();
	});

	it("puts the table where it is pasted from, as text and as HTML", async () => {
		serve({ "POST /compare/export": new Response("Code\tnever: share\tnever: people\nWaiting\t0.2222\t2\n") });
		const { user, panel } = await open();
		const held: Record<string, Promise<Blob>>[] = [];
		vi.stubGlobal(
			"ClipboardItem",
			class {
				constructor(parts: Record<string, Promise<Blob>>) {
					held.push(parts);
				}
			},
		);
		vi.spyOn(navigator.clipboard, "write").mockResolvedValue();
		await user.click(within(panel).getByRole("button", { name: "Copy as table" }));
		expect(await screen.findByText("Copied: a table with every figure in a cell of its own.")).toBeTruthy();
		expect(calls("POST /compare/export")[0]).toMatchObject({ format: "tsv", what: "table" });
		expect(await (await held[0]?.["text/plain"])?.text()).toContain("Waiting\t0.2222\t2");
		expect(await (await held[0]?.["text/html"])?.text()).toContain("<td>Waiting</td><td>0.2222</td><td>2</td>");
		vi.unstubAllGlobals();
	});

	it("says why a table couldn’t be copied", async () => {
		serve({ "POST /compare/export": new Refused("These figures would tell of single people.", 409) });
		const { user, panel } = await open();
		vi.stubGlobal("ClipboardItem", class {});
		vi.spyOn(navigator.clipboard, "write").mockResolvedValue();
		await user.click(within(panel).getByRole("button", { name: "Copy as table" }));
		expect(await screen.findByText("These figures would tell of single people.")).toBeTruthy();
		vi.unstubAllGlobals();
	});

	it("goes from way to way by arrow keys", async () => {
		serve({});
		const { user, panel } = await open();
		within(panel).getByRole("button", { name: "Spreadsheet (.xlsx)" }).focus();
		await user.keyboard("{ArrowDown}");
		expect(document.activeElement?.textContent).toBe("Plain table (.csv)");
		await user.keyboard("{ArrowUp}{ArrowUp}{ArrowUp}");
		expect(document.activeElement?.tagName).toBe("INPUT");
	});

	it("draws a figure from what may leave, and puts the page back", async () => {
		const hidden = {
			...COMPARISON,
			guarded: true,
			left_out_line: "Not counted here.",
			cautions: [{ kind: "hidden", text: "2 figures are hidden." }],
		};
		serve({ "POST /compare/leaving": hidden });
		const { user, panel } = await open({ hide_below: 4 }, 6);
		await user.click(within(panel).getByRole("button", { name: "Drawing (.svg)" }));
		await waitFor(() => expect(onLeaving).toHaveBeenLastCalledWith(null));
		expect(onLeaving).toHaveBeenCalledWith(expect.objectContaining({ guarded: true }));
		expect(calls("POST /compare/leaving")[0]).toMatchObject({ codes: [2, 3], least: 6 });
	});

	it("keeps forms that show single people where there is a limit", async () => {
		serve({});
		for (const form of ["people", "map"] as const) {
			const { user, panel, unmount } = await open({ hide_below: 4 }, 0, form);
			await user.click(within(panel).getByRole("button", { name: "Picture (.png)" }));
			expect(await screen.findByText(/with small cells hidden it doesn’t leave/)).toBeTruthy();
			expect(calls("POST /compare/leaving")).toEqual([]);
			unmount();
		}
	});

	it("says what went wrong, and still puts the page back", async () => {
		serve({ "POST /compare/leaving": new Refused("The project has changed; ask again.") });
		const { user, panel } = await open({ hide_below: 4 });
		await user.click(within(panel).getByRole("button", { name: "Drawing (.svg)" }));
		expect(await screen.findByText("The project has changed; ask again.")).toBeTruthy();
		expect(onLeaving).toHaveBeenLastCalledWith(null);
	});

	it("keeps figures of exact counts on other pages where there is a limit", async () => {
		serve({});
		const { user } = show(<GuardedPicture above={[]} below={[]} name="tiles" />, { project: { ...PROJECT, round_to: 3 } });
		await user.click(screen.getByRole("button", { name: "Drawing (.svg)" }));
		expect(await screen.findByText(/Take the spreadsheet instead/)).toBeTruthy();
	});
});

describe("figures in words", () => {
	it("writes nothing beside a figure that is hidden", () => {
		expect(short(COMPARISON.figures, null)).toBe("–");
		expect(madeOf(COMPARISON.figures, 0, 0)).toBe("");
		expect(madeOf(COMPARISON.figures, 3, 9)).toBe("3 of 9");
	});
});

describe("how steady a difference is", () => {
	const range = (least: number, most: number) => ({ count: 12, least, least_without: "P07", most, most_without: "P01" });
	const FOUND = {
		row: 0,
		groups: [1, 0],
		people: range(0.41, 0.6),
		documents: range(0.3, 0.62),
		coders: range(-0.1, 0.5),
		choices: [],
		holds: 0,
	};

	it("gives ranges in points, with who makes the least", () => {
		serve({});
		show(<Steady found={FOUND} waiting={false} share onChange={vi.fn()} />);
		expect(screen.getByText(/Without any one person of 12:/).textContent).toBe(
			"Without any one person of 12: 41 to 60 points (least without P07).",
		);
		expect(screen.getByText(/Without any one coder of 12:/).textContent).toContain("−10 to 50");
	});

	it("gives means and rates as they are", () => {
		serve({});
		show(<Steady found={{ ...FOUND, people: range(1.234, 12.34) }} waiting={false} share={false} onChange={vi.fn()} />);
		expect(screen.getByText(/Without any one person/).textContent).toBe("Without any one person of 12: 1.23 to 12.3 (least without P07).");
	});

	it("says that it is being worked out, and nothing where there is nothing", () => {
		serve({});
		const { unmount } = show(<Steady found={undefined} waiting share onChange={vi.fn()} />);
		expect(screen.getByText("Leaving out one after the other …")).toBeTruthy();
		unmount();
		const { container } = show(<Steady found={undefined} waiting={false} share onChange={vi.fn()} />);
		expect(container.querySelector("ul")).toBeNull();
	});
});

it("what tints and thin lines mean is said of the forms that have them, and of no other", () => {
	const said = (query: string, result = COMPARISON) => legendOf(result, readView(new URLSearchParams(query)));
	expect(said("")).toMatch(/^Tint: plum below, moss above .* Thin line: 95 % interval \(Wilson\)\.$/);
	expect(said("form=gaps")).toBe("Thin line: 95 % interval (Newcombe).");
	expect([said("form=matrix"), said("form=bars&stack=1")]).toEqual(["", ""]);
	expect(said("", { ...COMPARISON, measure: "rate" })).not.toContain("interval");
});
