/** Tables that are copied: every figure in a cell of its own, as text with tabs and as HTML, so that spreadsheets and
 * documents take them as tables. */

/** What a cell says, part by part, with the name of each: copied, each stands in a column of its own. */
export type Parts = [name: string, value: string | number | null][];

export const apart = (parts: Parts) => ({ "data-apart": JSON.stringify(parts) });

/** A figure as it is copied: shares to four places, nothing where it isn’t known. */
export function plain(value: number | null): string {
	return value === null || !Number.isFinite(value) ? "" : String(Number(value.toFixed(4)));
}

/** The rows of a table that a selection touches, under the table’s head; null where it touches none, or only words within a cell. */
export function rowsOf(selection: Selection): string[][] | null {
	const range = selection.rangeCount > 0 ? selection.getRangeAt(0) : null;
	if (!range || range.collapsed) return null;
	const within = range.commonAncestorContainer;
	const near = within instanceof Element ? within : within.parentElement;
	const alone = near?.closest("td, th");
	const table = near?.closest("table");
	if (!table) return null;
	if (alone) return alone.hasAttribute("data-apart") ? [partsOf(alone).map(([, value]) => value)] : null;
	const every = grid(table);
	const chosen = every.filter((line) => line.row.parentElement?.tagName !== "THEAD" && range.intersectsNode(line.row));
	if (chosen.length === 0) return null;
	const columns = layout(every);
	const head = every.filter((line) => line.row.parentElement?.tagName === "THEAD");
	const lines = [...head, ...chosen].map((line) => columns.flatMap((names, at) => written(line.cells.get(at), names)));
	const said = columns.flat().map((_, at) => lines.some((line) => line[at] !== ""));
	return lines.map((line) => line.filter((_, at) => said[at]));
}

interface Line {
	row: HTMLTableRowElement;
	/** By the column in which each begins. */
	cells: Map<number, HTMLTableCellElement>;
}

/** Rows with their cells where they stand, those that reach over several rows or columns counted in. */
function grid(table: HTMLTableElement): Line[] {
	const taken: boolean[][] = [];
	return [...table.rows].map((row, at) => {
		const cells = new Map<number, HTMLTableCellElement>();
		let column = 0;
		for (const cell of row.cells) {
			while (taken[at]?.[column]) column++;
			cells.set(column, cell);
			for (let down = 0; down < Math.max(cell.rowSpan, 1); down++) {
				taken[at + down] ??= [];
				const line = taken[at + down] as boolean[];
				for (let over = 0; over < cell.colSpan; over++) line[column + over] = true;
			}
			column += cell.colSpan;
		}
		return { row, cells };
	});
}

/** For each column the names of its parts; one without a name where its cells say one thing. */
function layout(lines: Line[]): string[][] {
	const columns: string[][] = [];
	for (const { cells } of lines)
		for (const [at, cell] of cells) {
			const names = partsOf(cell).map(([name]) => name);
			if (names.length > (columns[at]?.length ?? 0)) columns[at] = names;
		}
	return Array.from({ length: columns.length }, (_, at) => columns[at] ?? [""]);
}

function written(cell: HTMLTableCellElement | undefined, names: string[]): string[] {
	if (!cell) return names.map(() => "");
	if (cell.hasAttribute("data-apart")) {
		const said = new Map(partsOf(cell));
		return names.map((name) => said.get(name) ?? "");
	}
	const words = textOf(cell);
	const heads = cell.closest("thead") !== null && cell.colSpan === 1 && names.length > 1;
	return names.map((name, at) => (heads && words ? `${words}: ${name}` : at === 0 ? words : ""));
}

function partsOf(cell: Element): [string, string][] {
	const said = cell.getAttribute("data-apart");
	if (said === null) return [["", ""]];
	return (JSON.parse(said) as Parts).map(([name, value]) => [name, typeof value === "number" ? plain(value) : (value ?? "")]);
}

/** The words of a cell as they are seen. */
function textOf(cell: Element): string {
	const parts: string[] = [];
	const walk = (node: Node) => {
		if (node.nodeType === Node.TEXT_NODE) parts.push(node.textContent ?? "");
		if (!(node instanceof Element) || node instanceof SVGElement || node.classList.contains("sr-only")) return;
		for (const child of node.childNodes) walk(child);
		parts.push(" ");
	};
	walk(cell);
	return parts.join("").replace(/\s+/g, " ").trim();
}

/** What a spreadsheet would take for a formula, pasted as text or as HTML, has an apostrophe before it. */
function safe(cell: string): string {
	return /^[=+\-@]/.test(cell) && Number.isNaN(Number(cell)) ? `'${cell}` : cell;
}

/** Rows with tabs between. */
export function asText(rows: string[][]): string {
	return rows.map((row) => row.map(safe).join("\t")).join("\n");
}

/** The same as HTML, the first row as its head. */
export function asHtml(rows: string[][]): string {
	const escaped = (cell: string) => safe(cell).replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
	const line = (row: string[], tag: string) => `<tr>${row.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join("")}</tr>`;
	const [head, ...body] = rows.length > 1 ? rows : [undefined, ...rows];
	const lines = body.map((row) => line(row as string[], "td")).join("");
	return `<table>${head ? `<thead>${line(head, "th")}</thead>` : ""}<tbody>${lines}</tbody></table>`;
}

/** Of a selection within a table, a table is copied: for the whole page. */
export function onCopy(event: ClipboardEvent): void {
	// What is selected within a field is the field's own.
	if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
	const selection = document.getSelection();
	const rows = selection && rowsOf(selection);
	if (!rows || !event.clipboardData) return;
	event.clipboardData.setData("text/plain", asText(rows));
	event.clipboardData.setData("text/html", asHtml(rows));
	event.preventDefault();
}
