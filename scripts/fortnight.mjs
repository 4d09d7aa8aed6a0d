// Makes the fortnight's recording of Linden Yard that ships with it: a wet week and a frosty one, the days between them
// turning, simulated with a fixed seed; numbers every five minutes, words as they change. One Thursday the logger did not
// hear the bench room's humidity for an afternoon.
//
//   node scripts/fortnight.mjs [file]
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { readCalendar, writeRecording } from "@modrik/formats";
import { DAY, HOUR, logOf, MINUTE, parseHouse, recordingOf, simulate } from "modrik";

const root = join(dirname(fileURLToPath(import.meta.url)), "..", "examples", "linden-yard");
const from = Date.parse("2026-02-02T00:00+01:00");
const SEED = 5;
const LASTS = 14 * DAY;
const SILENT = {
  name: "bench.humidity",
  from: from + 3 * DAY + 13 * HOUR + 10 * MINUTE,
  to: from + 3 * DAY + 17 * HOUR + 40 * MINUTE,
};

/** Straight from one value to another between two days of the fortnight. */
const between = (day, [first, last], [before, after]) =>
  before + (after - before) * Math.min(1, Math.max(0, (day - first) / (last - first)));

/** Mild rain until the second Saturday, clear frost from the Monday on; warmest at three in the afternoon. */
function weather() {
  const turning = [5.5, 7.5];
  const recorded = [];
  for (let hour = -24; hour <= LASTS / HOUR; hour++) {
    const day = hour / 24;
    const at = from + hour * HOUR;
    const swing = between(day, turning, [1.5, 4]) * Math.cos(2 * Math.PI * (day - 15 / 24));
    const slow = 1.2 * Math.sin(2 * Math.PI * (day / 3.7));
    recorded.push({ at, name: "outdoors", value: between(day, turning, [8, -4]) + swing + slow, unit: "°C" });
    recorded.push({ at, name: "humidity", value: between(day, turning, [93, 76]) - 2 * slow, unit: "%RH" });
    recorded.push({ at, name: "cloud", value: between(day, turning, [95, 15]), unit: "%" });
  }
  return { name: "fortnight", outdoors: 2, swings: 5, humidity: 85, cloud: 60, recorded };
}

const files = Object.fromEntries(
  readdirSync(root)
    .filter((name) => name.endsWith(".modrik"))
    .map((name) => [name, readFileSync(join(root, name), "utf8")]),
);
const calendars = { "holidays.ics": readCalendar(readFileSync(join(root, "holidays.ics"), "utf8"), { from }) };
const { house } = parseHouse(files, { calendars });
const run = simulate(house, { from, lasts: LASTS, every: 5 * MINUTE, weather: weather(), seed: SEED });
const told = recordingOf(logOf(run));
const measures = new Set(house.sensors.filter(({ type }) => type.kind === "number").map(({ name }) => name));
const dials = new Set(house.dials.map(({ name }) => name));

// What changed last of each number at each fifth minute; a word when it changes.
const recorded = [];
const latest = new Map();
let next = from;
const sample = (until) => {
  for (; next <= until; next += 5 * MINUTE) for (const record of latest.values()) recorded.push({ ...record, at: next });
};
for (const record of told) {
  if (dials.has(record.name)) continue;
  sample(record.at - 1);
  if (measures.has(record.name)) latest.set(record.name, record);
  else if (recorded.findLast(({ name }) => name === record.name)?.value !== record.value) recorded.push(record);
}
sample(run.to);
const heard = recorded.filter(({ name, at }) => !(name === SILENT.name && at >= SILENT.from && at < SILENT.to));
const file = process.argv[2] ?? join(root, "fortnight.csv");
writeFileSync(file, writeRecording(heard, "wide CSV"));
