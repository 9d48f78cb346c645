import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { show, texts } from "../../tests/harness";
import { CODEBOOK, COMPARISON, code, QUESTION, ROSTER } from "../../tests/samples";
import { asked, calls, Refused, serve } from "../../tests/server";
import { pictureOf } from "../exports/picture";
import { Bars } from "./Bars";
import { Flow } from "./Flow";
import { MapForm } from "./MapForm";
import { Matrix } from "./Matrix";
import { OneByOne } from "./OneByOne";
import { Spread } from "./Spread";
import { Swapped } from "./Swapped";
import { Tiles } from "./Tiles";
import { Waves } from "./Waves";

const BOTH = [0, 1];
const same = (onOpen = vi.fn()) => ({ result: COMPARISON, places: BOTH, onOpen });
const EMPTY = {
	...COMPARISON,
	rows: COMPARISON.rows.map((row) => ({ ...row, cells: row.cells.map((cell) => ({ ...cell, count: 0, figure: 0 })) })),
};

describe("drawn forms", () => {
	it("lets bands flow as wide as their counts, either way round, and opens them by key", async () => {
		serve({});
		const onOpen = vi.fn();
		const { user, unmount, container } = show(<Flow {...same(onOpen)} swap={false} />);
		const band = screen.getByRole("button", { name: /^Missed boats, Holm: 8 of 10, 80 %/ });
		band.focus();
		await user.keyboard("{Enter}");
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 0, left_out: null });
		const named = texts(container.querySelectorAll("g text"));
		expect(named).toEqual(["Missed boats 10", "Waiting 9", "● Holm 13", "■ Strand 6"]);
		await user.click(screen.getByRole("button", { name: /^Holm: 13/ }));
		expect(onOpen).toHaveBeenLastCalledWith({ row: null, group: 0, left_out: null });
		unmount();
		expect(texts(show(<Flow {...same()} swap />).container.querySelectorAll("g text"))[0]).toBe("● Holm 13");
	});

	it("lays tiles by group, shaded by residual, and says so where there is nothing", async () => {
		serve({});
		const onOpen = vi.fn();
		const { user, unmount } = show(<Tiles {...same(onOpen)} />);
		const tile = screen.getByRole("button", { name: /^Missed boats, Holm: .*adjusted residual 2.7/ });
		expect(tile.getAttribute("fill")).toBe("var(--color-above-more)");
		await user.click(tile);
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 0, left_out: null });
		unmount();
		show(<Tiles {...same()} result={EMPTY} />);
		expect(screen.getByText(/Nothing is counted here/)).toBeTruthy();
	});

	it("fills dials within the table, a row or a group, and says which", async () => {
		serve({});
		const onScaled = vi.fn();
		const { user, unmount } = show(<Matrix {...same()} question={QUESTION} onAsk={vi.fn()} scaled="all" figures onScaled={onScaled} />);
		expect(screen.getByText(/dials can be compared everywhere/)).toBeTruthy();
		await user.click(screen.getByRole("button", { name: /^Dials are scaled within/ }));
		await user.click(await screen.findByRole("option", { name: "each row" }));
		expect(onScaled).toHaveBeenCalledWith("row");
		const dial = () => screen.getByRole("button", { name: /^Missed boats, Holm: 80 %/ });
		expect(dial().textContent).toBe("80");
		unmount();
		show(<Matrix {...same()} question={QUESTION} onAsk={vi.fn()} scaled="row" figures={false} onScaled={onScaled} />);
		expect(dial().textContent).toBe("");
		expect(screen.getByText(/compare along a row only/)).toBeTruthy();
	});

	it("stacks each row to 100 % under the groups themselves", async () => {
		serve({});
		const onOpen = vi.fn();
		const { user } = show(<Bars {...same(onOpen)} stack />);
		await user.click(screen.getByRole("button", { name: /^Missed boats, Strand: 20 %, 2/ }));
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 1, left_out: null });
		expect(screen.getByTitle("Everyone, Holm: 50 %, 10")).toBeTruthy();
		expect(screen.getByText(/a group of many people has more of everything/)).toBeTruthy();
	});

	it("swaps sides: groups as rows with the same figures and tints", async () => {
		serve({});
		const onOpen = vi.fn();
		const { user } = show(<Swapped {...same(onOpen)} tint="expected" opened={null} />);
		expect(texts(screen.getAllByRole("rowheader"))).toEqual(["● Holm10 people", "■ Strand10 people"]);
		const cell = screen.getByRole("button", { name: /^Missed boats, Strand: 20 %/ });
		expect(cell.closest("td")?.className).toContain("bg-below-more");
		await user.click(cell);
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: 1, left_out: null });
	});

	it("draws lines from group to group, and for one row person by person", async () => {
		serve({
			"POST /compare/one-by-one": {
				nobody: [],
				each: [
					{
						id: 21,
						name: "P10",
						groups: [0, 1],
						counts: [
							[2, 0],
							[0, 1],
						],
					},
					{ id: 22, name: "P2", groups: [0], counts: [[1], [0]] },
				],
			},
		});
		const { user } = show(<Waves {...same()} question={QUESTION} />);
		expect(await screen.findByText("stopped")).toBeTruthy();
		expect(texts(screen.getAllByRole("rowheader"))).toEqual(["P10"]);
		await user.click(screen.getByRole("button", { name: "Row: Missed boats" }));
		await user.click(await screen.findByRole("option", { name: "Waiting" }));
		expect(await screen.findByText("began")).toBeTruthy();
	});
});

describe("forms that ask for more", () => {
	it("puts rows and groups on a map with what it shows", async () => {
		const point = (x: number, quality = 0.9) => ({ x, y: 0, contributions: [1], quality, mass: 0.5 });
		serve({ "POST /compare/map": { order: BOTH, inertia: [0.2], total: 0.2, rows: [point(1), null], groups: [point(1, 0.2), point(-1)] } });
		const onOpen = vi.fn();
		const { user } = show(<MapForm {...same(onOpen)} question={QUESTION} />);
		await user.click(await screen.findByRole("button", { name: /^Missed boats: 90 % of its place is shown/ }));
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: null, left_out: null });
		expect(screen.queryByRole("button", { name: /^Waiting/ })).toBeNull();
		expect(screen.getByText(/Across: 100 % of how the groups differ/)).toBeTruthy();
	});

	it("says why there is no map", async () => {
		serve({ "POST /compare/map": { order: [], inertia: [], total: 0, rows: [], groups: [] } });
		show(<MapForm {...same()} question={QUESTION} />);
		expect(await screen.findByText(/needs at least two rows and two groups/)).toBeTruthy();
	});

	it("shows everyone one by one, group by group", async () => {
		serve({
			"POST /compare/one-by-one": {
				nobody: [],
				each: [
					{ id: 22, name: "P10", groups: [1], counts: [[0], [3]] },
					{ id: 21, name: "P2", groups: [0], counts: [[1], [0]] },
				],
			},
		});
		const onOpen = vi.fn();
		const { user } = show(<OneByOne {...same(onOpen)} question={QUESTION} each="people" onEach={vi.fn()} onAsk={vi.fn()} />);
		expect(texts(await screen.findAllByRole("columnheader")).filter((text) => text.startsWith("P"))).toEqual(["P2", "P10"]);
		await user.click(screen.getByRole("button", { name: /^Waiting, P10: 3 passages/ }));
		expect(onOpen).toHaveBeenCalledWith({ row: 1, group: 1, left_out: null });
		expect(screen.getByRole("button", { name: /^Missed boats, P10: not mentioned/ })).toBeTruthy();
	});

	it("shows documents one by one, and says in which nobody is linked", async () => {
		serve({
			"GET /codebook": CODEBOOK,
			"POST /compare/one-by-one": {
				nobody: ["Notice"],
				each: [
					{
						id: 5,
						name: "Walk",
						groups: [0, 1],
						counts: [
							[2, 0],
							[0, 0],
						],
					},
				],
			},
		});
		const onEach = vi.fn();
		const { user } = show(<OneByOne {...same()} question={QUESTION} each="documents" onEach={onEach} onAsk={vi.fn()} />);
		expect(await screen.findByRole("button", { name: /^Missed boats, Walk: 2 passages/ })).toBeTruthy();
		expect(screen.getByText("Nobody linked in 1 document, so in no group: Notice.")).toBeTruthy();
		expect(calls("POST /compare/one-by-one").at(-1)).toMatchObject({ each: "documents" });
		await user.click(screen.getByRole("button", { name: "Each person" }));
		expect(onEach).toHaveBeenCalledWith("people");
	});

	it("folds a branch into one row, and says where nobody is linked", async () => {
		const [one, other] = COMPARISON.rows.map((row) => row.id);
		serve({
			"GET /codebook": { ...CODEBOOK, codes: [code(90, "Crossing"), code(one ?? 0, "Missed boats", 90), code(other ?? 0, "Waiting", 90)] },
		});
		const onAsk = vi.fn();
		const empty = {
			...COMPARISON,
			rows: COMPARISON.rows.map((row) => ({ ...row, cells: row.cells.map((cell) => ({ ...cell, figure: null })) })),
		};
		const { user } = show(
			<Matrix
				{...same()}
				result={empty}
				question={{ ...QUESTION, columns: "documents" }}
				onAsk={onAsk}
				scaled="all"
				figures
				onScaled={vi.fn()}
			/>,
		);
		expect(screen.getAllByText("nobody linked")).toHaveLength(4);
		await user.click(await screen.findByRole("button", { name: /Crossing 2 rows/ }));
		expect(onAsk).toHaveBeenCalledWith({ codes: "90" });
		await user.click(screen.getByRole("button", { name: /^A column for/ }));
		await user.click(await screen.findByRole("option", { name: "each person" }));
		expect(onAsk).toHaveBeenLastCalledWith(expect.objectContaining({ variable: "cases", groups: null }));
	});

	it("marks who wasn’t asked about a row, where those asked are the base", async () => {
		const one = { id: 21, name: "P10", groups: [0], counts: [[null], [2]] };
		serve({ "POST /compare/one-by-one": { each: [one], nobody: [] } });
		const { result, ...rest } = same();
		show(<OneByOne {...rest} result={{ ...result, base: "asked" }} question={QUESTION} each="people" onEach={vi.fn()} onAsk={vi.fn()} />);
		expect((await screen.findByRole("button", { name: /P10: not asked/ })).textContent).toBe("–");
		expect(screen.getByRole("button", { name: /P10: 2 passages/ }).textContent).toBe("2");
		expect(screen.getByText(/A dash: they weren’t asked/)).toBeTruthy();
	});

	it("passes on why not everyone can be shown", async () => {
		serve({ "POST /compare/one-by-one": new Refused("That is too many to show one by one.") });
		show(<OneByOne {...same()} question={QUESTION} each="people" onEach={vi.fn()} onAsk={vi.fn()} />);
		expect(await screen.findByText("That is too many to show one by one.")).toBeTruthy();
	});

	it("spreads a number over those who mention a row and those who don't", async () => {
		const five = (values: number[]) => ({ values, median: values[0] ?? null, low: values[0] ?? null, high: values[0] ?? null });
		const row = (name: string) => ({
			kind: "code",
			id: 2,
			name,
			colour: 1,
			mention: five([34, 34]),
			silent: five([71]),
			p: 0.03,
			holm: 0.06,
			effect: -0.5,
		});
		serve({
			"GET /roster": ROSTER,
			"POST /compare/spread": { variable: "Age", unknown: 2, people: 3, exact: true, of_days: false, rows: [row("a"), row("b")] },
		});
		const onOpen = vi.fn();
		const { user } = show(<Spread {...same(onOpen)} question={QUESTION} number={null} onNumber={vi.fn()} />);
		expect(await screen.findByText(/2 without this number are left out/)).toBeTruthy();
		expect(calls("POST /compare/spread")[0]).toMatchObject({ number: 12 });
		const first = screen.getAllByRole("row")[1] as HTMLElement;
		expect(within(first).getByText("−0.50")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Missed boats" }));
		expect(onOpen).toHaveBeenCalledWith({ row: 0, group: null, left_out: null });
	});

	it("spreads a date by its days, and says them as dates", async () => {
		const none = { values: [], median: null, low: null, high: null };
		const some = { values: [11385, 11385], median: 11385, low: 11385, high: 11385 };
		const row = { kind: "code", id: 2, name: "a", colour: 1, mention: some, silent: none, p: null, holm: null, effect: null };
		const came = { ...ROSTER.variables.find((one) => one.kind === "number"), id: 19, name: "Came", kind: "date" };
		serve({
			"GET /roster": { ...ROSTER, variables: [came] },
			"POST /compare/spread": { variable: "Came", unknown: 0, people: 2, exact: true, of_days: true, rows: [row, row] },
		});
		show(<Spread {...same()} question={QUESTION} number={null} onNumber={vi.fn()} />);
		// 2001-03-04 is day 11,385 after 1970-01-01 (Python's date, by hand).
		expect((await screen.findAllByText("2001-03-04")).length).toBeGreaterThan(1);
		expect(calls("POST /compare/spread")[0]).toMatchObject({ number: 19 });
	});

	it("says that a number is needed where there is none", async () => {
		serve({ "GET /roster": { ...ROSTER, variables: ROSTER.variables.filter((one) => one.kind !== "number") } });
		show(<Spread {...same()} question={QUESTION} number={null} onNumber={vi.fn()} />);
		expect(await screen.findByText(/None is in the project yet/)).toBeTruthy();
		await waitFor(() => expect(asked.some((one) => one.route === "POST /compare/spread")).toBe(false));
	});
});

describe("a form as a picture", () => {
	it("holds the sentence, the words and drawn marks, and nothing that only a screen needs", () => {
		const shown = document.createElement("div");
		shown.innerHTML =
			'<p>Holm <b>80</b></p><span class="sr-only">for readers</span><svg><circle tabindex="0" role="button" r="3"></circle></svg>';
		document.body.append(shown);
		// jsdom has no layout: every letter gets a place.
		const place = { left: 10, top: 10, right: 20, bottom: 20, width: 10, height: 10 } as DOMRect;
		Range.prototype.getBoundingClientRect = () => place;
		const drawn = pictureOf(shown, ["Compare all & everything across Island."], ["Adds up: 3 passages."]);
		shown.remove();
		const parsed = new DOMParser().parseFromString(drawn, "image/svg+xml");
		const words = texts(parsed.querySelectorAll("text"));
		expect(words).toEqual(["Compare all & everything across Island.", "Holm", "80", "Adds up: 3 passages."]);
		expect(parsed.querySelectorAll("circle").length).toBe(1);
		expect(parsed.querySelector("[tabindex], [role]")).toBeNull();
	});
});
