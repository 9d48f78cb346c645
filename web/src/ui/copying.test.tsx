import { render } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { apart, asHtml, asText, onCopy, plain, rowsOf } from "./copying";

beforeEach(() => {
	render(
		<>
			<p id="outside">Before</p>
			<table>
				<thead>
					<tr>
						<th>Code</th>
						<th>
							<span aria-hidden="true">●</span> never <small>9 people</small>
						</th>
						<th>Test</th>
						<td />
					</tr>
				</thead>
				<tbody>
					<tr id="waiting">
						<th>Waiting</th>
						<td
							{...apart([
								["share", 2 / 9],
								["people", 2],
								["base", 9],
							])}
						>
							<b>22</b>
							<span>2 of 9</span>
						</td>
						<td>
							<span className="sr-only">Pearson’s chi-square, p .041</span>
							<span aria-hidden="true">.041</span>
						</td>
						<td />
					</tr>
					<tr id="formula">
						<th>=SUM(A1)</th>
						<td
							{...apart([
								["share", null],
								["people", 0],
								["base", 0],
							])}
						>
							–
						</td>
						<td>–</td>
						<td />
					</tr>
				</tbody>
			</table>
		</>,
	);
});

function select(from: Element, to: Element): Selection {
	const range = document.createRange();
	range.setStart(from, 0);
	range.setEnd(to, to.childNodes.length);
	const selection = document.getSelection() as Selection;
	selection.removeAllRanges();
	selection.addRange(range);
	return selection;
}

const found = (selector: string) => document.querySelector(selector) as Element;

test("figure, count and base stand in columns of their own, under their names", () => {
	expect(rowsOf(select(found("#waiting"), found("#formula")))).toEqual([
		["Code", "● never 9 people: share", "● never 9 people: people", "● never 9 people: base", "Test"],
		["Waiting", "0.2222", "2", "9", ".041"],
		["=SUM(A1)", "", "0", "0", "–"],
	]);
});

test("one cell is copied part by part", () => {
	expect(rowsOf(select(found("#waiting td b"), found("#waiting td span")))).toEqual([["0.2222", "2", "9"]]);
});

test("words within a cell, and what isn’t a table, are copied as they are", () => {
	expect(rowsOf(select(found("#waiting th"), found("#waiting th")))).toBeNull();
	expect(rowsOf(select(found("#outside"), found("#outside")))).toBeNull();
});

test("cells that reach over several rows or columns keep the others in place", () => {
	render(
		<table id="spread">
			<tbody>
				<tr id="one">
					<th rowSpan={2}>Waiting</th>
					<td>mention it</td>
					<td>3</td>
				</tr>
				<tr>
					<td>don’t</td>
					<td>4</td>
				</tr>
				<tr id="last">
					<td colSpan={3}>Nobody else</td>
				</tr>
			</tbody>
		</table>,
	);
	expect(rowsOf(select(found("#one"), found("#last")))).toEqual([
		["Waiting", "mention it", "3"],
		["", "don’t", "4"],
		["Nobody else", "", ""],
	]);
});

test("as text there are tabs, and no formula; as HTML a table", () => {
	const rows = [
		["Code", "share"],
		["=SUM(A1)", "-0.5"],
		["a < b", "1"],
	];
	expect(asText(rows)).toBe("Code\tshare\n'=SUM(A1)\t-0.5\na < b\t1");
	expect(asHtml(rows)).toBe(
		"<table><thead><tr><th>Code</th><th>share</th></tr></thead><tbody><tr><td>'=SUM(A1)</td><td>-0.5</td></tr><tr><td>a &lt; b</td><td>1</td></tr></tbody></table>",
	);
	expect(asHtml([["1", "2"]])).toBe("<table><tbody><tr><td>1</td><td>2</td></tr></tbody></table>");
	expect([plain(null), plain(Number.NaN), plain(1 / 3), plain(12)]).toEqual(["", "", "0.3333", "12"]);
});

test("copying puts both on the clipboard, and only of tables", () => {
	const held = new Map<string, string>();
	const clipboardData = { setData: (kind: string, said: string) => held.set(kind, said) };
	const event = (): ClipboardEvent =>
		Object.assign(new Event("copy", { cancelable: true }), { clipboardData }) as unknown as ClipboardEvent;
	select(found("#outside"), found("#outside"));
	const other = event();
	onCopy(other);
	expect(other.defaultPrevented).toBe(false);
	select(found("#waiting"), found("#formula"));
	const own = event();
	onCopy(own);
	expect(own.defaultPrevented).toBe(true);
	expect(held.get("text/plain")?.split("\n")[1]).toBe("Waiting\t0.2222\t2\t9\t.041");
	expect(held.get("text/html")).toContain("<td>0.2222</td>");
	const field = Object.assign(event(), {});
	Object.defineProperty(field, "target", { value: document.createElement("input") });
	onCopy(field);
	expect(field.defaultPrevented).toBe(false);
});
