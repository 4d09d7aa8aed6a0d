import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// The built page goes to the CLI, whose `run` and `demo` serve it.
export default defineConfig({
  base: "./",
  plugins: [react()],
  resolve: { conditions: ["modrik-source", "module", "browser", "import", "default"] },
  build: { outDir: "../../packages/cli/panel", emptyOutDir: true, chunkSizeWarningLimit: 1200 },
});
