import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";

export default defineConfig(({ mode }) => {
	// Where bin/dev starts the server, or else the demo’s.
	const server = loadEnv(mode, ".", "COHORTIA_").COHORTIA_API ?? "http://127.0.0.1:8321";
	return {
		plugins: [react(), tailwindcss()],
		server: { proxy: Object.fromEntries(["/api", "/static"].map((path) => [path, server])) },
		// The first that know light-dark(), of which both themes are made (May 2024).
		build: { chunkSizeWarningLimit: 1200, cssTarget: ["chrome123", "firefox120", "safari17.5"] },
	};
});
