// Recordings as trials replay them.
import { FormatError, readRecording } from "@modrik/formats";
import { parseHouse, runTrials } from "modrik";
import { expect, test } from "vitest";

const csv = `time,z.x,z.door,m,z.o
2026-03-14T07:30:00Z,21,closed,day,off
2026-03-14T08:09:00Z,19.5,,,on
2026-03-14T08:20:00Z,,open,night,
2026-03-14T08:40:00Z,nan,,,`;
const senml = JSON.stringify([
  { bn: "z.", bt: 1773473400, n: "x", v: 21 },
  { n: "door", vs: "closed" },
  { n: "x", t: 2340, v: 19.5 },
  { n: "door", t: 3000, vs: "open" },
  { n: "x", t: 4200, vs: "nan" },
]);

const house = `house "A" { clock "UTC" }
zone z { sensor x: °C, unknown after 25 min sensor door: open/closed output o: on/off output fan: on/off }
mode m: day/night, at first day
rule r { while z.x below 20 °C hold z.o at on while m is night hold z.fan at on }
rule s { when z.door is open do { tell "Open, {z.x}" } }
trial t { replay "day.csv" from 2026-03-14 08:00 to 2026-03-14 09:00
  expect z.o is off from 08:00 to 08:09 expect z.o is on from 08:09 to 08:34 expect z.o is off from 08:34
  expect told "Open, 19.5 °C" at 08:20 expect count(told "Open") is 1 expect z.x is unknown at 08:50 }`;

test.each([
  ["CSV", csv, "on"],
  ["SenML", senml, "off"],
])("%s is replayed as it was reported, and no more often; what outputs did is left to the rules", (_, text, fan) => {
  const { house: read, problems } = parseHouse(
    { "a.modrik": `${house.slice(0, -1)} expect z.fan is ${fan} at 08:20 }` },
    { recordings: { "day.csv": readRecording(text) } },
  );
  expect(problems).toEqual([]);
  const [result] = runTrials(read);
  expect(result?.verdicts.filter(({ passed }) => !passed).map(({ says }) => says)).toEqual([]);
});

test("base values of SenML are added to each value, and sums are no readings", () => {
  const read = readRecording(
    JSON.stringify([
      { bn: "z.", bt: 1773473400, bv: 20, bver: 10, n: "x", v: 1.5 },
      { n: "x", t: 60, v: 2, s: 7 },
      { n: "x", t: 120, s: 9 },
      { bv: -1, n: "x", t: 180, v: 3 },
      { n: "word", t: 180, vs: "open" },
    ]),
  );
  expect(read.map(({ at, name, value }) => [at / 1000 - 1773473400, name, value])).toEqual([
    [0, "z.x", 21.5],
    [60, "z.x", 22],
    [180, "z.x", 2],
    [180, "z.word", "open"],
  ]);
});

test("units of SenML are understood, and told from one another", () => {
  const pack = JSON.stringify([
    { bn: "z.", bt: 1773475800, bu: "Cel", n: "x", v: 20 },
    { n: "f", v: 20 },
    { n: "k", v: 293.15, u: "K" },
    { n: "share", v: 0.4, u: "/" },
    { n: "damp", v: 45, u: "%RH" },
    { n: "wrong", v: 45, u: "lx" },
  ]);
  const text = `house "A" { clock "UTC" }
    zone z { sensor x: °C sensor f: °F sensor k: °C sensor share: % sensor damp: %RH sensor wrong: °C }
    trial t { replay "day.json" from 2026-03-14 08:00 to 2026-03-14 09:00
      expect z.x between 20 °C and 20 °C at 08:30 expect z.f between 68 °F and 68 °F at 08:30 expect z.k between 19.9 °C and 20.1 °C at 08:30
      expect z.share between 40 % and 40 % at 08:30 expect z.damp between 45 %RH and 45 %RH at 08:30 expect z.wrong is unknown at 08:30 }`;
  const { house: read } = parseHouse({ "a.modrik": text }, { recordings: { "day.json": readRecording(pack) } });
  expect(
    runTrials(read)[0]
      ?.verdicts.filter(({ passed }) => !passed)
      .map(({ says }) => says),
  ).toEqual([]);
});

test("a recording that is not there is said at its place", () => {
  const { problems } = parseHouse({ "a.modrik": house });
  expect(problems.map(({ reason, place }) => [reason, place.line])).toEqual([
    ['There is no recording "day.csv" in the folder of the house.', 6],
  ]);
});

test.each([
  ["no column of times", "when,z.x\n1,2", /The first line of a recording names its columns/],
  ["a time without an offset", "time,z.x\n2026-03-14 08:00,2", /Line 2: "2026-03-14 08:00" is not a time/],
  ["a line behind blank ones", "time,z.x\n\n\n2026-03-14 08:00,2", /Line 4: /],
  ["a line behind a field of two lines", 'time,z.x\n2026-03-14T08:00Z,"a\nb"\n2026-03-14 08:00,2', /Line 4: /],
  ["a row too long", "time,z.x\n2026-03-14T08:00Z,2,3", /Line 2 has more fields/],
  ["broken JSON", "[{", /It is not SenML/],
  ["a relative time", '[{"n":"z.x","v":1,"t":-5}]', /Record 1 has no absolute time/],
  ["a unit of nothing here", '[{"n":"z.x","bt":1773473400,"u":"lm","v":1}]', /Record 1 is in "lm"/],
  ["a field that must be understood", '[{"n":"z.x","bt":1773473400,"v":1,"turbo_":2}]', /Record 1 has the field "turbo_"/],
  ["a later version", '[{"bver":11,"n":"z.x","bt":1773473400,"v":1}]', /Record 1 is of SenML version 11/],
  ["a record without a name", '[{"v":1,"bt":1773473400}]', /Record 1 has no name/],
])("%s is told", (_, text, says) => {
  expect(() => readRecording(text)).toThrow(FormatError);
  expect(() => readRecording(text)).toThrow(says);
});
