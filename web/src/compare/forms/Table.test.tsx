import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { show } from "../../tests/harness";
import { COMPARISON, FIGURES } from "../../tests/samples";
import { serve } from "../../tests/server";
import { standings } from "../marks";
import type { Tint } from "../view";
import { Table } from "./Table";

const ODDS = { odds_ratio: 2.5, infinite: false, low: 1.1, high: 5.75, differ_p: 0.01, differ_holm: 0.02, effect: 0.2 };

describe("the table", () => {
	const onOpen = vi.fn();
	const table = (more = {}, tint: Tint = "expected") => {
		serve({});
		return show(<Table result={{ ...COMPARISON, ...more }} places={[0, 1]} tint={tint} opened={null} onOpen={onOpen} onPair={vi.fn()} />);
	};

	it("gives every share with its count, base, interval and residual", () => {
		table();
		const cell = screen.getByRole("button", { name: /Missed boats, Holm/ });
		expect(cell.textContent).toBe("80 8 of 10");
		expect(cell.getAttribute("title")).toContain("95 % interval 40 to 100 %");
		expect(cell.getAttribute("title")).toContain("adjusted residual 2.68");
		expect(cell.getAttribute("title")).toContain("8 people, 9 passages; most by one: 2 (P10)");
	});

	it("tints above and below what would be expected, and nothing in between", () => {
		const { container } = table();
		const tints = [...container.querySelectorAll("td.relative")].map((td) => td.className.match(/bg-(?:above|below|amount)[\w-]*/)?.[0]);
		expect(tints).toEqual(["bg-above-more", "bg-below-more", undefined, undefined]);
	});

	it("says the difference and its interval in words, and a row without one says nothing", () => {
		table();
		expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
			"60 points (95 % interval 18 to 80); odds ratio 16.00; relative risk 4.00; from 62 points on a difference would show in 4 of 5 such studies",
		);
	});

	it("shows the size of the effect before a corrected p, and names the test", () => {
		const { container } = table();
		const test = container.querySelector("td[title^='Fisher']");
		expect(test?.querySelector("[aria-hidden]")?.textContent).toBe(".55.046");
		expect(test?.getAttribute("title")).toContain("corrected by Holm");
	});

	it("opens the cell, and everyone, that is clicked", async () => {
		const { user } = table();
		await user.click(screen.getByRole("button", { name: /Waiting, Strand/ }));
		expect(onOpen).toHaveBeenLastCalledWith({ row: 1, group: 1, left_out: null });
		await user.click(screen.getByRole("button", { name: /Waiting, everyone/ }));
		expect(onOpen).toHaveBeenLastCalledWith({ row: 1, group: null, left_out: null });
	});

	it("names a talkative person beside a count of passages", () => {
		const rows = COMPARISON.rows.map((row) => ({
			...row,
			cells: row.cells.map((cell) => ({ ...cell, passages: 9, most: 8, residual: null })),
			difference: null,
		}));
		table({ measure: "passages", base: "column", figures: FIGURES.passages, rows });
		expect(screen.getAllByText("▴8 by P10").length).toBe(4);
	});

	it("puts layers over their groups, with the common odds ratio and where layers differ", () => {
		const groups = ["North", "South"].flatMap((outer) =>
			COMPARISON.groups.map((group) => ({ ...group, name: `${outer} · ${group.label}`, outer })),
		);
		const rows = COMPARISON.rows.map((row, place) => ({
			...row,
			cells: [...row.cells, ...row.cells],
			difference: null,
			test: { ...row.test, kind: "layered" as const, effect: null },
			layers: place === 0 ? ODDS : null,
		}));
		table({ groups, rows, outer: ["North", "South"], layered: true, difference: null });
		const heads = screen.getAllByRole("columnheader", { name: /^(North|South)$/ });
		expect(heads.map((head) => head.getAttribute("colspan"))).toEqual(["2", "2"]);
		expect(screen.getByText(/Common odds ratio 2.50 .*interval 1.10 to 5.75; whether layers differ: p .010/)).toBeTruthy();
		expect(screen.getByText("layers differ")).toBeTruthy();
		expect(screen.queryByRole("button", { name: /Difference between/ })).toBeNull();
	});

	it("tells a ratio of nought or infinity by its one end, and more than two groups by V within layers", () => {
		const layers = [
			{ ...ODDS, odds_ratio: null, infinite: true, low: 3.2, high: null },
			{ ...ODDS, odds_ratio: 0, low: 0, high: 0.8 },
		];
		const rows = COMPARISON.rows.map((row, place) => ({ ...row, difference: null, layers: layers[place] ?? null }));
		const { unmount } = table({ rows, layered: true, outer: ["North"], difference: null });
		expect(screen.getByText(/Common odds ratio ∞ .*interval 3.20 or more/)).toBeTruthy();
		expect(screen.getByText(/Common odds ratio 0 .*interval 0.80 or less/)).toBeTruthy();
		unmount();
		const none = { odds_ratio: null, infinite: false, low: null, high: null, differ_p: null, differ_holm: null, effect: 0.31 };
		table({ rows: rows.map((row) => ({ ...row, layers: none })), layered: true, outer: ["North"], difference: null });
		expect(screen.getAllByText(".31").length).toBe(2);
	});

	it("gives a row the edge and the word of what is sure in it, and the dot of the difference shown", () => {
		serve({});
		const marks = standings(COMPARISON, {
			marks: [
				{ row: 0, groups: [0, 1], standing: "sure", p: 0.01 },
				{ row: 1, groups: [0, 1], standing: "look", p: 0.2 },
			],
		} as never);
		show(<Table result={COMPARISON} places={[0, 1]} marks={marks} tint="none" opened={null} onOpen={onOpen} onPair={vi.fn()} />);
		const [first, second] = screen.getAllByRole("rowheader");
		expect(first?.textContent).toContain("sure: Holm and Strand differ: sure");
		expect(second?.textContent).toContain("a look: Holm and Strand differ: worth a look, not sure");
		expect(screen.getByRole("img").getAttribute("aria-label")).toMatch(/; sure$/);
		expect(screen.getByRole("img").querySelector("circle")?.getAttribute("fill")).toBe("var(--color-spruce)");
	});

	it("tints only as strongly as the figure bears", () => {
		const tintsOf = (rows: typeof COMPARISON.rows) => {
			const { container, unmount } = table({ rows });
			const tints = [...container.querySelectorAll("td.relative")].map((td) => td.className.match(/bg-(?:above|below|amount)[\w-]*/)?.[0]);
			unmount();
			return tints.slice(0, 2);
		};
		const withTest = (holm: number, base = 10) =>
			COMPARISON.rows.map((row) => ({ ...row, test: { ...row.test, holm }, cells: row.cells.map((cell) => ({ ...cell, base })) }));
		expect(tintsOf(withTest(1))).toEqual([undefined, undefined]);
		expect(tintsOf(withTest(0.2))).toEqual(["bg-above", "bg-below"]);
		expect(tintsOf(withTest(0.01, 1))).toEqual(["bg-above", "bg-below"]);
	});

	it("says who changed where the same people stand in both groups", () => {
		const changes = { both: 3, only_first: 1, only_second: 6, neither: 2, p: 0.125 };
		const rows = COMPARISON.rows.map((row) => ({ ...row, difference: null, changes }));
		table({ rows, shared_people: 12, difference: null });
		expect(screen.getAllByText("Of those in both: 3 in both, 6 only in the second, 1 only in the first, 2 in neither")).toHaveLength(2);
		expect(screen.getByRole("columnheader", { name: /Who changed/ }).textContent).toContain("+ only in Strand, − only in Holm");
	});

	it("gives the mean passages a person with how many by how many", () => {
		const rows = COMPARISON.rows.map((row) => ({
			...row,
			cells: row.cells.map((cell) => ({ ...cell, figure: 1.25, count: 10, base: 8, median: 0.5 })),
		}));
		table({ measure: "per_person", figures: FIGURES.per_person, rows });
		const cell = screen.getByRole("button", { name: /Waiting, Strand: 1.25 passages a person/ });
		expect(cell.textContent).toBe("1.25 10 over 8");
		expect(cell.getAttribute("title")).toContain("median 0.5");
	});

	it("writes a rate as a number per thousand words, not as a share", () => {
		const rows = COMPARISON.rows.map((row) => ({ ...row, cells: row.cells.map((cell) => ({ ...cell, figure: 2.345 })) }));
		table({ measure: "rate", base: "words", figures: FIGURES.rate, rows });
		expect(screen.getByRole("button", { name: /Missed boats, Holm: 2.35 passages per 1,000 words/ })).toBeTruthy();
	});
});
