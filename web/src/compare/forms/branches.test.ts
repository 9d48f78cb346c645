import { expect, it } from "vitest";
import { code } from "../../tests/samples";
import type { Row } from "../data";
import { branchesOf } from "./branches";

const CODES = [
	code(1, "Crossing"),
	code(2, "Missed boats", 1),
	code(3, "Waiting", 1),
	code(4, "At the pier", 3),
	code(5, "Voice"),
	code(6, "Asked", 5),
];
const rows = (...ids: number[]) => ids.map((id) => ({ kind: "code", id }) as Row);

it("heads rows of one branch and folds them into it, in their place", () => {
	const found = branchesOf(CODES, rows(6, 2, 3));
	expect(found.map((one) => one.heading)).toEqual([undefined, { name: "Crossing", rows: 2, codes: [6, 1] }, undefined]);
});

it("opens a code out into what lies beneath it, and folds that away again", () => {
	const [, , waiting] = branchesOf(CODES, rows(6, 2, 3));
	expect(waiting?.turn).toEqual({ open: false, beneath: 1, codes: [6, 2, 4] });
	const [whole] = branchesOf(CODES, rows(1, 2, 3, 4));
	expect(whole?.turn).toEqual({ open: true, beneath: 3, codes: [1] });
	expect(whole?.heading).toBeUndefined();
});

it("leaves themes, queries and codes of a branch that stand alone as they are", () => {
	expect(branchesOf(CODES, [{ kind: "theme", id: 2 } as Row, ...rows(6, 5)])).toEqual([
		{},
		{},
		{ turn: { open: true, beneath: 1, codes: [5] } },
	]);
});
