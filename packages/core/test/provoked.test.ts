// What somebody lets happen in a simulated day, what could be expected of it, the lines of numbers a house depends on, and the
// first houses that people start from.
import {
  checkHouse,
  exampleDay,
  expectable,
  formatHouse,
  type House,
  isSound,
  numberLines,
  parseHouse,
  provoke,
  readingOf,
  runTrial,
  runTrials,
  simulate,
  type Trial,
  valueAt,
  writeExpectation,
  writeHappening,
} from "modrik";
import { type FirstHouse, firstHouses, misfitsOfNumbers, openHouse, writeFirstHouse } from "modrik/language";
import { seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";

const room = `house "H" { place 47 N, 8 E clock "Europe/Zurich" readings last 15 min hand lasts 1 h }
zone z "Room" {
  sensor t: °C
  sensor door: open/closed
  sensor button: press
  output heater: on/off
  output lamp: 0..100 %
  dial wanted: 15..25 °C, at first 20 °C
}
rule warm { keep z.t at z.wanted ± 0.5 K raise with z.heater }
rule shut { while z.door is open hold z.lamp at 40 % }
rule call { when z.button is pressed do { tell "Somebody {z.t}" } }
physics { zone z { floor 20 m², built light } z.heater gives 2 kW of heat }
weather cold { outdoors 0 °C }`;

function houseWith(lines: string): { house: House; trial: Trial } {
  const trial = `trial now { from 2026-01-15 00:00 for 24 h simulated ${lines} }`;
  const { house, problems } = parseHouse({ "a.modrik": `${room}\n${trial}` });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  return { house, trial: house.trials[0] as Trial };
}

const of = (name: string) => ({ kind: "value", of: name }) as const;

describe("provoked days", () => {
  test("with nothing provoked it is the simulated day", () => {
    const { house } = parseLindenYard();
    const [plain, provoked] = [simulate(house), provoke(house, [])];
    for (const { name } of [...house.sensors, ...house.outputs])
      expect([name, provoked.past.line(of(name))]).toEqual([name, plain.past.line(of(name))]);
    expect([provoked.from, provoked.to, provoked.happened]).toEqual([plain.from, plain.to, []]);
  });

  test("before the first act nothing is different, and after it what follows from it", () => {
    const { house, trial } = houseWith("at 10:00 z.door is open at 10:30 z.door is closed");
    const [plain, provoked] = [simulate(house), provoke(house, trial.happenings)];
    const [from] = provoked.happened.map(({ at }) => at);
    const before = ({ times, values }: { times: readonly number[]; values: readonly number[] }) =>
      times.flatMap((at, place) => (at < (from as number) ? [[at, values[place]]] : []));
    for (const { name } of house.sensors) expect(before(provoked.past.line(of(name)))).toEqual(before(plain.past.line(of(name))));
    expect(provoked.happened.map(({ says }) => says)).toEqual(["at 10:00 z.door is open", "at 10:30 z.door is closed"]);
    const at = (hour: number, minute: number) => provoked.from + (hour * 60 + minute) * 60_000;
    expect([at(9, 59), at(10, 0), at(10, 29), at(10, 30)].map((one) => readingOf(provoked, "z.lamp", one))).toEqual([
      "0 %",
      "40 %",
      "40 %",
      "0 %",
    ]);
  });

  test.each<[string, string, string, string, string]>([
    ["a sensor pulled", "from 10:00 to 10:10 z.t moves to 25 °C", "z.t", "10:10", "25 °C"],
    ["a sensor that falls silent", "at 10:00 z.t falls silent", "z.t", "10:20", "unknown"],
    ["an output by hand", "at 10:00 person sets z.lamp to 70 % for 30 min", "z.lamp", "10:29", "70 %"],
    ["a hand that ends", "at 10:00 person sets z.lamp to 70 % for 30 min", "z.lamp", "10:31", "0 %"],
    ["a dial", "at 10:00 person sets z.wanted to 17 °C", "z.wanted", "10:00", "17 °C"],
    [
      "a restart keeps the hand",
      "at 10:00 person sets z.lamp to 70 % for 30 min at 10:10 the house restarts",
      "z.lamp",
      "10:20",
      "70 %",
    ],
    ["a power cut keeps what was", "at 10:00 z.door is open at 10:10 the house is down for 5 min", "z.lamp", "10:16", "40 %"],
  ])("%s", (_, lines, name, time, says) => {
    const { house, trial } = houseWith(lines);
    const run = provoke(house, trial.happenings);
    const [hour = 0, minute = 0] = time.split(":").map(Number);
    expect(readingOf(run, name, run.from + (hour * 60 + minute) * 60_000)).toBe(says);
  });

  test("what comes after the end is left out, and what is kept is of the house that lives then", () => {
    const { house, trial } = houseWith("at 10:00 the house restarts at 10:05 person sets z.lamp to 70 % at 20:00 z.door is open");
    const from = exampleDay(house);
    const run = provoke(house, trial.happenings, { lasts: 12 * 3600e3, keepAt: from + 10.1 * 3600e3 });
    expect(run.happened.map(({ says }) => says)).toEqual(trial.happenings.slice(0, 2).map(writeHappening));
    expect(run.kept?.snapshot.outputs["z.lamp"]?.value).toBe(70);
    expect(valueAt(run.past.line(of("z.door")), run.to)).not.toBe(0);
  });
});

describe("what could be expected of a run", () => {
  test("is kept as a trial that passes: of every trial of the demo, and of a provoked day", () => {
    const { house } = parseLindenYard();
    const wrong = house.trials.flatMap((trial) => {
      const { run } = runTrial(house, trial);
      const { verdicts } = runTrial(house, { ...trial, expectations: expectable(run) });
      return verdicts.filter(({ passed }) => !passed).map(({ says }) => `${trial.name}: ${says}`);
    });
    expect(wrong).toEqual([]);
  });

  test("is written in the language, and read back the same", () => {
    const { house, trial } = houseWith(
      "at 10:00 z.door is open at 10:30 z.door is closed at 11:00 z.button is pressed given z.t is 19 °C".replace(
        /(at .*) (given .*)/,
        "$2 $1",
      ),
    );
    const offered = expectable(runTrial(house, trial).run).map(writeExpectation);
    expect(offered).toContain("z.lamp is 40 % from 10:00 to 10:30");
    expect(offered.find((one) => one.startsWith("told"))).toMatch(/^told "Somebody .* °C" at 11:00$/);
    const lines = offered.map((one) => `expect ${one}`).join("\n");
    const again = parseHouse({
      "a.modrik": `${room}\ntrial now { from 2026-01-15 00:00 for 24 h simulated given z.t is 19 °C at 10:00 z.door is open at 10:30 z.door is closed at 11:00 z.button is pressed ${lines} }`,
    });
    expect(again.problems).toEqual([]);
    expect(runTrials(again.house)[0]?.verdicts.filter(({ passed }) => !passed)).toEqual([]);
  });
});

describe("lines of numbers", () => {
  const linesOf = (rules: string, values = {}) => {
    const { house, problems } = parseHouse({
      "a.modrik": `house "H" { clock "UTC" } zone z { sensor x: °C sensor damp: %RH output o: on/off output p: on/off output l: 0..100 % dial d: 10..30 °C, at first 20 °C } ${rules}`,
    });
    expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
    return numberLines(house, { at: Date.parse("2026-01-15T12:00Z"), values });
  };
  test.each<[string, string, string[]]>([
    ["a bound", "rule r { while z.x above 20 °C hold z.o at on }", ["above 20: holds"]],
    [
      "two points",
      "rule r { while z.x below 18 °C until above 20 °C hold z.o at on }",
      ["below 18: holds", "18 to 20: as before"],
    ],
    [
      "two points, upwards",
      "rule r { while z.x above 25 °C until below 22 °C hold z.o at on }",
      ["above 25: holds", "22 to 25: as before"],
    ],
    ["a stretch", "rule r { while z.x between 18 °C and 20 °C hold z.o at on }", ["18 to 20: holds"]],
    ["kept from below, by a dial", "rule r { keep z.x at z.d ± 1 K raise with z.o }", ["below 19: holds", "19 to 21: as before"]],
    [
      "kept from both sides stops at the target",
      "rule r { keep z.x at z.d ± 1 K raise with z.o lower with z.p }",
      ["below 19: holds", "19 to 20: as before", "above 21: holds", "20 to 21: as before"],
    ],
    [
      "in proportion",
      "rule r { keep z.x at z.d raise with z.l in proportion over 2 K }",
      ["below 18: holds", "18 to 20: in part"],
    ],
    ["a guard", "guard g { permit z.o on only while z.x below 30 °C }", ["below 30: holds"]],
    ["a let", "let hot = z.x above z.d + 5 K rule r { while hot hold z.o at on }", ["above 25: holds"]],
    ["of an event", "rule r { when z.x above 28 °C do { set z.o to on } }", ["above 28: holds"]],
  ])("%s", (_, rules, expected) => {
    const [line, ...more] = linesOf(rules);
    expect([line?.sensor, line?.unit, more]).toEqual(["z.x", "°C", []]);
    const said = line?.rows.flatMap(({ stretches }) =>
      stretches.map(({ from, to, state }) => {
        const where = from === undefined ? `below ${to}` : to === undefined ? `above ${from}` : `${from} to ${to}`;
        return `${where}: ${state}`;
      }),
    );
    expect(said).toEqual(expected);
  });

  test("goes by the values dials have, and says whose row it is", () => {
    const [line] = linesOf("rule r { keep z.x at z.d ± 1 K raise with z.o }", { "z.d": 25 });
    expect(line?.rows).toEqual([
      {
        kind: "rule",
        name: "r",
        sentence: 0,
        says: "raises with z.o",
        points: [24, 26],
        stretches: [
          { to: 24, state: "holds" },
          { from: 24, to: 26, state: "as before" },
        ],
      },
    ]);
  });

  test("every sensor of the demo that a rule compares has one, with points in order", () => {
    const { house } = parseLindenYard();
    const lines = numberLines(house, { at: exampleDay(house) });
    expect(lines.map(({ sensor }) => sensor)).toEqual(expect.arrayContaining(["bench.humidity", "booth.fumes", "loft.carbon"]));
    for (const { points } of lines.flatMap(({ rows }) => rows)) expect(points).toEqual([...points].sort((a, b) => a - b));
  });
});

describe("first houses", () => {
  const answers = { house: "My {first} house", clock: "Europe/Zurich", room: "Living room" };
  const stateOf = (start: FirstHouse, numbers: Readonly<Record<string, number>>) => {
    const files = writeFirstHouse(start, { ...answers, numbers });
    const text = openHouse(files);
    return {
      problems: [...text.problems, ...(isSound(text) ? checkHouse(text.house, text) : [])].map(
        ({ code, reason }) => `${code}: ${reason}`,
      ),
      failed: isSound(text)
        ? runTrials(text.house).flatMap(({ verdicts }) => verdicts.filter(({ passed }) => !passed).map(({ says }) => says))
        : [],
      unformatted: Object.entries(files).filter(([, one]) => formatHouse(one).text !== one),
      house: text.house,
    };
  };

  test.each(firstHouses.map((start) => [start.name, start] as const))(
    "%s is sound, checked and proven with any numbers that fit",
    (_, start) => {
      const random = seeded(7);
      const usual = Object.fromEntries(start.numbers.map(({ name, usual: value }) => [name, value]));
      const tried = [usual];
      for (let count = 0; count < 40; count++) {
        const some = Object.fromEntries(
          start.numbers.map(({ name, low, high, step }) => [name, low + step * Math.floor(random() * ((high - low) / step + 1))]),
        );
        if (misfitsOfNumbers(start, some).length === 0) tried.push(some);
      }
      expect(tried.length).toBeGreaterThan(5);
      for (const numbers of tried) {
        const { problems, failed, unformatted, house } = stateOf(start, numbers);
        expect([numbers, problems, failed, unformatted]).toEqual([numbers, [], [], []]);
        expect([house.name, house.trials.length > 0]).toEqual([answers.house, true]);
      }
    },
  );

  test.each<[string, Record<string, number>, string]>([
    ["dry_air", { wanted: 90 }, "Humidity wanted: 35 %RH to 60 %RH, not 90 %RH."],
    ["dark_room", { dark: 400, bright: 300 }, 'It is bright again above: at least 160 lx more than "It is dark below".'],
    ["cold_room", { warmth: 14, least: 13 }, 'Warmth wanted while it is used: at least 2 K more than "Never below, otherwise".'],
    ["open_door", { minutes: Number.NaN }, "Say so after: 1 min to 60 min, not NaN min."],
    ["open_door", { seconds: 3 }, 'There is no number called "seconds".'],
  ])("%s refuses %o", (name, numbers, says) => {
    const start = firstHouses.find((one) => one.name === name) as FirstHouse;
    expect(misfitsOfNumbers(start, numbers)).toEqual([says]);
    expect(() => writeFirstHouse(start, { ...answers, numbers })).toThrow(new RangeError(says));
  });
});
