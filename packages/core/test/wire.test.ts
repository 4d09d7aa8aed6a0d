// Messages: what sensors read in them, what outputs say by them, and how outputs are told.
import {
  checkHouse,
  confirmationMessages,
  type House,
  Listener,
  parseHouse,
  readCommand,
  readConfirmation,
  readingMessages,
  readMessage,
  runTrials,
  type Value,
  writeHouse,
  writeMessages,
} from "modrik";
import { describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";

const { house, problems } = parseHouse({
  "a.modrik": `
    house "A" { clock "UTC" }
    zone z {
      sensor plain: °C
      sensor pointed: °C
      sensor deep: °C
      sensor record: °C
      sensor scaled: °C, scale 0.1, offset -0.5 K
      sensor line: %RH, reads 200 as 0 %RH and 1000 as 100 %RH
      sensor door: open/closed
      sensor lid: open/closed
      sensor flag: open/closed
      output heater: on/off
      output lamp: on/off
      output valve: %
    }
    wire mqtt {
      z.plain from "plain"
      z.pointed from "json" at "/temperature"
      z.deep from "json" at "/a~1b/1/~0c"
      z.record from "senml" record "temp"
      z.scaled from "scaled"
      z.line from "line"
      z.door from "door" reading "1" as open, "0" as closed
      z.lid from "json" at "/lid"
      z.flag from "flag" record "open" reading "true" as open, "false" as closed
      z.heater to "heater/wanted" writing on as "1", off as "0" confirmed by "heater/actual"
      z.lamp to "lamp" confirmed by "lamp/actual"
      z.valve to "valve" writing "opens {value} of {value}" confirmed by "valve/actual"
    }`,
});

test("the house is sound", () => expect(problems).toEqual([]));

const reads = (sensor: string, topic: string, text: string) =>
  readMessage(house, topic, text).find((one) => one.sensor === `z.${sensor}`)?.value;

describe("a plain number", () => {
  test.each([
    ["21.5", 21.5],
    [" 21.5\n", 21.5],
    ["-3", -3],
    ["+3", 3],
    ["1e1", 10],
    ["", undefined],
    [" ", undefined],
    ["NaN", undefined],
    ["Infinity", undefined],
    ["1e999", undefined],
    ["0x15", undefined],
    ["21,5", undefined],
    ["21.5 °C", undefined],
    ["true", undefined],
    ["{}", undefined],
  ])("%j reads %j", (text, value) => expect(reads("plain", "plain", text)).toBe(value));
});

describe("calibrated", () => {
  test.each([
    ["scaled", "215", 21],
    ["scaled", "0", -0.5],
    ["line", "200", 0],
    ["line", "1000", 100],
    ["line", "600", 50],
    ["line", "100", -12.5],
  ])("%s of %j is %j", (sensor, text, value) => expect(reads(sensor, sensor, text)).toBeCloseTo(value, 9));
});

describe("a place in JSON (RFC 6901)", () => {
  test.each([
    ["pointed", { temperature: 20 }, 20],
    ["pointed", { temperature: "20.5" }, 20.5],
    ["pointed", { temperature: null }, undefined],
    ["pointed", { temperature: [20] }, undefined],
    ["pointed", { temperature: true }, undefined],
    ["pointed", {}, undefined],
    ["pointed", [20], undefined],
    ["pointed", 20, undefined],
    ["deep", { "a/b": [0, { "~c": 7 }] }, 7],
    ["deep", { "a/b": { "1": { "~c": 8 } } }, 8],
    ["deep", { "a/b": [{ "~c": 7 }] }, undefined],
    ["lid", { lid: "open" }, "open"],
    ["lid", { lid: "ajar" }, undefined],
    ["lid", JSON.parse('{"__proto__": {"lid": "open"}}'), undefined],
  ])("%s of %j is %j", (sensor, json, value) => expect(reads(sensor, "json", JSON.stringify(json))).toBe(value));

  test("what is no JSON is not read", () => expect(reads("pointed", "json", "{temperature: 20}")).toBeUndefined());
});

describe("a record of SenML (RFC 8428)", () => {
  test.each([
    ["by its name", [{ n: "temp", v: 20 }], 20],
    ["by its whole name", [{ bn: "te", n: "mp", v: 20 }], 20],
    ["a base name alone", [{ bn: "temp", v: 20 }], 20],
    [
      "a base name that holds on",
      [
        { bn: "te", n: "x", v: 1 },
        { n: "mp", v: 20 },
      ],
      20,
    ],
    [
      "a base name that ended",
      [
        { bn: "te", n: "x", v: 1 },
        { bn: "y", n: "mp", v: 20 },
      ],
      undefined,
    ],
    [
      "a base value",
      [
        { bv: 15, n: "x", v: 1 },
        { n: "temp", v: 5 },
      ],
      20,
    ],
    ["a text", [{ n: "temp", vs: "20" }], 20],
    [
      "the latest of several",
      [
        { bt: 100, n: "temp", t: 5, v: 20 },
        { n: "temp", t: -5, v: 19 },
      ],
      20,
    ],
    [
      "the last of equal times",
      [
        { n: "temp", v: 19 },
        { n: "temp", v: 20 },
      ],
      20,
    ],
    [
      "one without a value",
      [
        { n: "temp", v: 20 },
        { n: "temp", s: 3 },
      ],
      20,
    ],
    ["a truth", [{ n: "temp", vb: true }], undefined],
    ["none", [{ n: "humidity", v: 20 }], undefined],
    ["no list", { n: "temp", v: 20 }, undefined],
    ["what is no record", [null, 7, "temp", { n: "temp", v: 20 }], 20],
    ["a field that has to be understood", [{ n: "temp", v: 20, quality_: 1 }], undefined],
  ])("%s", (_, json, value) => expect(reads("record", "senml", JSON.stringify(json))).toBe(value));

  test.each([
    [true, "open"],
    [false, "closed"],
  ])("a truth of %j is a word", (vb, value) => expect(reads("flag", "flag", JSON.stringify([{ n: "open", vb }]))).toBe(value));
});

test.each([
  ["door", "1", "open"],
  ["door", "0", "closed"],
  ["door", "open", "open"],
  ["door", "01", undefined],
  ["door", "", undefined],
])("the word of %s in %j is %j", (sensor, text, value) => expect(reads(sensor, sensor, text)).toBe(value));

test("a topic is read by those who are wired to it alone", () => {
  expect(readMessage(house, "json", "{}").map(({ sensor }) => sensor)).toEqual(["z.pointed", "z.deep", "z.lid"]);
  expect(readMessage(house, "JSON", "{}")).toEqual([]);
  expect(readMessage(house, "heater/actual", "1")).toEqual([]);
  expect(readConfirmation(house, "plain", "1")).toEqual([]);
});

describe("outputs are told", () => {
  test.each([
    ["heater", "on", "heater/wanted", "1"],
    ["heater", "off", "heater/wanted", "0"],
    ["lamp", "on", "lamp", "on"],
    ["valve", 40, "valve", "opens 40 of 40"],
    ["valve", 0.1 + 0.2, "valve", "opens 0.3 of 0.3"],
  ] as const)("%s is %j", (output, value, topic, text) => {
    expect(writeMessages(house, `z.${output}`, value)).toEqual([{ topic, text }]);
  });

  test("what is not wired is told nobody", () => expect(writeMessages(house, "z.fan", "on")).toEqual([]));
});

describe("and confirm", () => {
  test.each([
    ["heater/actual", "1", "z.heater", "on"],
    ["heater/actual", "on", "z.heater", "on"],
    ["heater/actual", "2", undefined, undefined],
    ["lamp/actual", "off", "z.lamp", "off"],
    ["valve/actual", " 40 ", "z.valve", 40],
    ["valve/actual", "", undefined, undefined],
    ["valve/actual", "open", undefined, undefined],
  ])("on %s by %j", (topic, text, output, value) => {
    expect(readConfirmation(house, topic, text)).toEqual(output === undefined ? [] : [{ output, value }]);
  });

  test("what an output is told it reads back", () => {
    for (const output of ["heater", "lamp"])
      for (const value of ["on", "off"])
        for (const { text } of writeMessages(house, `z.${output}`, value))
          expect(readConfirmation(house, `${output}/actual`, text)).toEqual([{ output: `z.${output}`, value }]);
  });
});

describe("the two ends of the wire", () => {
  const { house: yard } = parseLindenYard();

  /** Values that a thing can have: of numbers some within its range, with decimals. */
  function valuesOf({ type, range = [-20, 100] }: House["sensors"][number] | House["outputs"][number]): Value[] {
    if (type.kind === "words") return [...type.words];
    if (type.kind === "colour") return ["#000000", "#ffbf00", "#ffffff"];
    if (type.kind !== "number") return [];
    const [low, high] = range.map(Number) as [number, number];
    return [low, high, low + (high - low) / 3, low + (high - low) * 0.618].map((value) => Number(value.toFixed(3)));
  }

  const wired = (of: House, kind: "reading" | "writing", name: string) =>
    of.wirings.some(
      (one) => one.kind === kind && (one.kind === "reading" ? one.sensor : one.kind === "writing" ? one.output : "") === name,
    );

  test.each([
    ["this house", house],
    ["Linden Yard", yard],
  ])("%s: what devices say is read as what they meant", (_, of) => {
    const sensors = of.sensors.filter(({ name }) => wired(of, "reading", name));
    for (const sensor of sensors)
      for (const value of valuesOf(sensor)) {
        const others = new Map(sensors.map((one) => [one.name, valuesOf(one)[0]]));
        const messages = readingMessages(of, [sensor.name], (name) => (name === sensor.name ? value : others.get(name)));
        const read = messages
          .flatMap(({ topic, text }) => readMessage(of, topic, text))
          .find((one) => one.sensor === sensor.name)?.value;
        if (typeof value === "number") expect([sensor.name, read]).toEqual([sensor.name, expect.closeTo(value, 6)]);
        else expect([sensor.name, read]).toEqual([sensor.name, value]);
      }
    expect(sensors.length).toBeGreaterThan(5);
  });

  test.each([
    ["this house", house],
    ["Linden Yard", yard],
  ])("%s: what outputs are told is read as what was wanted, and so is what they confirm", (_, of) => {
    const outputs = of.outputs.filter(({ name }) => wired(of, "writing", name));
    for (const output of outputs)
      for (const value of valuesOf(output)) {
        const told = writeMessages(of, output.name, value).flatMap(({ topic, text }) => readCommand(of, topic, text));
        expect(told).toContainEqual({ output: output.name, value });
        const confirmed = confirmationMessages(of, output.name, value).flatMap(({ topic, text }) =>
          readConfirmation(of, topic, text),
        );
        expect(confirmed.every((one) => one.output === output.name && one.value === value)).toBe(true);
      }
    expect(outputs.length).toBeGreaterThan(2);
  });

  test.each([
    ["opens 5 of 6", []],
    ["opens 5", []],
    ["opens x of x", []],
    ["opens 5 of 5", [{ output: "z.valve", value: 5 }]],
  ])("%j is read as %j", (text, told) => expect(readCommand(house, "valve", text)).toEqual(told));
});

describe("buttons", () => {
  const remote = parseHouse({
    "a.modrik": `house "A" { clock "UTC" }
      zone z {
        sensor bell: press
        sensor once: press
        sensor twice: press
        sensor any: press
        sensor level: %
        output lamp: on/off
      }
      wire mqtt {
        z.bell from "bell"
        z.once from "remote" at "/action" reading "single" as pressed
        z.twice from "remote" at "/action" reading "double" as pressed, "triple" as pressed
        z.any from "other" at "/action"
        z.level from "level" reading "empty" as 0 %, "full" as 100 %
      }
      rule r { when z.once is pressed do { toggle z.lamp } }
      trial t {
        from 2026-03-14 08:00
        at 08:10 message "remote" reads "{{\\"action\\": \\"double\\"}}"
        at 08:20 message "remote" reads "{{\\"battery\\": 80}}"
        at 08:30 message "remote" reads "{{\\"action\\": \\"single\\"}}"
        expect z.lamp is off from 08:00 to 08:30
        expect z.lamp is on at 08:30
      }`,
  });
  const heard = (topic: string, text: string) =>
    new Listener(remote.house).hear(topic, text).map((one) => ("sensor" in one ? `${one.kind} ${one.sensor}` : one.kind));

  test.each<[topic: string, text: string, presses: string[]]>([
    ["bell", "ding", ["pressed z.bell"]],
    ["bell", "", ["pressed z.bell"]],
    ["remote", '{"action": "single"}', ["pressed z.once"]],
    ["remote", '{"action": "triple"}', ["pressed z.twice"]],
    ["remote", '{"action": "long"}', []],
    ["remote", '{"battery": 90}', []],
    ["remote", "single", []],
    ["other", '{"action": "long"}', ["pressed z.any"]],
    ["other", '{"action": ""}', []],
    ["other", '{"battery": 90}', []],
  ])("%s: %s", (topic, text, presses) => expect(heard(topic, text)).toEqual(presses));

  test("the house is sound, nothing is found in it, and its trial passes", () => {
    expect(remote.problems).toEqual([]);
    expect(checkHouse(remote.house).filter(({ code }) => code === "one-source-twice")).toEqual([]);
    expect(runTrials(remote.house).map(({ passed }) => passed)).toEqual([true]);
    expect(parseHouse({ "a.modrik": writeHouse(remote.house) }).house).toEqual(remote.house);
  });

  test("a device says what is heard", () => {
    for (const button of ["z.bell", "z.once", "z.twice", "z.any"]) {
      const [message] = readingMessages(remote.house, [button], (one) => (one === button ? "pressed" : undefined));
      expect(heard(message?.topic ?? "", message?.text ?? "")).toEqual([`pressed ${button}`]);
    }
  });

  test("a number may have texts too", () => {
    const level = (text: string) => readMessage(remote.house, "level", text)[0]?.value;
    expect([level("full"), level("empty"), level("40"), level("half")]).toEqual([100, 0, 40, undefined]);
  });
});
