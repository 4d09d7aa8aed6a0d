// Writes docs/api.md from the sources: `npm run api`.
import { writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { apiPage } from "./lib/api.mjs";

writeFileSync(fileURLToPath(new URL("../docs/api.md", import.meta.url)), apiPage());
