// What `why` and `why not` say holds of the journal: on a simulated day of the demo house, every output at many instants,
// each sentence that states a value, a time or a truth is looked up.
import { clockOf, type Explanation, type Run, readingOf, simulate, why, whyNot } from "modrik";
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
