import { defineConfig } from "vitest/config";

// Workspace packages are tested from their sources; the CLI and the apps as built, see scripts/test.mjs.
const conditions = ["modrik-source", "import", "module", "node", "default"];

export default defineConfig({
  resolve: { conditions },
  ssr: { resolve: { conditions } },
  test: {
    include: ["packages/*/src/**/*.test.ts", "packages/*/test/**/*.test.ts", "apps/*/test/**/*.test.ts", "test/**/*.test.ts"],
    // One worker for each core: left alone, one core stays idle.
    maxWorkers: "100%",
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // What a page comes to show: however busy the machine is.
    expect: { poll: { timeout: 20_000 } },
    reporters: process.env.MODRIK_COUNTS ? ["default", ["json", { outputFile: process.env.MODRIK_COUNTS }]] : ["default"],
  },
});
