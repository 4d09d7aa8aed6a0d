// Pages in a real browser, looked after: nothing may go wrong on them, nor be asked of elsewhere.
import axe from "axe-core";
import type { BrowserContext, Page } from "playwright-core";
import { expect } from "vitest";
import { openBrowser } from "../../../scripts/lib/browser.mjs";
import { PATIENCE } from "../../../test/patience.js";

interface Browser {
  readonly context: BrowserContext;
  readonly end: () => Promise<void>;
}

interface LookOptions {
  /** Whether the house is to be cut off. */
  readonly mayBreak?: boolean;
  readonly scheme?: "light" | "dark";
  /** Done before it is opened. */
  readonly before?: (page: Page) => Promise<unknown>;
}

/** A browser whose pages are looked after: nothing may go wrong on them, nor be asked of elsewhere. */
export class Eyes {
  #browser: Browser | undefined;

  async start(options: object = {}): Promise<this> {
    this.#browser = (await openBrowser({ viewport: { width: 1280, height: 800 }, ...options })) as unknown as Browser;
    return this;
  }

  async end(): Promise<void> {
    await this.#browser?.end();
  }

  /** Opens a page; a house that is cut off is no mistake of the page. */
  async look(
    address: string,
    use: (page: Page) => Promise<void>,
    { mayBreak = false, scheme = "light", before }: LookOptions = {},
  ): Promise<void> {
    const page = await (this.#browser as Browser).context.newPage();
    const wrong: string[] = [];
    const { origin } = new URL(address);
    page.on("pageerror", (error) => wrong.push(error.message));
    page.on("console", (message) => {
      const isCutOff = /Failed to load resource|net::ERR/.test(message.text());
      // What the house refuses is shown on the page; the browser notes it too.
      const isRefused = /responded with a status of 4\d\d/.test(message.text());
      if (message.type() === "error" && !(mayBreak && isCutOff) && !isRefused) wrong.push(message.text());
    });
    page.on("request", (request) => {
      if (!request.url().startsWith(origin) && !/^(data|blob):/.test(request.url())) wrong.push(`asked ${request.url()}`);
    });
    try {
      page.setDefaultTimeout(PATIENCE);
      await page.emulateMedia({ colorScheme: scheme });
      await before?.(page);
      await page.goto(address);
      await use(page).catch(async (error: unknown) => {
        // What the page said, and shows: mostly that is why.
        const shown = await page.evaluate(() => `${document.visibilityState}: ${document.body.innerText}`).catch(String);
        throw new Error(`${error instanceof Error ? error.message : error}\n${[...wrong, shown.slice(0, 300)].join("\n")}`, {
          cause: error,
        });
      });
      expect(wrong).toEqual([]);
    } finally {
      // What one left behind, also one that failed, is nothing to the next.
      await page.evaluate(() => localStorage.clear()).catch(() => {});
      // One that stays open goes on listening, and a browser listens to one house only so often.
      await page.close();
    }
  }
}

/** Nothing on it is in the way of anybody. */
export async function expectAccessible(page: Page): Promise<void> {
  await page.evaluate(axe.source);
  const found = (await page.evaluate("axe.run({ resultTypes: ['violations'] })")) as {
    violations: { id: string; nodes: { html: string; failureSummary: string }[] }[];
  };
  expect(found.violations.map(({ id, nodes }) => [id, nodes[0]?.html, nodes[0]?.failureSummary])).toEqual([]);
}

/** Nothing of it lies beside the screen. */
export async function expectFits(page: Page, width: number, height: number): Promise<void> {
  await page.setViewportSize({ width, height });
  const beside = () => page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
  await expect.poll(beside).toBeLessThanOrEqual(0);
}
