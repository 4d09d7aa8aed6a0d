// Nothing unknown stops a house: at each place of the language that takes a value, one that is not known, or is nothing, or
// below nothing. A canary in every house must go on, and what is asked at the place must do what the definitions say.
import { Journal } from "modrik";
import { describe, expect, test } from "vitest";
import { changesOf, engineOf, type Setting, START } from "./playing.js";

const sensors = `sensor dur: min  sensor k: K  sensor pct: 0..100 %  sensor warm: °C  sensor flow: ml/s  sensor ml: ml
  sensor due: time  output o: on/off  output l: 0..100 %  output canary: on/off`;
const canary = "rule canary { while z.damp above 60 %RH for 5 min hold z.canary at on }";

interface Seen {
  readonly changes: string[];
  /** Codes of problems, and how often. */
  readonly problems: string[];
  readonly notices: number;
}

/** The door opens at 10 s, closes at 20 s and opens at 30 s; the canary is due at 460 s. */
function run(rules: string, { outputs = "", ...setting }: Setting, feed: readonly [name: string, value: number][] = []): Seen {
  const journal = new Journal();
  const engine = engineOf(`${rules} ${canary}`, { ...setting, outputs: `${sensors} ${outputs}`, journal });
  for (const [name, value] of feed) engine.report(name, value, START);
  engine.report("z.x", 19, START);
  for (const [second, word] of [
    [0, "closed"],
    [10, "open"],
    [20, "closed"],
    [30, "open"],
  ] as const)
    engine.report("z.door", word, START + second * 1000);
  engine.report("z.damp", 70, START + 160e3);
  engine.advanceTo(START + 600e3);
  const changes = changesOf(engine);
  expect(changes).toContain("460 canary on");
  const problems = journal.records.flatMap(({ event }) =>
    event.kind === "problem" && event.code !== "silent" ? [event.code] : [],
  );
  return { changes: changes.filter((one) => !one.includes("canary")), problems, notices: engine.takeNotices().length };
}

const when = (steps: string) => `rule r { when z.door is open do { ${steps} } }`;
const hold = (condition: string) => `rule h { while ${condition} hold z.o at on }`;

describe("a time that is unknown", () => {
  test.each<[string, string, Setting, Partial<Seen>]>([
    ["of a set: it is not asked, which is told once", when("set z.o to on for z.dur"), {}, { changes: [] }],
    ["of a dial that is set", when("set z.target to 25 °C for z.dur"), {}, { changes: [] }],
    ["until which it is set", when("set z.o to on until z.due"), {}, { changes: [] }],
    ["of a wait: it ends at once", when("wait z.dur set z.l to 50 %"), {}, { changes: ["10 l 50"] }],
    ["until which it waits", when("wait until z.due set z.l to 50 %"), {}, { changes: ["10 l 50"] }],
    ["of a limit: it does not limit", when("wait until m is night, at most z.dur set z.l to 50 %"), {}, { changes: [] }],
    ["of a ramp: it does not begin", when("ramp z.l from 0 % to 80 % over z.dur"), {}, { changes: [] }],
    [
      "of a countdown that is started",
      `countdown c = 9 s ${when("start c with z.dur")} ${hold("c is running")}`,
      {},
      { changes: [] },
    ],
    ["of a countdown", `countdown c = z.dur ${when("start c")} ${hold("c is running")}`, {}, { changes: [] }],
    [
      "before a dose",
      when("dose z.pump 20 ml"),
      { outputs: "output pump: on/off, delivers 10 ml/s after z.dur" },
      { changes: [] },
    ],
    ["between two notices", when('tell "a", at most once in z.dur'), {}, { notices: 2 }],
    [
      "of a least time: it does not protect",
      when("set z.p to on for 4 s"),
      { outputs: "output p: on/off, on at least z.dur" },
      { changes: ["10 p on", "14 p off", "30 p on", "34 p off"] },
    ],
    [
      "of a longest time",
      "rule r { while z.door is open hold z.p at on }",
      { outputs: "output p: on/off, on at most z.dur then off at least 5 s" },
      { changes: ["10 p on", "20 p off", "30 p on"] },
    ],
    [
      "of the rest after a longest time",
      "rule r { while z.door is open hold z.p at on }",
      { outputs: "output p: on/off, on at most 5 s then off at least z.dur" },
      { changes: ["10 p on", "20 p off", "30 p on"] },
    ],
  ])("%s", (_, rules, setting, expected) => {
    const seen = run(rules, setting);
    expect(seen).toMatchObject(expected);
    expect(seen.problems).toEqual(["unknown-time"]);
  });

  test("for which a hand lasts: it stays until it is released", () => {
    const journal = new Journal();
    const engine = engineOf("", { place: 'clock "UTC" hand lasts z.dur', outputs: sensors, journal });
    engine.person({ kind: "switches", output: "z.o", value: "on" }, START + 5000);
    engine.advanceTo(START + 86400e3);
    expect(changesOf(engine)).toEqual(["5 o on"]);
    engine.person({ kind: "releases", output: "z.o" }, START + 86401e3);
    engine.advanceTo(START + 86402e3);
    expect(changesOf(engine)).toEqual(["86401 o off"]);
    expect(journal.records.filter(({ event }) => event.kind === "problem")).toHaveLength(1);
  });

  test("is told again once it was known, and done as soon as it is", () => {
    const journal = new Journal();
    const engine = engineOf(when("set z.o to on for z.dur"), {
      outputs: "sensor dur: min, unknown after 1 min output o: on/off",
      journal,
    });
    const problems = () => journal.records.flatMap(({ event }) => (event.kind === "problem" ? [event.text] : []));
    const ring = (second: number) => {
      engine.report("z.door", "closed", START + second * 1000);
      engine.report("z.door", "open", START + (second + 1) * 1000);
      engine.advanceTo(START + (second + 1) * 1000);
    };
    ring(0);
    ring(2);
    engine.report("z.dur", 0.05, START + 4000);
    ring(5);
    ring(100);
    engine.advanceTo(START + 200e3);
    expect(changesOf(engine)).toEqual(["6 o on", "9 o off"]);
    const says = 'rule r: the time of "set z.o … for" is not known: it is not set';
    expect(problems()).toEqual([
      expect.stringMatching(says),
      expect.stringMatching("z.dur has sent no valid reading"),
      expect.stringMatching(says),
    ]);
  });
});

describe("any other value that is unknown asks for nothing", () => {
  test.each<[string, string, Setting?]>([
    ["what is set", when("set z.l to z.pct")],
    ["what is raised by", when("raise z.l by z.pct")],
    ["where a ramp begins", when("ramp z.l from z.pct to 50 % over 5 s")],
    ["where it ends", when("ramp z.l from 10 % to z.pct over 5 s")],
    ["how much is dosed", when("dose z.pump z.ml"), { outputs: "output pump: on/off, delivers 10 ml/s" }],
    ["the rate of a dose", when("dose z.pump 20 ml"), { outputs: "output pump: on/off, delivers z.flow" }],
    ["what is held", "rule r { while z.door is open hold z.l at z.pct }"],
    ["a target", "rule r { keep z.x at z.warm ± 1 K raise with z.o }"],
    ["a tolerance", "rule r { keep z.x at 20 °C ± z.k raise with z.o }"],
    [
      "a lower target",
      "rule r { keep z.x between z.warm and 25 °C ± 1 K raise with z.o lower with z.q }",
      { outputs: "output q: on/off" },
    ],
    ["a signal", "rule r { keep z.warm at 20 °C ± 1 K raise with z.o }"],
    ["the reach of a proportion", "rule r { keep z.x at 22 °C raise with z.l in proportion over z.k }"],
    ["the cycle of a proportion", "rule r { keep z.x at 22 °C raise with z.o in proportion over 4 K, cycle z.dur }"],
    ["a turn of a cycle", "rule r { cycle z.o on z.dur off 5 s }"],
    ["the other turn of it", "rule r { cycle z.o on 5 s off z.dur }"],
    ["a bound", hold("z.x below z.warm")],
    ["how long something has been so", hold("z.x below 20 °C for z.dur")],
    ["within how long", hold("z.warm below 20 °C in the last z.dur")],
    ["a reset", hold("(z.x below 20 °C) until (z.warm above 20 °C)")],
    ["how long it lasts at most", hold("(z.x below 20 °C) until (z.x above 25 °C), at most z.dur then pause 5 s")],
    ["how long it pauses", hold("(z.x below 20 °C) until (z.x above 25 °C), at most 5 min then pause z.dur")],
    ["the length of a window", hold("mean(z.x over z.dur) below 20 °C")],
    ["of a window of a rise", hold("rise(z.x over z.dur) below 1 K")],
    ["of a window that counts", hold("count(z.door is open over z.dur) at least 0")],
    ["of a window of a time", hold("time(z.door is open over z.dur) at least 0 s")],
    ["a time of day", "rule r { when at z.due do { set z.l to 50 % } }"],
    ["how often", "rule r { when every z.dur do { set z.l to 50 % } }"],
    ["by how much it changes", "rule r { when z.x changes by z.k do { set z.l to 50 % } }"],
    ["the edge of a span of the clock", hold("clock from z.due to 23:00")],
    ["what is picked by", "rule r { hold z.l at pick by z.pct { below 10 %: 20 %, otherwise: 60 % } }"],
    ["a clamp", "rule r { hold z.l at clamp(z.pct, 10 %..90 %) }"],
    ["a scale", "rule r { hold z.l at scale(z.warm, 10 °C..20 °C to 0 %..100 %) }"],
    ["after how long a sensor is unknown", hold("z.q above 5 °C"), { outputs: "sensor q: °C, unknown after z.dur" }],
    ["over how long a sensor is smoothed", hold("z.q above 5 °C"), { outputs: "sensor q: °C, smooth over z.dur" }],
    ["of a preset", `preset p { z.l at z.pct } ${when("apply p")}`],
    ["of a profile", `profile f { daily z.warm from 00:00 } ${hold("f above 5 °C")}`],
    ["of a ramped profile", `profile f ramped { daily z.warm from 00:00, 20 °C from 18:00 } ${hold("f above 5 °C")}`],
    ["the word that is permitted", `${when("set z.o to on")} guard g { permit z.o on only while z.warm above 5 °C }`],
  ])("%s", (_, rules, setting = {}) => {
    expect(run(rules, setting)).toMatchObject({ changes: [], problems: [] });
  });
});

describe("a time of nothing, or below nothing, does not stop a house", () => {
  const places: readonly [string, string, Setting?][] = [
    ["a set", when("set z.o to on for z.dur")],
    ["a dial that is set", when("set z.target to 25 °C for z.dur")],
    ["a wait", when("wait z.dur set z.l to 50 %")],
    ["a limit", when("wait until m is night, at most z.dur set z.l to 50 %")],
    ["a ramp", when("ramp z.l from 0 % to 80 % over z.dur")],
    ["a countdown", `countdown c = z.dur ${when("start c start c with z.dur")} ${hold("c is running")}`],
    ["a dose", when("dose z.pump 20 ml"), { outputs: "output pump: on/off, delivers 10 ml/s after z.dur" }],
    ["a notice", when('tell "a", at most once in z.dur')],
    ["a least time", when("set z.p to on for 4 s"), { outputs: "output p: on/off, on at least z.dur, off at least z.dur" }],
    [
      "a longest time",
      "rule r { while z.door is open hold z.p at on }",
      { outputs: "output p: on/off, on at most z.dur then off at least z.dur" },
    ],
    ["a cycle", "rule r { cycle z.o on z.dur off z.dur }"],
    ["half a cycle", "rule r { cycle z.o on 5 s off z.dur }"],
    ["a cycle in proportion", "rule r { keep z.x at 22 °C raise with z.o in proportion over 4 K, cycle z.dur }"],
    ["for", hold("z.x below 20 °C for z.dur")],
    ["in the last", hold("z.x above 20 °C in the last z.dur")],
    ["a limited until", hold("(z.x below 20 °C) until (z.x above 25 °C), at most z.dur then pause z.dur")],
    [
      "a limited until without a pause to speak of",
      hold("(z.x below 20 °C) until (z.x above 25 °C), at most 5 s then pause z.dur"),
    ],
    ["a mean", hold("mean(z.x over z.dur) above 20 °C")],
    ["the greatest", hold("max(z.x over z.dur) above 20 °C")],
    ["a rise", hold("rise(z.x over z.dur) above 1 K")],
    ["a count", hold("count(z.door is open over z.dur) at least 2")],
    ["a sensor's age", hold("z.q above 5 °C"), { outputs: "sensor q: °C, unknown after z.dur" }],
    ["a smoothed sensor", hold("z.q above 5 °C"), { outputs: "sensor q: °C, smooth over z.dur" }],
    ["every", "rule r { when every z.dur do { set z.l to 50 % } }"],
  ];
  test.each(
    places.flatMap(([place, rules, setting = {}]) => [0, -5, 1e-3, 1e15].map((minutes) => ({ place, minutes, rules, setting }))),
  )("$place, $minutes min", ({ minutes, rules, setting }) => {
    run(rules, setting, [["z.dur", minutes]]);
  });
});
