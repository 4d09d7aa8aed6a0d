// The smaller example houses: sound, found in order, proven, wired, and known by their simulated days.
import {
  checkHouse,
  clockOf,
  formatHouse,
  measureSimulation,
  mutantsOf,
  passes,
  runTrials,
  sayDate,
  simulate,
  topicsHeard,
  trialsAgainst,
} from "modrik";
import { describe, expect, test } from "vitest";
import { openExample } from "./examples.js";

describe.each(["heron-cottage", "night-oven"])("%s", (name) => {
  const text = openExample(name);
  const { house } = text;

  test("is sound and laid out, and reasoning finds nothing in it", () => {
    expect(text.problems).toEqual([]);
    expect(checkHouse(house, text).map(({ reason }) => reason)).toEqual([]);
    expect(Object.entries(text.files).flatMap(([file, one]) => (formatHouse(one).text === one ? [] : [file]))).toEqual([]);
  });

  test("its trials pass, and find nine of ten mistakes at least", () => {
    const failed = runTrials(house).flatMap(({ trial, verdicts }) =>
      verdicts.filter(({ passed }) => !passed).map(({ says }) => `${trial.name}: ${says}`),
    );
    expect(failed).toEqual([]);
    const mutants = mutantsOf(house);
    const lived = mutants.filter((mutant) => trialsAgainst(mutant, house.trials).every((trial) => passes(mutant.house, trial)));
    expect(mutants.length).toBeGreaterThan(20);
    expect(lived.map(({ before, after }) => `${before} → ${after}`).slice(mutants.length / 10)).toEqual([]);
  });

  test("hears of every sensor over MQTT, and every output is moved by a rule in its simulation or its trials", () => {
    expect(topicsHeard(house).length).toBeGreaterThan(3);
    const wired = JSON.stringify(house.wirings);
    expect([...house.sensors, ...house.outputs].filter((one) => !wired.includes(`"${one.name}"`)).map((one) => one.name)).toEqual(
      [],
    );
    const moved = new Set(
      runTrials(house).flatMap(({ run }) =>
        house.outputs
          .filter((output) => run.past.line({ kind: "value", of: output.name }).values.length > 1)
          .map((output) => output.name),
      ),
    );
    expect(house.outputs.filter((output) => !moved.has(output.name)).map((output) => output.name)).toEqual([]);
  });
});

test("Heron Cottage is cold while it is empty, and warm by the hour of each arrival in its calendar", () => {
  const { house } = openExample("heron-cottage");
  const from = clockOf(house.clock).instant(Date.UTC(2026, 10, 12) / 86_400_000, 0);
  const run = simulate(house, { from, lasts: 4 * 86_400_000 });
  const at = (time: string) => run.past.value({ kind: "value", of: "parlour.temperature" }, Date.parse(time));
  expect(sayDate(clockOf(house.clock), Date.parse("2026-11-14T16:00Z"))).toBe("2026-11-14 16:00");
  expect(at("2026-11-13T12:00Z")).toBeLessThan(11);
  expect(at("2026-11-14T16:00Z")).toBeGreaterThan(19.9);
  expect(at("2026-11-15T04:00Z")).toBeGreaterThan(19.9);
});

test("Night Oven keeps its dough warm and moist without a mat that chatters", () => {
  const { house } = openExample("night-oven");
  const { measures } = measureSimulation(house, { set: { batch: "proofing" } });
  const mat = measures.outputs.find(({ output }) => output === "cupboard.heater");
  expect(mat?.startsAnHour).toBeLessThan(12);
});
