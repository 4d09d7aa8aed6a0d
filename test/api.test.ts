// The page of the public API is what the sources say: a name or signature that changes is seen on it.
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";
import { root } from "../packages/cli/test/modrik.js";
import { apiPage } from "../scripts/lib/api.mjs";

test("docs/api.md is what `npm run api` writes", () => {
  expect(readFileSync(join(root, "docs/api.md"), "utf8")).toBe(apiPage());
});
