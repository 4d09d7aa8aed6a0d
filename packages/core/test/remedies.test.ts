// What a check offers ends what it tells of: written in place of what was wrong, and with dials wherever they may stand.
import { checkHouse, type Finding, parseHouse } from "modrik";
import { expect, test } from "vitest";

const house = (rules: string, limit = "25 °C", dusk = "200 lx") => `house "A" { clock "UTC" place 47 N, 8 E }
zone z {
  sensor x: °C, -20..60 °C, unknown after 15 min
  sensor y: °C, -20..60 °C, unknown after 15 min
  sensor damp: %RH, 0..100 %RH, unknown after 15 min
  sensor wet: %RH, 0..100 %RH, unknown after 15 min
  sensor light: lx, unknown after 15 min
  sensor water: wet/dry
  sensor door: open/closed
  output o: on/off
  output p: on/off
  output sign: amber/blue
  output lamp: on/off
  dial limit: 20..30 °C, at first ${limit}
  dial dusk: 50..400 lx, at first ${dusk}
}
preset alert { z.o at on, z.p at on }
physics { zone z { volume 40 m³ } z.lamp gives 160 lx of light }
${rules}`;

function findings(text: string): readonly Finding[] {
  const { house: read, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason, remedy }) => `${reason} ${remedy}\n${text}`)).toEqual([]);
  return checkHouse(read);
}

/** What a remedy puts between backticks first. */
function offered(text: string, code: string): string[] {
  return findings(text.replace(/[«»]/g, "")).flatMap((one) =>
    one.code === code ? (/`([^`]+)`/.exec(one.remedy)?.slice(1) ?? [one.remedy]) : [],
  );
}

const standings = [
  ["25 °C", "200 lx"],
  ["20 °C", "50 lx"],
  ["30 °C", "400 lx"],
] as const;

// What is wrong stands between « and ».
test.each<[code: string, rules: string, offers: string]>([
  ["chatter", "rule r { while «z.x above 26 °C» hold z.o at on }", "z.x above 26 °C until below 24.7 °C"],
  ["chatter", "rule r { while «z.x above z.limit» hold z.o at on }", "z.x above z.limit until below z.limit - 1.3 K"],
  ["chatter", "rule r { while «z.x above z.limit + 1 K» hold z.o at on }", "z.x above z.limit + 1 K until below z.limit - 0.3 K"],
  [
    "chatter",
    "rule r { while «z.x below z.limit - 2 °C» hold z.o at on }",
    "z.x below z.limit - 2 K until above z.limit - 0.9 K",
  ],
  ["chatter", "rule r { while «z.x above z.limit + 1.3 °C» hold z.o at on }", "z.x above z.limit + 1.3 K until below z.limit"],
  ["chatter", "rule r { while «z.light below z.dusk» hold z.o at on }", "z.light below z.dusk until above z.dusk + 10 lx"],
  [
    "chatter",
    "let point = z.limit + 1 K rule r { while «z.x above point» hold z.o at on }",
    "z.x above point until below point - 1.3 K",
  ],
  [
    "chatter",
    "rule r { while z.light below 100 lx until above 200 lx and «z.x above 26 °C» hold z.o at on }",
    "z.x above 26 °C until below 24.7 °C",
  ],
  [
    "chatter",
    "rule r { while z.door has been open for 2 min or «z.x above 26 °C» hold z.o at on }",
    "z.x above 26 °C until below 24.7 °C",
  ],
  [
    "chatter",
    "let hot = «z.x above z.limit» rule r { while z.door is open and hot hold z.o at on }",
    "z.x above z.limit until below z.limit - 1.3 K",
  ],
  ["chatter", "let hot = «z.x above 26 °C» rule r { while not hot hold z.o at on }", "z.x above 26 °C until below 24.7 °C"],
  ["chatter", "rule r { while «z.x above z.y» hold z.o at on }", "z.x above z.y until below z.y - 1 K"],
  [
    "chatter",
    "rule r { while z.door is open and «z.y below z.x - 2 K» hold z.o at on }",
    "z.y below z.x - 2 K until above z.x - 1 K",
  ],
  ["chatter", "let warmer = z.x - z.y rule r { while «warmer above 3 K» hold z.o at on }", "warmer above 3 K until below 2 K"],
  [
    "chatter",
    "let drier = absolute_humidity(z.x, z.damp) - absolute_humidity(z.y, z.wet) rule r { while «drier above 1.5 g/m³» hold z.o at on }",
    "drier above 1.5 g/m³ until below 0.5 g/m³",
  ],
  ["chatter", "rule r { while «z.y below 15 °C» keep z.x at 20 °C ± 0.5 K raise with z.o }", "z.y below 15 °C until above 16 °C"],
  ["chatter", "rule r { while «not z.x above 26 °C» hold z.o at on }", "z.x at most 26 °C until above 27.3 °C"],
  [
    "chatter",
    "rule r { while «z.x between 20 °C and z.limit» hold z.o at on }",
    "z.x at least 20 °C until below 19 °C and z.x at most z.limit until above z.limit + 1.3 K",
  ],
  [
    "chatter",
    "rule r { while «not z.x between 20 °C and z.limit» hold z.o at on }",
    "z.x below 20 °C until above 21 °C or z.x above z.limit until below z.limit - 1.3 K",
  ],
  [
    "gap",
    "rule r { while z.door is open and z.x below z.limit hold z.sign at amber while z.door is open and «z.x above z.limit» hold z.sign at blue }",
    "z.x at least z.limit",
  ],
  [
    "gap",
    "rule r { while z.door is open and z.x below 23 °C hold z.sign at amber while z.door is open and «z.x above 23 °C» hold z.sign at blue }",
    "z.x at least 23 °C",
  ],
  [
    "gap",
    "rule r { while z.door is open and not (z.x at least z.limit) hold z.sign at amber while z.door is open and «z.x above z.limit» hold z.sign at blue }",
    "z.x at least z.limit",
  ],
  [
    "already-past",
    "rule r { «when z.water becomes wet do { set z.o to on for 5 min }» }",
    "while z.water was wet in the last 5 min hold z.o at on",
  ],
  [
    "already-past",
    "rule r { «when z.water becomes wet do { set z.o to on until z.water has been dry for 10 min, at most 2 h }» }",
    "while z.water is wet until (z.water has been dry for 10 min) hold z.o at on",
  ],
  [
    "already-past",
    "rule r { «when z.water becomes wet do { set z.o to on until z.door is open }» }",
    "while z.water is wet until (z.door is open) hold z.o at on",
  ],
  [
    "already-past",
    "rule r { «when z.water becomes wet do { apply alert for 5 min }» while z.door is open hold z.p at on }",
    "while z.water was wet in the last 5 min hold z.o at on",
  ],
])("%s: %s", (code, rules, offers) => {
  const text = house(rules);
  expect(offered(text, code)).toContain(offers);
  for (const [limit, dusk] of standings) {
    const mended = house(rules.replace(/«[^»]*»/, offers), limit, dusk);
    expect(findings(mended).map((one) => one.code)).not.toContain(code);
  }
});

test.each([
  [
    "states of a sign that share it out",
    "while z.x between 20 °C and 26 °C hold z.sign at amber while not z.x between 20 °C and 26 °C hold z.sign at blue",
  ],
  ["what lasts", "while z.x between 20 °C and 26 °C for 5 min hold z.o at on"],
  ["what was so lately", "while (not z.x above 26 °C) in the last 5 min hold z.o at on"],
  ["what holds whatever it reads", "while z.x above 26 °C or not z.x above 26 °C hold z.o at on"],
])("%s: a bound without a way back does not chatter", (_, sentences) => {
  expect(findings(house(`rule r { ${sentences} }`)).filter(({ code }) => code === "chatter")).toEqual([]);
});

test("a lamp that lights its own sensor is offered a point beyond what it adds, beside the dial it hangs on", () => {
  const remedies = (until: string) =>
    findings(house(`rule r { while z.light below z.dusk until above ${until} hold z.lamp at on }`)).flatMap(({ code, remedy }) =>
      code === "chatter" ? [remedy] : [],
    );
  expect(remedies("z.dusk + 60 lx")).toEqual(["Make it stop above z.dusk + 200 lx."]);
  expect(remedies("z.dusk + 200 lx")).toEqual([]);
});

test.each([
  ["until it is dry", "set z.o to on until z.water is dry"],
  ["until it has been dry", "set z.o to on until z.water has been dry for 5 min"],
  ["a preset until it is dry", "apply alert until z.water is dry"],
])("what is set %s leaves nothing out", (_, step) => {
  expect(offered(house(`rule r { when z.water becomes wet do { ${step} } }`), "already-past")).toEqual([]);
});
