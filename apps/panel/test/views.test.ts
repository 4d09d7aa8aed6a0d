// The views of the panel, of the demo house as it runs fast: what is on them, for all eyes, hands and screens.
import { readFileSync } from "node:fs";
import type { Page, Request } from "playwright-core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { chromiumPath } from "../../../scripts/lib/browser.mjs";
import { startDemo } from "../../../scripts/lib/demo-server.mjs";
import { until } from "../../../test/patience.js";
import { Eyes, expectAccessible } from "../../look/test/eyes.js";

interface Demo {
  readonly origin: string;
  readonly panel: string;
  readonly end: () => Promise<unknown>;
}

describe.skipIf(!chromiumPath)("the panel of the demo", () => {
  const eyes = new Eyes();
  let demo: Demo;

  beforeAll(async () => {
    demo = (await startDemo("--speed", "300")) as unknown as Demo;
    await eyes.start();
    // Some hours have to have gone by, for there to be a history.
    await until(async () => (await hoursGone()) >= 2);
  });
  afterAll(async () => {
    await eyes.end();
    await demo?.end();
  });

  async function hoursGone(): Promise<number> {
    const { at, runningSince } = (await (await fetch(`${demo.origin}/house`)).json()) as { at: string; runningSince: string };
    return (Date.parse(at) - Date.parse(runningSince)) / 3_600_000;
  }

  const look = (hash: string, use: (page: Page) => Promise<void>, scheme: "light" | "dark" = "light") =>
    eyes.look(`${demo.panel}${hash}`, use, { scheme });

  /** Each view with what says that it is there. */
  const views: readonly [name: string, hash: string, there: string][] = [
    ["now", "#/now", ".row.output"],
    ["a thing", "#/now//bench.heater", "[role=dialog] .sentences"],
    ["a dial", "#/now//bench.moisture", "[role=dialog] .sentences"],
    ["rules", "#/rules", ".entries pre"],
    ["history", "#/history/bench", ".figures table"],
    ["the log", "#/log", ".log-line"],
    ["people", "#/people", "#tokens"],
  ];

  test.each(views.flatMap((view) => (["light", "dark"] as const).map((scheme) => [...view, scheme] as const)))(
    "%s (%s) keeps nobody out, with %s there, by %s",
    (_, hash, there, scheme) =>
      look(
        hash,
        async (page) => {
          await page.locator(there).first().waitFor();
          await expectAccessible(page);
        },
        scheme,
      ),
  );

  test.each(views)("%s fits a phone, a tablet on the wall and a desk", (_, hash, there) =>
    look(hash, async (page) => {
      for (const [width, height] of [
        [390, 844],
        [1024, 600],
        [1280, 800],
      ] as const) {
        await page.setViewportSize({ width, height });
        await page.locator(there).first().waitFor();
        const { scroll, inner } = await page.evaluate(() => ({
          scroll: document.documentElement.scrollWidth,
          inner: innerWidth,
        }));
        expect([width, scroll]).toEqual([width, Math.min(scroll, inner)]);
      }
    }),
  );

  test("every zone is there with what is measured and done in it, and what comes next", () =>
    look("", async (page) => {
      await page.getByRole("heading", { name: "What comes next" }).waitFor();
      const headings = await page.locator(".zone h2").allInnerTexts();
      expect(headings.map((text) => text.replace(/\s*history$/, ""))).toEqual([
        "Bench room",
        "Timber store",
        "Varnish booth",
        "Porch",
        "Loft",
        "Yard",
        "What comes next",
      ]);
      const bench = page.locator(".zone", { hasText: "Bench room" });
      await expect.poll(() => bench.locator(".row", { hasText: /^temperature/ }).innerText()).toMatch(/\d °C\s+\d+ (s|min)/);
      await expect.poll(() => bench.locator(".row.output").count()).toBe(4);
      await expect.poll(() => bench.locator(".row.output .reason").allInnerTexts()).not.toContain("");
    }));

  test("nothing is read out as values change: what was done and whether the house is heard are the only live regions", () =>
    look("", async (page) => {
      await page.locator(".row.output").first().waitFor();
      const live = await page
        .locator("[aria-live], [role=status], [role=alert], [role=log]")
        .evaluateAll((all) => all.map((one) => one.className));
      expect(live.sort()).toEqual(["lost", "said"]);
    }));

  test("everything is reached by keyboard: a thing is opened, left, and the page is where it was", () =>
    look("", async (page) => {
      const row = page.locator(".row.output", { hasText: "Panel heater" });
      await row.focus();
      await page.keyboard.press("Enter");
      await page.getByRole("dialog").waitFor();
      expect(page.url()).toContain("bench.heater");
      await page.keyboard.press("Escape");
      await page.getByRole("dialog").waitFor({ state: "detached" });
      await expect.poll(() => row.evaluate((one) => one === document.activeElement)).toBe(true);
      await page.goBack();
      await page.getByRole("dialog").waitFor();
    }));

  test("the history draws curves with their bands, its cursor reads values, and a file of it can be had", () =>
    look("#/history/bench", async (page) => {
      const chart = page.getByRole("slider", { name: /Moment of the history/ });
      await page.locator(".chart svg").waitFor();
      const drawn = await page.locator(".chart svg").innerHTML();
      for (const name of ["Temperature °C", "Humidity %RH", "Panel heater", "wanted"]) expect(drawn).toContain(name);
      await chart.focus();
      await page.keyboard.press("ArrowLeft");
      await page.keyboard.press("PageUp");
      const read = page.getByRole("region", { name: "Values at the cursor" });
      await expect.poll(() => read.innerText()).toMatch(/temperature\n+[\d.]+ °C[\s\S]*Panel heater\n+(on|off)/);
      await page.getByText("week", { exact: true }).click();
      await expect.poll(() => page.locator(".figures caption").allInnerTexts()).toEqual(["Outputs", "Kept values"]);
      const [download] = await Promise.all([
        page.waitForEvent("download"),
        page.getByRole("button", { name: "Download CSV" }).click(),
      ]);
      const text = readFileSync((await download.path()) as string, "utf8");
      expect(download.suggestedFilename()).toMatch(/^bench-\d{4}-\d\d-\d\d\.csv$/);
      expect(text.split("\n")[0]).toContain("bench.temperature");
      expect(text.split("\n").length).toBeGreaterThan(100);
    }));

  test("two rooms stand against their mean", () =>
    look("#/history/chosen%3Aloft.sitting%2Cbench.temperature", async (page) => {
      await page.locator(".chart svg").waitFor();
      await page.getByRole("slider", { name: /Moment of the history/ }).focus();
      await page.keyboard.press("ArrowLeft");
      const read = await page.getByRole("region", { name: "Values at the cursor" }).innerText();
      const value = (name: string) => Number(new RegExp(`${name}\\n+([\\d.]+) °C`).exec(read)?.[1]);
      expect(value("mean")).toBeCloseTo((value("Loft, Sitting corner") + value("Bench room, temperature")) / 2, 0);
    }));

  test("a span of one's own is refused where it ends before it begins", () =>
    look("#/history/bench", async (page) => {
      await page.getByText("other", { exact: true }).click();
      await page.getByLabel("From").fill("2026-12-24T12:00");
      await page.getByLabel("To", { exact: true }).fill("2026-12-24T10:00");
      await page.getByText("It would end before it begins.").waitFor();
      await expect.poll(() => page.getByRole("button", { name: "Show" }).isDisabled()).toBe(true);
      await page.getByLabel("From").fill("2020-12-24T08:00");
      await page.getByLabel("To", { exact: true }).fill("2020-12-24T10:00");
      await page.getByRole("button", { name: "Show" }).click();
      await page.getByRole("alert").getByText("Nothing is remembered of that time.").waitFor();
    }));

  test("it can be installed: a manifest with icons that are there, and a worker", () =>
    look("", async (page) => {
      const manifest = await page.evaluate(async () => {
        const link = document.querySelector<HTMLLinkElement>("link[rel=manifest]") as HTMLLinkElement;
        return (await fetch(link.href)).json() as Promise<{ icons: { src: string; sizes: string }[]; display: string }>;
      });
      expect(manifest.display).toBe("standalone");
      for (const { src, sizes } of manifest.icons) {
        const size = await page.evaluate(async (icon) => {
          const image = new Image();
          image.src = icon;
          await image.decode();
          return `${image.naturalWidth}x${image.naturalHeight}`;
        }, src);
        if (sizes !== "any") expect(size).toBe(sizes);
      }
      await expect.poll(() => page.evaluate(async () => (await navigator.serviceWorker.ready).scope)).toBe(demo.panel);
    }));

  test("on a slow network it keeps its own pace, and stays in step", () =>
    look("", async (page) => {
      const session = await page.context().newCDPSession(page);
      await session.send("Network.emulateNetworkConditions", {
        offline: false,
        latency: 400,
        downloadThroughput: 50_000,
        uploadThroughput: 20_000,
      });
      let asked = 0;
      let most = 0;
      const open = new Set<unknown>();
      const isNow = (request: Request) => request.url().endsWith("/now");
      page.on("request", (request) => {
        if (!isNow(request)) return;
        asked += 1;
        open.add(request);
        most = Math.max(most, open.size);
      });
      for (const ends of ["requestfinished", "requestfailed"] as const)
        page.on(ends as "requestfinished", (request) => open.delete(request));
      const clock = () => page.locator(".clock strong").innerText();
      const before = await clock();
      await expect.poll(() => asked).toBeGreaterThan(5);
      await expect.poll(() => clock()).not.toBe(before);
      // It asks again once it has been answered.
      expect(most).toBe(1);
    }));
});
