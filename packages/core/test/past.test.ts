// What is read of a journal: it outlives the program that wrote it, it writes nothing twice, and what was not written down
// as a whole is put together from its parts.
import {
  createEngine,
  type Expression,
  Journal,
  measure,
  type Past,
  parseHouse,
  type Run,
  simulate,
  valueAt,
  why,
  whyNot,
  whyNotice,
} from "modrik";
import { describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";
import { engineOf, START } from "./playing.js";

const { house } = parseLindenYard();
const run = simulate(house);
const stored = Journal.fromJSON(JSON.parse(JSON.stringify(run.past)));
const again: Run = { past: stored, from: run.from, to: run.to };

describe("a journal that was stored", () => {
  test("answers as the one it was made of", () => {
    const instants = Array.from({ length: 24 }, (_, hour) => run.from + hour * 3600e3 + 17 * 60e3);
    for (const { name } of house.outputs) {
      for (const at of instants) {
        expect(why(again, name, at)).toEqual(why(run, name, at));
        expect(whyNot(again, name, at)).toEqual(whyNot(run, name, at));
      }
    }
    expect(measure(again)).toEqual(measure(run));
    stored.notices(run.from, run.to).forEach((_, index) => {
      expect(whyNotice(again, index + 1)).toEqual(whyNotice(run, index + 1));
    });
  });

  test("is plain JSON, written the same each time", () => {
    expect(JSON.stringify(stored)).toBe(JSON.stringify(run.past));
    expect(() => Journal.fromJSON({ version: 1 })).toThrow("not a journal of version 2, but 1");
    expect(() => Journal.fromJSON("x")).toThrow("not a journal of version 2");
    expect(() => JSON.stringify(new Journal())).toThrow("nothing has been written");
  });

  test("is gone on with by another engine, of an edited house too", () => {
    const text = (bound: number) =>
      `house "A" { clock "UTC" } zone z { sensor x: °C output o: on/off } rule r { while z.x above ${bound} °C hold z.o at on }`;
    const first = parseHouse({ "a.modrik": text(20) }).house;
    const journal = new Journal();
    const engine = createEngine(first, { at: START, journal });
    engine.report("z.x", 25, START + 1000);
    engine.advanceTo(START + 2000);
    const kept = Journal.fromJSON(JSON.parse(JSON.stringify(journal)));
    const edited = parseHouse({ "a.modrik": text(30) }).house;
    const next = createEngine(edited, { at: START + 3000, restore: engine.snapshot(), journal: kept });
    next.advanceTo(START + 4000);
    const past: Past = kept;
    expect(past.house).toEqual(edited);
    const line = past.line({ kind: "value", of: "z.o" });
    expect([1000, 2999, 3000].map((ms) => valueAt(line, START + ms))).toEqual([0, 0, 1]);
    expect(kept.records.map(({ id }) => id)).toEqual(kept.records.map((_, index) => index));
  });
});

describe("what is written", () => {
  test("a reading that is repeated is heard, and no record; one that comes back is", () => {
    const journal = new Journal();
    const engine = engineOf("rule r { while z.x above 20 °C hold z.o at on }", { journal });
    for (let second = 0; second < 100; second++) engine.report("z.x", 25, START + second * 1000);
    engine.advanceTo(START + 99e3);
    const readings = () => journal.records.filter(({ event }) => event.kind === "value" && event.thing === "z.x").length;
    expect(readings()).toBe(1);
    // Ten minutes later it is unknown: the same value is news then.
    engine.report("z.x", 25, START + 900e3);
    engine.advanceTo(START + 900e3);
    expect(readings()).toBe(2);
    expect(engine.value("z.o")).toBe("on");
  });

  test("no sensor of a simulated day says twice in a row the same", () => {
    const sensors = new Set(house.sensors.map(({ name }) => name));
    const last = new Map<string, unknown>();
    let readings = 0;
    for (const { event } of run.past.records) {
      if (event.kind !== "value" || !sensors.has(event.thing)) continue;
      expect(event.value).not.toBe(last.get(event.thing));
      last.set(event.thing, event.value);
      readings++;
    }
    expect(readings).toBeGreaterThan(1000);
  });

  test("what is read adds nothing to the house that ran", () => {
    const before = JSON.stringify(run.past);
    const strange: Expression = {
      kind: "times",
      left: { kind: "value", of: "bench.humidity" },
      right: { kind: "number", value: 2, unit: "" },
    };
    const line = run.past.line(strange);
    const own = run.past.line({ kind: "value", of: "bench.humidity" });
    expect(line.values.filter((value) => !Number.isNaN(value)).length).toBeGreaterThan(10);
    own.times.forEach((time, index) => expect(valueAt(line, time)).toBe(2 * (own.values[index] as number)));
    // What remembers cannot be put together afterwards: it is unknown, and not "since the beginning".
    expect(
      run.past.line({ kind: "for", condition: { kind: "above", left: strange, right: strange }, duration: strange }),
    ).toEqual({ times: [], values: [] });
    expect(JSON.stringify(run.past)).toBe(before);
  });
});
