// Law: what is in a part of a house does what it does in the whole one. And what nothing there rests on is left out.
import { createEngine, type Engine, type House, parseHouse, partOf, runTrial, type Trial } from "modrik";
import { actionsAt, houseText, inputsAt, pick, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { parseLindenYard } from "./examples.js";
import { START } from "./playing.js";

const SEEDS = Number(process.env.MODRIK_SEEDS ?? 60);

/** The house of a test page, with what is said of it. */
function read(text: string): House {
  const { house, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  return house;
}

const namesOf = ({ sensors, outputs, dials, modes, lets, countdowns, presets, schedules, profiles, rules, guards }: House) =>
  [sensors, outputs, dials, modes, lets, countdowns, presets, schedules, profiles, rules, guards]
    .flat()
    .map(({ name }: { readonly name: string }) => name);

test("a thing keeps what it rests on, what sets that, and what guards it", () => {
  const house = read(`house "A" { clock "UTC" hand lasts z.linger }
zone z {
  sensor x: °C  sensor y: °C  sensor door: open/closed
  output o: on/off  output p: on/off, on at least z.least  output q: on/off
  dial linger: 1..60 min, at first 10 min
  dial least: 1..60 min, at first 2 min
}
mode m: day/night, at first day
countdown airing = 20 min
preset all_off { z.o at off }
let warm = z.x above 20 °C
schedule nights { daily 22:00 to 06:00 }
rule holds { while warm and m is day hold z.o at on }
rule turns { when nights begins do { set m to night } }
rule clears { when z.door is open do { apply all_off } }
rule other { while z.y above 20 °C hold z.p at on }
rule airs { while airing is running hold z.q at on }
guard shut { permit z.o on only while not z.p is on }
trial t { from 2026-03-14 08:00 for 1 h given z.x is 25 °C expect z.o is on }`);
  const all = namesOf(house).sort();
  const kept = (...names: string[]) => namesOf(partOf(house, names)).sort();
  expect(kept("z.y")).toEqual(["z.linger", "z.y"]);
  expect(kept("warm")).toEqual(["warm", "z.linger", "z.x"]);
  expect(kept("z.q")).toEqual(["airing", "airs", "z.linger", "z.q"]);
  expect(kept("m")).toEqual(["m", "nights", "turns", "z.linger"]);
  expect(kept("z.p")).toEqual(["other", "z.least", "z.linger", "z.p", "z.y"]);
  expect(kept("z.o")).toEqual(all.filter((name) => !["airing", "airs", "z.q"].includes(name)));
  expect(kept("nobody knows it")).toEqual(["z.linger"]);
  expect(partOf(house, ["z.o"])).toBe(partOf(house, ["z.o", "z.p"]));
  expect(partOf(house, namesOf(house))).toBe(house);
});

/** Does the same to a house as far as it has what it is done to. */
function feed(engine: Engine, { sensors, dials, modes }: House, seed: number, whole: House): void {
  const random = seeded(seed);
  const tried = (act: () => void) => {
    try {
      act();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  };
  for (let second = 1; second <= 150; second++) {
    const at = START + second * 1000;
    for (const [name, value] of inputsAt(random)) {
      if (value === "pressed") tried(() => engine.press(name, at));
      else if (sensors.some((one) => one.name === name)) engine.report(name, value, at);
      else if ([...dials, ...modes].some((one) => one.name === name)) engine.set(name, value, at);
    }
    for (const action of actionsAt(random, whole)) tried(() => engine.person(action, at));
    engine.advanceTo(at);
  }
}

test("an output does in its part what it does in the whole house, whatever comes", forMany(SEEDS), () => {
  let smaller = 0;
  let changed = 0;
  for (let seed = 1; seed <= SEEDS; seed++) {
    const house = read(houseText(seeded(seed)));
    const output = pick(seeded(seed), house.outputs).name;
    // What a person may apply or start is a part of it.
    const part = partOf(house, [output, ...[...house.presets, ...house.countdowns].map(({ name }) => name)]);
    if (part !== house) smaller++;
    const [all, some] = [house, part].map((one) => {
      const engine = createEngine(one, { at: START });
      feed(engine, one, seed, house);
      const rings = engine.takeProblems().some(({ code }) => code === "ring");
      return { changes: engine.takeChanges().filter((change) => change.output === output), rings };
    });
    // Rules that chase each other are stopped, all that do in that instant.
    if (all?.rings || some?.rings) continue;
    changed += all?.changes.length ?? 0;
    expect(some?.changes, `seed ${seed}`).toEqual(all?.changes);
  }
  expect(smaller).toBeGreaterThan(SEEDS / 3);
  expect(changed).toBeGreaterThan(SEEDS);
});

describe("Linden Yard", () => {
  const { house } = parseLindenYard();
  const asksAll = (trial: Trial) =>
    trial.simulated !== undefined ||
    trial.replay !== undefined ||
    /"kind":"(message|told|problem|sent)"/.test(JSON.stringify(trial));

  test("what it is asked in a trial is answered by the part that the trial names", () => {
    const partly = house.trials.filter((trial) => !asksAll(trial));
    expect(partly.length).toBeGreaterThan(20);
    for (const trial of partly) {
      const part = partOf(
        house,
        [...JSON.stringify(trial).matchAll(/"([^"]*)"/g)].map(([, text = ""]) => text),
      );
      expect(part.rules.length, trial.name).toBeLessThan(house.rules.length);
      const judged = (one: House) =>
        runTrial(one, trial).verdicts.map(({ says, passed, wrongAt }) => ({ says, passed, wrongAt }));
      expect(judged(part), trial.name).toEqual(judged(house));
    }
  });
});
