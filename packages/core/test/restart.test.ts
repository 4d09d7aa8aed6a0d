// Law: restoring a snapshot, taken at any millisecond, and going on equals never having stopped. And what is not a snapshot is
// refused with its place.
import { createEngine, type Engine, type House, Journal, type Notice, parseHouse, readSnapshot } from "modrik";
import { pick, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { START } from "./playing.js";

function houseOf(rules: string): House {
  const { house, problems } = parseHouse({
    "a.modrik": `house "A" { clock "UTC" hand lasts 7 s }
zone z {
  sensor t: °C, -20..60 °C, unknown after 40 s
  sensor u: °C
  sensor door: open/closed
  sensor bell: press
  output lamp: 0..100 %
  output blind: 0..100 %
  output o: on/off, on at least 3 s
  output p: on/off, on at most 9 s then off at least 4 s
  dial target: 15..25 °C, at first 20 °C
}
countdown c = 11 s
${rules}`,
  });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  return house;
}

const houses: Readonly<Record<string, string>> = {
  "a long ramp": "rule r { when z.bell is pressed do { ramp z.lamp from 0 % to 100 % over 10 min } }",
  "ramps over one another":
    "rule r { when z.bell is pressed do { ramp z.lamp from 0 % to 100 % over 20 s set z.lamp to 40 % for 5 s } } rule s { when z.door is open do { ramp z.lamp from 90 % to 10 % over 15 s } }",
  "in proportion to a moving mean": "rule r { keep mean(z.t over 10 min) at 20 °C raise with z.lamp in proportion over 4 K }",
  "a moving value that is held": "rule r { hold z.blind at scale(z.t.age, 0 s..60 s to 0 %..100 %) }",
  "a share of each cycle": "rule r { keep z.t at 20 °C raise with z.o in proportion over 4 K, cycle 13 s }",
  "a notice at most once": 'rule r { when z.bell is pressed do { tell "x {z.t}", at most once in 17 s } }',
  "a countdown": "rule r { when z.bell is pressed do { start c } } rule s { while c is running hold z.o at on }",
  "a countdown that ends": 'rule r { when z.bell is pressed do { start c } } rule s { when c ends do { tell "over" } }',
  "a wait":
    'rule r { when z.bell is pressed do { wait 7 s set z.lamp to 50 % for 9 s wait until z.door is open, at most 13 s tell "on" } if triggered again, wait }',
  "a dial set for a time":
    "rule r { when z.bell is pressed do { set z.target to 25 °C for 11 s } } rule s { keep z.t at z.target ± 1 K raise with z.o }",
  "what disobeys": 'rule r { while z.t above 20 °C hold z.o at on } rule s { when z.o disobeys for 6 s do { tell "disobeys" } }',
  "least and longest times": "rule r { while z.t above 20 °C hold z.o at on } rule s { while z.t above 18 °C hold z.p at on }",
  "a reading that was refused":
    'rule r { while z.t above 20 °C for 5 s hold z.o at on } rule s { when z.t is unknown do { tell "gone" } }',
  "a time that is not known":
    "let away = z.u below 0 °C rule r { when z.bell is pressed do { set z.o to on for (if away then 5 s else 1 s) } }",
  memories:
    "rule r { while (z.t above 20 °C until below 18 °C) or (z.door was open in the last 9 s) hold z.o at on } rule s { while (z.t above 19 °C) until (z.t below 18 °C), at most 15 s then pause 6 s hold z.p at on }",
  "a window": "rule r { while rise(z.t over 20 s) above 1 K or count(z.door is open over 30 s) at least 2 hold z.o at on }",
};

/** What is done at an instant, to both alike. */
type PersonAction = (engine: Engine) => void;

function actionAt(random: () => number, at: number): PersonAction {
  const temperature = pick(random, [17, 18, 18.5, 19, 20, 20.5, 21, 23]);
  return pick<PersonAction>(random, [
    (engine) => engine.report("z.t", temperature, at),
    (engine) => engine.report("z.t", temperature, at),
    (engine) => engine.report("z.t", temperature, at),
    (engine) => engine.press("z.bell", at),
    (engine) => engine.press("z.bell", at),
    (engine) => engine.report("z.door", "open", at),
    (engine) => engine.report("z.door", "closed", at),
    (engine) => engine.report("z.t", 99, at),
    (engine) => engine.set("z.target", 18, at),
    (engine) => engine.confirm("z.o", "off", at),
    (engine) => engine.confirm("z.o", "on", at),
    (engine) => engine.person({ kind: "switches", output: "z.o", value: "on" }, at),
    (engine) => engine.person({ kind: "pauses", rule: "r", lasts: 8000 }, at),
    (engine) => engine.jumpClock(60_000, at),
  ]);
}

/** What a house shows, with the notices told so far and not looked at yet. */
function shown(engine: Engine, told: Notice[] = []) {
  const names = ["z.lamp", "z.blind", "z.o", "z.p", "z.target", "z.t", "z.door"];
  return { values: names.map((name) => engine.value(name)), notices: [...told.splice(0), ...engine.takeNotices()] };
}

const again = (engine: Engine) => readSnapshot(JSON.parse(JSON.stringify(engine.snapshot())));

describe("a restart at any millisecond changes nothing", () => {
  test.each(Object.entries(houses))("%s", (_, rules) => {
    const house = houseOf(rules);
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const whole = createEngine(house, { at: START });
      let part = createEngine(house, { at: START });
      const told: Notice[] = [];
      let at = START;
      for (let event = 0; event < 60; event++) {
        at += pick(random, [0, 137, 1000, 1000, 2500, 6001]);
        const action = actionAt(random, at);
        for (const engine of [whole, part]) action(engine);
        // Before or after the step of an instant: what is queued is not lost.
        if (random() < 0.4) {
          for (const engine of [whole, part]) engine.advanceTo(at);
          expect(shown(part, told), `seed ${seed}, event ${event}`).toEqual(shown(whole));
        }
        if (random() < 0.4) {
          told.push(...part.takeNotices());
          const between = part.now + Math.floor(random() * Math.max(0, at - part.now));
          part = createEngine(house, { at: between, restore: again(part) });
          expect(part.leftOut).toEqual([]);
          // A start sends every output again.
          part.takeChanges();
        }
      }
      for (const engine of [whole, part]) engine.advanceTo(at + 60_000);
      expect(shown(part, told), `seed ${seed}, at the end`).toEqual(shown(whole));
    }
  });
});

describe("names that every object has", () => {
  test.each(["constructor", "valueOf", "toString", "hasOwnProperty", "__proto__"])("%s", (name) => {
    const rules = `dial ${name}: 1..9 K, at first 2 K  rule r { hold z.o at on }`;
    const others = rules.replace("dial", "mode").replace(/: .* K/, ": day/night, at first day");
    const counts = `countdown ${name} = 5 min  rule r { while ${name} is running hold z.o at on }`;
    const named = `rule ${name} { when z.bell is pressed do { set z.o to on } }`;
    for (const text of [rules, others, counts, named]) {
      const house = houseOf(text);
      const before = createEngine(house, { at: START });
      before.advanceTo(START + 1000);
      // Another house's snapshot has nothing of that name.
      const strange = again(createEngine(houseOf("rule q { while z.t above 20 °C hold z.o at on }"), { at: START }));
      for (const restore of [again(before), strange]) {
        const engine = createEngine(house, { at: START + 2000, restore });
        engine.advanceTo(START + 3600e3);
        expect(engine.value("z.o")).toBe(text.includes("hold z.o at on") && !text.includes("running") ? "on" : "off");
      }
    }
  });
});

describe("what is no snapshot is refused", () => {
  const house = houseOf("rule r { when z.bell is pressed do { ramp z.lamp from 0 % to 100 % over 1 min } }");
  const sound = () => {
    const engine = createEngine(house, { at: START });
    engine.press("z.bell", START + 1000);
    engine.report("z.t", 20, START + 1000);
    engine.advanceTo(START + 2000);
    engine.press("z.bell", START + 9000);
    engine.person({ kind: "pauses", rule: "r" }, START + 9000);
    return JSON.parse(JSON.stringify(engine.snapshot()));
  };

  test.each<[string, unknown, RegExp]>([
    ["nothing", null, /not a snapshot of version 4, but undefined/],
    ["a text", "{}", /not a snapshot of version 4/],
    ["another version", { ...sound(), version: 3 }, /not a snapshot of version 4, but 3/],
    ["a version alone", { version: 4 }, /at \/house there is nothing, not a text/],
    ["half an instant", { ...sound(), at: 1.5 }, /at \/at there is 1.5, not a whole number/],
    ["a list of outputs", { ...sound(), outputs: [] }, /at \/outputs there is \[\], not an object/],
    ["a value that is a text", { ...sound(), nodes: { "z/t~": "x" } }, /at \/nodes\/z~1t~0 there is "x", not a list of 4/],
    ["a node of three", { ...sound(), nodes: { t: [1, 2, 3] } }, /at \/nodes\/t there is \[1,2,3\], not a list of 4/],
    ["an output without a field", { ...sound(), outputs: { "z.o": { value: 1 } } }, /at \/outputs\/z.o\/since there is nothing/],
    [
      "an act that is none",
      { ...sound(), queued: { ...sound().queued, acts: [{ kind: "dances" }] } },
      /acts\/0\/kind there is "dances"/,
    ],
    ["a press that is none", { ...sound(), queued: { ...sound().queued, presses: [7] } }, /at \/queued\/presses\/0 there is 7/],
  ])("%s", (_, json, says) => {
    expect(() => readSnapshot(json)).toThrow(says);
  });

  test("each field of it is asked for", () => {
    const whole = sound();
    expect(readSnapshot(whole)).toEqual(whole);
    for (const field of Object.keys(whole)) {
      const { [field]: _, ...rest } = whole;
      expect(() => readSnapshot(rest), field).toThrow(RangeError);
    }
  });

  test("what does not fit the house is left out and named", () => {
    const saved = sound();
    const engine = createEngine(house, {
      at: START + 9000,
      journal: new Journal(),
      restore: readSnapshot({
        ...saved,
        claims: {
          ...saved.claims,
          "gone#0 z.lamp": Object.values(saved.claims)[0],
          "r#0 z.lamp": { ...saved.claims["r#0 z.lamp"], value: 700 },
        },
        queued: {
          at: START + 9500,
          values: [
            ["z.gone", 1],
            ["z.t", 999],
            ["z.o", 1],
          ],
          presses: ["z.door"],
          acts: [{ kind: "person", action: { kind: "releases", output: "z.gone" } }],
        },
      }),
    });
    const left = ["r#0 z.lamp", "gone#0 z.lamp", "z.gone", "z.t", "z.o", "z.door", 'the house has no output "z.gone"'];
    expect(engine.leftOut).toEqual(left);
    engine.advanceTo(START + 20_000);
    expect(engine.value("z.t")).toBe(20);
  });
});
