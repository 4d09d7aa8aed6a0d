// A year of the bench house, figures alone, and how much longer it takes than the same equations in a tight loop: six
// rooms that exchange heat and water, people, sensors that round, and on/off control of what the rules keep. Both run a
// warm-up first; memory is that of this process after the year.
import { readdirSync, readFileSync } from "node:fs";
import { readCalendar } from "@modrik/formats";
import { measureSimulation, parseHouse } from "modrik";

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

// ── The tight loop ──────────────────────────────────────────────────────────────────────────────────────────────────────

const zones = house.physics.zones;
const links = house.physics.effects.flatMap((effect) => {
  if (effect.kind !== "passes") return [];
  const room = (zone: string) => zones.findIndex((one) => one.zone === zone);
  return [{ one: room(effect.zone), other: room(effect.other), passes: effect.amount }];
});

function absolute(temperature: number, relative: number): number {
  return (relative * 6.112 * Math.exp((17.62 * temperature) / (243.12 + temperature)) * 1000) / (461.5 * (temperature + 273.15));
}

/** As many minutes of it; what comes out is printed, so that nothing is left out. */
function tightLoop(minutes: number): number {
  const rooms = zones.length;
  const temperature = new Float64Array(rooms).fill(16);
  const humidity = new Float64Array(rooms).fill(50);
  const carbon = new Float64Array(rooms).fill(420);
  const heats = new Uint8Array(rooms);
  const moistens = new Uint8Array(rooms);
  let [sun, random, starts, sum] = [0, 1, 0, 0];
  for (let minute = 0; minute < minutes; minute++) {
    const hour = (minute / 60) % 24;
    const outdoors = 9 - 9 * Math.cos((2 * Math.PI * minute) / 525_600) + 4 * Math.cos((2 * Math.PI * (hour - 15)) / 24);
    const water = absolute(9, 75) * (273.15 + outdoors);
    if (minute % 5 === 0) {
      const height = 60 * Math.sin((Math.PI * (hour - 6)) / 12);
      const x = height / 90;
      sun = height > 0 ? 10 ** (3.74 + x * (3.97 + x * (-4.07 + 1.47 * x))) : 0;
    }
    random = (Math.imul(random, 1_664_525) + 1_013_904_223) | 0;
    const people = hour > 8 && hour < 18 && random > -1.5e9 ? 1 : 0;
    for (const { one, other, passes } of links) {
      const [c1, c2] = [zones[one]?.stores as number, zones[other]?.stores as number];
      const both = 1 / c1 + 1 / c2;
      const moved = (((temperature[one] as number) - (temperature[other] as number)) * -Math.expm1(-passes * both * 60)) / both;
      temperature[one] = (temperature[one] as number) - moved / c1;
      temperature[other] = (temperature[other] as number) + moved / c2;
    }
    for (let room = 0; room < rooms; room++) {
      const { volume, leaks, loses, stores, soaks } = zones[room] as (typeof zones)[number];
      const flow = (leaks * volume) / 3600;
      const loss = loses + flow * 1206;
      const before = temperature[room] as number;
      const gain = 1800 * (heats[room] as number) + 70 * people;
      const now = before + (outdoors + gain / loss - before) * -Math.expm1((-loss / stores) * 60);
      temperature[room] = now;
      const holds = absolute(now, 1) * volume + soaks;
      const given = (350 * (moistens[room] as number) + 45 * people) / 3600;
      const inside = (humidity[room] as number) * absolute(now, 1);
      const outside = water / (273.15 + now);
      const next = inside + (outside + given / flow - inside) * -Math.expm1((-flow / (holds / absolute(now, 1))) * 60);
      humidity[room] = Math.min(100, Math.max(0, next / absolute(now, 1)));
      carbon[room] =
        (carbon[room] as number) +
        (420 + (18.7 * people * 1000) / 3600 / flow - (carbon[room] as number)) * -Math.expm1((-flow / volume) * 60);
      const [read, damp] = [Math.round(now * 10) / 10, Math.round((humidity[room] as number) * 10) / 10];
      const target = hour > 8 && hour < 18 ? 20 : 16;
      const heat = read < target - 0.5 ? 1 : read > target + 0.5 ? 0 : (heats[room] as number);
      if (heat > (heats[room] as number)) starts++;
      heats[room] = heat;
      moistens[room] = damp < 42 ? 1 : damp > 48 ? 0 : (moistens[room] as number);
      sum += read + damp + Math.round(((zones[room]?.window ?? 0) * sun) / 100);
    }
  }
  return starts + sum;
}

const options = { lasts: DAYS * DAY, ...(weather && { weather }) };
measureSimulation(house, { ...options, lasts: 5 * DAY });
let checked = tightLoop(60 * 24 * 30);
const ratios: number[] = [];
const years: number[] = [];
for (let run = 0; run < 3; run++) {
  const loop = timed(() => {
    checked += tightLoop(60 * 24 * DAYS);
  });
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
