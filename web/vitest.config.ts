import { defineConfig } from "vitest/config";

export default defineConfig({
	test: {
		include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
		environment: "jsdom",
		setupFiles: ["src/tests/setup.ts"],
		// Only for a test that hangs: a busy machine is no failure.
		testTimeout: 120_000,
	},
});
