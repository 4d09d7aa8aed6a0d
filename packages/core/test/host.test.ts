// Hosts that misbehave: what they do wrong is told, and the engine goes on.
import { createEngine, type Engine, type EngineOptions, parseHouse } from "modrik";
import { describe, expect, test } from "vitest";
import { engineOf, START } from "./playing.js";

const rule = "rule r { while z.x above 20 °C hold z.o at on }";

/** Whether an engine does what it always did. */
function goesOn(engine: Engine): boolean {
  const at = engine.now + 1000;
  engine.report("z.x", 25, at);
  engine.advanceTo(at);
  const warm = engine.value("z.o");
  engine.report("z.x", 15, at + 1000);
  engine.advanceTo(at + 1000);
  return warm === "on" && engine.value("z.o") === "off";
}

describe("while an instant is shown", () => {
  test("what the host throws comes to the caller, once the step is done", () => {
    let thrown = 0;
    const engine = engineOf(rule, {
      onInstant: () => {
        if (thrown++ === 1) throw new Error("the host's own");
      },
    });
    engine.advanceTo(START);
    engine.report("z.x", 25, START + 1000);
    expect(() => engine.advanceTo(START + 5000)).toThrow("the host's own");
    expect([engine.now, engine.value("z.o")]).toEqual([START + 1000, "on"]);
    engine.advanceTo(START + 5000);
    expect(goesOn(engine)).toBe(true);
  });

  test.each<[string, (engine: Engine, at: number) => void]>([
    ["a report", (engine, at) => engine.report("z.x", 1, at)],
    ["a report by number", (engine, at) => engine.reportNumber(engine.sensorNumber("z.x"), 1, at)],
    ["a press", (engine, at) => engine.press("z.bell", at)],
    ["a setting", (engine, at) => engine.set("z.target", 21, at)],
    ["a action", (engine, at) => engine.person({ kind: "releases", output: "z.o" }, at)],
    ["a confirmation", (engine, at) => engine.confirm("z.o", "on", at)],
    ["a clock that is set", (engine, at) => engine.jumpClock(1000, at)],
    ["time", (engine, at) => engine.advanceTo(at + 1)],
    ["a snapshot", (engine) => void engine.snapshot()],
  ])("%s may not come into it", (_, act) => {
    const made: { engine?: Engine } = {};
    let refused = "";
    const onInstant: EngineOptions["onInstant"] = (at) => {
      if (!made.engine) return;
      try {
        act(made.engine, at);
      } catch (error) {
        refused = String(error);
      }
    };
    made.engine = engineOf(rule, { onInstant });
    made.engine.advanceTo(START);
    expect(refused).toMatch(/RangeError: .* cannot come while a step runs/);
    expect(goesOn(made.engine)).toBe(true);
  });
});

describe("at each entrance", () => {
  const wrong: readonly [string, number][] = [
    ["half a millisecond", START + 0.5],
    ["no number", Number.NaN],
    ["no end", Number.POSITIVE_INFINITY],
    ["no beginning", Number.NEGATIVE_INFINITY],
    ["beyond whole numbers", 2 ** 60],
  ];
  const entrances: readonly [string, (engine: Engine, at: number) => void][] = [
    ["report", (engine, at) => engine.report("z.x", 1, at)],
    ["reportNumber", (engine, at) => engine.reportNumber(engine.sensorNumber("z.x"), 1, at)],
    ["press", (engine, at) => engine.press("z.bell", at)],
    ["set", (engine, at) => engine.set("z.target", 21, at)],
    ["person", (engine, at) => engine.person({ kind: "releases", output: "z.o" }, at)],
    ["confirm", (engine, at) => engine.confirm("z.o", "on", at)],
    ["jumpClock", (engine, at) => engine.jumpClock(1000, at)],
    ["advanceTo", (engine, at) => engine.advanceTo(at)],
  ];
  test.each(entrances.flatMap(([name, enter]) => wrong.map(([says, at]) => ({ name, enter, says, at }))))(
    "$name refuses $says",
    ({ enter, at }) => {
      const engine = engineOf(rule);
      expect(() => enter(engine, at)).toThrow(/an instant is a whole number of milliseconds/);
      expect(goesOn(engine)).toBe(true);
    },
  );

  test("a start refuses it too, and a snapshot together with what is given", () => {
    const { house } = parseHouse({ "a.modrik": 'house "A" { clock "UTC" } zone z { sensor x: °C }' });
    expect(() => createEngine(house, { at: START + 0.5 })).toThrow(/whole number of milliseconds/);
    const restore = createEngine(house, { at: START }).snapshot();
    expect(() => createEngine(house, { at: START - 1, restore })).toThrow(/before the snapshot's/);
    expect(() => createEngine(house, { at: START, restore, given: { "z.x": 1 } })).toThrow(/do not go together/);
  });
});

describe("what comes out of order is taken in order, and told", () => {
  test("behind something that waits for a later instant", () => {
    const engine = engineOf('rule r { while z.x above 20 °C hold z.o at on } rule late { when z.y above 1 °C do { tell "y" } }');
    engine.report("z.x", 25, START + 10_000);
    engine.report("z.y", 5, START + 4000);
    engine.advanceTo(START + 20_000);
    expect(engine.takeChanges().map(({ at }) => at - START)).toEqual([10_000]);
    expect(engine.takeNotices().map(({ at }) => at - START)).toEqual([10_000]);
  });
});

test.each([
  ["a countdown", "countdowns", "rule r { when z.door is open do { start c } } countdown c = 1 min"],
  ["a preset", "presets", "rule r { when z.door is open do { apply p } } preset p { z.o at on }"],
  ["an output", "outputs", "rule r { when z.door is open do { set z.o to on } }"],
  ["an output that is held", "outputs", "rule r { hold z.o at on }"],
])("a house that names %s it has not is refused, and not run", (_, list, rules) => {
  const { house } = engineOf(rules);
  expect(() => createEngine({ ...house, [list]: [] }, { at: START })).toThrow(/the house has no .* called/);
});
