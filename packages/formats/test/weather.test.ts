// A weather that a recording tells, from its file to what the rooms do.
import { measureSimulation, parseHouse, runTrials, simulate } from "modrik";
import { describe, expect, test } from "vitest";
import { FormatError, readRecording } from "../src/index.js";

const HOUR = 3_600_000;
const text = (trial = "") => `house "A" { place 47 N, 8 E clock "UTC" } zone z { sensor t: °C sensor h: %RH sensor l: lx }
  physics { zone z { volume 50 m³, loses 5000 W/K, stores 0.01 MJ/K, leaks 50 /h, window 100 % of daylight } }
  weather real from "station.csv" ${trial}`;

/** Three days, each hour a degree colder to midday and back, from 2026-03-01 00:00. */
const rows = Array.from({ length: 73 }, (_, hour) => {
  const at = new Date(Date.parse("2026-03-01T00:00Z") + hour * HOUR).toISOString();
  return `${at},${10 - Math.abs(12 - (hour % 24))},${60 + (hour % 24)},${hour % 24 > 6 && hour % 24 < 18 ? 5000 : 0}`;
});
const file = (head = "time,outdoors °C,humidity %RH,daylight lx", body = rows) => [head, ...body].join("\n");
const parse = (csv: string, trial?: string) =>
  parseHouse({ "a.modrik": text(trial) }, { recordings: { "station.csv": readRecording(csv) } });

test("rooms have the recorded air and light, on straight lines between what was recorded", () => {
  const { house, problems } = parse(file());
  expect(problems).toEqual([]);
  const run = simulate(house);
  expect(new Date(run.from).toISOString()).toBe("2026-03-01T00:00:00.000Z");
  const at = (of: string, hours: number) => run.past.value({ kind: "value", of }, run.from + hours * HOUR);
  for (const hour of [3, 6.5, 12, 20.5]) {
    expect([hour, at("z.t", hour)]).toEqual([hour, expect.closeTo(10 - Math.abs(12 - hour), 0)]);
    expect([hour, at("z.h", hour)]).toEqual([hour, expect.closeTo(60 + hour, -0.3)]);
  }
  expect([at("z.l", 3), at("z.l", 6.5), at("z.l", 12)]).toEqual([0, 2500, 5000]);
});

test("other units are taken as they say, and what is not recorded is as usual", () => {
  const fahrenheit = rows.map((row) => {
    const [at, degrees] = row.split(",") as [string, string];
    return `${at},${(Number(degrees) * 9) / 5 + 32}`;
  });
  const [celsius, other] = [file(), file("time,outdoors [°F]", fahrenheit)].map((csv) => simulate(parse(csv).house));
  const t = (run: typeof celsius) => run?.past.value({ kind: "value", of: "z.t" }, run.from + 9 * HOUR);
  expect(t(other)).toBe(t(celsius));
});

describe("what a file lacks is told", () => {
  test.each([
    [
      "a column of something else",
      file("time,outdoors °C,wind m/s,daylight lx"),
      'station.csv has a column "wind", which is nothing of the weather.',
    ],
    [
      "a unit that does not fit",
      file("time,outdoors %RH,humidity %RH,daylight lx"),
      "station.csv measures outdoors in %RH, which does not fit °C.",
    ],
    [
      "no temperature",
      file(
        "time,humidity %RH",
        rows.map((row) => row.split(",").slice(0, 2).join(",")),
      ),
      "station.csv has no temperature outdoors.",
    ],
    ["one row", file(undefined, rows.slice(0, 1)), "station.csv has only one temperature outdoors."],
    [
      "a word",
      file(undefined, [...rows.slice(0, 3), "2026-03-05T00:00Z,cold,,"]),
      'station.csv says that outdoors is "cold", which is no number.',
    ],
  ])("%s", (_, csv, says) => {
    expect(parse(csv).problems.map(({ reason, place }) => [reason, place.line])).toEqual([[says, 3]]);
  });

  test("a unit that nobody knows", () => {
    expect(() => readRecording(file("time,outdoors °Z"))).toThrow(FormatError);
    expect(() => readRecording(file("time,outdoors °Z"))).toThrow(
      'The column "outdoors °Z" is in "°Z", which is not a unit Modrik knows.',
    );
  });

  test("days that it does not reach: of a simulation, and of a trial", () => {
    const { house } = parse(file());
    const says =
      /station\.csv tells the weather from 2026-03-01 00:00 to 2026-03-04 00:00, and not from 2026-03-03 00:00 to 2026-03-05 00:00/;
    const options = { from: Date.parse("2026-03-03T00:00Z"), lasts: 48 * HOUR };
    expect(() => simulate(house, options)).toThrow(says);
    expect(() => measureSimulation(house, options)).toThrow(says);
    const trial = "trial later { simulated, weather real from 2026-04-01 08:00 to 2026-04-01 09:00 expect z.t above 0 °C }";
    const [result] = runTrials(parse(file(), trial).house);
    expect(result?.passed).toBe(false);
    expect(result?.broken).toMatch(/station\.csv tells the weather from 2026-03-01 00:00/);
  });
});
