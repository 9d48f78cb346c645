import type { Case, Variable } from "./data";

/** The cells of a copied block: rows by line breaks, columns by tabs; quoted cells may hold both. */
export function blockOf(text: string): string[][] {
	const rows: string[][] = [];
	let row: string[] = [];
	let cell = "";
	let quoted = false;
	for (let at = 0; at < text.length; at += 1) {
		const sign = text[at] as string;
		if (quoted) {
			if (sign === '"' && text[at + 1] === '"') {
				cell += '"';
				at += 1;
			} else if (sign === '"') quoted = false;
			else cell += sign;
		} else if (sign === '"' && cell === "") quoted = true;
		else if (sign === "\t" || sign === "\n") {
			row.push(cell.trim());
			cell = "";
			if (sign === "\n") {
				rows.push(row);
				row = [];
			}
		} else if (sign !== "\r") cell += sign;
	}
	if (cell !== "" || row.length) rows.push([...row, cell.trim()]);
	return rows;
}

export interface PastedCell {
	subject: number;
	variable: number;
	text: string;
}

/** Where each cell of a block goes, its first on `(case, variable)`; what reaches beyond the roster is counted. */
export function placed(
	block: string[][],
	cases: Case[],
	variables: Variable[],
	first: { case: number; variable: number },
): { cells: PastedCell[]; beyond: number } {
	const row = cases.findIndex((one) => one.id === first.case);
	const column = variables.findIndex((one) => one.id === first.variable);
	const cells: PastedCell[] = [];
	let beyond = 0;
	block.forEach((texts, down) => {
		texts.forEach((text, right) => {
			const subject = cases[row + down];
			const variable = variables[column + right];
			if (subject && variable && variable.definition === null) cells.push({ subject: subject.id, variable: variable.id, text });
			else beyond += 1;
		});
	});
	return { cells, beyond };
}
