// Two figures of the bench room: how long a simulated day takes once the process is warm, and how much longer
// `modrik check` takes than starting Node alone.
import { spawnSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { readCalendar } from "@modrik/formats";
import { parseHouse, simulate } from "modrik";

const house = "examples/linden-yard";
const RUNS = 15;

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}

function timed(work: () => void): number {
  const begun = performance.now();
  work();
  return performance.now() - begun;
}

const files = (readdirSync(house, { recursive: true }) as string[]).filter((file) => file.endsWith(".modrik"));
const texts = Object.fromEntries(files.map((file) => [file, readFileSync(`${house}/${file}`, "utf8")]));
const holidays = readCalendar(readFileSync(`${house}/holidays.ics`, "utf8"));
const parsed = parseHouse(texts, { calendars: { "holidays.ics": holidays } });

// A simulation of one day runs the day before it too, so that each run is two days. Rooms begin as they settled at first.
let airs = simulate(parsed.house).airs;
const first = timed(() => {
  airs = simulate(parsed.house).airs;
});
const days = Array.from({ length: RUNS }, () => timed(() => simulate(parsed.house, { airs })) / 2);
console.log(
  `a simulated day at 60 s sampling: median ${median(days).toFixed(1)} ms (with rooms settled first, in all: ${first.toFixed(0)} ms)`,
);

const start = (words: readonly string[]) => timed(() => spawnSync(process.execPath, words, { stdio: "ignore" }));
const ratios: number[] = [];
const alone: number[] = [];
for (let run = 0; run < RUNS; run++) {
  const node = start(["-e", "0"]);
  alone.push(node);
  ratios.push(start(["packages/cli/bin/modrik.js", "check", house]) / node);
}
console.log(`modrik check: ${median(ratios).toFixed(2)} × the start of Node alone (${median(alone).toFixed(0)} ms)`);
