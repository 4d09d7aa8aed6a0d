// The two workers of the page, spoken to as the page does, without a browser: the latest wins, answers say what they answer,
// a broken text keeps the day before, quick drawing is followed by the settled one.
import { afterAll, beforeAll, beforeEach, describe, expect, test, vi } from "vitest";
import type { FromReader, FromRunner, ToReader, ToRunner } from "../src/messages.js";

/** A worker whose messages are noted. */
async function start<To, From extends { readonly kind: string }>(load: () => Promise<unknown>) {
  const said: From[] = [];
  let hear: (event: { readonly data: To }) => void = () => {};
  vi.stubGlobal("addEventListener", (_: string, heard: typeof hear) => {
    hear = heard;
  });
  vi.stubGlobal("postMessage", (message: From) => said.push(message));
  await load();
  return {
    said,
    tell: (data: To) => {
      // The worker speaks when it is spoken to: its own list, whoever was started since.
      vi.stubGlobal("postMessage", (message: From) => said.push(message));
      hear({ data });
    },
    of: <Kind extends From["kind"]>(kind: Kind) => said.filter((one): one is Extract<From, { kind: Kind }> => one.kind === kind),
    kinds: () => said.map(({ kind }) => kind),
  };
}

const zone = `house "H" { place 47 N, 8 E clock "Europe/Zurich" readings last 15 min }
zone z "Room" { sensor t: °C output heater: on/off dial wanted: 15..25 °C, at first 20 °C }
physics { zone z { floor 20 m², built light } z.heater gives 2 kW of heat }
weather cold { outdoors 0 °C } weather mild { outdoors 12 °C }`;
const rule = "rule warm { keep z.t at z.wanted ± 0.5 K raise with z.heater }";
const trial = `trial works { from 2026-01-15 08:00 for 10 min given z.t is 10 °C expect z.heater is on at 08:05 }`;
const files = (rules: string) => ({ "house.modrik": zone, "rules.modrik": rules });
const setup = (rules: string, more: object = {}) => ({ files: files(rules), set: {}, ...more });

beforeAll(() => {
  vi.useFakeTimers();
});
afterAll(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the worker that reads", () => {
  let worker: Awaited<ReturnType<typeof start<ToReader, FromReader>>>;
  beforeAll(async () => {
    worker = await start<ToReader, FromReader>(() => import("../src/reading.worker.js"));
  });
  beforeEach(() => {
    worker.said.length = 0;
  });

  test("colours at once, and tells what is wrong when a writer pauses: of the latest text alone", () => {
    worker.tell({ kind: "write", id: 1, setup: setup(`${rule} rule x { hold z.heatr at on }`), file: "rules.modrik" });
    worker.tell({ kind: "write", id: 2, setup: setup(rule), file: "rules.modrik" });
    expect(worker.kinds()).toEqual(["coloured", "coloured"]);
    vi.advanceTimersByTime(1000);
    const [reading, ...more] = worker.of("read");
    expect([reading?.id, reading?.reading.problems, reading?.reading.sound, more]).toEqual([2, [], true, []]);
    expect(reading?.reading.hints?.map(({ says }) => says)).toEqual(["on below 19.5 °C, off above 20.5 °C"]);
    expect(reading?.reading.zones.map(({ name }) => name)).toEqual(["z"]);
  });

  test("a broken text has problems at their places, and no hints", () => {
    worker.tell({ kind: "write", id: 3, setup: setup("rule x { hold z.heatr at on }"), file: "rules.modrik" });
    vi.advanceTimersByTime(1000);
    const { reading } = worker.of("read")[0] as {
      reading: { problems: readonly { reason: string; place: object }[]; sound: boolean; hints: unknown };
    };
    expect([reading.sound, reading.hints]).toEqual([false, undefined]);
    expect(reading.problems.map(({ reason }) => reason)).toEqual(['There is no output called "z.heatr".']);
    expect(reading.problems[0]?.place).toMatchObject({ file: "rules.modrik", line: 1, column: 15 });
  });

  test("answers what is asked of a text that is further than its own, and says which question", () => {
    const written = "rule warm { hold z.he";
    worker.tell({ kind: "ask", id: 7, question: { kind: "complete", file: "rules.modrik", text: written, at: written.length } });
    worker.tell({
      kind: "ask",
      id: 8,
      question: { kind: "describe", file: "rules.modrik", text: rule, at: rule.indexOf("z.heater") + 3 },
    });
    worker.tell({ kind: "ask", id: 9, question: { kind: "describe", file: "rules.modrik", text: "rule {", at: 2 } });
    const [complete, describes, nothing] = worker.of("answer");
    expect([complete?.id, describes?.id, nothing]).toEqual([7, 8, { kind: "answer", id: 9, answer: undefined }]);
    expect(JSON.stringify(complete?.answer)).toContain('"label":"z.heater"');
    expect(JSON.stringify(describes?.answer)).toContain("z.heater");
  });

  test("dial values that no longer fit are left out of the hints", () => {
    worker.tell({ kind: "write", id: 4, setup: setup(rule, { set: { "z.wanted": 22, "z.gone": 3 } }), file: "rules.modrik" });
    vi.advanceTimersByTime(1000);
    worker.tell({ kind: "write", id: 5, setup: setup(rule, { set: { "z.wanted": 99 } }), file: "rules.modrik" });
    vi.advanceTimersByTime(1000);
    expect(worker.of("read").map(({ reading }) => reading.hints?.[0]?.says)).toEqual([
      "on below 21.5 °C, off above 22.5 °C",
      "on below 19.5 °C, off above 20.5 °C",
    ]);
  });
});

describe("the worker that runs", () => {
  let worker: Awaited<ReturnType<typeof start<ToRunner, FromRunner>>>;
  beforeAll(async () => {
    worker = await start<ToRunner, FromRunner>(() => import("../src/simulation.worker.js"));
  });
  beforeEach(() => {
    worker.said.length = 0;
  });
  const look = { theme: "light", width: 900, height: 600, zone: "z" } as const;

  test("runs nothing but the latest, draws it, judges its trials, and checks it when a writer pauses", () => {
    worker.tell({ kind: "draw", look });
    worker.tell({ kind: "run", id: 1, setup: setup(rule) });
    worker.tell({ kind: "run", id: 2, setup: setup(`${rule} ${trial}`) });
    vi.advanceTimersByTime(10);
    expect(worker.kinds()).toEqual(["drawn", "ran"]);
    expect(worker.of("ran")[0]).toMatchObject({ id: 2, trials: [{ name: "works", passed: true, failed: "" }] });
    expect(worker.of("ran")[0]?.about).toBe("2026-01-15 00:00, cold");
    vi.advanceTimersByTime(1000);
    expect(worker.kinds()).toEqual(["drawn", "ran", "checked"]);
    expect(worker.of("checked")[0]?.id).toBe(2);
  });

  test("draws at once from rooms as they were, and anew from those that have been lived in", () => {
    worker.tell({ kind: "run", id: 3, setup: setup(rule.replace("0.5 K", "2 K")) });
    vi.advanceTimersByTime(10);
    expect(worker.kinds()).toEqual(["drawn", "ran"]);
    vi.advanceTimersByTime(1000);
    expect(worker.kinds()).toEqual(["drawn", "ran", "drawn", "checked"]);
  });

  test("a text that is broken keeps the day that was drawn", () => {
    worker.tell({ kind: "run", id: 4, setup: setup("rule x { hold z.heatr at on }") });
    vi.advanceTimersByTime(1000);
    expect(worker.said).toEqual([]);
    worker.tell({ kind: "draw", look });
    expect(worker.kinds()).toEqual(["drawn"]);
  });

  test("a failing trial says what was expected; another weather begins anew", () => {
    worker.tell({ kind: "run", id: 5, setup: setup(`${rule} ${trial.replace("is on at", "is off at")}`, { weather: "mild" }) });
    vi.advanceTimersByTime(10);
    expect(worker.of("ran")[0]).toMatchObject({
      about: "2026-01-15 00:00, mild",
      trials: [{ passed: false, failed: "z.heater is off at 08:05" }],
    });
    vi.advanceTimersByTime(1000);
    expect(worker.kinds()).toEqual(["drawn", "ran", "checked"]);
  });

  test("explains the outputs of the zone at a moment of the day", () => {
    worker.tell({ kind: "explain", share: 0.5 });
    const [explained] = worker.of("explained");
    expect(explained?.when).toBe("2026-01-15 12:00");
    expect(explained?.outputs.map(({ says }) => says.split(" is ")[0])).toEqual(["z.heater"]);
  });
});
