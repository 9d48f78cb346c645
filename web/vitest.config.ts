import { defineConfig } from "vitest/config";

export default defineConfig({
	test: {
		include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
		environment: "jsdom",
		setupFiles: ["src/tests/setup.ts"],
		// The colours are read as they are written.
		css: { include: [/tokens\.css/] },
		// Files share a page, which is made clean after each test: a page each takes twice as long.
		pool: "threads",
		isolate: false,
		// Only for a test that hangs: a busy machine is no failure.
		testTimeout: 120_000,
	},
});
