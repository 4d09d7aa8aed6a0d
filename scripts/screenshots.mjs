// Makes the pictures in docs/screenshots from the demo house: `npm run screenshots`.
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { withBrowser } from "./lib/browser.mjs";
import { modrik, startDemo } from "./lib/demo-server.mjs";

const root = fileURLToPath(new URL("..", import.meta.url));
const folder = `${root}docs/screenshots/`;
const house = "examples/linden-yard";
mkdirSync(folder, { recursive: true });

function run(...words) {
  // What goes on for ever is stopped as a person stops it.
  const [command, ...rest] = words[0] === "demo" ? ["timeout", "-s", "INT", "12", process.execPath] : [process.execPath];
  try {
    return execFileSync(command, [...rest, modrik, ...words], {
      cwd: root,
      encoding: "utf8",
      env: { ...process.env, FORCE_COLOR: "1" },
      stdio: ["ignore", "pipe", "pipe"],
    });
  } catch (error) {
    return error.stdout + error.stderr;
  }
}

/** Commands whose output is shown as a terminal would. */
const terminals = {
  simulate: [["simulate", house, "--zone", "bench"]],
  test: [["test", "--chart", "test/houses/late.modrik"]],
  proof: [
    ["test", "test/houses/late.modrik", "--only", "damp", "--coverage"],
    ["test", "test/houses/late.modrik", "--only", "damp", "--hunt"],
  ],
  "check-reasoning": [
    ["check", "--show", "examples/traps/wrong/gap_between_rules.modrik"],
    ["check", "examples/traps/wrong/past_the_point_when_the_run_ends.modrik"],
  ],
  why: [
    ["why", "bench.heater", "--at", "15:00", house],
    ["why", "not", "bench.heater", "--trial", "open_door", "--at", "09:14", house],
  ],
  measure: [
    ["measure", `${house}/fortnight.csv`, house, "--threshold", "porch.daylight", "--at", "40", "--at", "100", "--at", "200"],
    ["measure", `${house}/fortnight.csv`, house, "--loss", "bench"],
  ],
  show: [["show", "--only", "bench.heater", "--at", "2026-01-15T10:00", house]],
  check: [["check", "test/houses/mistakes.modrik"]],
  run: [["demo", "--speed", "600"]],
};

const colors = { 1: "font-weight:600", 2: "opacity:.65", 31: "color:#f0a07c", 32: "color:#5ecfa8", 33: "color:#e9c46a" };

function toHtml(text) {
  const escaped = text.replace(/[&<>]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;" })[sign]);
  // biome-ignore lint/suspicious/noControlCharactersInRegex: the colour codes of a terminal begin with one
  return escaped.replace(/\u001b\[(\d+)m/g, (_, code) => (colors[code] ? `<span style="${colors[code]}">` : "</span>"));
}

function terminalPage(commands) {
  const parts = commands.map((words) => `<b>$ modrik ${words.join(" ")}</b>\n${toHtml(run(...words))}`);
  return `<body style="margin:0;background:#131a19;color:#e1e9e4"><pre style="padding:24px;margin:0;font:15px/1.45 'DejaVu Sans Mono',monospace;white-space:pre-wrap">${parts.join("\n")}</pre></body>`;
}

const views = {
  playground: { viewport: { width: 1280, height: 800 }, colorScheme: "light" },
  "playground-phone": { viewport: { width: 390, height: 844 }, colorScheme: "light", whole: true },
  "playground-trial": { viewport: { width: 1280, height: 800 }, colorScheme: "dark", trial: true },
};

/** A trial, as one looks at it. */
async function lookAtTrial(page) {
  await page.getByRole("tab", { name: "Trials" }).click();
  await page
    .getByRole("button", { name: /solvent/ })
    .first()
    .click();
  await page.getByText("Back to the day").waitFor();
  await page.locator(".day[data-stale=false] svg").waitFor();
  await page.locator(".day .chart").focus();
  await page.keyboard.press("ArrowRight");
}

/** The panel on a desk, on a phone and on a wall. */
const panels = {
  panel: { viewport: { width: 1280, height: 800 }, colorScheme: "light", at: "" },
  "panel-phone": { viewport: { width: 390, height: 844 }, colorScheme: "dark", at: "#/now//bench.heater" },
  "panel-history": { viewport: { width: 1024, height: 600 }, colorScheme: "light", at: "#/history/bench" },
};

const only = process.argv.slice(2);
const wanted = (name) => only.length === 0 || only.includes(name);

const demo = await startDemo();
for (const [name, { whole, trial, ...options }] of Object.entries(views)) {
  if (!wanted(name)) continue;
  await withBrowser(options, async (context) => {
    const page = await context.newPage();
    page.on("pageerror", (error) => console.error(name, error.message));
    page.on("console", (message) => message.type() === "error" && console.error(name, message.text()));
    await page.goto(demo.playground);
    await page.getByText(/trials pass/).waitFor({ timeout: 20_000 });
    if (trial) await lookAtTrial(page);
    else {
      const { width } = await page.locator(".day .chart").boundingBox();
      await page.locator(".day .chart").click({ position: { x: width * 0.55, y: 60 } });
      await page.getByRole("heading", { name: /^At 20/ }).waitFor();
    }
    await page.waitForTimeout(900);
    await page.evaluate(() => scrollTo(0, 0));
    await page.screenshot({ path: `${folder}${name}.png`, fullPage: whole ?? false });
  });
}
demo.end();
if (Object.keys(panels).some(wanted)) {
  const live = await startDemo("--speed", "600");
  // In the middle of a morning, with a night after it.
  const clock = new Intl.DateTimeFormat("en-GB", { hour: "numeric", timeZone: "Europe/Zurich" });
  const hour = (instant) => Number(clock.format(new Date(instant)));
  for (;;) {
    const { at, runningSince } = await (await fetch(`${live.origin}/house`)).json();
    if (hour(at) === 10 && Date.parse(at) - Date.parse(runningSince) > 8 * 3_600_000) break;
    await new Promise((done) => setTimeout(done, 1000));
  }
  for (const [name, { at, ...options }] of Object.entries(panels)) {
    if (!wanted(name)) continue;
    await withBrowser(options, async (context) => {
      const page = await context.newPage();
      page.on("pageerror", (error) => console.error(name, error.message));
      await page.goto(`${live.panel}${at}`);
      await page.locator(".sentences, .chart svg, .rows .output").first().waitFor();
      if (name === "panel-history") await page.mouse.move(600, 260);
      await page.waitForTimeout(1500);
      await page.screenshot({ path: `${folder}${name}.png` });
    });
  }
  await live.end();
}
if (wanted("day")) run("simulate", house, "--zone", "bench", "--chart", `${folder}day.png`);
const ways = ["two_limits", "fixed_cycle", "target"].map((name) => `examples/three-ways/${name}.modrik`);
if (wanted("compare")) run("compare", ...ways, "--days", "7", "--chart", `${folder}compare.png`);
if (wanted("tune")) run("tune", house, "--vary", "bench.slack=1..6/0.5", "--days", "7", "--chart", `${folder}tune.png`);
if (wanted("page")) {
  const file = join(mkdtempSync(join(tmpdir(), "modrik-page-")), "loft.html");
  run("simulate", house, "--zone", "loft", "--from", "2026-01-16", "--chart", file);
  await withBrowser({ viewport: { width: 1280, height: 800 } }, async (context) => {
    const page = await context.newPage();
    page.on("pageerror", (error) => console.error("page", error.message));
    await page.goto(`file://${file}`);
    await page.mouse.move(840, 150);
    await page.waitForTimeout(300);
    await page.screenshot({ path: `${folder}page.png` });
  });
  rmSync(dirname(file), { recursive: true });
}
for (const [name, commands] of Object.entries(terminals)) {
  if (!wanted(name)) continue;
  await withBrowser({ viewport: { width: 1280, height: 200 } }, async (context) => {
    const page = await context.newPage();
    await page.setContent(terminalPage(commands));
    await page.screenshot({ path: `${folder}${name}.png`, fullPage: true });
  });
}
