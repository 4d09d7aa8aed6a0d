import { defineConfig } from "vitest/config";
import { PATIENCE } from "./test/patience.js";

// Workspace packages are tested from their sources; the CLI and the apps as built, see scripts/test.mjs.
const conditions = ["modrik-source", "import", "module", "node", "default"];

export default defineConfig({
  resolve: { conditions },
  ssr: { resolve: { conditions } },
  test: {
    include: ["packages/*/src/**/*.test.ts", "packages/*/test/**/*.test.ts", "apps/*/test/**/*.test.ts", "test/**/*.test.ts"],
    // One worker for each core: left alone, one core stays idle.
    maxWorkers: "100%",
    // A test waits for several things.
    testTimeout: 3 * PATIENCE,
    hookTimeout: PATIENCE,
    // What a page comes to show.
    expect: { poll: { timeout: PATIENCE } },
    reporters: process.env.MODRIK_COUNTS ? ["default", ["json", { outputFile: process.env.MODRIK_COUNTS }]] : ["default"],
  },
});
