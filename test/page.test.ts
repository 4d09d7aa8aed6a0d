// A chart as a page that stands alone, opened from a file in Chromium: its cursor reads every value, with pointer and keys.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { modrik, root } from "../packages/cli/test/modrik.js";
import { openBrowser } from "../scripts/lib/browser.mjs";

let folder = "";
let browser: Awaited<ReturnType<typeof openBrowser>>;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "modrik-page-"));
  browser = await openBrowser({ viewport: { width: 1280, height: 800 } });
});
afterAll(async () => {
  await browser.end();
  rmSync(folder, { recursive: true, force: true });
});

async function open(...words: string[]) {
  const file = join(folder, `${words.length}.html`);
  expect((await modrik([...words, file], root)).code).toBe(0);
  const page = await browser.context.newPage();
  const troubles: string[] = [];
  page.on("pageerror", (error: Error) => troubles.push(error.message));
  page.on("request", (request: { url(): string }) => {
    if (!request.url().startsWith("file:")) troubles.push(request.url());
  });
  await page.goto(`file://${file}`);
  await page.locator("#chart canvas").first().waitFor();
  return { page, troubles };
}

test("a day: pointer and arrow keys read all that is on it, and nothing is asked for", async () => {
  const { page, troubles } = await open("simulate", "examples/linden-yard", "--zone", "bench", "--chart");
  const values = page.locator("#values");
  const box = (await page.locator("#chart").boundingBox()) as { x: number; width: number; y: number };
  // The axis goes from 150 px on to 44 px before the end: here stands noon.
  await page.mouse.move(box.x + 150 + (box.width - 194) / 2, box.y + 120);
  await expect
    .poll(async () => await values.textContent())
    .toMatch(/^Thu 15 Jan, (11:5\d|12:0\d).*Bench room.*temperature\d+(\.\d)? °C.*Panel heateron?/);
  // A pointer that leaves takes neither the values nor their cursor with it.
  const drawn = async () => {
    await page.evaluate("new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))");
    return (await page.locator("#chart").screenshot()).toString("base64");
  };
  const pointed = await drawn();
  await page.mouse.move(box.x + box.width + 60, box.y + 120);
  expect((await drawn()) === pointed).toBe(true);
  const before = await page.locator("#when").textContent();
  await page.locator("#chart").focus();
  await page.keyboard.press("ArrowRight");
  expect(await page.locator("#when").textContent()).not.toBe(before);
  expect(troubles).toEqual([]);
});

test("a report fits a phone: its tables scroll for themselves, its values stand below the chart", async () => {
  const { page, troubles } = await open("simulate", "examples/three-ways/target.modrik", "--report");
  await page.setViewportSize({ width: 390, height: 800 });
  for (const heading of ["Figures", "Chart", "Notices", "Problems while running", "Rules in force"])
    expect(await page.getByRole("heading", { name: heading, exact: true }).count()).toBe(1);
  const wide = (await page.evaluate(
    "document.querySelector('.wide').scrollWidth - document.querySelector('.wide').clientWidth",
  )) as number;
  expect(wide).toBeGreaterThan(0);
  expect(troubles).toEqual([]);
});
