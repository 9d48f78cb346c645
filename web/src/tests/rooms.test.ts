/** The web's rooms: each uses those below it only, and nothing goes round in a circle. */
import { expect, it } from "vitest";

/** From the ground up. `evidence`, `memos` and `codes` are what several pages show of a passage, a memo, a code. */
const FLOORS = [
	"language",
	"api",
	"ui",
	"charts",
	"project",
	"help",
	"codes",
	"memos",
	"evidence",
	"people",
	"gather",
	"accounts",
	"coding",
	"compare",
	"report",
	"shell",
];
/** The rooms of coding, likewise; its own files stand under all of them. */
const CODING = ["", "cards", "codebook", "media", "turns", "typing", "desk", "answers", "find", "topics", "guide", "themes", "memos"];

const texts = import.meta.glob<string>("../**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });
const files = Object.keys(texts)
	.map((path) => path.replace("../", ""))
	.filter((path) => path.includes("/") && !path.includes(".test.") && !path.startsWith("../") && !path.startsWith("./"));
const known = new Set(files);

function inSource(from: string, named: string): string {
	const parts = from.split("/").slice(0, -1);
	for (const step of named.split("/")) {
		if (step === "..") parts.pop();
		else if (step !== ".") parts.push(step);
	}
	return parts.join("/");
}

function used(file: string): string[] {
	const named = [...(texts[`../${file}`] ?? "").matchAll(/(?:from |import |import\()"(\.{1,2}\/[^"]+)"/g)].map(
		(found) => found[1] as string,
	);
	return named.flatMap((name) => {
		const path = inSource(file, name);
		return [path, `${path}.ts`, `${path}.tsx`].filter((one) => known.has(one));
	});
}

const roomOf = (file: string) => file.split("/")[0] as string;
const codingRoom = (file: string) => file.split("/").slice(1, -1).join("/");
const uses = new Map(files.map((file) => [file, used(file)]));

it("finds the files", () => {
	expect(files.length).toBeGreaterThan(150);
	expect(uses.get("shell/pages.tsx")).toContain("coding/desk/Desk.tsx");
});

it("has rooms that use those below them", () => {
	const upward = [...uses].flatMap(([file, others]) =>
		others.filter((other) => FLOORS.indexOf(roomOf(other)) > FLOORS.indexOf(roomOf(file))).map((other) => `${file} uses ${other}`),
	);
	expect(upward).toEqual([]);
	expect([...new Set(files.map(roomOf))].filter((room) => !FLOORS.includes(room))).toEqual([]);
});

it("has rooms of coding that use those below them", () => {
	const upward = [...uses].flatMap(([file, others]) =>
		others
			.filter((other) => roomOf(file) === "coding" && roomOf(other) === "coding")
			.filter((other) => CODING.indexOf(codingRoom(other)) > CODING.indexOf(codingRoom(file)))
			.map((other) => `${file} uses ${other}`),
	);
	expect(upward).toEqual([]);
});

it("has no circles", () => {
	const circles: string[] = [];
	const gone = new Set<string>();
	const walk = (file: string, way: string[]) => {
		if (way.includes(file)) {
			circles.push([...way.slice(way.indexOf(file)), file].join(" → "));
			return;
		}
		if (gone.has(file)) return;
		for (const other of uses.get(file) ?? []) walk(other, [...way, file]);
		gone.add(file);
	};
	for (const file of files) walk(file, []);
	expect(circles).toEqual([]);
});
