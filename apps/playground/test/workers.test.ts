// The three workers of the page, spoken to as the page does, without a browser: the latest wins, answers say what they
// answer, a broken text keeps the day before, nobody waits for somebody else's work.
import { afterAll, beforeAll, describe, expect, test, vi } from "vitest";
import { startJudge } from "../src/judge.js";
import type { FromJudge, FromReader, FromRunner, Setup, ToJudge, ToReader, ToRunner } from "../src/messages.js";
import { startReader } from "../src/reader.js";
import { startRunner } from "../src/runner.js";

const zone = `house "H" { place 47 N, 8 E clock "Europe/Zurich" readings last 15 min }
zone z "Room" {
  sensor t: °C
  sensor door: open/closed
  output heater: on/off
  output lamp "Lamp": on/off
  dial wanted: 15..25 °C, at first 20 °C
}
mode shop: open/closed, at first closed
preset early { z.wanted at 23 °C, shop at open, z.lamp at on }
physics { zone z { floor 20 m², built light } z.heater gives 2 kW of heat }
weather cold { outdoors 0 °C } weather mild { outdoors 12 °C }`;
const rule =
  "rule warm { keep z.t at z.wanted ± 0.5 K raise with z.heater }\nrule lit { while z.door is open hold z.lamp at on }";
const trial =
  "trial works { from 2026-01-15 08:00 for 10 min given z.t is 10 °C, z.door is closed at 08:02 z.door is open expect z.heater is on at 08:05 }";
const setup = (rules: string, more: Partial<Setup> = {}): Setup => ({
  files: { "house.modrik": zone, "rules.modrik": rules },
  set: {},
  days: 1,
  acts: "",
  ...more,
});

/** A worker whose messages are noted. */
function start<To, From extends { readonly kind: string }>(begin: (tell: (message: From) => void) => (message: To) => void) {
  const said: From[] = [];
  const tell = begin((message) => said.push(message));
  const of = <Kind extends From["kind"]>(kind: Kind) =>
    said.filter((one): one is Extract<From, { kind: Kind }> => one.kind === kind);
  return {
    tell,
    of,
    kinds: () => said.map(({ kind }) => kind),
    /** What it said since, once it has rested for so long. */
    async rested(ms: number): Promise<void> {
      await vi.advanceTimersByTimeAsync(ms);
    },
    clear: () => said.splice(0),
  };
}

beforeAll(() => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
});
afterAll(() => {
  vi.useRealTimers();
});

describe("the worker that reads", () => {
  const begin = () => start<ToReader, FromReader>(startReader);
  const write = (id: number, rules: string, more: Partial<Setup> = {}): ToReader => ({
    kind: "write",
    id,
    setup: setup(rules, more),
    file: "rules.modrik",
  });

  test("colours at once, and tells what is wrong when a writer pauses: of the latest text alone", async () => {
    const worker = begin();
    worker.tell(write(1, `${rule} rule x { hold z.heatr at on }`));
    worker.tell(write(2, rule));
    expect(worker.kinds()).toEqual(["coloured", "coloured"]);
    await worker.rested(1000);
    const [read, ...more] = worker.of("read");
    expect([read?.id, read?.reading.problems, read?.reading.sound, more]).toEqual([2, [], true, []]);
    expect(read?.reading.hints?.map(({ says }) => says)).toEqual(["on below 19.5 °C, off above 20.5 °C"]);
    expect(read?.reading.zones.map(({ name }) => name)).toEqual(["z"]);
  });

  test("tells what can be acted upon, and of presets what they set of dials and modes", async () => {
    const worker = begin();
    worker.tell(write(1, rule));
    await worker.rested(1000);
    const { things, presets } = worker.of("read")[0]?.reading ?? {};
    expect(things?.map(({ name, role, unit, words }) => [name, role, unit ?? words?.join("/")])).toEqual([
      ["z.t", "sensor", "°C"],
      ["z.door", "sensor", "open/closed"],
      ["z.heater", "output", "on/off"],
      ["z.lamp", "output", "on/off"],
    ]);
    expect(presets).toEqual([{ name: "early", sets: { "z.wanted": 23, shop: "open" } }]);
  });

  test("a broken text has problems at their places, and no hints", async () => {
    const worker = begin();
    worker.tell(write(3, "rule x { hold z.heatr at on }"));
    await worker.rested(1000);
    const { reading } = worker.of("read")[0] ?? {};
    expect([reading?.sound, reading?.hints]).toEqual([false, undefined]);
    expect(reading?.problems.map(({ reason }) => reason)).toEqual(['There is no output called "z.heatr".']);
    expect(reading?.problems[0]?.place).toMatchObject({ file: "rules.modrik", line: 1, column: 15 });
  });

  test("answers what is asked of a text that is further than its own, and says which question", () => {
    const worker = begin();
    worker.tell(write(1, rule));
    worker.clear();
    const written = "rule warm { hold z.he";
    const ask = (id: number, kind: "complete" | "describe", text: string, at: number) =>
      worker.tell({ kind: "ask", id, question: { kind, file: "rules.modrik", text, at } });
    ask(7, "complete", written, written.length);
    ask(8, "describe", rule, rule.indexOf("z.heater") + 3);
    ask(9, "describe", "rule {", 2);
    const [complete, describes, nothing] = worker.of("answer");
    expect([complete?.id, describes?.id, nothing]).toEqual([7, 8, { kind: "answer", id: 9, answer: undefined }]);
    expect(JSON.stringify(complete?.answer)).toContain('"label":"z.heater"');
    expect(JSON.stringify(describes?.answer)).toContain("z.heater");
  });

  test("dial values that no longer fit are left out of the hints", async () => {
    const worker = begin();
    worker.tell(write(4, rule, { set: { "z.wanted": 22, "z.gone": 3 } }));
    await worker.rested(1000);
    worker.tell(write(5, rule, { set: { "z.wanted": 99 } }));
    await worker.rested(1000);
    expect(worker.of("read").map(({ reading }) => reading.hints?.[0]?.says)).toEqual([
      "on below 21.5 °C, off above 22.5 °C",
      "on below 19.5 °C, off above 20.5 °C",
    ]);
  });

  test("a calendar beside the texts is read, and one that is broken is as good as not there", async () => {
    const worker = begin();
    const ics =
      "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\nDTSTART:20260115T080000Z\r\nDTEND:20260115T090000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    const timed = `${rule}\nschedule away from calendar "away.ics"\nrule off { while during away hold z.lamp at off }`;
    const problemsWith = async (id: number, files: Record<string, string>) => {
      worker.tell({
        kind: "write",
        id,
        setup: { ...setup(timed), files: { ...setup(timed).files, ...files } },
        file: "rules.modrik",
      });
      await worker.rested(1000);
      return worker
        .of("read")
        .at(-1)
        ?.reading.problems.map(({ severity }) => severity);
    };
    expect(await problemsWith(1, { "away.ics": ics })).toEqual([]);
    expect(await problemsWith(2, { "away.ics": "no calendar" })).not.toEqual([]);
    expect(await problemsWith(3, {})).not.toEqual([]);
  });
});

describe("the worker that runs", () => {
  const look = { theme: "light", width: 900, height: 600, zone: "z" } as const;
  const days = { kind: "days" } as const;
  function begin() {
    const worker = start<ToRunner, FromRunner>(startRunner);
    worker.tell({ kind: "draw", look });
    return worker;
  }
  const run = (id: number, rules: string, more: Partial<Setup> = {}): ToRunner => ({
    kind: "run",
    id,
    setup: setup(rules, more),
    subject: days,
  });
  const ranOf = (worker: ReturnType<typeof begin>) => worker.of("ran").map(({ ran }) => ran);

  test("runs nothing but the latest, and draws it", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    worker.tell(run(2, rule));
    await worker.rested(10);
    expect(worker.kinds()).toEqual(["drawn", "ran"]);
    expect(ranOf(worker)[0]).toMatchObject({ id: 2, about: "2026-01-15, cold", subject: days, problems: [] });
  });

  test("draws at once from rooms as they were, and anew from those that have been lived in", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    await worker.rested(1000);
    worker.clear();
    worker.tell(run(3, rule.replace("0.5 K", "2 K")));
    await worker.rested(10);
    expect(worker.kinds()).toEqual(["drawn", "ran"]);
    await worker.rested(1000);
    expect(worker.kinds()).toEqual(["drawn", "ran", "drawn", "ran"]);
  });

  test("a recorded weather begins where it does; a day that it does not tell of is said, also where nothing has been shown", async () => {
    const rows = Array.from({ length: 73 }, (_, hour) => `${new Date(Date.UTC(2026, 1, 3, hour)).toISOString()},${hour % 24},80`);
    const files = {
      "house.modrik": zone.replace("weather cold { outdoors 0 °C }", 'weather cold from "station.csv"'),
      "rules.modrik": rule,
      "station.csv": ["time,outdoors °C,humidity %RH", ...rows].join("\n"),
    };
    const worker = begin();
    worker.tell(run(1, rule, { files, from: "2026-01-15" }));
    await worker.rested(1000);
    const [broken] = ranOf(worker);
    expect(broken).toMatchObject({ id: 1, about: "It could not be run", from: Date.parse("2026-01-15"), happened: [] });
    expect(broken?.notes).toEqual([
      expect.stringMatching(/^The recording station.csv tells the weather from 2026-02-03 01:00 to /),
    ]);
    worker.tell(run(2, rule, { files }));
    await worker.rested(1000);
    expect(ranOf(worker).at(-1)).toMatchObject({ id: 2, about: "2026-02-04, cold" });
  });

  test("what is asked before a writer pauses is answered of the day that is drawn, also of another zone", async () => {
    const attic = 'zone attic "Attic" { sensor damp: %RH output fan: on/off }\n';
    const worker = begin();
    worker.tell(run(1, attic + rule));
    await worker.rested(1000);
    worker.clear();
    worker.tell(run(2, `${attic}${rule.replace("0.5 K", "2 K")}`));
    await worker.rested(10);
    const [chart] = worker.of("drawn").map((one) => one.chart);
    worker.tell({ kind: "explain", share: 0.5, thing: "z.heater" });
    expect(JSON.stringify(worker.of("explained")[0]?.said)).toContain("18 °C");
    worker.tell({ kind: "draw", look: { ...look, zone: "attic" } });
    worker.tell({ kind: "draw", look });
    const [, other, again] = worker.of("drawn").map((one) => one.chart);
    expect(other?.readings?.map(({ section }) => section)).toContain("Attic");
    expect(again).toEqual(chart);
    expect(ranOf(worker).length).toBe(1);
  });

  test("a text that is broken keeps the day that was drawn", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    await worker.rested(1000);
    worker.clear();
    worker.tell(run(4, "rule x { hold z.heatr at on }"));
    await worker.rested(1000);
    expect(worker.kinds()).toEqual([]);
    worker.tell({ kind: "draw", look });
    expect(worker.kinds()).toEqual(["drawn"]);
  });

  test.each<[string, Partial<Setup>, string, number]>([
    ["another weather", { weather: "mild" }, "2026-01-15, mild", 1],
    ["a week from a day on", { from: "2026-03-02", days: 7 }, "2026-03-02, cold", 7],
    ["a day of 23 hours", { from: "2026-03-29" }, "2026-03-29, cold", 23 / 24],
    ["one weather that is gone", { weather: "storm" }, "2026-01-15, cold", 1],
  ])("runs %s", async (_, more, about, lasts) => {
    const worker = begin();
    worker.tell(run(1, rule, more));
    await worker.rested(1000);
    const ran = ranOf(worker).at(-1);
    expect([ran?.about, ((ran?.to ?? 0) - (ran?.from ?? 0)) / 86_400_000]).toEqual([about, lasts]);
  });

  test("says how far a long run is", async () => {
    const worker = begin();
    let clock = 0;
    const time = vi.spyOn(performance, "now").mockImplementation(() => (clock += 50));
    worker.tell(run(1, rule, { days: 31 }));
    await worker.rested(10);
    time.mockRestore();
    const shares = worker.of("progress").map(({ share }) => share);
    expect(shares.length).toBeGreaterThan(50);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect([Math.min(...shares) < 0.1, Math.max(...shares) > 0.9, ranOf(worker).length]).toEqual([true, true, 1]);
  });

  test("lets happen what is written, and says by line what cannot", async () => {
    const worker = begin();
    worker.tell(run(1, rule, { acts: "at 10:00 z.door is open\nat 10:30 z.door is closed" }));
    await worker.rested(1000);
    expect(
      ranOf(worker)
        .at(-1)
        ?.happened.map(({ says }) => says),
    ).toEqual(["at 10:00 z.door is open", "at 10:30 z.door is closed"]);
    worker.tell({ kind: "explain", share: 10.25 / 24, thing: "z.lamp" });
    expect(worker.of("explained").at(-1)?.said[0]?.explanation.says).toMatch(/^Lamp is on|^z\.lamp is on/);
    worker.tell(run(2, rule, { acts: "at 10:00 z.door is open\nat 10:30 z.dor is ajar" }));
    await worker.rested(1000);
    const [problem] = ranOf(worker).at(-1)?.problems ?? [];
    expect([problem?.line, problem?.says]).toEqual([2, expect.stringContaining("z.dor")]);
  });

  test("explains the outputs of the zone, or one, with the lines behind it; what is off says why not", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    await worker.rested(1000);
    worker.tell({ kind: "explain", share: 0.5 });
    worker.tell({ kind: "explain", share: 0.5, thing: "z.lamp" });
    worker.tell({ kind: "explain", share: 0.5, thing: "z.t" });
    const [all, lamp, sensor] = worker.of("explained");
    expect([all?.when, all?.said.map(({ thing }) => thing)]).toEqual(["2026-01-15 12:00", ["z.heater", "z.lamp"]]);
    expect(all?.said[0]?.links).toEqual([{ label: "rule warm, line 1", place: { file: "rules.modrik", from: 12, line: 1 } }]);
    expect(lamp?.said.map(({ kind, links }) => [kind, links.map(({ label }) => label)])).toEqual([
      ["why not", ["rule lit, line 2"]],
    ]);
    expect(sensor?.said[0]?.links[0]?.place).toMatchObject({ file: "house.modrik", line: 3 });
    worker.tell({ kind: "explain", share: 0.5, thing: "z.gone" });
    expect(worker.of("explained").at(-1)).toMatchObject({ thing: undefined, said: all?.said });
    worker.tell({ kind: "next", share: 0.5, thing: "z.gone" });
    expect(worker.of("next")).toEqual([]);
    worker.tell({ kind: "next", share: 0.5, thing: "z.heater" });
    expect(worker.of("next")[0]).toMatchObject({ thing: "z.heater", share: 0.5, says: { says: expect.any(String) } });
  });

  test("plays a trial, with its happenings and its expectations on the chart", async () => {
    const worker = begin();
    worker.tell({ kind: "run", id: 5, setup: setup(`${rule}\n${trial}`), subject: { kind: "trial", name: "works" } });
    await worker.rested(1000);
    const ran = ranOf(worker).at(-1);
    expect(ran).toMatchObject({ about: "passes: works", zone: "z", happened: [{ says: "at 08:02 z.door is open" }] });
    const drawn = JSON.stringify(worker.of("drawn").at(-1)?.chart.options);
    for (const says of ["Happens", "✓ expected", "z.heater is on at 08:05"]) expect(drawn).toContain(says);
    worker.tell({ kind: "explain", share: 0.5 });
    expect(worker.of("explained").at(-1)?.when).toBe("2026-01-15 08:05:00");
    worker.tell({ kind: "run", id: 6, setup: setup(rule), subject: { kind: "trial", name: "works" } });
    await worker.rested(1000);
    expect(ranOf(worker).at(-1)?.notes).toEqual(['There is no trial called "works" any more.']);
  });

  test("lays another variant over the day, and says the figures that differ", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    await worker.rested(1000);
    worker.tell({ kind: "beside", setup: setup(rule, { set: { "z.wanted": 18 } }), name: "cooler" });
    const { comparison } = worker.of("compared").at(-1) ?? {};
    expect(comparison?.names).toEqual(["now", "cooler"]);
    expect(comparison?.rows.map(({ label }) => label)).toContain("z.heater, on");
    expect(JSON.stringify(comparison?.chart.options)).toContain("cooler");
    worker.tell({ kind: "beside", setup: setup(rule), name: "same" });
    expect(worker.of("compared").at(-1)?.comparison?.rows).toEqual([]);
    worker.tell({ kind: "beside", setup: setup("rule x {"), name: "broken" });
    expect(worker.of("compared").at(-1)).toMatchObject({
      comparison: undefined,
      broken: 'The variant "broken" has errors in its text.',
    });
  });

  test("proposes a trial of what was let happen, with what could be expected", async () => {
    const worker = begin();
    worker.tell(run(1, rule, { acts: "at 10:20 z.door is open", set: { "z.wanted": 21 } }));
    await worker.rested(1000);
    worker.tell({ kind: "propose" });
    const { head, offers, broken } = worker.of("proposed")[0] ?? {};
    expect(broken).toBeUndefined();
    expect(head?.split("\n")).toEqual([
      "from 2026-01-15 10:00 to 2026-01-15 12:00",
      "simulated, weather cold",
      expect.stringMatching(/^given z\.t is [\d.]+ °C,$/),
      "    z.wanted is 21 °C",
      "at 10:20 z.door is open",
    ]);
    expect(offers).toContain("z.lamp is on from 10:20 to 12:00");
  });

  test("reads a recording, runs the rules over it, and says how often a signal was how much", async () => {
    const worker = begin();
    worker.tell(run(1, rule));
    await worker.rested(1000);
    const rows = Array.from({ length: 200 }, (_, minute) => {
      const time = new Date(Date.UTC(2026, 0, 15, 6, minute)).toISOString();
      return `${time},${(18 + 3 * Math.sin(minute / 20)).toFixed(2)},${minute === 0 ? "off" : ""}`;
    });
    const text = ["time,room [°C],plug", ...rows].join("\n");
    worker.tell({ kind: "open recording", name: "room.csv", text, modified: 0 });
    const { recording } = worker.of("recording")[0] ?? {};
    expect(recording?.columns.map(({ name, unit, count }) => [name, unit, count])).toEqual([
      ["room", "°C", 200],
      ["plug", "", 1],
    ]);
    const columns = { room: "z.t", plug: "z.heater" };
    worker.tell({ kind: "run", id: 2, setup: setup(rule), subject: { kind: "recording", columns } });
    await worker.rested(1000);
    const ran = ranOf(worker).at(-1);
    expect(ran?.about).toContain("room.csv, 2026-01-15 07:00");
    expect(ran?.differences?.find(({ output }) => output === "z.heater")?.says).toMatch(/recorded off, by the rules on/);
    worker.tell({ kind: "distribute", name: "room", side: undefined });
    const { distribution } = worker.of("distributed")[0] ?? {};
    expect(distribution?.bins.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1);
    expect(distribution?.thresholds.candidates.length).toBeGreaterThan(3);
    worker.tell({ kind: "open recording", name: "bad.csv", text: "nothing at all", modified: 0 });
    expect(worker.of("recording").at(-1)).toMatchObject({
      recording: undefined,
      broken: expect.stringMatching(/^bad\.csv cannot be read\. /),
    });
    worker.tell({ kind: "run", id: 3, setup: setup(rule), subject: { kind: "recording", columns: {} } });
    await worker.rested(1000);
    expect(ranOf(worker).at(-1)?.notes).toEqual(["No column of room.csv is given to a thing of the house."]);
  });
});

describe("the worker that judges", () => {
  const begin = () => start<ToJudge, FromJudge>(startJudge);
  const judge = (id: number, rules: string): ToJudge => ({ kind: "judge", id, setup: setup(rules) });

  test("judges the latest alone, says how each trial went where on the day, and what reasoning finds", async () => {
    const worker = begin();
    worker.tell(judge(1, rule));
    worker.tell(judge(2, `${rule}\n${trial}\n${trial.replace("works", "fails").replace("is on at", "is off at")}`));
    await worker.rested(5000);
    const { id, trials } = worker.of("judged").at(-1) ?? {};
    expect(id).toBe(2);
    expect(trials?.map(({ name, passed, from, lasts }) => [name, passed, from, lasts])).toEqual([
      ["works", true, 8 * 3_600_000, 600_000],
      ["fails", false, 8 * 3_600_000, 600_000],
    ]);
    const at = 8 * 3_600_000 + 300_000;
    expect(trials?.[1]?.verdicts).toMatchObject([{ says: "z.heater is off at 08:05", passed: false, from: at, to: at }]);
    expect(trials?.[0]?.place).toMatchObject({ file: "rules.modrik", line: 3 });
    const [checked] = worker.of("checked");
    expect([checked?.id, checked?.lines.map(({ sensor }) => sensor)]).toEqual([2, ["z.t"]]);
  });

  test("tells what no trial tried, sentence by sentence", async () => {
    const worker = begin();
    worker.tell(judge(1, `${rule}\n${trial}`));
    await worker.rested(5000);
    worker.tell({ kind: "cover", id: 9 });
    await worker.rested(1000);
    const { id, share, tested = 0, untested } = worker.of("covered").at(-1) ?? {};
    expect([id, share, tested > 0]).toEqual([9, 1, true]);
    expect(untested?.some(({ link }) => link?.label === "rule warm, line 1")).toBe(true);
  });

  test("tries a dial over its range, says which value is best, and stops when told", async () => {
    const worker = begin();
    worker.tell(judge(1, rule));
    await worker.rested(5000);
    const look = { theme: "light", width: 700, height: 400, zone: "z" } as const;
    worker.tell({ kind: "tune", id: 5, knob: "z.wanted=18..21/1", days: 1, look });
    await worker.rested(1000);
    const { result } = worker.of("tuned").at(-1) ?? {};
    expect(result?.rows.map(({ value, isToday }) => [value, isToday])).toEqual([
      [18, false],
      [19, false],
      [20, true],
      [21, false],
    ]);
    expect(result?.says).toMatch(/^(Set|Keep) z\.wanted/);
    worker.clear();
    worker.tell({ kind: "tune", id: 6, knob: "z.wanted=15..25/0.5", days: 1, look });
    worker.tell({ kind: "stop tuning" });
    await worker.rested(1000);
    expect(worker.of("tuned").at(-1)?.result?.rows.length).toBe(1);
    worker.tell({ kind: "tune", id: 7, knob: "z.gone=1..2/1", days: 1, look });
    await worker.rested(1000);
    expect(worker.of("tuned").at(-1)?.broken).toContain('"z.gone"');
  });

  test("proves a house that is not on the desk", () => {
    const worker = begin();
    worker.tell({ kind: "prove", id: 3, files: { ...setup(rule).files, "t.modrik": trial } });
    worker.tell({ kind: "prove", id: 4, files: { "a.modrik": "rule {" } });
    const [good, bad] = worker.of("proven");
    expect([good?.id, good?.trials.map(({ passed }) => passed), good?.problems]).toEqual([3, [true], []]);
    expect([bad?.id, bad?.trials, (bad?.problems.length ?? 0) > 0]).toEqual([4, [], true]);
  });
});
