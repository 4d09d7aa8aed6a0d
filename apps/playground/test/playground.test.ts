// The page in a real browser, served by `modrik demo`, as people go through it: few tests, and long ones.
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { chromiumPath } from "../../../scripts/lib/browser.mjs";
import { startDemo } from "../../../scripts/lib/demo-server.mjs";
import { Eyes, expectAccessible, expectFits } from "../../look/test/eyes.js";

if (!chromiumPath)
  console.warn("The page is not tested: there is no Chromium. On Debian: apt-get install chromium; else name one in CHROMIUM.");

interface Demo {
  readonly playground: string;
  readonly end: () => Promise<unknown>;
}

const judged = (page: Page) => page.locator(".state [data-judged=true]").waitFor();
const drawn = (page: Page) => page.locator(".day svg").innerHTML();
const settled = (page: Page) => page.locator(".day[data-stale=false] svg").waitFor();
const tab = (page: Page, name: string) => page.getByRole("tab", { name }).click();
const field = (page: Page, name: string) => page.getByRole("textbox", { name, exact: true });
const editorOf = (page: Page, file = "rules.modrik") => page.getByLabel(`Text of ${file}`);
const write = async (page: Page, text: string, file?: string) => {
  await editorOf(page, file).click();
  await page.keyboard.press("Control+Home");
  await page.keyboard.insertText(text);
};
/** Chooses in a list by what is written there. */
async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole("combobox", { name: label }).or(field(page, label)).first().click();
  await page.getByRole("option", { name: option }).first().click();
}
const inMenu = async (page: Page, item: string | RegExp) => {
  await page.getByRole("button", { name: /^House:/ }).click();
  await page.getByRole("menuitem", { name: item }).click();
};

describe.skipIf(!chromiumPath)("the playground", () => {
  const eyes = new Eyes();
  let demo: Demo;

  beforeAll(async () => {
    demo = (await startDemo()) as unknown as Demo;
    await eyes.start({ permissions: ["clipboard-read", "clipboard-write"] });
  });
  afterAll(async () => {
    await eyes.end();
    await demo?.end();
  });

  const open = (use: (page: Page) => Promise<void>, scheme: "light" | "dark" = "light") =>
    eyes.look(
      demo.playground,
      async (page) => {
        await judged(page);
        await settled(page);
        await use(page);
      },
      { scheme },
    );

  test("shows the house and its day, and redraws it as text, dials, weather and days change", () =>
    open(async (page) => {
      await expect.poll(() => editorOf(page).innerText()).toContain("keep bench.humidity at bench.moisture");
      let before = await drawn(page);
      for (const name of ["Temperature °C", "Humidity %RH", "Panel heater", "Bench lamps", "Shop hours", "open"])
        expect(before).toContain(name);
      const changed = async () => {
        await expect.poll(() => drawn(page)).not.toBe(before);
        await settled(page);
        before = await drawn(page);
      };
      await field(page, "Humidity tolerance").fill("1");
      await changed();
      await choose(page, "Weather", "A hot day in July");
      await changed();
      await expect.poll(() => page.locator(".bar").innerText()).toContain("A hot day in July");
      await page.getByLabel("How long").getByText("week").click();
      await changed();
      expect(before).toMatch(/Tue|Wed|Fri/);
      await page.getByRole("button", { name: "Dials as written" }).click();
      await changed();
      // A long run says how far it is, and is not waited for when something else is wanted.
      const before31 = page.workers().length;
      await page.getByLabel("How long").getByText("month").click();
      await page.getByText(/^Running, \d+ %$/).waitFor();
      await page.getByLabel("How long").getByText("day", { exact: true }).click();
      await settled(page);
      await expect.poll(() => page.workers().length).toBe(before31);
      await expect.poll(() => drawn(page)).toMatch(/04:00[\s\S]*08:00/);
      before = await drawn(page);
      await page.getByText("Varnish booth", { exact: true }).click();
      await expect.poll(() => drawn(page)).toContain("Booth heater");
      await expect.poll(() => drawn(page)).not.toContain("Panel heater");
      await expect.poll(() => page.locator(".settings").innerText()).toContain("Warmth of the booth");
      await expect.poll(() => page.locator(".settings").innerText()).not.toContain("Humidity tolerance");
    }));

  test("shows a problem at its place and what a trial says of it, and keeps the last day until there is another", () =>
    open(async (page) => {
      const before = await drawn(page);
      await write(page, "rule glow { hold bench.dryer at on }\n");
      await expect.poll(() => drawn(page)).not.toBe(before);
      await expect.poll(() => page.locator(".state").innerText()).toMatch(/\d+ of 59 trials fail/);
      await tab(page, "Trials");
      await field(page, "Show only trials with").fill("damp_hands failed");
      await expect.poll(() => page.locator(".trials > li").allInnerTexts()).toEqual([expect.stringContaining("not so:")]);

      await write(page, "rule broken { hold bench.fann at on }");
      await page.getByText('There is no output called "bench.fann".').first().waitFor();
      await expect.poll(() => page.locator(".cm-lintRange-error").allInnerTexts()).toEqual(["bench.fann"]);
      await expect.poll(() => page.locator(".day").getAttribute("data-stale")).toBe("true");
      await expect.poll(() => page.locator(".state").innerText()).toContain("what is shown is from before");
      // The whole line is one stroke, and so is its undoing.
      await page.keyboard.press("Control+z");
      await settled(page);
      await page.keyboard.press("Control+z");
      await page.getByText("All 59 trials pass.").first().waitFor();
    }));

  test("completes, tells the numbers of a rule, fixes what is nearly right, colours and describes", () =>
    open(async (page) => {
      const editor = editorOf(page);
      const hint = page.locator(".hint").first();
      await expect.poll(() => hint.innerText()).toBe("on below 42 %RH, off at 45 %RH");
      await field(page, "Humidity wanted").fill("50");
      await expect.poll(() => hint.innerText()).toBe("on below 47 %RH, off at 50 %RH");

      await editor.click();
      await page.keyboard.press("Control+Home");
      await page.keyboard.type("rule glow { while bench.door is ");
      await page.locator(".cm-tooltip-autocomplete").getByText("closed", { exact: true }).waitFor();
      await page.keyboard.type("closed hold bench.dryerr at on }");
      // What a slow machine offers late is not what is wanted.
      await page.keyboard.press("Escape");
      await page.keyboard.press("Enter");
      const words = (kind: string) => editor.locator(".cm-line").first().locator(`.is-${kind}`).allInnerTexts();
      await expect.poll(() => words("keyword")).toEqual(["rule", "while", "is", "hold", "at"]);
      await page.getByText('There is no output called "bench.dryerr".').first().waitFor();
      await page.locator(".cm-lintRange-error", { hasText: "bench.dryerr" }).hover();
      await page.getByRole("button", { name: "Write bench.dryer" }).click();
      await settled(page);
      await expect.poll(() => editor.innerText()).toContain("hold bench.dryer at on");
      // What should not be there is taken out.
      await write(page, "rule shine { while bench.door is open then hold porch.lamp at on }\n");
      await page.locator(".cm-lintRange-error", { hasText: "then" }).hover();
      await page.locator(".cm-diagnosticAction", { hasText: "Remove it" }).click();
      await settled(page);
      await expect.poll(() => editor.innerText()).toMatch(/door is open\s+hold porch\.lamp at on/);
      await editor.getByText("bench.humidifier").first().hover();
      await page.getByText("protected: on at least 2 min").waitFor();
      // What reasoning finds stands beside what reading finds, and in Checks.
      await write(page, "rule lit { while bench.daylight below 200 lx hold porch.lamp at on }\n");
      const found = page.locator(".state").getByText("porch.lamp turns on and off at the same value, 200 lx");
      await found.waitFor();
      await tab(page, "Checks");
      await page.getByLabel("Checks").getByText("porch.lamp turns on and off at the same value, 200 lx").click();
      await expect
        .poll(() => page.evaluate(() => document.activeElement?.getAttribute("aria-label")))
        .toBe("Text of rules.modrik");
    }));

  test("the cursor stands at the moment that is read, whatever was last reported near it, and goes along to another chart", () =>
    open(async (page) => {
      const chart = page.locator(".day .chart");
      /** Where it stands between the ends of the axis, which are 150 px and 44 px from those of the chart. */
      const cursors = async () => {
        const { x, width } = (await chart.boundingBox()) as { x: number; width: number };
        const places = await chart.locator("svg path[stroke-dasharray]").evaluateAll((paths) =>
          paths.flatMap((path) => {
            const { left, width: wide, height } = path.getBoundingClientRect();
            return wide < 3 && height > 10 ? [left + wide / 2] : [];
          }),
        );
        return new Set(places.map((place) => Math.round((place - x - 150) / ((width - 194) / 288))));
      };
      await expect.poll(cursors).toEqual(new Set([144]));
      await chart.focus();
      for (const key of ["PageDown", "PageDown", "ArrowLeft"]) await page.keyboard.press(key);
      await expect.poll(cursors).toEqual(new Set([167]));
      await tab(page, "Trials");
      await page
        .getByRole("button", { name: /solvent/ })
        .first()
        .click();
      await page.getByText("Back to the day").waitFor();
      await page.locator(".day[data-stale=false] svg").waitFor();
      await expect.poll(cursors).toEqual(new Set([167]));
      await chart.focus();
      await page.keyboard.press("PageUp");
      await expect.poll(cursors).toEqual(new Set([155]));
      await page.getByRole("heading", { name: "Tue 10 Feb, 09:21:32" }).waitFor();
      // Another width: what was pointed at is elsewhere, and stays there when all of it is drawn.
      await page.setViewportSize({ width: 1500, height: 900 });
      const width = () => chart.evaluate((element) => element.clientWidth - Number(element.querySelector("svg")?.clientWidth));
      await expect.poll(width).toBe(0);
      await page.locator(".day[data-stale=false] svg").waitFor();
      for (let frame = 0; frame < 4; frame++) await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(drawn)));
      await expect.poll(cursors).toEqual(new Set([155]));
    }));

  test("a pointer anywhere on it is read and explained at the same moment, and leaves its cursor where that was", () =>
    open(async (page) => {
      const chart = page.locator(".day .chart");
      const { width } = (await chart.boundingBox()) as { width: number };
      const [read, explained] = [page.getByLabel("Values at the cursor").locator("h2"), page.locator(".why h2")];
      for (const share of [0.31, 0.437, 0.55, 0.713]) {
        await chart.click({ position: { x: 150 + share * (width - 194), y: 60 } });
        const moment = new Date(Date.UTC(2026, 0, 15, 0, Math.round(share * 1440))).toISOString();
        const near = new RegExp(`2026-01-15 ${moment.slice(11, 14)}`);
        await expect.poll(() => explained.innerText()).toMatch(near);
        const [, said] = /(\d\d:\d\d)/.exec(await explained.innerText()) ?? [];
        await expect.poll(() => read.innerText()).toBe(`Thu 15 Jan, ${said}`);
      }
      const lines = () => chart.locator("svg path[stroke-dasharray='4,2']").count();
      await expect.poll(lines).toBeGreaterThan(2);
      await page.getByRole("tab", { name: "Trials" }).hover();
      // What a pointer does that leaves is drawn with the next frame.
      await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))));
      await expect.poll(lines).toBeGreaterThan(2);
    }));

  test("says why and why not, by pointer and by keys alone, with the lines of the rules and what comes next", () =>
    open(async (page) => {
      const day = page.locator(".day .chart");
      await day.focus();
      await page.keyboard.press("ArrowRight");
      const why = page.locator(".why");
      await page.getByRole("heading", { name: /^At 2026-01-15 12:05/ }).waitFor();
      await expect.poll(() => why.innerText()).toContain("bench.heater is off, since 12:00");
      await page.keyboard.press("PageDown");
      await page.getByRole("heading", { name: /^At 2026-01-15 13:05/ }).waitFor();
      await why.getByRole("button", { name: "only this: bench.heater" }).click();
      await why.getByText("What comes next").waitFor();
      await expect.poll(() => why.innerText()).not.toContain("Reckoning…");
      await why
        .getByRole("button", { name: /^rule warm_hands, line \d+/ })
        .first()
        .click();
      await expect
        .poll(() => page.evaluate(() => document.activeElement?.getAttribute("aria-label")))
        .toBe("Text of rules.modrik");
      await expect.poll(() => page.locator(".cm-activeLine").innerText()).toContain("shop_hours");
      // A stretch where an output is off says why not; a value among those read says where it comes from.
      const row = await page.locator(".day svg text", { hasText: "Dehumidifier" }).boundingBox();
      const box = await day.boundingBox();
      await day.click({ position: { x: 420, y: (row?.y ?? 0) + (row?.height ?? 0) / 2 - (box?.y ?? 0) } });
      await why
        .getByText(/bench\.dryer is off/)
        .first()
        .waitFor();
      await expect.poll(() => why.innerText()).toMatch(/rule dry_wood, line \d+/);
      await page.getByRole("button", { name: "daylight" }).click();
      await why
        .getByText(/bench\.daylight/)
        .first()
        .waitFor();
      await expect.poll(() => page.getByLabel("Values at the cursor").innerText()).toMatch(/daylight\s+[\d.]+ lx/);
      await page.getByText("The chart in words").click();
      await expect
        .poll(() => page.locator(".words").innerText())
        .toMatch(/Bench room, temperature[\s\S]*lowest .* °C at \d\d:\d\d/);
    }));

  test("lets happen, undoes, and keeps it as a trial that is looked at", () =>
    open(async (page) => {
      await tab(page, "By hand");
      await choose(page, "Which", /bench\.door/);
      await page.getByLabel("Value", { exact: true }).first().fill("open");
      await page.getByRole("button", { name: "Let it happen at 12:00" }).click();
      const timeline = field(page, "What is let happen, line by line");
      await expect.poll(() => timeline.inputValue()).toBe("at 12:00 bench.door is open");
      await expect.poll(() => drawn(page)).toContain("Happens");
      await choose(page, "Let happen", "the power is cut");
      await page.locator(".day .chart").focus();
      await page.keyboard.press("PageUp");
      await page.getByRole("button", { name: "Let it happen at 11:00" }).click();
      // It comes before the last line, and says so by its date.
      await expect
        .poll(() => timeline.inputValue())
        .toBe("at 12:00 bench.door is open\nat 2026-01-15 11:00 the house is down for 30 min");
      await page.getByRole("button", { name: "Undo" }).click();
      await expect.poll(() => timeline.inputValue()).toBe("at 12:00 bench.door is open");
      await timeline.fill("at 12:00 bench.dor is ajar");
      await page.getByText(/Line 1: .*bench\.dor/).waitFor();
      await expect.poll(() => page.getByRole("button", { name: "Keep as trial…" }).isDisabled()).toBe(true);
      await page.getByRole("button", { name: "Undo" }).click();
      await expect.poll(() => page.getByRole("button", { name: "Keep as trial…" }).isEnabled()).toBe(true);
      await settled(page);

      await page.getByRole("button", { name: "Keep as trial…" }).click();
      const keep = page.getByRole("form", { name: "Keep as trial" });
      await keep.getByText("always bench.dryer is off").click();
      await keep.getByText(/told "The bench door has been open/).click();
      await field(page, "Name").fill("damp_hands");
      await keep.getByText("There is a trial of that name.").waitFor();
      await field(page, "Name").fill("left_open");
      await field(page, "In a sentence").fill("The door is left open at noon");
      await keep.getByRole("button", { name: "Write the trial" }).click();
      await page.getByText("passes: The door is left open at noon").waitFor();
      await page.getByText("All 60 trials pass.").first().waitFor();
      const trial = await drawn(page);
      for (const says of ["✓ expected", "always bench.dryer is off"]) expect(trial).toContain(says);
      await page.getByRole("list", { name: "What happens" }).getByRole("button").first().click();
      await tab(page, "Why");
      await page.getByRole("heading", { name: /^At 2026-01-15 12:00/ }).waitFor();
      await page.getByRole("button", { name: "Back to the day" }).click();
      await expect.poll(() => drawn(page)).not.toContain("Happens");
      await tab(page, "Trials");
      await page.getByRole("button", { name: "trials/bench.modrik:" }).last().click();
      await expect.poll(() => editorOf(page, "trials/bench.modrik").innerText()).toContain('"The door is left open at noon"');
    }));

  test("lays variants over one another, goes back to an earlier one, and tries a dial over its range", () =>
    open(async (page) => {
      await tab(page, "Compare");
      await page.getByRole("button", { name: "Hold this one" }).click();
      await field(page, "Humidity tolerance").fill("1");
      const compare = page.getByLabel("Compare", { exact: true });
      const starts = compare.getByRole("row", { name: /^Humidifier, starts/ });
      await starts.waitFor();
      const [now, held] = (await starts.getByRole("cell").allInnerTexts()).map((text) => Number.parseInt(text, 10));
      expect(now).toBeGreaterThan(held as number);
      await expect.poll(() => compare.locator(".chart svg").first().innerHTML()).toContain("held");
      await choose(page, "Beside", /as opened/);
      await starts.waitFor();
      await page.getByRole("button", { name: "Go back to that one" }).click();
      await expect.poll(() => field(page, "Humidity tolerance").inputValue()).toBe("3 %RH");
      await choose(page, "Dial", "Humidity tolerance");
      await page.getByRole("textbox", { name: "From", exact: true }).last().fill("1");
      await page.getByRole("textbox", { name: "To", exact: true }).fill("5");
      await page.getByRole("textbox", { name: "Step", exact: true }).fill("2");
      await page.getByRole("button", { name: "Try 3 values" }).click();
      const tune = page.getByLabel("Tune one dial");
      await tune.getByRole("table").waitFor();
      await expect.poll(() => tune.getByRole("rowheader").allInnerTexts()).toEqual(["1 %RH", "3 %RH", "5 %RH"]);
      await expect.poll(() => tune.getByRole("status").innerText()).toMatch(/bench\.slack/);
    }));

  test("runs the rules over a recording whose columns are given to things, and picks a threshold", () =>
    open(async (page) => {
      await tab(page, "Recording");
      const rows = Array.from({ length: 300 }, (_, minute) => {
        const time = new Date(Date.UTC(2026, 0, 15, 6, minute)).toISOString();
        return `${time},${(45 + 6 * Math.sin(minute / 25)).toFixed(1)}`;
      });
      const buffer = Buffer.from(["time,bench air [%RH]", ...rows].join("\n"));
      await page.getByLabel(/Drop a recording here/).setInputFiles({ name: "bench.csv", mimeType: "text/csv", buffer });
      const recording = page.getByLabel("Recording", { exact: true });
      await recording.getByText("bench.csv: wide CSV, 1 columns.").waitFor();
      await expect.poll(() => page.getByRole("button", { name: "Run the rules over it" }).isDisabled()).toBe(true);
      await choose(page, "bench air is", "bench.humidity");
      await page.getByRole("button", { name: "Run the rules over it" }).click();
      await page.getByText("Back to the day").waitFor();
      await settled(page);
      await expect.poll(() => page.locator(".subject").innerText()).toContain("what the rules do moves nothing in it");
      await expect.poll(() => drawn(page)).toContain("Humidity %RH");
      await recording.getByText(/Two points that its noise does not cross: while bench air|while .* below/).waitFor();
      await expect.poll(() => recording.getByRole("table").last().getByRole("row").count()).toBeGreaterThan(5);
      await page
        .getByLabel(/Drop a recording here/)
        .setInputFiles({ name: "bad.csv", mimeType: "text/csv", buffer: Buffer.from("a,b\n1") });
      await recording.getByText(/^bad\.csv cannot be read\./).waitFor();
    }));

  test("goes from an annoyance to a proven rule, by keys, then holds the whole house in a link", () =>
    open(async (page) => {
      await page.getByRole("button", { name: /^House:/ }).focus();
      await page.keyboard.press("Enter");
      const focused = () => page.evaluate(() => document.activeElement?.textContent);
      const downTo = async (item: string) => {
        await page.keyboard.press("ArrowDown");
        return (await focused())?.startsWith(item) === true;
      };
      await expect.poll(() => downTo("A first rule")).toBe(true);
      await page.keyboard.press("Enter");
      const dialog = page.getByRole("dialog", { name: "A first rule" });
      await dialog.getByLabel("The air is too dry").focus();
      await page.keyboard.press("Space");
      await dialog.getByText("Its trial passes.").waitFor();
      await dialog.getByLabel("Humidity wanted").fill("80");
      await dialog.getByText("Humidity wanted: 35 %RH to 60 %RH, not 80 %RH.").waitFor();
      await dialog.getByLabel("Humidity wanted").fill("50");
      await dialog.getByLabel("Which room is it about?").fill("Cello room");
      await dialog.getByText("at first 50 %RH").or(dialog.getByText("given cello_room.humidity is 50 %RH")).first().waitFor();
      await dialog.getByText("Its trial passes.").waitFor();
      await dialog.getByRole("button", { name: "Go on with this house" }).focus();
      await page.keyboard.press("Enter");
      await page.getByRole("button", { name: "House: My house" }).waitFor();
      await judged(page);
      await write(page, "# mine\n");
      await page.getByRole("button", { name: "House: My house" }).getByText("changed").waitFor();
      await inMenu(page, "Copy a link that holds it");
      await page.getByText(/A link that holds the whole house is in the clipboard/).waitFor();
      const link = await page.evaluate(() => navigator.clipboard.readText());
      expect(link.startsWith(`${demo.playground}#house=`)).toBe(true);
      await eyes.look(link, async (other) => {
        await other.getByRole("button", { name: "House: My house" }).waitFor();
        await judged(other);
        await expect.poll(() => editorOf(other).innerText()).toMatch(/^# mine\s+rule moist_air/);
      });
      await eyes.look(`${link.slice(0, -40)}`, async (other) => {
        await other.getByText("This link holds no whole house: it may have been cut off.").waitFor();
      });
      const downloaded = page.waitForEvent("download");
      await inMenu(page, "Download");
      const file = await downloaded;
      expect(file.suggestedFilename()).toBe("my-house.zip");
      expect(
        readFileSync((await file.path()) as string)
          .subarray(0, 2)
          .toString(),
      ).toBe("PK");
      // What was written is there when the page is opened again.
      await write(page, "# again\n");
      await expect.poll(() => page.evaluate(() => JSON.stringify(localStorage))).toContain("# again");
      await page.reload();
      await judged(page);
      await expect.poll(() => editorOf(page).innerText()).toMatch(/^# again\s+# mine/);
      // What is not saved is not given up unasked.
      page.once("dialog", (dialog) => void dialog.dismiss());
      await inMenu(page, /^Three ways: two limits/);
      await expect.poll(() => editorOf(page).innerText()).toMatch(/^# again/);
      page.once("dialog", (dialog) => void dialog.accept());
      await inMenu(page, /^Three ways: two limits/);
      await page.getByRole("button", { name: "House: Three ways: two limits" }).waitFor();
      await judged(page);
      await page
        .getByLabel("Files of a house")
        .setInputFiles({ name: "x.txt", mimeType: "text/plain", buffer: Buffer.from("x") });
      await page.getByText('There is no .modrik file in "x.txt".').waitFor();
    }));

  test("says what is untested, sentence by sentence, and where the present reading stands among the numbers", () =>
    open(async (page) => {
      await tab(page, "Checks");
      const checks = page.getByLabel("Checks", { exact: true });
      await checks.getByText("Nothing wrong: no gap, no overlap").waitFor();
      await page.getByRole("button", { name: "Look what is untested" }).click();
      await checks.getByText(/^\d+ of \d+ things were tried/).waitFor();
      await checks.locator("summary").first().click();
      await expect.poll(() => checks.locator("details[open] li").first().innerText()).not.toBe("");
      const line = checks.locator("figure", { hasText: "bench.humidity" });
      await expect.poll(() => line.innerText()).toMatch(/reads [\d.]+ %RH at the cursor/);
      await expect.poll(() => line.locator(".points span").allInnerTexts()).toEqual(["42", "45", "48"]);
      const place = () =>
        line
          .locator(".reading")
          .first()
          .evaluate((one) => (one as HTMLElement).style.insetInlineStart);
      const before = await place();
      await page.locator(".day .chart").focus();
      for (let press = 0; press < 3; press++) await page.keyboard.press("PageDown");
      await expect.poll(place).not.toBe(before);
    }));

  const tabs = ["Why", "By hand", "Trials", "Compare", "Recording", "Checks"];
  test.each(["light", "dark"] as const)("is in nobody's way (%s), and fits phone, tablet and desk", (scheme) =>
    open(async (page) => {
      const ground = await page.evaluate(() => getComputedStyle(document.body).backgroundColor);
      expect(ground).toBe(scheme === "dark" ? "rgb(19, 26, 25)" : "rgb(244, 247, 240)");
      await page.locator(".day .chart").focus();
      await page.keyboard.press("ArrowRight");
      for (const name of tabs) {
        await tab(page, name);
        await expectAccessible(page);
        const sizes =
          scheme === "light"
            ? ([
                [390, 844],
                [820, 1180],
                [1280, 800],
              ] as const)
            : [];
        for (const [width, height] of sizes) await expectFits(page, width, height);
      }
      await page.getByRole("button", { name: scheme === "dark" ? "Day" : "Night", exact: true }).click();
      await expect.poll(() => page.evaluate(() => getComputedStyle(document.body).backgroundColor)).not.toBe(ground);
      await inMenu(page, "A first rule, by a few questions…");
      await page.getByLabel("The air is too dry").check();
      await page.getByText("Its trial passes.").waitFor();
      await expectAccessible(page);
      await expectFits(page, 390, 844);
      await page.emulateMedia({ media: "print" });
      await expect.poll(() => page.locator(".settings").isVisible()).toBe(false);
      await expect.poll(() => page.locator(".day svg").isVisible()).toBe(true);
    }, scheme),
  );

  test("says so when a part of it cannot be fetched, and what is written stays", () =>
    eyes.look(
      demo.playground,
      async (page) => {
        await page
          .getByRole("alert")
          .getByText(/A fault of this page: the worker that \w+ could not be fetched/)
          .waitFor();
        await write(page, "# kept\n");
        await expect.poll(() => editorOf(page).innerText()).toMatch(/^# kept/);
      },
      { mayBreak: true, before: (page) => page.route(/house\.worker/, (route) => route.abort()) },
    ));

  test("comes with its charts and its editor apart, and little at first", () => {
    const folder = "packages/cli/playground";
    const page = readFileSync(join(folder, "index.html"), "utf8");
    const sizeOf = (file: string) => statSync(join(folder, "assets", `${file}.gz`)).size;
    const first = [...page.matchAll(/assets\/([\w.-]+\.(?:js|css))/g)].map(([, file]) => file as string);
    const assets = readdirSync(join(folder, "assets"));
    const worker = assets.filter((file) => /^house\.worker.*\.js$/.test(file));
    const apart = assets.filter((file) => /^(drawn|editor).*\.js$/.test(file));
    expect([worker.length, apart.length]).toEqual([1, 2]);
    expect(first.some((file) => apart.includes(file))).toBe(false);
    const initial = [...first, ...worker].reduce((sum, file) => sum + sizeOf(file), 0);
    expect(initial).toBeLessThan(700_000);
  });

  test("says when another tab writes too, of which this browser would keep the draft instead", () =>
    open(async (page) => {
      const other = await page.context().newPage();
      await other.goto(demo.playground);
      await settled(other);
      await write(other, "# nothing is written here yet\n");
      const warning = page.getByText("Another tab writes too, and this browser keeps one draft");
      await expect.poll(() => other.evaluate(() => localStorage.getItem("modrik playground")?.includes("yet"))).toBe(true);
      expect(await warning.count()).toBe(0);
      await write(page, "# mine\n");
      await other.getByText("Another tab writes too").waitFor();
      await write(other, "# theirs\n");
      await warning.waitFor();
      await other.close();
    }));

  test("opens one's own house, saves to its files, and does not overwrite what was changed elsewhere", async () => {
    const folder = mkdtempSync(join(tmpdir(), "modrik-own-"));
    const house = join(folder, "my-house");
    mkdirSync(house);
    const path = join(house, "house.modrik");
    const text = `house "Mine" { clock "UTC" readings last 15 min }\nzone z "Room" { sensor t: °C, 0..40 °C output o: on/off }\nrule r { keep z.t at 20 °C ± 1 K raise with z.o }\n`;
    writeFileSync(path, text);
    const own = (await startDemo(house)) as unknown as Demo;
    try {
      await eyes.look(own.playground, async (page) => {
        await page.getByRole("button", { name: "House: my-house" }).waitFor();
        await settled(page);
        await write(page, "# hers\n", "house.modrik");
        await page.getByRole("button", { name: "Save", exact: true }).click();
        await page.getByText("Saved house.modrik. The running house goes on with it.").waitFor();
        expect(readFileSync(path, "utf8")).toBe(`# hers\n${text}`);
        await expect.poll(() => page.getByRole("button", { name: "Save", exact: true }).count()).toBe(0);
        writeFileSync(path, `# theirs\n${text}`);
        await write(page, "# again\n", "house.modrik");
        await page.getByRole("button", { name: "Save", exact: true }).click();
        await page.getByText("house.modrik was changed elsewhere meanwhile: it was not overwritten.").waitFor();
        expect(readFileSync(path, "utf8")).toBe(`# theirs\n${text}`);
        // Nor is it after the page was opened again, with the draft that it kept.
        await page.reload();
        await page.getByRole("button", { name: "Save", exact: true }).click();
        await page.getByText("house.modrik was changed elsewhere meanwhile: it was not overwritten.").waitFor();
        expect(readFileSync(path, "utf8")).toBe(`# theirs\n${text}`);
      });
      const put = (body: object, headers = {}) =>
        fetch(new URL("/house-files", own.playground), {
          method: "PUT",
          headers: { "content-type": "application/json", ...headers },
          body: JSON.stringify(body),
        });
      const refusals: readonly (readonly [object, object, number])[] = [
        [{ name: "../x.modrik", text: "", before: null }, {}, 409],
        [{ name: "x.sh", text: "", before: null }, {}, 409],
        [{ name: "/etc/x.modrik", text: "", before: null }, {}, 409],
        [{ name: "house.modrik", text: "", before: "other" }, {}, 409],
        [{ name: "house.modrik" }, {}, 400],
        [{ name: "new.modrik", text: "", before: null }, { origin: "http://elsewhere.example" }, 403],
      ];
      for (const [body, headers, status] of refusals) expect([body, (await put(body, headers)).status]).toEqual([body, status]);
      expect(readdirSync(house)).toEqual(["house.modrik"]);
      expect((await put({ name: "more/new.modrik", text: "# new\n", before: null })).status).toBe(204);
      expect(readFileSync(join(house, "more", "new.modrik"), "utf8")).toBe("# new\n");
      // The house that ships stays as it is.
      const shipped = new URL("/house-files", demo.playground);
      expect((await fetch(shipped)).status).toBe(204);
      expect((await fetch(shipped, { method: "PUT", headers: { "content-type": "application/json" }, body: "{}" })).status).toBe(
        404,
      );
    } finally {
      await own.end();
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
