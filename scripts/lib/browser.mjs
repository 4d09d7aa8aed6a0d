// Debian's Chromium, driven headless.
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "playwright-core";

const places = [process.env.CHROMIUM, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

export const chromiumPath = places.find((path) => path && existsSync(path));

const flags =
  "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync --hide-scrollbars";

/** Runs `use(context)` in a browser with a fresh profile, and ends it whatever happens. */
export async function withBrowser(options, use) {
  const profile = mkdtempSync(join(tmpdir(), "modrik-browser-"));
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: chromiumPath,
    args: flags.split(" "),
    ...options,
  });
  try {
    return await use(context);
  } finally {
    await context.close();
    rmSync(profile, { recursive: true, force: true });
  }
}
