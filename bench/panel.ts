// From a message at the broker to the changed page: Linden Yard on real devices, the panel in a browser. Beside it, in the same
// run, how long the same message takes to a plain subscriber. Then how long the page of now is put together, and how large it is.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { startBroker } from "@modrik/runtime";
import { connectAsync } from "mqtt";
import type { BrowserContext } from "playwright-core";
import { withBrowser } from "../scripts/lib/browser.mjs";
import { startHouse } from "../scripts/lib/demo-server.mjs";

const MESSAGES = 60;
const TOPIC = "linden/bench/air";

const at = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * share)] as number;
const shown = (values: readonly number[]) =>
  `median ${at(values, 0.5).toFixed(0)} ms, 9 of 10 within ${at(values, 0.9).toFixed(0)} ms`;

const folder = mkdtempSync(join(tmpdir(), "modrik-bench-"));
const broker = await startBroker();
const mqtt = `mqtt://127.0.0.1:${broker.port}`;
const house = await startHouse(
  ["run", "examples/linden-yard", "--mqtt", mqtt, "--db", join(folder, "house.db"), "--listen", "0", "--json"],
  /the panel is at/,
);
const devices = await connectAsync(mqtt);
const plain = await connectAsync(mqtt);
await plain.subscribeAsync(TOPIC);
let heardAt = 0;
plain.on("message", () => {
  heardAt = Date.now();
});
const [toPlain, toPage]: [number[], number[]] = [[], []];
await withBrowser({ viewport: { width: 1280, height: 800 } }, async (context: BrowserContext) => {
  const page = await context.newPage();
  await page.goto(house.panel);
  const row = page.locator(".zone", { hasText: "Bench room" }).locator(".row", { hasText: /^temperature/ });
  await row.waitFor();
  for (let one = 0; one < MESSAGES; one++) {
    const says = `${(15 + one / 10).toFixed(1)} °C`;
    // Told by the page itself, the moment it is drawn into it.
    const seen = row.evaluate(
      (element, wanted) =>
        new Promise<number>((done) => {
          const look = () => element.textContent?.includes(wanted) && done(Date.now());
          new MutationObserver(look).observe(element, { subtree: true, childList: true, characterData: true });
          look();
        }),
      says.replace(".0 ", " "),
    );
    await new Promise((done) => setTimeout(done, 400 + 37 * (one % 7)));
    const sentAt = Date.now();
    await devices.publishAsync(TOPIC, JSON.stringify({ temperature: 15 + one / 10, humidity: 45 }), { qos: 1 });
    toPage.push((await seen) - sentAt);
    toPlain.push(heardAt - sentAt);
  }
});
const answer: number[] = [];
let text = "";
for (let one = 0; one < 30; one++) {
  const begun = performance.now();
  text = await (await fetch(`${house.origin}/now`)).text();
  answer.push(performance.now() - begun);
}
console.log(`a message to the changed page: ${shown(toPage)}; to a plain subscriber: ${shown(toPlain)}`);
console.log(`GET /now: ${shown(answer)}; ${text.length} bytes, ${gzipSync(text).length} packed`);
await plain.endAsync();
await devices.endAsync();
await house.end();
await broker.end();
rmSync(folder, { recursive: true, force: true });
