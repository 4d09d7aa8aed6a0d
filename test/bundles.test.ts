// The library as those use it who build on it: bundled for Node and for a browser, and run in both.
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build } from "tsdown";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { root } from "../packages/cli/test/modrik.js";
import { chromiumPath, withBrowser } from "../scripts/lib/browser.mjs";
import { PATIENCE } from "./patience.js";

/** What each program prints. */
const programs: Readonly<Record<string, readonly string[]>> = {
  moist: ["07:02 study.humidifier on (moist)", "07:05 study.humidifier off (at rest)"],
  study: ["18:01:00 study.lamp 80", "18:11:30 study.lamp 0", "18:07:00 The study window is open."],
};
let folder = "";

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-bundle-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Bundles the program with all it needs; what is left to import would be something of Node's. */
async function bundled(name: string, platform: "node" | "browser"): Promise<string> {
  await build({
    cwd: root,
    entry: `examples/programs/${name}.ts`,
    outDir: join(folder, platform),
    format: platform === "browser" ? "iife" : "esm",
    platform,
    minify: true,
    deps: { alwaysBundle: [/.*/] },
    dts: false,
    fixedExtension: false,
    logLevel: "error",
  });
  return join(folder, platform, platform === "browser" ? `${name}.iife.js` : `${name}.js`);
}

describe.each(Object.entries(programs))("the program %s, which uses the library,", (name, printed) => {
  test("runs in Node", async () => {
    const file = await bundled(name, "node");
    const { stdout, stderr } = spawnSync(process.execPath, [file], { encoding: "utf8", timeout: PATIENCE });
    expect(stderr).toBe("");
    expect(stdout.trim().split("\n")).toEqual(printed);
  });

  test.skipIf(!chromiumPath)("runs in a browser, and needs nothing of Node's", async () => {
    const content = readFileSync(await bundled(name, "browser"), "utf8");
    expect(content).not.toMatch(/from\s*"node:|require\(/);
    const found: string[] = [];
    await withBrowser({}, async (context: import("playwright-core").BrowserContext) => {
      const page = await context.newPage();
      page.on("console", (message) => found.push(message.text()));
      page.on("pageerror", (error) => found.push(error.message));
      await page.addScriptTag({ content });
    });
    expect(found).toEqual(printed);
  });
});
