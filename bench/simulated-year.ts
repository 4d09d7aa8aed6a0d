// A year of Linden Yard, figures alone, and how much longer it takes than the same equations, people, sensors and rules in a
// tight loop written by hand for this house, which a test compares with it. Both run a warm-up first; memory is that of this
// process after the year.
import { readdirSync, readFileSync } from "node:fs";
import { readCalendar } from "@modrik/formats";
import { measureSimulation, parseHouse } from "modrik";
import { Yard } from "../packages/core/test/yard/yard.js";

const DAYS = Number(process.argv[2] ?? 365);
const DAY = 86_400_000;
const home = "examples/linden-yard";
const files = (readdirSync(home, { recursive: true }) as string[]).filter((file) => file.endsWith(".modrik"));
const texts = Object.fromEntries(files.map((file) => [file, readFileSync(`${home}/${file}`, "utf8")]));
const { house } = parseHouse(texts, {
  calendars: { "holidays.ics": readCalendar(readFileSync(`${home}/holidays.ics`, "utf8")) },
});
const weather = house.weathers.find(({ name }) => name === "year");

function timed(work: () => void): number {
  const begun = performance.now();
  work();
  return performance.now() - begun;
}

const options = { lasts: DAYS * DAY, ...(weather && { weather }) };
measureSimulation(house, { ...options, lasts: 5 * DAY });
const byHand = () => new Yard(house, { firstDay: 15, weekday: 3, noon: 12.5, fronts: true });
byHand().run(30);
let checked = 0;
const ratios: number[] = [];
const years: number[] = [];
for (let run = 0; run < 3; run++) {
  const yard = byHand();
  const loop = timed(() => yard.run(DAYS));
  // What comes out is printed, so that nothing is left out.
  checked += yard.sums.reduce((sum, one) => sum + one);
  const year = timed(() => measureSimulation(house, options));
  years.push(year);
  ratios.push(year / loop);
  console.log(
    `${DAYS} days: ${(year / 1000).toFixed(1)} s, ${(year / loop).toFixed(1)} × the tight loop (${loop.toFixed(0)} ms)`,
  );
}
const memory = Math.round(process.memoryUsage().rss / 1e6);
console.log(
  `best ${(Math.min(...years) / 1000).toFixed(1)} s, ${Math.min(...ratios).toFixed(1)} ×, ${memory} MB (${Math.round(checked) % 1000})`,
);
