import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// The built page goes to the CLI, whose `demo` serves it.
export default defineConfig({
  base: "./",
  // Each component draws itself anew only where what it shows has changed; one that cannot be compiled so fails the build.
  plugins: [react({ compiler: { panicThreshold: "all_errors" } })],
  resolve: { conditions: ["modrik-source", "module", "browser", "import", "default"] },
  build: { outDir: "../../packages/cli/playground", emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  worker: { format: "es" },
});
