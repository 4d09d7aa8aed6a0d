// Recordings as trials replay them.
import { FormatError, openRecording, type RecordingForm, readRecording, type TimeOptions, writeRecording } from "@modrik/formats";
import { convert, parseHouse, type Recorded, runTrials, type Unit } from "modrik";
import { pick, type Random, seeded } from "modrik/testing";
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

// ── Tolerant, and never silent ──────────────────────────────────────────────────────────────────────────────────────────

const T = Date.parse("2026-03-14T08:00:00Z");
/** Minutes from eight o'clock, thing, value, unit. */
const short = (records: readonly Recorded[]) =>
  records.map(({ at, name, value, unit }) => [(at - T) / 60e3, name, value, ...(unit ? [unit] : [])]);

test.each<[what: string, text: string, records: unknown[], notes: (string | RegExp)[], options?: TimeOptions]>([
  [
    "units in heads, and behind numbers",
    "time,z.x [°F],z.y\n2026-03-14T08:00Z,68,21.5 °C\n",
    [
      [0, "z.x", 68, "°F"],
      [0, "z.y", 21.5, "°C"],
    ],
    ["1 report with the unit behind the number (line 2): read in that unit."],
  ],
  [
    "semicolons and decimal commas",
    'time;z.x °C;z.door\n2026-03-14T08:00Z;20,5;open\n2026-03-14T09:00+01:00;"21,5";',
    [
      [0, "z.x", 21.5, "°C"],
      [0, "z.door", "open"],
    ],
    [
      "2 reports with a decimal comma (first in line 2): read as a decimal point.",
      "1 report another value at the same time: the later one in the file counts.",
    ],
  ],
  ["tabs and pipes", "time\tz.x\n2026-03-14 08:00 +0000\t1\n", [[0, "z.x", 1]], []],
  [
    "long, with columns of other things",
    "time,kind,thing,value,unit,rule\n2026-03-14T08:00Z,reading,z.x,68,°F,\n2026-03-14T08:01Z,notice,,hello,,r\n2026-03-14T08:02Z,reading,z.door,open,,",
    [
      [0, "z.x", 68, "°F"],
      [2, "z.door", "open"],
    ],
    ["Not read, as they are no readings: the columns rule.", "1 report of a notice (line 3): left out, as it is no reading."],
  ],
  [
    "disorder, and the same again",
    "time,z.x\n2026-03-14T08:02Z,3\n2026-03-14T08:00Z,1\n2026-03-14T08:00Z,1\n2026-03-14T08:01Z,nan\n",
    [
      [0, "z.x", 1],
      [1, "z.x", undefined],
      [2, "z.x", 3],
    ],
    [
      "1 report without a number (line 5): the value is then unknown.",
      "3 reports out of order: put in order of time.",
      "1 report the same again at the same time: taken once.",
    ],
  ],
  [
    "seconds and milliseconds since 1970",
    `time,z.x\n${T / 1000},1\n${T + 60e3},2\n`,
    [
      [0, "z.x", 1],
      [1, "z.x", 2],
    ],
    [],
  ],
  [
    "a date and a time in two columns",
    "date,time,z.x\n14.03.2026,09:00:30,4\n",
    [[0.5, "z.x", 4]],
    [],
    { clock: "Europe/Zurich" },
  ],
  ["a mark of byte order", "\uFEFFtime,z.x\n2026-03-14T08:00Z,1", [[0, "z.x", 1]], []],
  [
    "an hour that came twice",
    "time,z.x\n2026-10-25 02:30,1\n2026-10-25 02:45,2\n2026-10-25 02:30,3\n2026-10-25 03:10,4",
    [
      [0, "z.x", 1],
      [15, "z.x", 2],
      [60, "z.x", 3],
      [100, "z.x", 4],
    ].map(([minute = 0, ...others]) => [(minute as number) + (Date.parse("2026-10-25T00:30Z") - T) / 60e3, ...others]),
    ["3 reports at a time that came twice as the clock went back (first in line 2): taken in the order of the file."],
    { clock: "Europe/Zurich" },
  ],
  [
    "an hour that was left out",
    "time,z.x\n2026-03-29 02:30,1",
    [[(Date.parse("2026-03-29T01:00Z") - T) / 60e3, "z.x", 1]],
    [/1 report at a time that the clock left out/],
    { clock: "Europe/Zurich" },
  ],
  [
    "JSON lines",
    `{"time":"2026-03-14T08:00Z","thing":"z.x","value":"20,5","unit":"°F","rule":"r"}\n\n{"time":${T / 1000 + 60},"thing":"z.x","value":null}\n{"time":"2026-03-14T08:02Z","kind":"problem","value":"oh"}`,
    [
      [0, "z.x", 20.5, "°F"],
      [1, "z.x", undefined],
    ],
    [/fields rule/, /decimal comma/, /without a number/, /1 report of a problem \(line 4\)/],
  ],
  [
    "SenML of sums, binary data and text numbers",
    `[{"bn":"z.","bt":${T / 1000},"n":"e","s":4},{"n":"p","vd":"aGkgCg"},{"n":"x","u":"Cel","vs":"20.5"},{"n":"b","vb":true}]`,
    [
      [0, "z.x", 20.5],
      [0, "z.b", "true"],
    ],
    [/1 report of a sum \(record 1\)/, /1 report of binary data/],
  ],
])("%s", (_, text, records, notes, options = {}) => {
  const opened = openRecording(text, options);
  expect(short(opened.records)).toEqual(records);
  expect(opened.notes).toEqual(notes.map((says) => (typeof says === "string" ? says : expect.stringMatching(says))));
});

test.each([
  ["a date that does not exist", "time,z.x\n2026-02-30T08:00Z,1", /"2026-02-30T08:00Z" is not a time/],
  ["a date that may be read two ways", "time,z.x\n03/04/2026 08:00,1", /is not a time/],
  ["a column that stands twice", "time,z.x °C,z.x °F\n", /The column "z.x" stands twice/],
  ["a report of nothing", "time,thing,value\n2026-03-14T08:00Z,,1", /Line 2 does not say of what it is/],
  ["a unit in a column", "time,thing,value,unit\n2026-03-14T08:00Z,z.x,1,furlong", /Line 2 is in "furlong"/],
  ["a line that is no object", '{"time":1,"thing":"a","value":1}\n[1]', /Line 2 is no JSON object|Line 1/],
  ["a line that is broken", '{"time":"2026-03-14T08:00Z","thing":"a","value":1}\n{"time', /Line 2 is not JSON/],
])("%s is refused with its place", (_, text, says) => expect(() => openRecording(text)).toThrow(says));

// ── SenML's own examples (RFC 8428, 5.1) ────────────────────────────────────────────────────────────────────────────────

const dev = "urn:dev:ow:10e2073a01080063";
test.each<[section: string, pack: object[], resolved: unknown[][]]>([
  ["5.1.1", [{ n: dev, u: "Cel", v: 23.1 }], [[0, dev, 23.1, "°C"]]],
  [
    "5.1.2 multiple data points",
    [
      { bn: `${dev}:`, n: "voltage", u: "V", v: 120.1 },
      { n: "current", u: "A", v: 1.2 },
    ],
    [
      [0, `${dev}:voltage`, 120.1, "V"],
      [0, `${dev}:current`, 1.2, "A"],
    ],
  ],
  [
    "5.1.2 with times before now",
    [
      { bn: `${dev}:`, bt: 1.276020076001e9, bu: "A", bver: 5, n: "voltage", u: "V", v: 120.1 },
      { n: "current", t: -5, v: 1.2 },
      { n: "current", t: -4, v: 1.3 },
      { n: "current", t: -3, v: 1.4 },
      { n: "current", t: -2, v: 1.5 },
      { n: "current", t: -1, v: 1.6 },
      { n: "current", v: 1.7 },
    ],
    [
      [1276020071.001, `${dev}:current`, 1.2, "A"],
      [1276020072.001, `${dev}:current`, 1.3, "A"],
      [1276020073.001, `${dev}:current`, 1.4, "A"],
      [1276020074.001, `${dev}:current`, 1.5, "A"],
      [1276020075.001, `${dev}:current`, 1.6, "A"],
      [1276020076.001, `${dev}:voltage`, 120.1, "V"],
      [1276020076.001, `${dev}:current`, 1.7, "A"],
    ],
  ],
  [
    "5.1.3 multiple measurements",
    [
      { bn: dev, bt: 1.320067464e9, bu: "%RH", v: 20 },
      { u: "lon", v: 24.30621 },
      { u: "lat", v: 60.07965 },
      { t: 60, v: 20.3 },
      { u: "lon", t: 60, v: 24.30622 },
      { u: "lat", t: 60, v: 60.07965 },
      { t: 120, v: 20.7 },
      { u: "lon", t: 120, v: 24.30623 },
      { u: "lat", t: 120, v: 60.07966 },
      { u: "%EL", t: 150, v: 98 },
      { t: 180, v: 21.2 },
      { u: "lon", t: 180, v: 24.30628 },
      { u: "lat", t: 180, v: 60.07967 },
    ],
    [
      ...[
        [0, 20, 24.30621, 60.07965],
        [60, 20.3, 24.30622, 60.07965],
        [120, 20.7, 24.30623, 60.07966],
      ].flatMap(([later = 0, damp, lon, lat]) => [
        [1320067464 + later, dev, damp, "%RH"],
        [1320067464 + later, `${dev}.lon`, lon, "°"],
        [1320067464 + later, `${dev}.lat`, lat, "°"],
      ]),
      [1320067614, dev, 98, "%"],
      [1320067644, dev, 21.2, "%RH"],
      [1320067644, `${dev}.lon`, 24.30628, "°"],
      [1320067644, `${dev}.lat`, 60.07967, "°"],
    ],
  ],
  [
    "5.1.5 multiple data types",
    [
      { bn: `${dev}:`, n: "temp", u: "Cel", v: 23.1 },
      { n: "label", vs: "Machine Room" },
      { n: "open", vb: false },
      { n: "nfv", vd: "aGkgCg" },
    ],
    [
      [0, `${dev}:temp`, 23.1, "°C"],
      [0, `${dev}:label`, "Machine Room"],
      [0, `${dev}:open`, "false"],
    ],
  ],
  [
    "5.1.6 collection of resources",
    [
      { bn: "2001:db8::2/", bt: 1.320078429e9, n: "temperature", u: "Cel", v: 27.2 },
      { n: "humidity", u: "%RH", v: 80 },
    ],
    [
      [1320078429, "2001:db8::2/temperature", 27.2, "°C"],
      [1320078429, "2001:db8::2/humidity", 80, "%RH"],
    ],
  ],
])("SenML %s", (_, pack, resolved) => {
  const now = Date.parse("2026-03-14T08:00Z");
  const { records } = openRecording(JSON.stringify(pack), { now });
  expect(records.map(({ at, name, value, unit }) => [at === now ? 0 : at / 1000, name, value, ...(unit ? [unit] : [])])).toEqual(
    resolved,
  );
});

// ── There and back ──────────────────────────────────────────────────────────────────────────────────────────────────────

const makers: readonly ((random: Random) => Omit<Recorded, "at">)[] = [
  (random) => ({ name: pick(random, ["z.x", "z.y"]), value: (random() - 0.5) * 10 ** Math.round(12 * random() - 6), unit: "°C" }),
  (random) => ({ name: "z.h", value: 100 * random(), unit: "%RH" }),
  (random) => ({ name: "z.plain", value: Math.round(1000 * random()) }),
  (random) => ({ name: "z.door", value: pick(random, ["open", 'say "closed", twice', "späť; so", "two\nlines"]) }),
  () => ({ name: "z.x" }),
];

/** In order, one of each thing at an instant. */
function recordingOf(random: Random): Recorded[] {
  const list = Array.from({ length: 1 + Math.round(40 * random()) }, () => ({
    at: T + Math.round(500 * random()) * 137,
    ...pick(random, makers)(random),
  }));
  return [...new Map(list.map((one) => [`${one.at} ${one.name}`, one])).values()].sort((a, b) => a.at - b.at);
}

test.each<RecordingForm>(["wide CSV", "long CSV", "JSON lines", "SenML"])("%s comes back as it was written", (form) => {
  const plain = (list: readonly Recorded[]) =>
    list.map(({ at, name, value, unit }) => `${at} ${name} ${value} ${value === undefined ? "" : (unit ?? "")}`).sort();
  for (let seed = 1; seed <= 200; seed++) {
    const records = recordingOf(seeded(seed));
    const opened = openRecording(writeRecording(records, form));
    expect([seed, plain(opened.records)]).toEqual([seed, plain(records)]);
  }
});

test("in a wide table a thing has one column, whatever of it was not known; one that measures two things has two", () => {
  const at = T;
  const records: Recorded[] = [
    { at, name: "z.x" },
    { at, name: "z.door", value: "open" },
    { at: at + 1, name: "z.x", value: 20, unit: "°C" },
    { at: at + 2, name: "z.x", value: 68, unit: "°F" },
    { at: at + 2, name: "z.x", value: 45, unit: "%RH" },
    { at: at + 3, name: "z.x" },
  ];
  expect(writeRecording(records, "wide CSV").split("\n").slice(0, 4)).toEqual([
    "time,z.x °C,z.door,z.x %RH",
    "2026-03-14T08:00:00.000Z,nan,open,",
    "2026-03-14T08:00:00.001Z,20,,",
    "2026-03-14T08:00:00.002Z,20,,45",
  ]);
});

test("through all forms, one after another, and units that SenML has not", () => {
  const records: Recorded[] = [
    { at: T, name: "z.pump", value: 250, unit: "ml" },
    { at: T, name: "z.f", value: 68, unit: "°F" },
    { at: T + 1, name: "z.air", value: 90, unit: "m³/h" },
    { at: T + 2, name: "z.dust", value: 35, unit: "mg/m³" },
  ];
  const through = (["JSON lines", "wide CSV", "long CSV", "SenML"] as const).reduce<readonly Recorded[]>(
    (list, form) => readRecording(writeRecording(list, form)),
    records,
  );
  const inOwn = through.map(
    ({ value, unit }, index) => convert({ value: value as number, unit: unit as Unit }, records[index]?.unit as Unit).value,
  );
  records.forEach(({ value }, index) => expect(inOwn[index]).toBeCloseTo(value as number, 9));
});

test.each<[string, string, Unit | undefined]>([
  ["z.x [°F]", "z.x", "°F"],
  ["z.x °F", "z.x", "°F"],
  ["Bench air [%RH]", "Bench air", "%RH"],
  ["Bench air (°C)", "Bench air", "°C"],
  ["Living room", "Living room", undefined],
  ["Room A", "Room", "A"],
  ["Sensor number 3", "Sensor number 3", undefined],
])("the head %s is %s in %s", (head, name, unit) => {
  const [record] = readRecording(`time,${head}\n2026-03-14T08:00Z,21\n`);
  expect([record?.name, record?.unit]).toEqual([name, unit]);
});

test.each(["Bench air [degrees]", "z.x degrees", "outdoors °degrees"])("the head %s has a unit that nobody knows", (head) => {
  expect(() => readRecording(`time,${head}\n2026-03-14T08:00Z,21\n`)).toThrow('degrees", which is not a unit Modrik knows');
});
