import type { Plugin, Rolldown } from "vite";
import { HEADS } from "./src/shell/heads";

type Chunk = Rolldown.OutputChunk;

/** A file for the server that says which scripts, letters and reads each address needs, as `src/shell/heads.ts` has it. */
export function heads(): Plugin {
	return {
		name: "cohortia-heads",
		apply: "build",
		enforce: "post",
		generateBundle(_, bundle) {
			const chunks = Object.values(bundle).filter((one): one is Chunk => one.type === "chunk");
			const byFile = new Map(chunks.map((chunk) => [chunk.fileName, chunk]));
			/** A script and those that it can't begin without. */
			const all = (file: string, found = new Set<string>()): Set<string> => {
				if (found.has(file)) return found;
				found.add(file);
				for (const next of byFile.get(file)?.imports ?? []) all(next, found);
				return found;
			};
			const first = new Set(chunks.filter((chunk) => chunk.isEntry).flatMap((chunk) => [...all(chunk.fileName)]));
			const scripts = (page: string) => {
				const chunk = chunks.find((one) => one.facadeModuleId?.endsWith(`/${page}.tsx`));
				if (!chunk) throw new Error(`No page is called ${page}: look at src/shell/heads.ts.`);
				return [...all(chunk.fileName)].filter((file) => !first.has(file));
			};
			// Asked for by the style sheet when the first words stand there, they would have all of the page laid out again.
			const letters = Object.keys(bundle).filter((file) => /-latin-wght-normal-.+\.woff2$/.test(file));
			const needed = HEADS.map(({ address, pages, said, asked }) => ({
				address,
				scripts: [...new Set(pages.flatMap(scripts))].map((file) => `/${file}`),
				letters: letters.map((file) => `/${file}`),
				said,
				asked,
			}));
			this.emitFile({ type: "asset", fileName: "heads.json", source: JSON.stringify(needed) });
		},
	};
}
