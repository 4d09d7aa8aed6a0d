// What people do on the panel of a house whose devices say what the test wants, and what comes of it.
import type { Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { chromiumPath } from "../../../scripts/lib/browser.mjs";
import { Eyes } from "../../look/test/eyes.js";
import { LiveShed } from "./kit.js";

if (!chromiumPath)
  console.warn("The panel is not tested: there is no Chromium. On Debian: apt-get install chromium; else name one in CHROMIUM.");

/** What devices say again and again, as real ones do. */
const CALM = { air: 20, gas: 0, door: "closed", battery: 80, attic: 12 };

describe.skipIf(!chromiumPath)("the panel", () => {
  const shed = new LiveShed();
  const eyes = new Eyes();
  let says: Record<string, string | number> = { ...CALM };
  let beat: NodeJS.Timeout;

  beforeAll(async () => {
    await Promise.all([shed.start(), eyes.start()]);
    await shed.says(says);
    beat = setInterval(() => void shed.says(says).catch(() => {}), 500);
  });
  afterAll(async () => {
    clearInterval(beat);
    await eyes.end();
    await shed.end();
  });

  async function nowSays(now: Record<string, string | number>): Promise<void> {
    says = { ...says, ...now };
    await shed.says(now);
  }

  /** What the test before left is put back, whether it came to its end or not. */
  async function putBack(): Promise<void> {
    const send = (path: string, method: string, body?: unknown) =>
      fetch(`${new URL(shed.panel).origin}${path}`, {
        method,
        ...(body !== undefined && { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
      });
    for (const output of ["shed.heater", "shed.lamp"]) await send(`/outputs/${output}/hand`, "DELETE");
    await send("/dials/shed.warmth", "PUT", { value: 20 });
    await send("/modes/season", "PUT", { value: "winter" });
  }

  /** Opens the page with all devices calm. */
  async function look(use: (page: Page) => Promise<void>, options: { mayBreak?: boolean } = {}): Promise<void> {
    await nowSays(CALM);
    await putBack();
    await eyes.look(
      shed.panel,
      async (page) => {
        await row(page, "Heater").waitFor();
        await use(page);
      },
      options,
    );
  }

  const row = (page: Page, name: string) =>
    page.locator(".row", { has: page.locator(".name", { hasText: new RegExp(`^${name}$`) }) });
  /** A number and its unit are kept together by a space of their own. */
  const shows = (page: Page, name: string, text: string | RegExp) =>
    expect.poll(async () => (await row(page, name).innerText()).replaceAll("\u00a0", " ")).toMatch(text);
  const opened = (page: Page) => page.getByRole("dialog");
  async function open(page: Page, name: string): Promise<void> {
    await row(page, name).click();
    await opened(page).waitFor();
  }
  async function close(page: Page): Promise<void> {
    await opened(page).getByRole("button", { name: "Close" }).click();
    await opened(page).waitFor({ state: "detached" });
  }

  test("shows a message as soon as it came, and what is done about it and why", () =>
    look(async (page) => {
      await shows(page, "Air", /20 °C/);
      await shows(page, "Heater", /off\s+at rest; air is 20 °C; it turns on below 19 °C/);
      await nowSays({ air: 18.4 });
      await shows(page, "Air", /18.4 °C/);
      await shows(page, "Heater", /on\s+Warm hands: air is 18.4 °C; off above 21 °C/);
    }));

  test("an output taken by hand for a time, with who did it, and given back", () =>
    look(async (page) => {
      await page.getByRole("link", { name: "People" }).click();
      await page.getByLabel("Your name, for the log").fill("Ada");
      await page.getByRole("button", { name: "Keep" }).click();
      await page.getByRole("link", { name: "Now" }).click();
      await open(page, "Lamp");
      await opened(page).getByLabel("To what, 0..100 %").fill("35");
      await opened(page).getByRole("button", { name: "Switch" }).click();
      await page.getByRole("status").getByText("Lamp is 35 %, by hand.").waitFor();
      await opened(page)
        .getByText(/Switched by hand by Ada, until \d\d:\d\d/)
        .waitFor();
      await close(page);
      await shows(page, "Lamp", /35 %\s+by hand \(Ada\), until \d\d:\d\d/);
      await open(page, "Lamp");
      await opened(page).getByRole("button", { name: "Release" }).click();
      await page.getByRole("status").getByText("Lamp is back with its rules: 0 %.").waitFor();
      await opened(page).getByRole("button", { name: "Release" }).waitFor({ state: "detached" });
    }));

  test.each([
    // Late in the evening that is tomorrow's, and said with its day.
    ["until a time of day…", /until (\w+ \d+ \w+, )?22:00/],
    [/until Open (ends|begins)/, /until \d\d:\d\d/],
    ["until somebody releases it", /until it is released/],
    [/as long as usual/, /until \d\d:\d\d/],
  ])("a hand that lasts %s", (choice, told) =>
    look(async (page) => {
      await open(page, "Lamp");
      await opened(page).getByLabel("To what, 0..100 %").fill("10");
      await opened(page).getByRole("combobox", { name: "Until when" }).click();
      await page.getByRole("option", { name: choice }).click();
      await opened(page).getByRole("button", { name: "Switch" }).click();
      await opened(page).getByText(told).first().waitFor();
      await opened(page).getByRole("button", { name: "Release" }).click();
      await opened(page).getByRole("button", { name: "Release" }).waitFor({ state: "detached" });
    }),
  );

  test("a guard refuses a hand and says why, and lets it be once it may", () =>
    look(async (page) => {
      await nowSays({ gas: 40 });
      await shows(page, "Gas", /40 ppm/);
      await open(page, "Heater");
      await opened(page).getByRole("radiogroup").getByText("on", { exact: true }).click();
      await opened(page).getByRole("button", { name: "Switch" }).click();
      await opened(page).getByRole("alert").getByText("Guard no_fire does not permit it, so Heater stays off.").waitFor();
      await opened(page).getByText("guard no_fire does not permit it", { exact: true }).waitFor();
      await opened(page)
        .getByText(/shed\.gas.*25\sppm/)
        .first()
        .waitFor();
      await close(page);
      await shows(page, "Heater", /off[\s\S]*No fire beside gas: /);
      await nowSays({ gas: 3 });
      await shows(page, "Heater", /on\s+by hand/);
      await open(page, "Heater");
      await opened(page).getByRole("button", { name: "Release" }).click();
    }));

  test("a dial typed wrong is refused with its range; nudged, it shows its switch points first; set, it can be undone", () =>
    look(async (page) => {
      await open(page, "Warmth");
      const value = opened(page).getByLabel("Value, 10..25 °C");
      await opened(page).getByText("shed.heater: on below 19 °C, off above 21 °C").waitFor();
      await value.fill("40");
      await opened(page).getByRole("button", { name: "Set" }).click();
      await opened(page)
        .getByRole("alert")
        .getByText(/shed.warmth cannot be "40": its range is 10..25 °C/)
        .waitFor();
      await value.fill("21");
      await opened(page).getByRole("button", { name: "More by 0.5" }).click();
      await expect.poll(() => value.inputValue()).toBe("21.5 °C");
      await opened(page).getByText("shed.heater: on below 20.5 °C, off above 22.5 °C").waitFor();
      await opened(page).getByRole("button", { name: "Set" }).click();
      await opened(page)
        .getByText(/Was 20 °C until \d\d:\d\d/)
        .waitFor();
      await opened(page).getByRole("button", { name: "Back to 20 °C" }).click();
      await expect.poll(() => value.inputValue()).toBe("20 °C");
      // In another unit, as the language reads it.
      await value.fill("70 °F");
      await opened(page).getByRole("button", { name: "Set" }).click();
      await expect.poll(() => value.inputValue()).toBe("21.1 °C");
      await opened(page).getByRole("button", { name: "Back to 20 °C" }).click();
      await expect.poll(() => value.inputValue()).toBe("20 °C");
    }));

  test("modes, a countdown for another time, a preset that is seen before it is applied", () =>
    look(async (page) => {
      await page.getByRole("button", { name: "Season winter" }).click();
      await opened(page).getByRole("radiogroup").getByText("summer", { exact: true }).click();
      await page.getByRole("status").getByText("Season is summer.").waitFor();
      await close(page);
      await page.getByRole("button", { name: "Season summer" }).waitFor();

      await page.getByRole("button", { name: "Airing not running" }).click();
      await opened(page).getByLabel("For how long").fill("5 min");
      await opened(page).getByRole("button", { name: "Start" }).click();
      await opened(page)
        .getByText(/\d min left/)
        .waitFor();
      await close(page);
      await shows(page, "Fan", /on\s+Fresh air: /);
      await page.getByRole("button", { name: /Airing \d min left/ }).click();
      await opened(page).getByRole("button", { name: "Stop" }).click();
      await close(page);
      // It was on for less than it must.
      await shows(page, "Fan", /on\s+10 min more: minimum time · should be off; /);

      await page.getByRole("link", { name: "Rules" }).click();
      const preset = page.locator(".entries > li", { hasText: "Evening" });
      await expect.poll(() => preset.locator("tr").allInnerTexts()).toEqual(["Lamp\t0 %\t→\t30 %", "Warmth\t20 °C\t→\t18 °C"]);
      await preset.getByRole("button", { name: "Apply" }).click();
      await preset.getByText("All of it is so already.").waitFor();
      await page.getByRole("link", { name: "Now" }).click();
      await shows(page, "Lamp", /30 %/);
      await shows(page, "Warmth", /18 °C/);
      await open(page, "Lamp");
      await opened(page).getByRole("button", { name: "Release" }).click();
      await close(page);
      await open(page, "Warmth");
      await opened(page).getByRole("button", { name: "Back to 20 °C" }).click();
      await shows(page, "Warmth", /20 °C/);
    }));

  test("a rule is paused for a time and resumed, its steps are run, and why and why not are answered", () =>
    look(async (page) => {
      await page.getByRole("link", { name: "Rules" }).click();
      const entry = (title: string) => page.locator(".entries > li", { hasText: title });
      await entry("Warm hands").getByRole("combobox", { name: "Pause Warm hands" }).click();
      await page.getByRole("option", { name: "for 1 h" }).click();
      await entry("Warm hands")
        .getByText(/Paused until \d\d:\d\d/)
        .waitFor();
      await page.getByRole("link", { name: "Now" }).click();
      await page.getByRole("region", { name: "Wants attention" }).getByText("Rule warm is paused").waitFor();
      await page.getByRole("link", { name: "Rules" }).click();
      await entry("Warm hands").getByRole("button", { name: "Resume" }).click();
      await entry("Somebody comes").getByRole("button", { name: "Run its steps now" }).click();
      await entry("Missing warmth").getByRole("button", { name: "Why" }).click();
      await entry("Missing warmth")
        .getByText(/missing is 0\sK/)
        .waitFor();
      await page.getByRole("link", { name: "Now" }).click();
      const notice = page.getByRole("region", { name: "Wants attention" }).locator("li", { hasText: "The shed is open, 20 °C." });
      await notice.first().getByText("sent to phone").waitFor();
      await shows(page, "Lamp", /80 %\s+\d+ min more: for a time, by rule door · Somebody comes, at /);
      await open(page, "Heater");
      await opened(page).getByRole("button", { name: "Ask" }).click();
      await opened(page)
        .getByText(/shed.air is 20\s°C; it turns on below 19\s°C/)
        .first()
        .waitFor();
      await close(page);
      await notice.first().getByRole("button", { name: "why" }).click();
      await page
        .getByRole("region", { name: "Why this notice" })
        .getByText(/rule door "Somebody comes" was run by hand/)
        .waitFor();
      await page.getByRole("link", { name: "Now" }).click();
      await notice.first().getByRole("button", { name: "Tick off" }).click();
      await notice.waitFor({ state: "detached" });
    }));

  test("a sensor that falls silent is named as unknown and its time is told; a battery that is low is named", () =>
    look(async (page) => {
      const { air: _, ...others } = says;
      says = others;
      await shows(page, "Air", /unknown/);
      const attention = page.getByRole("region", { name: "Wants attention" });
      await attention.getByText("Air is unknown: no valid reading has come for too long").waitFor();
      await shows(page, "Heater", /off\s+at rest; air is unknown and cannot be compared with its target/);
      await nowSays({ air: 20, battery: 12 });
      await attention.getByText("Battery is low: 12 %").waitFor();
      await attention.getByText("Air is unknown").waitFor({ state: "detached" });
    }));

  test("the broker goes and comes back: it is said, and the rules go on", () =>
    look(async (page) => {
      await shed.stopBroker();
      const attention = page.getByRole("region", { name: "Wants attention" });
      await attention.getByText("The broker is away.").waitFor();
      await shed.startBroker();
      await attention.getByText("The broker is away.").waitFor({ state: "detached" });
      await nowSays({ air: 17 });
      await shows(page, "Heater", /on\s+Warm hands/);
    }));

  test("the process is killed and comes back: the page says it is cut off, then all that was done is there", () =>
    look(
      async (page) => {
        await open(page, "Lamp");
        await opened(page).getByLabel("To what, 0..100 %").fill("55");
        await opened(page).getByRole("button", { name: "Switch" }).click();
        await page.getByRole("status").getByText("Lamp is 55 %, by hand.").waitFor();
        await close(page);
        await open(page, "Warmth");
        await opened(page).getByLabel("Value, 10..25 °C").fill("22.5");
        await opened(page).getByRole("button", { name: "Set" }).click();
        await page.getByRole("status").getByText("Warmth is 22.5 °C.").waitFor();
        await close(page);
        await shed.house?.end("SIGKILL");
        await page
          .getByRole("status")
          .getByText(/Not connected since .* nothing can be changed/)
          .waitFor();
        await shows(page, "Lamp", /55 %/);
        await open(page, "Lamp");
        await expect.poll(() => opened(page).getByRole("button", { name: "Switch" }).isDisabled()).toBe(true);
        await close(page);
        await shed.startHouse();
        await page.getByText(/Not connected since/).waitFor({ state: "detached" });
        await shows(page, "Lamp", /55 %\s+by hand/);
        await shows(page, "Warmth", /22.5 °C/);
        await open(page, "Lamp");
        await opened(page).getByRole("button", { name: "Release" }).click();
        await close(page);
        await open(page, "Warmth");
        await opened(page).getByRole("button", { name: "Back to 20 °C" }).click();
        await shows(page, "Warmth", /20 °C/);
      },
      { mayBreak: true },
    ));

  test("opened while the house cannot be reached, the page that was kept opens, says so, and finds the house again", () =>
    look(
      async (page) => {
        await page.evaluate(() => navigator.serviceWorker.ready);
        await page.reload();
        await row(page, "Heater").waitFor();
        // It is shown first, and kept then.
        const kept = () => page.evaluate(async () => (await (await caches.open("panel")).keys()).map(({ url }) => url).join());
        await expect.poll(kept).toMatch(/\.js/);
        await expect.poll(kept).toMatch(/\.css/);
        await shed.house?.end("SIGKILL");
        await page.reload();
        await page.getByText("The house cannot be reached. Trying again…").waitFor();
        await shed.startHouse();
        await row(page, "Heater").waitFor();
      },
      { mayBreak: true },
    ));

  test("who sits here is asked until it is answered: without it nothing could be shown", () =>
    look(
      async (page) => {
        let refusals = 0;
        await page.route("**/me", (route) => (++refusals > 4 ? route.continue() : route.abort()));
        await page.reload();
        await page.getByText("The house cannot be reached. Trying again…").waitFor();
        await row(page, "Heater").waitFor();
        expect(refusals).toBeGreaterThan(4);
      },
      { mayBreak: true },
    ));

  test("the log tells who did what, and each line opens its cause", () =>
    look(async (page) => {
      await page.getByRole("link", { name: "Log" }).click();
      await page.getByText("set shed.lamp to 35 % for 30 min").first().waitFor();
      const deed = page.locator(".log-line", { hasText: "set shed.lamp to 35 % for 30 min" }).first();
      await expect.poll(() => deed.innerText()).toContain("Ada");
      const change = page.locator(".log li", { hasText: /Heater on/ }).first();
      await change.getByRole("button").click();
      await change.getByText(/shed.heater is on, since/).waitFor();
      await page.getByRole("combobox", { name: "Of" }).click();
      await page.getByRole("option", { name: "Lamp", exact: true }).click();
      await expect.poll(() => page.locator(".log-line", { hasText: "Heater" }).count()).toBe(0);
      await expect.poll(() => page.locator(".log-line", { hasText: "Lamp" }).count()).toBeGreaterThan(1);
    }));
});

describe.skipIf(!chromiumPath)("the panel from elsewhere", () => {
  const shed = new LiveShed("0.0.0.0");
  const eyes = new Eyes();
  beforeAll(async () => {
    await Promise.all([shed.start(), eyes.start()]);
    await shed.says(CALM);
  });
  afterAll(async () => {
    await eyes.end();
    await shed.end();
  });

  test("wants a token; who was given one that only looks sees all and changes nothing, until it is taken back", async () => {
    await expect.poll(() => shed.token).not.toBe("");
    const { token } = shed;
    await eyes.look(
      shed.panel,
      async (page) => {
        await page.getByLabel("Token").fill("wrong");
        await page.getByRole("button", { name: "Open" }).click();
        await page.getByText("the house answers only with a token").waitFor();
      },
      { mayBreak: true },
    );
    await eyes.look(
      `${shed.panel}#token=${token}`,
      async (page) => {
        await page.getByRole("link", { name: "People" }).click();
        expect(page.url()).not.toContain(token);
        await page.getByText("You are here as owner, and may look and act.").waitFor();
        await page.getByLabel("For whom").fill("Tablet");
        await page.getByRole("button", { name: "Give a token" }).click();
        const link = await page.locator("code.token").innerText();
        expect(link).toMatch(/\/panel\/#token=[\w-]{32}$/);
        await eyes.look(
          link,
          async (tablet) => {
            await tablet.locator(".row", { hasText: "Lamp" }).click();
            await expect.poll(() => tablet.getByRole("button", { name: "Switch" }).isDisabled()).toBe(true);
            await tablet.getByRole("dialog").getByText("shed.lamp is 0 %").waitFor();
            const [, own] = /token=(.*)$/.exec(link) ?? [];
            const refused = await fetch(`${new URL(shed.panel).origin}/dials/shed.warmth`, {
              method: "PUT",
              headers: { authorization: `Bearer ${own}`, "content-type": "application/json" },
              body: '{"value":21}',
            });
            expect([refused.status, await refused.json()]).toEqual([
              403,
              { says: "This token only looks: it changes nothing.", remedy: "Ask whoever runs the house for one that acts." },
            ]);
            // Both pages are one browser: the token of the first is put back for it.
            await page.locator("li", { hasText: "Tablet" }).getByRole("button", { name: "Take back" }).waitFor();
          },
          { mayBreak: true },
        );
        await page.evaluate((kept) => localStorage.setItem("modrik.token", kept), token);
        await page.locator("li", { hasText: "Tablet" }).getByRole("button", { name: "Take back" }).click();
        await page.getByRole("status").getByText("The token of Tablet opens nothing any more.").waitFor();
        await page.locator("li", { hasText: "Tablet" }).waitFor({ state: "detached" });
      },
      { mayBreak: true },
    );
  });
});
