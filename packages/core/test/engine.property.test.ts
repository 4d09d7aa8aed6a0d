// Laws of the engine on generated houses and inputs. MODRIK_SEEDS=5000 runs more of them (`npm run property`).
import {
  createEngine,
  type Engine,
  type House,
  isSound,
  Journal,
  type PersonAction,
  parseHouse,
  readSnapshot,
  runTrials,
  type Value,
} from "modrik";
import { actionsAt, changes, houseText, inputsAt, noon, Reference, seeded } from "modrik/testing";
import { expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";

const SEEDS = Number(process.env.MODRIK_SEEDS ?? 150);
const LONG = forMany(SEEDS);
const FIRST = Number(process.env.MODRIK_FIRST ?? 1);
const LASTS = 120;
const START = Date.parse("2026-03-14T12:00:00Z");

interface Case {
  readonly seed: number;
  readonly text: string;
  readonly house: House;
  readonly start: number;
  /** Inputs of each second. */
  readonly inputs: readonly Inputs[];
}

type Series = Pick<ReturnType<Journal["line"]>, "times" | "values">;

interface Inputs {
  readonly values: ReadonlyMap<string, Value>;
  readonly actions: readonly PersonAction[];
}

function caseOf(seed: number, stretch = noon): Case {
  const random = seeded(seed);
  const text = houseText(random, stretch);
  const parsed = parseHouse({ "house.modrik": text });
  if (!isSound(parsed))
    throw new Error(
      `seed ${seed} makes a broken house: ${parsed.problems[0]?.reason} ${parsed.problems[0]?.place.line}\n${text}`,
    );
  return {
    seed,
    text,
    house: parsed.house,
    start: stretch.from,
    inputs: Array.from({ length: LASTS }, () => ({
      values: inputsAt(random, stretch),
      actions: actionsAt(random, parsed.house),
    })),
  };
}

function feed(engine: Engine, { values, actions }: Inputs, at: number, backwards = false): void {
  const entries = [...values];
  if (backwards) entries.reverse();
  for (const [name, value] of entries) {
    if (value === "pressed") engine.press(name, at);
    else if (engine.house.sensors.some((sensor) => sensor.name === name)) engine.report(name, value, at);
    else engine.set(name, value, at);
  }
  for (const action of actions) engine.person(action, at);
  engine.advanceTo(at);
}

const shown = ({ outputs, dials, modes }: House) => [...outputs, ...dials, ...modes].map(({ name }) => name);

function seeds(): number[] {
  return Array.from({ length: SEEDS }, (_, index) => FIRST + index);
}

/** Every third house lives through a change of the clock. */
const stretchOf = (seed: number) => [noon, noon, ...changes][seed % 6] ?? noon;

/**
 * What neither ramps nor proportion drive changes between two instants only where something that moves passes its bound
 * there. The plain definitions see that at the next, when a dose may be over as well, or a window has moved on: what comes
 * of it is not compared.
 */
const comesOfItself = ["room.fan", "room.pump"];

/** Runs both, and compares what each of them shows at every instant. Gives how often outputs changed. */
function compared({ seed, text, house, inputs, start }: Case, tick: number): number {
  const reference = new Reference(house, start, tick);
  const engine = createEngine(house, { at: start });
  let changed = 0;
  for (const [place, given] of inputs.entries()) {
    const at = start + place * tick;
    reference.second(at, given.values, given.actions);
    feed(engine, given, at);
    if (reference.ringing) break;
    const changes = engine.takeChanges();
    changed += changes.length;
    if (changes.some(({ at: sent, output }) => comesOfItself.includes(output) && (sent - start) % tick !== 0)) break;
    const values = (from: { value(name: string): Value | undefined }) =>
      Object.fromEntries(shown(house).map((name) => [name, from.value(name)]));
    const told = engine.takeNotices().map((notice) => notice.text);
    expect({ ...values(engine), told }, `seed ${seed}, after ${place * tick} ms\n${text}`).toEqual({
      ...values(reference),
      told: reference.notices.splice(0),
    });
  }
  return changed;
}

test("the engine agrees with the plain definitions at every second", LONG, () => {
  const changed = seeds().map((seed) => compared(caseOf(seed, stretchOf(seed)), 1000));
  // Else the houses were too dull to show anything.
  expect(changed.reduce((sum, one) => sum + one, 0)).toBeGreaterThan(SEEDS * 4);
});

test("and at every tenth of a second, where things come before and behind what is due", LONG, () => {
  const nothing = { values: new Map<string, Value>(), actions: [] };
  for (const seed of seeds().slice(0, Math.max(50, SEEDS / 5))) {
    const whole = caseOf(seed + 1_000_000);
    // A ramp is sent once a second.
    if (whole.text.includes("ramp room")) continue;
    const random = seeded(seed);
    // What came each second comes at some tenth of it.
    const inputs = whole.inputs.slice(0, 60).flatMap((given) => {
      const place = Math.floor(random() * 10);
      return Array.from({ length: 10 }, (_, tenth) => (tenth === place ? given : nothing));
    });
    compared({ ...whole, inputs }, 100);
  }
});

test("the order of inputs within an instant does not matter, and the journal is the same each time", () => {
  for (const seed of seeds().slice(0, 60)) {
    const { house, inputs } = caseOf(seed);
    const [one, other] = [createEngine(house, { at: START }), createEngine(house, { at: START })];
    inputs.forEach((given, second) => {
      feed(one, given, START + second * 1000);
      feed(other, given, START + second * 1000, true);
    });
    expect(one.takeChanges(), `seed ${seed}`).toEqual(other.takeChanges());
  }
});

test("restoring a snapshot, taken at any second, equals never having stopped", LONG, () => {
  for (const seed of seeds().slice(0, Math.max(60, SEEDS / 10))) {
    const { text, house, inputs } = caseOf(seed);
    // A start is an event of its own, and a dose does not go on by itself.
    if (/the house starts|dose/.test(text)) continue;
    const journal = new Journal();
    const whole = createEngine(house, { at: START, journal });
    let parts = createEngine(house, { at: START });
    let seen = 0;
    for (const [second, given] of inputs.entries()) {
      const at = START + second * 1000;
      feed(whole, given, at);
      feed(parts, given, at);
      parts.takeChanges();
      // Rules that chase each other are looked at again with the next step, which a start brings sooner.
      if (journal.records.slice(seen).some(({ event }) => event.kind === "problem" && event.code === "ring")) break;
      seen = journal.records.length;
      const saved = readSnapshot(JSON.parse(JSON.stringify(parts.snapshot())));
      parts = createEngine(house, { at, restore: saved });
      const values = (from: Engine) => Object.fromEntries(shown(house).map((name) => [name, from.value(name)]));
      expect(values(parts), `seed ${seed}, second ${second}\n${text}`).toEqual(values(whole));
    }
  }
});

test("time that passes in one go, and reports that are taken without a step, do what they do second by second", LONG, () => {
  for (const seed of seeds()) {
    const { text, house, inputs } = caseOf(seed);
    // With a journal each report is a step, and every part of a condition has a value of its own.
    const slow = createEngine(house, { at: START, journal: new Journal() });
    const fast = createEngine(house, { at: START });
    inputs.forEach((given, second) => {
      const at = START + second * 1000;
      feed(slow, given, at);
      for (const [name, value] of given.values) {
        const sensor = house.sensors.find((one) => one.name === name);
        if (value === "pressed") fast.press(name, at);
        else if (!sensor) fast.set(name, value, at);
        else
          fast.reportNumber(
            fast.sensorNumber(name),
            sensor.type.kind === "words" ? sensor.type.words.indexOf(`${value}`) : Number(value),
            at,
          );
      }
      for (const action of given.actions) fast.person(action, at);
    });
    fast.advanceTo(slow.now);
    expect(fast.takeChanges(), `seed ${seed}\n${text}`).toEqual(slow.takeChanges());
  }
});

test("a trial that begins cold is what a house does that was never before", LONG, () => {
  let changed = 0;
  const few = seeds().slice(0, Math.max(40, SEEDS / 20));
  for (const seed of few) {
    const { house } = parseHouse({
      "house.modrik": `${houseText(seeded(seed))}\ntrial new { from 2026-03-14 12:00 for 2 min cold expect never problem "none" }`,
    });
    const journal = new Journal();
    const engine = createEngine(house, { at: START, journal });
    engine.advanceTo(START + LASTS * 1000);
    const [result] = runTrials(house);
    if (result?.run === undefined) throw new Error(`seed ${seed} did not run: ${result?.broken}`);
    for (const name of shown(house)) {
      const lines = [journal, result.run.past].map((past) => past.line({ kind: "value", of: name }));
      const [own, tried] = lines.map(({ times, values }) => ({ times, values })) as [Series, Series];
      expect([name, tried], `seed ${seed}`).toEqual([name, own]);
      changed += own.times.length;
    }
  }
  // Each of the eleven that are shown has a value from the start; else the houses were too dull to show anything.
  expect(changed).toBeGreaterThan(12 * few.length);
});

test("an output that obeys late disobeys while it does what it was told so long ago, and no longer", LONG, () => {
  let disobeyed = 0;
  let instants = 0;
  const few = seeds().slice(0, Math.max(40, SEEDS / 20));
  for (const seed of few) {
    const late = 1 + (seed % 7);
    const house = `${houseText(seeded(seed))}
rule stubborn { when room.heater disobeys for 2 s do { toggle room.fan } while room.heater disobeys hold room.lamp at 30 % }
rule restless as urgent { cycle room.heater on ${2 + (seed % 5)} s off ${3 + (seed % 4)} s }
trial slow { from 2026-03-14 12:00 for 2 min cold at 12:00:05 room.heater obeys ${late} s late expect never problem "none" }`;
    const parsed = parseHouse({ "house.modrik": house });
    expect(parsed.problems, `seed ${seed}`).toEqual([]);
    const [result] = runTrials(parsed.house);
    if (result?.run === undefined) throw new Error(`seed ${seed} did not run: ${result?.broken}`);
    const { past } = result.run;
    const wanted = (at: number) => past.value({ kind: "value", of: "room.heater" }, at);
    const begins = START + 5000;
    for (let at = begins; at < START + LASTS * 1000; at += 500) {
      const done = wanted(Math.max(at - late * 1000, begins - 1));
      const disobeys = past.value({ kind: "disobeys", output: "room.heater" }, at);
      expect(disobeys, `seed ${seed} at ${at - START} ms`).toBe(wanted(at) === done ? 0 : 1);
      disobeyed += disobeys;
      instants++;
    }
  }
  expect(disobeyed).toBeGreaterThan(instants / 10);
  expect(disobeyed).toBeLessThan((instants * 9) / 10);
});
