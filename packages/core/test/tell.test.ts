// The house read back in sentences.
import { type Explanation, parseHouse, tellHouse, tellPoints, writeNeverTogether, writePermit, writeSentence } from "modrik";
import { houseText as generated, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { houseText, type Setting } from "./playing.js";

/** A Saturday, noon. */
const at = Date.parse("2026-03-14T12:00Z");

function lines(parts: readonly Explanation[], depth = 0): string[] {
  return parts.flatMap(({ says, because }) => ["  ".repeat(depth) + says, ...lines(because, depth + 1)]);
}

function told(rules: string, setting: Setting = {}, values = {}): string[] {
  const { house, problems } = parseHouse({ "a.modrik": houseText(rules, setting) });
  expect(problems).toEqual([]);
  return lines(tellHouse(house, { at, values })).map((line) => line.trim());
}

const two: Setting = { outputs: "output o: on/off output p: on/off" };

describe("switch points are numbers", () => {
  test.each<[string, string, Setting, Record<string, number>, string[]]>([
    ["one way", "keep z.x at z.target ± 0.5 K raise with z.o", {}, {}, ["z.o: on below 19.5 °C, off above 20.5 °C"]],
    [
      "a dial set",
      "keep z.x at z.target ± 0.5 K raise with z.o",
      {},
      { "z.target": 25 },
      ["z.o: on below 24.5 °C, off above 25.5 °C"],
    ],
    ["lopsided", "keep z.x at 20 °C ± -0.2..+1 K raise with z.o", {}, {}, ["z.o: on below 19.8 °C, off above 21 °C"]],
    [
      "two ways stop at the target",
      "keep z.damp at 50 %RH ± 3 %RH raise with z.o lower with z.p",
      two,
      {},
      ["z.o: on below 47 %RH, off at 50 %RH", "z.p: on above 53 %RH, off at 50 %RH"],
    ],
    [
      "with a resting zone",
      "keep z.x between 18 °C and 25 °C ± 1 K raise with z.o lower with z.p",
      two,
      {},
      ["z.o: on below 17 °C, off at 18 °C", "z.p: on above 26 °C, off at 25 °C"],
    ],
    [
      "in proportion",
      "keep z.x at z.target raise with z.l in proportion over 2 K",
      { outputs: "output l: 0..100 %" },
      {},
      ["z.l: from 0 at 20 °C to full at 18 °C"],
    ],
    [
      "how long, by a dial",
      "while z.door was open in the last d hold z.o at on",
      { more: "dial d: 1..60 min, at first 10 min" },
      {},
      ["d is 10 min now"],
    ],
    ["a bound that a dial moves", "while z.x above z.target + 2 K hold z.o at on", {}, {}, ["z.target + 2 K is 22 °C now"]],
  ])("%s", (_, sentence, setting, values, expected) => {
    const found = told(`rule r { ${sentence} }`, setting, values);
    for (const line of expected) expect(found).toContain(line);
  });
});

test("who may claim an output comes in the order of who wins", () => {
  const found = told(
    `rule asks { when z.door is open do { if m is day { set z.o to on for 5 min } else { set z.o to off } } }
    rule late as background { hold z.o at on }
    rule now as urgent { while z.x above 40 °C hold z.o at off }
    rule usual { while m is night hold z.o at on }
    guard g { permit z.o on only while z.door is closed }`,
  );
  const begins = found.indexOf("z.o: on/off");
  expect(found.slice(begins + 1, begins + 9)).toEqual([
    "guard g: permit z.o on only while z.door is closed",
    "manual override: until released, otherwise until m changes",
    "rule now, urgent, held: off while z.x above 40 °C",
    "rule asks, for a time: when z.door is open",
    "rule usual, held: on while m is night",
    "rule asks, permanently: when z.door is open",
    "rule late, background, held: on",
    "otherwise off (at rest)",
  ]);
});

test("what comes next, and what uses and sets a dial, is told", () => {
  const found = told(
    `dial d: 1 s..2 min, at first 5 s schedule open { Mon..Fri 08:00 to 18:00 } schedule now { daily 11:00 to 13:00 }
    rule r { when at z.evening do { set z.target to 18 °C } }
    rule s { while during open and z.x below z.target hold z.o at on }`,
  );
  for (const line of [
    "open: next 2026-03-16 08:00",
    "now: now, until 13:00",
    "next 22:30",
    "z.target: 20 °C of 10..30 °C; used by s; set by r",
    "m: day; not used",
    "d: 5 s of 1..120 s; not used",
  ])
    expect(found).toContain(line);
});

test("sentences written back mean what they meant", () => {
  for (let seed = 1; seed <= 300; seed++) {
    const text = generated(seeded(seed));
    const { house } = parseHouse({ "a.modrik": text });
    const rules = house.rules.map(({ name, standing, sentences }) => {
      const as = standing === "plain" ? "" : ` as ${standing}`;
      return `rule ${name}${as} { ${sentences.map(writeSentence).join("\n")} }`;
    });
    const guards = house.guards.map(({ name, permits, neverTogether = [] }) => {
      const lines = [...permits.map(writePermit), ...neverTogether.map(writeNeverTogether)];
      return `guard ${name} { ${lines.join(" ")} }`;
    });
    const again = `${text.slice(0, text.indexOf("\nrule r0"))}\n${[...rules, ...guards].join("\n")}`;
    const read = parseHouse({ "a.modrik": again });
    expect(read.problems, `seed ${seed}\n${again}`).toEqual([]);
    expect([read.house.rules, read.house.guards], `seed ${seed}\n${again}`).toEqual([house.rules, house.guards]);
  }
});

test("what a dial does is told with the numbers it would lead to, also by way of lets", () => {
  const { house, problems } = parseHouse({
    "a.modrik": `
      house "A" { clock "UTC" }
      zone z { sensor t: °C sensor door: open/closed output heater: on/off output fan: on/off output valve: 5..28 °C, at rest 8 °C
        dial warmth: 15..25 °C, at first 20 °C dial linger: 1..60 min, at first 10 min dial idle: 0..5 K, at first 1 K }
      mode home: yes/no, at first yes
      let lowered = z.warmth - (if home is no then 4 K else 0 K)
      let wanted = lowered + 1 K
      rule warm "Warm" { keep z.t at z.warmth ± 1 K raise with z.heater }
      rule aired { while z.door was open in the last z.linger hold z.fan at on }
      rule heated { hold z.valve at wanted }`,
  });
  expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
  const points = (name: string, values: Record<string, number | string>) =>
    tellPoints(house, name, { at: 0, values }).flatMap(({ says, because }) => [says, ...because.map((one) => `  ${one.says}`)]);
  expect(points("z.warmth", { "z.warmth": 22 })).toEqual([
    'warm "Warm"',
    "  z.heater: on below 21 °C, off above 23 °C",
    "heated",
    "  z.valve: 23 °C now",
  ]);
  expect(points("home", { home: "no" })).toEqual(["heated", "  z.valve: 17 °C now"]);
  expect(points("z.linger", { "z.linger": 5 })).toEqual(["aired", "  z.linger is 5 min now"]);
  expect(points("z.idle", {})).toEqual([]);
  expect(() => points("z.warmth", { "z.warmth": 99 })).toThrow("z.warmth");
});
