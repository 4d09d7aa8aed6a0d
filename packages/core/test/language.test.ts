// What is said about a text: the code and the place of each problem, and that good texts keep their meaning.
import { formatHouse, type House, isSound, parseHouse } from "modrik";
import { fixHouse, openHouse } from "modrik/language";
import { houseText, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { lindenYard, parseLindenYard, traps } from "./examples.js";

const room = `house "Test" { clock "Europe/Zurich" }
zone room {
  sensor warm: °C, -20..60 °C
  sensor damp: %RH
  sensor door: open/closed
  sensor grade: good < fair < poor
  output heater: on/off
  output fan: on/off
  output lamp: 0..100 % output blower: stop/slow/fast, at rest stop
  dial target: 15..25 °C, at first 20 °C
}
mode shop: open/closed, at first closed
schedule hours { Mon..Fri 08:00 to 12:00 }
`;

/** Problems of a text after the room's thirteen lines, as `line:column code`; lines count from the first after it. */
function problemsOf(text: string): string[] {
  const { problems } = parseHouse({ "house.modrik": room + text });
  return problems.map(({ code, place }) => `${place.line - 13}:${place.column} ${code}`);
}

const steps = (list: string) => `rule r { when room.door do { ${list} } }`;
const rule = (condition: string) => `rule r { while ${condition} hold room.fan at on }`;

describe("a mistake is found at its place", () => {
  const cases: readonly (readonly [what: string, text: string, problems: readonly string[]])[] = [
    ["a number without its unit", rule("room.damp above 45"), ["1:32 unit"]],
    ["a unit that measures something else", rule("room.warm above 45 %RH"), ["1:32 unit"]],
    ["a name that is not there", rule("room.wram above 45 °C"), ["1:16 unknown-name"]],
    ["a word that is not there", rule("room.door is opened"), ["1:29 unknown-name"]],
    ["a schedule that is not there", rule("during hour"), ["1:23 unknown-name"]],
    ["a number that is no condition", rule("room.warm"), ["1:16 type"]],
    ["a measured number that is to be exactly one", rule("room.warm is 20 °C"), ["1:16 type"]],
    ["words without order", rule("shop above open"), ["1:16 type"]],
    ["a value outside a range", rule("room.warm above 100 °C"), ["1:32 out-of-range"]],
    ["bounds the wrong way round", rule("room.warm between 22 °C and 20 °C"), ["1:34 out-of-range"]],
    ["a memory whose bounds cross", rule("room.warm below 22 °C until above 20 °C"), ["1:50 crossing-targets"]],
    ["two temperatures added", rule("room.warm above 10 °C + room.target"), ["1:40 unit"]],
    ["a temperature multiplied", rule("room.warm above room.target * 2"), ["1:32 unit"]],
    ["no time at all", rule("room.door is open for 0 s"), ["1:38 out-of-range"]],
    ["parts of a duration that do not descend", rule("room.door is open for 3 min 1 h"), ["1:38 syntax"]],
    ["a duration of degrees", rule("room.door is open for 3 °C"), ["1:38 unit"]],
    ["a word without a verb", rule("room.door open for 3 min"), ["1:26 syntax"]],
    ["a short until behind no bound", rule("room.door is open until above 3 °C"), ["1:16 syntax"]],
    ["words of trials elsewhere", rule('told "x"'), ["1:16 syntax"]],
    ["a keep without tolerance", "rule r { keep room.warm at 20 °C raise with room.heater }", ["1:28 syntax"]],
    [
      "a keep with one output twice",
      "rule r { keep room.warm at 20 °C ± 1 K raise with room.fan lower with room.fan }",
      ["1:71 syntax"],
    ],
    [
      "a keep between with one output",
      "rule r { keep room.warm between 19 °C and 21 °C ± 1 K raise with room.fan }",
      ["1:10 syntax"],
    ],
    [
      "a keep whose targets cross",
      "rule r { keep room.warm between 24 °C and 20 °C ± 1 K raise with room.heater lower with room.fan }",
      ["1:10 crossing-targets"],
    ],
    ["a keep with a speed", "rule r { keep room.warm at 20 °C ± 1 K raise with room.blower }", ["1:51 type"]],
    ["a tolerance of nothing", "rule r { keep room.warm at 20 °C ± 0 K raise with room.heater }", ["1:36 out-of-range"]],
    ["holding a sensor", "rule r { hold room.door at open }", ["1:15 type"]],
    ["an output of another kind", "rule r { hold room.lamp at on }", ["1:28 type"]],
    ["a value beyond an output", "rule r { hold room.lamp at 120 % }", ["1:28 out-of-range"]],
    ["one name for two things", "schedule room { daily 08:00 to 09:00 }", ["1:10 double-name"]],
    ["a name the language needs", "mode if: a/b, at first a", ["1:6 syntax"]],
    ["a name that begins a condition", "mode any: a/b, at first a", ["1:6 syntax"]],
    [
      "guards that leave nothing",
      rule("room.warm above 3 °C").replace(
        /^/,
        "guard g { permit room.fan on only while shop permit room.fan off only while shop }\n",
      ),
      ["1:7 forbids-all"],
    ],
    ["a dial without a first value", "dial d: 1..5 %", ["1:6 syntax"]],
    ["a dial whose first value is outside", "dial d: 1..5 %, at first 9 %", ["1:26 out-of-range"]],
    ["an unknown unit", "zone z { sensor s: lux }", ["1:20 unit"]],
    ["a range backwards", "zone z { sensor s: 5..1 % }", ["1:20 out-of-range"]],
    ["a time that is not", "schedule s { daily 08:00 to 25:00 }", ["1:29 out-of-range"]],
    ["a date that is not", "trial t { from 2026-02-30 08:00 expect shop is open }", ["1:16 out-of-range"]],
    [
      "a trial that ends before it begins",
      "trial t { from 2026-03-14 08:00 to 2026-03-13 expect shop is open }",
      ["1:36 out-of-range"],
    ],
    ["a trial out of order", "trial t { from 2026-03-14 08:00 expect shop is open given shop is open }", ["1:53 syntax"]],
    [
      "a trial that sets an output by itself",
      "trial t { from 2026-03-14 08:00 at 09:00 room.fan is on expect shop is open }",
      ["1:42 type"],
    ],
    ["an unclosed brace", "rule r { hold room.fan at on\nrule s { hold room.fan at on }", ["1:8 syntax"]],
    ["an unclosed text", 'rule r "Name { hold room.fan at on }', ["1:8 syntax"]],
    ["a brace too many", `${rule("shop is open")} }`, ["1:51 syntax"]],
    ["signs that mean nothing", rule("shop is open ; ; and @"), ["1:29 syntax", "1:31 syntax", "1:37 syntax"]],
    ["lets that need each other", "let a = b + 1 K let b = a - 1 K", ["1:5 ring-of-lets"]],
    ["a pick that leaves numbers out", "let c = pick by room.warm { below 10 °C: white }", ["1:9 incomplete-pick"]],
    ["a pick that leaves a word out", "let c = pick by room.grade { good: white, fair: amber }", ["1:9 incomplete-pick"]],
    ["a case twice", "let c = pick by room.grade { good: white, good: red, otherwise: amber }", ["1:43 incomplete-pick"]],
    [
      "a case covered by one in another unit",
      "let c = pick by room.warm { below 25 °C: white, below 68 °F: red, otherwise: blue }",
      ["1:49 incomplete-pick"],
    ],
    [
      "a case covered from the cold side",
      "let c = pick by room.warm { above -10 °C: white, above -5 °C: red, otherwise: blue }",
      ["1:50 incomplete-pick"],
    ],
    [
      "a case of an equal bound",
      "let c = pick by room.warm { below 20 °C: white, below 68 °F: red, otherwise: blue }",
      ["1:49 incomplete-pick"],
    ],
    ["a length above a day that is no number of days", 'rule r { when every 30 h do { tell "x" } }', ["1:21 out-of-range"]],
    ["a weather from a recording that is not there", 'weather real from "no-such.csv"', ["1:19 unknown-name"]],
    ["a sky that is more than covered", "weather w { outdoors 4 °C, cloud 300 % }", ["1:34 out-of-range"]],
    ["air that holds more than it can", "weather w { outdoors 4 °C, humidity 150 %RH }", ["1:37 out-of-range"]],
    [
      "a fan that blows less than nothing",
      "physics { zone room { floor 20 m² } room.fan gives -90 m³/h of air from outdoors }",
      ["1:52 out-of-range"],
    ],
    ["fumes that lag", "physics { zone room { floor 20 m² } room.fan gives 90 m³/h of air lagging 3 min }", ["1:75 syntax"]],
    ["an effect on a zone without physics", "physics { room.heater gives 1 kW of heat }", ["1:11 not-simulated"]],
    ["a room without air", "physics { zone room { volume 0 m³, loses 1 W/K, stores 1 MJ/K } }", ["1:30 out-of-range"]],
    ["a case behind otherwise", "let c = pick by room.warm { otherwise: white, below 10 °C: red }", ["1:47 incomplete-pick"]],
    [
      "a case that another covers",
      "let c = pick by room.warm { below 20 °C: white, below 10 °C: red, otherwise: amber }",
      ["1:49 incomplete-pick"],
    ],
    [
      "a device's health to keep",
      "zone z { sensor battery: %, device health } rule r { keep z.battery at 20 % ± 1 % raise with room.fan }",
      ["1:59 device-health"],
    ],
    ["a group within itself", "group all = room.fan, all", ["1:7 syntax"]],
    [
      "a press that is to last",
      "zone z { sensor b: press } rule r { while z.b is pressed hold room.fan at on }",
      ["1:43 syntax"],
    ],
    [
      "a press that is open",
      `zone z { sensor b: press } ${steps('tell "x"').replace("room.door", "z.b is open")}`,
      ["1:49 unknown-name"],
    ],
    ["a calendar that is not there", 'schedule away from calendar "away.ics"', ["1:29 unknown-name"]],
    ["the sun of nowhere", "schedule dark { daily sunset to sunrise }", ["1:23 syntax", "1:33 syntax"]],
    ["the height of the sun of nowhere", rule("sun.elevation above 3 °"), ["1:16 syntax"]],
    ["steps behind the end", steps('end here tell "never"'), ["1:39 syntax"]],
    ["a dose of what does not deliver", steps("dose room.fan 100 ml"), ["1:35 type"]],
    ["a ramp of a switch", steps("ramp room.fan from 0 % to 100 % over 1 min"), ["1:35 type"]],
    ["a countdown that is not there", steps("start airing"), ["1:36 unknown-name"]],
    ["a preset that is not there", steps("apply summer"), ["1:36 unknown-name"]],
    ["toggling a lamp with steps", steps("toggle room.lamp"), ["1:37 type"]],
    ["raising a switch", steps("raise room.fan by 1 K"), ["1:36 type"]],
    ["raising by another unit", steps("raise room.target by 1 %RH"), ["1:51 unit"]],
    ["setting a sensor", steps("set room.warm to 20 °C"), ["1:34 type"]],
    ["releasing a dial", steps("release room.target"), ["1:38 type"]],
    ["a cycle of a speed", "rule r { cycle room.blower on 1 min off 1 min }", ["1:16 type"]],
    ["a cycle of no time", "rule r { cycle room.fan on 1 min off 0 min }", ["1:38 out-of-range"]],
    [
      "in proportion over nothing",
      "rule r { keep room.warm at 20 °C raise with room.lamp in proportion over 0 K }",
      ["1:74 out-of-range"],
    ],
    ["a switch in proportion", "rule r { keep room.warm at 20 °C raise with room.fan in proportion over 2 K }", ["1:45 syntax"]],
    ["a day out of order", "profile p { Mon..Fri 20 °C from 06:30, 18 °C from 05:00 }", ["1:51 out-of-range"]],
    ["a profile of two units", "profile p { Mon..Fri 20 °C from 06:30, 18 %RH from 08:00 }", ["1:40 unit"]],
    ["a preset of two minds", "preset p { room.fan at on, room.fan at off }", ["1:28 syntax"]],
    ["a mean of two units", "let a = mean(room.warm, room.damp)", ["1:25 unit"]],
    ["a window of no time", "let a = mean(room.warm over 0 s)", ["1:29 out-of-range"]],
    ["every one of nothing", "let a = mean(every warmth in room)", ["1:20 unknown-name"]],
    ["arguments in the wrong order", "let a = dew_point(room.damp, room.warm)", ["1:19 unit", "1:30 unit"]],
    ["dates backwards", "schedule s { daily 08:00 to 12:00 except 2026-12-24..2026-12-01 }", ["1:42 out-of-range"]],
    ["a scale of nothing", "zone z { sensor s: °C, scale 0, offset 1 K }", ["1:30 out-of-range"]],
    ["a flow of light", "zone z { output p: on/off, delivers 12 lx after 1 s }", ["1:37 unit"]],
    ["a sensor that disobeys", rule("room.warm disobeys"), ["1:16 type"]],
    ["every no time", "rule r { when every 0 min do { toggle room.fan } }", ["1:21 out-of-range"]],
    ["physics of no zone", "physics { zone attic { volume 3 m³ } }", ["1:16 unknown-name"]],
    ["a sensor that heats", "physics { room.warm gives 3 kW of heat }", ["1:11 type"]],
    ["people at no time", "people { room during nights }", ["1:22 unknown-name"]],
    ["a sensor wired as an output", 'wire mqtt { room.warm to "a" }', ["1:13 type"]],
    ["a word of the language as a state", 'wire mqtt { room.fan to "a" writing and as "1" }', ["1:37 syntax"]],
    [
      "several at once",
      'rule a { hold room.fn at on }\nrule b { hold room.lamp at 5 lx }\nrule c { when room.door\n do { tell "{room.wrm}" } }',
      ["1:15 unknown-name", "2:28 unit", "4:14 unknown-name"],
    ],
  ];
  test.each(cases)("%s", (_, text, problems) => {
    expect(problemsOf(text)).toEqual(problems);
  });

  test.each([
    ["an empty file", "", ["1:1 syntax"]],
    ["only a comment", "# nothing yet", ["1:1 syntax"]],
    ["a house without a clock", 'house "X" { }', ["1:1 syntax"]],
    ["a time zone that is not", 'house "X" { clock "Europe/Berne" }', ["1:19 unknown-name"]],
    ["two clocks", 'house "X" { clock "UTC" clock "UTC" }', ["1:25 double-name"]],
    ["a place off the earth", 'house "X" { clock "UTC" place 91 N, 3 E }', ["1:31 type"]],
  ])("%s", (_, text, problems) => {
    const found = parseHouse({ "house.modrik": text }).problems.map(({ code, place }) => `${place.line}:${place.column} ${code}`);
    expect(found).toEqual(problems);
  });
});

test("the nearest names are offered, the other place of a double name is told", () => {
  const near = parseHouse({ "house.modrik": room + rule("room.wram above 45 °C") }).problems[0];
  expect(near?.nearest).toEqual(["room.warm"]);
  expect(near?.remedy).toBe('Did you mean "room.warm"?');
  const double = parseHouse({ "house.modrik": `${room}schedule shop { daily 08:00 to 09:00 }` }).problems[0];
  expect(double?.related.map(({ place, says }) => `${place.line} ${says}`)).toEqual(["12 the other shop, a mode"]);
});

test.each([
  ["zone z { output o: on/off output o: on/off }", "the other z.o, an output"],
  ["zone z { sensor o: °C sensor o: °C }", "the other z.o, a sensor"],
])("%s names what is there before", (text, says) => {
  const { problems } = parseHouse({ "a.modrik": `house "A" { clock "UTC" } ${text}` });
  expect(problems.flatMap(({ related }) => related.map((one) => one.says))).toContain(says);
});

describe("what can be fixed by itself is fixed", () => {
  test.each<[what: string, before: string, after: string]>([
    ["a missing unit", rule("room.damp above 45"), rule("room.damp above 45 %RH")],
    ["a near name", rule("room.wram above 20 °C"), rule("room.warm above 20 °C")],
    ["a near word", rule("room.door is opem"), rule("room.door is open")],
    ["a near unit", "zone z { sensor s: %HR }", "zone z { sensor s: %HR }"],
    ["a missing verb", rule("room.door open for 5 min"), rule("room.door has been open for 5 min")],
    ["a missing verb of the past", rule("room.door open in the last 5 min"), rule("room.door was open in the last 5 min")],
    ["what comes to light behind it", rule("room.wram above 20"), rule("room.warm above 20 °C")],
    [
      "two in a line",
      rule("room.wram above 20 and room.damp below 40"),
      rule("room.warm above 20 °C and room.damp below 40 %RH"),
    ],
    ["not what is near to several", rule("room.war above 20 °C"), rule("room.warm above 20 °C")],
    ["not another unit", rule("room.warm above 45 %RH"), rule("room.warm above 45 %RH")],
    [
      "not a name that a repeat makes",
      "for each q in rom { rule r_{q} { while q.door hold room.fan at on } }",
      "for each q in rom { rule r_{q} { while q.door hold room.fan at on } }",
    ],
  ])("%s", (_, before, after) => {
    const fixed = fixHouse(openHouse({ "house.modrik": room + before }));
    expect(fixed.text.files["house.modrik"]?.slice(room.length)).toBe(after);
    expect(fixed.changed.map((line) => line.after)).toEqual(after === before ? [] : [after]);
  });
});

describe("what a text means", () => {
  const conditionOf = (text: string) => {
    const parsed = parseHouse({ "house.modrik": room + rule(text) });
    expect(parsed.problems).toEqual([]);
    const sentence = parsed.house.rules[0]?.sentences[0];
    return sentence && "while" in sentence ? sentence.while : undefined;
  };

  test.each([
    ["a two-word thing alone", "room.door", "room.door is open"],
    ["has been", "room.door has been open for 5 min", "room.door is open for 5 min"],
    ["was", "room.door was open in the last 5 min", "room.door is open in the last 5 min"],
    ["ASCII units", "room.warm above 20 degC", "room.warm above 20 °C"],
    ["without a blank", "room.damp above 45%RH", "room.damp above 45 %RH"],
    ["a range's unit", "room.warm between 19 and 21 °C", "room.warm between 19 °C and 21 °C"],
    [
      "and before or",
      "shop is open and room.door is open or room.door is closed",
      "(shop is open and room.door is open) or room.door is closed",
    ],
    ["not before and", "not shop is open and room.door is open", "(not shop is open) and room.door is open"],
    [
      "for belongs to the nearest comparison",
      "shop is open and room.door is open for 1 min",
      "shop is open and (room.door is open for 1 min)",
    ],
    ["line ends are blanks", "room.warm\n above\n 20 °C", "room.warm above 20 °C"],
  ])("%s", (_, one, other) => {
    expect(conditionOf(one)).toEqual(conditionOf(other));
  });
});

function meaning(files: Record<string, string>): House {
  const parsed = parseHouse(files);
  expect(parsed.problems).toEqual([]);
  return parsed.house;
}

describe("the formatter", () => {
  test("leaves the examples as they are", () => {
    for (const [file, text] of Object.entries({ ...lindenYard, ...traps }))
      expect(formatHouse(text, file)).toEqual({ text, problems: [] });
  });

  test("keeps the meaning, and a second time changes nothing", () => {
    for (let seed = 1; seed <= 200; seed++) {
      const text = houseText(seeded(seed));
      const once = formatHouse(text).text;
      expect(meaning({ "a.modrik": once }), `seed ${seed}`).toEqual(meaning({ "a.modrik": text }));
      expect(formatHouse(once).text, `seed ${seed}`).toBe(once);
    }
  });

  test("keeps comments where they stood, and single blank lines", () => {
    const text = `# top

house "X" {   clock   "UTC"  } # behind


# before the zone
zone z {
  # first
  sensor s:°C,unknown after 5min   # short
  output o: on/off
  # last
}
rule r {
  while s above 20degC # because
    and s below 30 °C
  hold o at on }
# end`;
    const found = formatHouse(
      text.replaceAll("s above", "z.s above").replaceAll("s below", "z.s below").replace("hold o", "hold z.o"),
    );
    expect(found.text).toMatchInlineSnapshot(`
      "# top

      house "X" {
        clock "UTC"
      }  # behind

      # before the zone
      zone z {
        # first
        sensor s: °C, unknown after 5 min  # short
        output o: on/off
        # last
      }
      rule r {
        while z.s above 20 °C and z.s below 30 °C  # because
        hold z.o at on
      }
      # end
      "
    `);
  });

  test("does not touch a text with errors", () => {
    expect(formatHouse("rule {").text).toBe("rule {");
  });
});

test("an example house is sound", () => {
  expect(isSound(parseLindenYard())).toBe(true);
});
