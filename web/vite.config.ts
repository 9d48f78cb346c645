import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";
import { heads } from "./heads";
import { catalogues } from "./messages/catalogues.mjs";

type Known = { getModuleInfo: (id: string) => { importedIds: readonly string[] } | null };

/** What a module can’t begin without, found once by walking from it. */
class Whole {
	#held = new Set<string>();
	constructor(readonly from: string) {}

	has(id: string, known: Known): boolean {
		if (!this.#held.size) this.#walk(new URL(this.from, import.meta.url).pathname, known);
		return this.#held.has(id);
	}

	#walk(id: string, known: Known): void {
		if (this.#held.has(id)) return;
		this.#held.add(id);
		for (const next of known.getModuleInfo(id)?.importedIds ?? []) this.#walk(next, known);
	}
}

const first = new Whole("./src/main.tsx");
const frame = new Whole("./src/shell/Frame.tsx");

/** A file for what the first view needs, one for what every page of a project does, one for what some of them share, one a page:
 * fifty small ones would each wait for the line. */
function shared(id: string, known: Known): string | null {
	if (first.has(id, known)) return null;
	return frame.has(id, known) ? "frame" : "shared";
}

export default defineConfig(({ mode }) => {
	// Where bin/dev starts the server, or else the demo’s.
	const server = loadEnv(mode, ".", "COHORTIA_").COHORTIA_API ?? "http://127.0.0.1:8321";
	return {
		plugins: [react(), tailwindcss(), heads(), catalogues()],
		server: { proxy: Object.fromEntries(["/api", "/static"].map((path) => [path, server])) },
		build: {
			// The first that know light-dark(), of which both themes are made (May 2024).
			cssTarget: ["chrome123", "firefox120", "safari17.5"],
			rolldownOptions: {
				output: {
					codeSplitting: {
						includeDependenciesRecursively: false,
						groups: [
							// Who asks for one of these is known only when the rest was shaken off.
							{ name: "kit", test: /node_modules\/(lucide-react|@tanstack\/(react-)?query)/ },
							{ name: shared, minShareCount: 2 },
						],
					},
				},
			},
		},
	};
});
