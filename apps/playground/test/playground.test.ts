// The page in a real browser, served by `modrik demo`.
import type { BrowserContext, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { chromiumPath, openBrowser } from "../../../scripts/lib/browser.mjs";
import { startDemo } from "../../../scripts/lib/demo-server.mjs";

if (!chromiumPath)
  console.warn("The page is not tested: there is no Chromium. On Debian: apt-get install chromium; else name one in CHROMIUM.");

describe.skipIf(!chromiumPath)("the playground", () => {
  let demo: { playground: string; end: () => void };
  let browser: { context: BrowserContext; end: () => Promise<void> };

  beforeAll(async () => {
    demo = (await startDemo()) as typeof demo;
    browser = await openBrowser({ viewport: { width: 1280, height: 800 } });
  });
  afterAll(async () => {
    await browser?.end();
    demo?.end();
  });

  /** Opens a page of its own and waits for its first simulated day; nothing may go wrong on it. */
  async function open(use: (page: Page) => Promise<void>, setUp?: (page: Page) => Promise<void>): Promise<void> {
    const page = await browser.context.newPage();
    const wrong: string[] = [];
    page.on("pageerror", (error) => wrong.push(error.message));
    page.on("console", (message) => message.type() === "error" && wrong.push(message.text()));
    await setUp?.(page);
    await page.goto(demo.playground);
    await page.getByText("All 59 trials pass.").waitFor();
    await use(page);
    expect(wrong).toEqual([]);
    await page.evaluate(() => localStorage.clear());
    await page.close();
  }

  const drawn = (page: Page) => page.locator(".day svg").innerHTML();

  test("shows the house and its day", () =>
    open(async (page) => {
      expect(await page.getByLabel("Text of rules.modrik").innerText()).toContain("keep bench.humidity at bench.moisture");
      const day = await drawn(page);
      for (const name of ["Temperature °C", "Humidity %RH", "Panel heater", "Bench lamps", "Shop hours", "open"])
        expect(day).toContain(name);
    }));

  test("redraws as the text changes, and shows a problem at its place", () =>
    open(async (page) => {
      const before = await drawn(page);
      const editor = page.getByLabel("Text of rules.modrik");
      await editor.click();
      await page.keyboard.press("Control+Home");
      await page.keyboard.type("rule glow { hold bench.dryer at on }\n");
      await expect.poll(() => drawn(page), { timeout: 10_000 }).not.toBe(before);
      await expect.poll(() => page.locator(".state").innerText(), { timeout: 10_000 }).toContain("Trial damp_hands fails");

      await page.keyboard.type("rule broken { hold bench.fann at on }");
      await page.getByText('There is no output called "bench.fann".').first().waitFor();
      // It is read while it is typed: once all of it is read, that is the only place.
      await expect.poll(() => page.locator(".cm-lintRange-error").allInnerTexts(), { timeout: 30_000 }).toEqual(["bench.fann"]);
      expect(await page.locator(".day").getAttribute("data-stale")).toBe("true");
      // What is typed slowly is undone in several strokes.
      const undone = async () => {
        await page.keyboard.press("Control+z");
        return await page
          .locator(".day[data-stale=false]")
          .waitFor({ timeout: 4000 })
          .then(
            () => true,
            () => false,
          );
      };
      await expect.poll(undone, { timeout: 60_000 }).toBe(true);
    }));

  test("tells what reasoning finds, at its place, and not of what is allowed", () =>
    open(async (page) => {
      const editor = page.getByLabel("Text of rules.modrik");
      await editor.click();
      await page.keyboard.press("Control+Home");
      await page.keyboard.type("rule lit { while bench.daylight below 200 lx hold porch.lamp at on }\n");
      const found = page.locator(".state").getByText("porch.lamp turns on and off at the same value, 200 lx");
      await found.waitFor({ timeout: 15_000 });
      expect(await page.locator(".cm-lintRange-warning").first().innerText()).toBe("porch.lamp at on");
      expect(await page.locator(".state").innerText()).not.toContain("is not read by any rule");
      await page.keyboard.press("Control+z");
      await found.waitFor({ state: "detached", timeout: 15_000 });
    }));

  test("completes, tells the numbers of a rule, and fixes what is nearly right", () =>
    open(async (page) => {
      const editor = page.getByLabel("Text of rules.modrik");
      const hint = page.locator(".hint").first();
      expect(await hint.innerText()).toBe("on below 42 %RH, off at 45 %RH");
      await page.getByLabel("Humidity wanted").fill("50");
      await expect.poll(() => hint.innerText(), { timeout: 10_000 }).toBe("on below 47 %RH, off at 50 %RH");

      await editor.click();
      await page.keyboard.press("Control+Home");
      await page.keyboard.type("rule glow { while bench.door is ");
      await page.locator(".cm-tooltip-autocomplete").getByText("closed", { exact: true }).waitFor();
      await page.keyboard.type("closed hold bench.dryerr at on }\n");
      await page.getByText('There is no output called "bench.dryerr".').first().waitFor();
      await page.locator(".cm-lintRange-error", { hasText: "bench.dryerr" }).hover();
      await page.getByRole("button", { name: "Write bench.dryer" }).click();
      await page.locator(".day[data-stale=false]").waitFor();
      expect(await editor.innerText()).toContain("hold bench.dryer at on");

      await editor.getByText("bench.humidifier").first().hover();
      await page.getByText("protected: on at least 2 min").waitFor();
    }));

  test("redraws as a dial or the weather is changed", () =>
    open(async (page) => {
      const before = await drawn(page);
      await page.getByLabel("Humidity tolerance").fill("1");
      await expect.poll(() => drawn(page), { timeout: 10_000 }).not.toBe(before);
      const narrow = await drawn(page);
      await page
        .getByRole("combobox", { name: "Weather" })
        .or(page.getByLabel("Weather", { exact: true }))
        .first()
        .click();
      await page.getByRole("option", { name: "A hot day in July" }).click();
      await expect.poll(() => drawn(page), { timeout: 10_000 }).not.toBe(narrow);
    }));

  test("shows another zone, with its own dials", () =>
    open(async (page) => {
      await page.getByText("Varnish booth", { exact: true }).click();
      await expect.poll(() => drawn(page), { timeout: 10_000 }).toContain("Booth heater");
      expect(await drawn(page)).not.toContain("Panel heater");
      expect(await page.locator(".dials").innerText()).toContain("Warmth of the booth");
      expect(await page.locator(".dials").innerText()).not.toContain("Humidity tolerance");
    }));

  test("explains a moment, chosen with the keyboard alone", () =>
    open(async (page) => {
      await page.locator(".day").focus();
      await page.keyboard.press("ArrowRight");
      await page.getByRole("heading", { name: "At 2026-01-15 12:05" }).waitFor();
      expect(await page.locator(".why").innerText()).toContain("bench.heater is off, since 12:00");
      await page.keyboard.press("PageDown");
      await page.getByRole("heading", { name: "At 2026-01-15 13:05" }).waitFor();
    }));

  test("fits a phone, and the night", () =>
    open(
      async (page) => {
        const { scroll, width } = await page.evaluate(() => ({
          scroll: document.documentElement.scrollWidth,
          width: innerWidth,
        }));
        expect(scroll).toBeLessThanOrEqual(width);
        expect(await page.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe("rgb(19, 26, 25)");
        await page.getByRole("button", { name: "Day" }).click();
        await expect.poll(() => page.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe("rgb(244, 247, 240)");
      },
      async (page) => {
        await page.setViewportSize({ width: 390, height: 844 });
        await page.emulateMedia({ colorScheme: "dark" });
      },
    ));

  test("colours the words of the language as they are written, from the first sign on", () =>
    open(async (page) => {
      const editor = page.getByLabel("Text of rules.modrik");
      await editor.locator(".is-keyword", { hasText: "keep" }).first().waitFor();
      await editor.click();
      await page.keyboard.press("Control+Home");
      await page.keyboard.type("rule glow { while bench.door is open hold bench.dryer at on }");
      const words = (kind: string) => editor.locator(".cm-line").first().locator(`.is-${kind}`).allInnerTexts();
      await expect.poll(() => words("keyword")).toEqual(["rule", "while", "is", "hold", "at"]);
      expect(await words("name")).toEqual(["glow", "bench.door", "open", "bench.dryer", "on"]);
    }));
});
