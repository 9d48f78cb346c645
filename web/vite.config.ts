import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";
import { catalogues } from "./messages/catalogues.mjs";

/** What the first view needs, by the module it is in: found once, by walking from where everything begins. */
const first = new Set<string>();

type Known = { getModuleInfo: (id: string) => { importedIds: readonly string[] } | null };

function walk(id: string, known: Known): void {
	if (first.has(id)) return;
	first.add(id);
	for (const next of known.getModuleInfo(id)?.importedIds ?? []) walk(next, known);
}

/** A file for what the first view needs, one a page, and one for all that pages share: fifty small ones would each wait for the line. */
function shared(id: string, known: Known): string | null {
	if (!first.size) walk(new URL("./src/main.tsx", import.meta.url).pathname, known);
	return first.has(id) ? null : "shared";
}

export default defineConfig(({ mode }) => {
	// Where bin/dev starts the server, or else the demo’s.
	const server = loadEnv(mode, ".", "COHORTIA_").COHORTIA_API ?? "http://127.0.0.1:8321";
	return {
		plugins: [react(), tailwindcss(), catalogues()],
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
