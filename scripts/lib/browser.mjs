// Debian's Chromium, driven headless.
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "playwright-core";

const places = [process.env.CHROMIUM, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

export const chromiumPath = places.find((path) => path && existsSync(path));

const flags =
  "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync --hide-scrollbars";

/** A browser with a fresh profile, and a way to end it. */
export async function openBrowser(options = {}) {
  const profile = mkdtempSync(join(tmpdir(), "modrik-browser-"));
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: chromiumPath,
    args: flags.split(" "),
    ...options,
  });
  const end = async () => {
    await context.close();
    rmSync(profile, { recursive: true, force: true });
  };
  return { context, end };
}

/** Runs `use(context)` in a browser of its own, and ends it whatever happens. */
export async function withBrowser(options, use) {
  const { context, end } = await openBrowser(options);
  try {
    return await use(context);
  } finally {
    await end();
  }
}
