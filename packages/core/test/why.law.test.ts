// What `why` and `why not` say holds of the journal: on a simulated day of the demo house, every output at many instants,
// each sentence that states a value, a time or a truth is looked up.
import {
  askable,
  clockOf,
  createEngine,
  type Explanation,
  Journal,
  parseHouse,
  type Run,
  readingOf,
  simulate,
  staysUntil,
  tellHouse,
  titleOf,
  why,
  whyAnything,
  whyBriefly,
  whyNot,
} from "modrik";
import { houseText, inputsAt, noon, seeded } from "modrik/testing";
import { beforeAll, describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";

const { house } = parseLindenYard();
const clock = clockOf(house.clock);
const MINUTE = 60e3;
const EVERY = 41 * MINUTE;

let run: Run;
beforeAll(() => {
  run = simulate(house);
});

const instants = () => {
  const found: number[] = [];
  for (let at = run.from + EVERY; at < run.to; at += EVERY) found.push(at);
  return found;
};

const sentences = ({ says, because }: Explanation): string[] => [says, ...because.flatMap(sentences)];

/** `08:54:47`, or with its date, on the day of an instant. */
function instantOf(text: string, at: number): number {
  const [, date, hours = "0", minutes = "0", seconds = "0"] =
    /^(?:(\d{4}-\d\d-\d\d) )?(\d\d):(\d\d)(?::(\d\d))?$/.exec(text) ?? [];
  const day = date === undefined ? clock.local(at).day : Date.parse(date) / 86_400e3;
  return clock.instant(day, ((Number(hours) * 60 + Number(minutes)) * 60 + Number(seconds)) * 1000);
}

const things = [...house.sensors, ...house.outputs, ...house.dials, ...house.modes]
  .filter(({ type }) => type.kind !== "press")
  .map(({ name }) => name);

/** Of `bench.door is open, since 09:10`: the thing, its value and the time; nothing of another sentence. */
function statement(says: string): { thing: string; value: string; since?: string } | undefined {
  const [, thing = "", value = "", since] =
    /^(\S+) is ([^,;:]+?)(?:, not [^,]+)?(?:, since ((?:\d{4}-\d\d-\d\d )?\d\d:\d\d(?::\d\d)?))?$/.exec(says) ?? [];
  if (!things.includes(thing) || value === "unknown" || value === "known") return undefined;
  return { thing, value, ...(since !== undefined && { since }) };
}

describe.each([
  ["why", (output: string, at: number) => why(run, output, at)],
  ["why not", (output: string, at: number) => whyNot(run, output, at)],
] as const)("%s", (_, ask) => {
  test("states the values that things had, and since when they had them", () => {
    let [values, times] = [0, 0];
    for (const at of instants())
      for (const { name } of house.outputs)
        for (const says of sentences(ask(name, at))) {
          const said = statement(says);
          if (!said) continue;
          const now = readingOf(run, said.thing, at);
          expect([name, at, says, said.value]).toEqual([name, at, says, now]);
          values++;
          if (said.since === undefined) continue;
          // It had another value before, and this one from then on; times are said to the second.
          const since = instantOf(said.since, at);
          expect([says, readingOf(run, said.thing, since + 999)]).toEqual([says, now]);
          expect([says, readingOf(run, said.thing, since - 1) !== now]).toEqual([says, true]);
          times++;
        }
    expect(values).toBeGreaterThan(300);
    expect(times).toBeGreaterThan(20);
  });

  test("names rules and guards of the house only, and those that drive the output", () => {
    for (const at of instants())
      for (const { name } of house.outputs)
        for (const says of sentences(ask(name, at))) {
          const [, kind, named] = /^(rule|guard) (\S+)/.exec(says) ?? [];
          if (named === undefined) continue;
          const list: readonly { readonly name: string }[] = kind === "rule" ? house.rules : house.guards;
          const found = list.find((one) => one.name === named.replace(/:$/, ""));
          expect([says, found === undefined]).toEqual([says, false]);
          expect([says, JSON.stringify(found).includes(`"${name}"`)]).toEqual([says, true]);
        }
  });
});

describe("in a few words", () => {
  test("an output goes by the title of what decides of it, and what is said of it is what why says", () => {
    for (const at of instants())
      for (const { name } of house.outputs) {
        const brief = whyBriefly(run, name, at);
        const { rule, guard, hand } = run.past.reason(name, at);
        const deciding =
          guard !== undefined ? house.guards.find((one) => one.name === guard) : house.rules.find((one) => one.name === rule);
        const begins = deciding ? titleOf(deciding) : hand ? "by hand" : "at rest";
        expect([name, at, brief]).toEqual([name, at, expect.stringContaining(begins)]);
        const said = sentences(why(run, name, at)).join(" | ");
        // Where a value stands and where it turns off are told apart there.
        const rest = brief.slice(brief.indexOf(begins) + begins.length).replace(/^[:;,] (at )?/, "");
        for (const part of rest.split(/, and |; off /).filter((one) => one !== "")) {
          const [, value = part] = /^\S+ is (.*)$/.exec(part) ?? [];
          expect([name, at, brief, said]).toEqual([name, at, brief, expect.stringContaining(value)]);
        }
      }
  });

  test("of one that is protected, what it should be is said first, and until when it stays is known", () => {
    const { house: shed } = parseHouse({
      "a.modrik": `house "A" { clock "UTC" hand lasts 1 h }
        zone z { sensor t: °C output heater: on/off, on at least 10 min output lamp: 0..100 % output fan: on/off }
        rule warm "Warm" { keep z.t at 20 °C ± 1 K raise with z.heater }
        rule lit "Lit" { when z.t below 15 °C do { set z.lamp to 40 % for 5 min } }
        guard cool "Cool" { permit z.fan on only while z.t above 25 °C }`,
    });
    const at = Date.parse("2026-01-15T12:00Z");
    const journal = new Journal();
    const engine = createEngine(shed, { at, journal });
    const pass = (minute: number, value?: number) => {
      if (value !== undefined) engine.report("z.t", value, at + minute * MINUTE);
      engine.advanceTo(at + minute * MINUTE);
      const now: Run = { past: journal, from: at, to: at + minute * MINUTE };
      return (output: string) => {
        const stays = staysUntil(now, engine.snapshot(), output);
        return [whyBriefly(now, output, now.to), stays && `${(stays.until - at) / MINUTE} ${stays.says}`];
      };
    };
    let of = pass(1, 10);
    expect(of("z.heater")).toEqual(["Warm: z.t is 10 °C; off above 21 °C", undefined]);
    expect(of("z.lamp")).toEqual(["Lit, at 12:01", "6 for a time, by rule lit"]);
    engine.person({ kind: "switches", output: "z.fan", value: "on" }, at + 2 * MINUTE);
    of = pass(3, 30);
    expect(of("z.heater")).toEqual([
      "should be off; at rest; z.t is 30 °C; it turns on below 19 °C (20 °C - 1)",
      "11 minimum time",
    ]);
    expect(of("z.fan")).toEqual(["by hand", "62 by hand"]);
    of = pass(4, 22);
    expect(of("z.fan")[0]).toMatch(/^Cool: z.t (is )?22 °C/);
    engine.person({ kind: "switches", output: "z.fan", value: "on", lasts: "until released" }, at + 5 * MINUTE);
    of = pass(6, 30);
    expect(of("z.fan")).toEqual(["by hand", undefined]);
    expect(() => whyBriefly({ past: journal, from: at, to: at }, "z.none", at)).toThrow("z.none");
  });
});

/** What no sentence to a person says: a truth as a number, what is missing, what only a program knows. */
const slips = /NaN|undefined|\[object|Infinity|null|: -?[\d.]+$|\S {2,}\S/;

test("of generated houses nothing is said that is meant for a program", () => {
  let said = 0;
  for (let seed = 1; seed <= 24; seed++) {
    const random = seeded(seed);
    const parsed = parseHouse({ "a.modrik": houseText(random) });
    const journal = new Journal();
    const engine = createEngine(parsed.house, { at: noon.from, journal });
    for (let second = 0; second < 60; second++) {
      const at = noon.from + second * 1000;
      for (const [name, value] of inputsAt(random, noon)) {
        if (value === "pressed") engine.press(name, at);
        else if (parsed.house.sensors.some((sensor) => sensor.name === name)) engine.report(name, value, at);
        else engine.set(name, value, at);
      }
      engine.advanceTo(at);
      if (second % 20 !== 19) continue;
      const of: Run = { past: journal, from: noon.from, to: at };
      const told = [
        ...tellHouse(parsed.house, { at }),
        ...parsed.house.outputs.flatMap(({ name }) => [why(of, name, at), whyNot(of, name, at)]),
        ...askable(parsed.house).map((name) => whyAnything(of, name, at)),
      ];
      for (const says of told.flatMap(sentences)) {
        expect([seed, says, slips.test(says)]).toEqual([seed, says, false]);
        said++;
      }
    }
  }
  expect(said).toBeGreaterThan(5000);
});
