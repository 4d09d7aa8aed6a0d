// A house written back as text means what it meant.
import { formatHouse, type House, parseHouse, writeHouse } from "modrik";
import { houseText as generated, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { parseLindenYard, traps } from "./examples.js";

/** What is left when a house goes through its text. */
function again(house: House): House {
  const { text, problems: laidOut } = formatHouse(writeHouse(house));
  expect(laidOut, text).toEqual([]);
  const calendars = Object.fromEntries(house.schedules.flatMap(({ file }) => (file === undefined ? [] : [[file, []]])));
  const { house: read, problems } = parseHouse({ "house.modrik": text }, { calendars });
  expect(
    problems.filter(({ severity }) => severity === "error"),
    text,
  ).toEqual([]);
  return read;
}

/** What a calendar file says is not written. */
const withoutEvents = (house: House): House => ({
  ...house,
  schedules: house.schedules.map((one) => (one.events ? { ...one, events: [] } : one)),
});

test("of the demo house", () => {
  const { house } = parseLindenYard();
  expect(again(house)).toEqual(withoutEvents(house));
});

test.each(Object.entries(traps))("of %s", (file, text) => {
  const { house } = parseHouse({ [file]: text });
  expect(again(house)).toEqual(house);
});

test("of generated houses", () => {
  for (let seed = 1; seed <= 150; seed++) {
    const { house } = parseHouse({ "a.modrik": generated(seeded(seed)) });
    expect(again(house), `seed ${seed}`).toEqual(house);
  }
});

describe("of every declaration", () => {
  test.each([
    [
      "sensors",
      'sensor a "A": %, reads 812 as 0 % and 390 as 100 % sensor b: °C, offset -0.4 K, smooth over 5 min sensor c: number sensor d: duration sensor e: %, device health, note "cell {{1}}"',
    ],
    [
      "outputs",
      "output a: 0..100 % output b: colour of a output c: on/off, on at most 3 h then off at least 20 min, serves z output d: up/down, at rest up, down when control is lost",
    ],
    [
      "dials",
      "dial a: 10..30 °C, at first 20 °C, step 0.5 °C dial b: time, at first 22:30:10 dial c: yes/no, at first no dial d: 1 s..2 min, at first 5 s",
    ],
    ["lets and countdowns", 'let a: % = 5 % countdown b "B" = 5 min, note "n"'],
  ])("%s of a zone", (_, things) => {
    const { house, problems } = parseHouse({ "a.modrik": `house "A" { clock "UTC" } zone z "Z" { note "here" ${things} }` });
    expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
    expect(again(house)).toEqual(house);
  });

  test.each([
    ["a place", "", 'place 46.95 S, 7.45 W clock "UTC" hand lasts 30 min note "x"'],
    [
      "schedules",
      "schedule s { only Oct 15..Apr 10, Dec 24 daily sunset + 20 min to 24:00, 00:00 to sunrise - 10 min except 2026-12-24..2027-01-03, 2026-05-01 }",
      "",
    ],
    ["profiles", "profile p ramped { Mon, Wed 0 % from 06:30, 100 % from sunrise daily 0 % from 09:00 }", ""],
    [
      "modes, groups and presets",
      'zone z { output a: on/off output b: on/off } mode m: x/y, at first y, note "m" group g "G" = z.a, z.b preset p { note "n" z.a at on }',
      "",
    ],
    [
      "weather and people",
      'zone z { sensor m: yes/no } schedule s { daily 08:00 to 09:00 } weather w "W" { outdoors -6 °C, swings 7 K, humidity 78 %RH, cloud 40 %, fronts every 4 d, seed 7 } people { z during s, comes and goes every 25 min, breathes 18 l/h }',
      "",
    ],
  ])("%s", (_, text, head) => {
    const { house, problems } = parseHouse({
      "a.modrik": `house "A" { ${head === "" ? 'place 47 N, 8 E clock "UTC"' : head} } ${text}`,
    });
    expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
    expect(again(house)).toEqual(house);
  });
});

test("a long group is filled, line by line, and comments stay where they stood", () => {
  const members = Array.from({ length: 16 }, (_, place) => `hall.long_lamp_name_${place}`);
  const things = members.map((name) => `output ${name.slice(5)}: on/off`).join("\n");
  const text = `house "A" { clock "UTC" }\nzone hall {\n${things}\n}\n# all of them\ngroup lamps "Lamps" = ${members.join(", ")}, note "many"\n`;
  const laid = formatHouse(text).text;
  const lines = laid.slice(laid.indexOf("# all")).trimEnd().split("\n");
  expect(lines.slice(0, 2)).toEqual(["# all of them", 'group lamps "Lamps" =']);
  expect(Math.max(...lines.map((line) => line.length))).toBeLessThanOrEqual(100);
  expect(lines.length).toBeLessThan(8);
  expect(lines.at(-1)).toMatch(/^ {2}.*long_lamp_name_15, note "many"$/);
  expect(formatHouse(laid).text).toBe(laid);
  expect(parseHouse({ "a.modrik": laid }).house).toEqual(parseHouse({ "a.modrik": text }).house);
});
