// Things as the W3C describes them (Thing Description 1.1, its binding to MQTT), read into a house.
import { FormatError, isThingDescription, readThings } from "@modrik/formats";
import { isSound, parseHouse, readConfirmation, readMessage, writeMessages } from "modrik";
import { describe, expect, test } from "vitest";

const thing = (more: object) =>
  JSON.stringify({
    "@context": "https://www.w3.org/2022/wot/td/v1.1",
    title: "Workshop air",
    securityDefinitions: { nosec_sc: { scheme: "nosec" } },
    security: ["nosec_sc"],
    ...more,
  });

const mqtt = (topic: string, more: object = {}) => [{ href: "mqtt://192.168.1.187:1883", "mqv:filter": topic, ...more }];

/** The illuminance sensor of the standard's own example of a thing over MQTT. */
const illuminance = JSON.stringify({
  "@context": "https://www.w3.org/2022/wot/td/v1.1",
  title: "MyIlluminanceSensor",
  id: "urn:dev:ops:32473-WoTIlluminanceSensor-1234",
  securityDefinitions: { nosec_sc: { scheme: "nosec" } },
  security: ["nosec_sc"],
  events: {
    illuminance: {
      data: { type: "integer" },
      forms: [{ href: "mqtt://192.168.1.187:1883/illuminance", contentType: "text/plain", op: "subscribeevent" }],
    },
  },
});

/** The lamp of the standard's first example: over HTTP alone. */
const lamp = JSON.stringify({
  "@context": "https://www.w3.org/2022/wot/td/v1.1",
  id: "urn:uuid:0804d572-cce8-422a-bb7c-4412fcd56f06",
  title: "MyLampThing",
  securityDefinitions: { basic_sc: { scheme: "basic", in: "header" } },
  security: ["basic_sc"],
  properties: { status: { type: "string", forms: [{ href: "https://mylamp.example.com/status" }] } },
  actions: { toggle: { forms: [{ href: "https://mylamp.example.com/toggle" }] } },
  events: {
    overheating: { data: { type: "string" }, forms: [{ href: "https://mylamp.example.com/oh", subprotocol: "longpoll" }] },
  },
});

/** The sound house that is made of it. */
function houseOf(text: string) {
  const { text: made, notes } = readThings(text);
  const parsed = parseHouse({ "house.modrik": made });
  expect(parsed.problems.filter(({ severity }) => severity === "error")).toEqual([]);
  expect(isSound(parsed)).toBe(true);
  return { house: parsed.house, made, notes };
}

describe("the standard's own examples", () => {
  test("the illuminance sensor is a sensor on its topic", () => {
    const { house, notes } = houseOf(illuminance);
    expect(house.sensors).toMatchObject([{ name: "my_illuminance_sensor.illuminance", type: { kind: "number", unit: "" } }]);
    expect(readMessage(house, "illuminance", "1200")).toEqual([{ sensor: "my_illuminance_sensor.illuminance", value: 1200 }]);
    expect(notes).toEqual([]);
  });

  test("the lamp speaks no MQTT, which is said", () => {
    expect(isThingDescription(lamp)).toBe(true);
    expect(() => readThings(lamp)).toThrow(new FormatError("Nothing of it has a form over MQTT."));
  });
});

describe("what is described becomes a house", () => {
  test("a property that is read, with its unit and range", () => {
    const { house } = houseOf(
      thing({
        properties: {
          airTemperature: {
            title: "Air",
            type: "number",
            unit: "om2:degreeCelsius",
            minimum: -20,
            maximum: 60,
            readOnly: true,
            forms: mqtt("air/t"),
          },
          humidity: { type: "number", unit: "percent", readOnly: true, forms: mqtt("air/h") },
          "co-2": { type: "integer", unit: "ppm", readOnly: true, forms: mqtt("air/co2") },
        },
      }),
    );
    expect(house.sensors).toMatchObject([
      { name: "workshop_air.air_temperature", title: "Air", type: { unit: "°C" }, range: [-20, 60] },
      { name: "workshop_air.humidity", type: { unit: "%RH" } },
      { name: "workshop_air.co_2", type: { unit: "ppm" } },
    ]);
    expect(readMessage(house, "air/t", "21.5")).toEqual([{ sensor: "workshop_air.air_temperature", value: 21.5 }]);
  });

  test("an object of several readings is a sensor each, by pointers", () => {
    const data = { type: "object", properties: { temperature: { type: "number", unit: "celsius" }, "a/b": { type: "number" } } };
    const { house } = houseOf(thing({ events: { air: { data, forms: mqtt("air") } } }));
    expect(readMessage(house, "air", '{"temperature": 20, "a/b": 7}')).toEqual([
      { sensor: "workshop_air.air_temperature", value: 20 },
      { sensor: "workshop_air.air_a_b", value: 7 },
    ]);
  });

  test("a property that is written is an output, and confirms where it is told", () => {
    const { house } = houseOf(
      thing({
        properties: {
          heating: {
            type: "boolean",
            forms: [
              {
                href: "mqtt://host",
                op: "writeproperty",
                "mqv:controlPacket": "publish",
                "mqv:topic": "heat/set",
                "mqv:retain": true,
              },
              {
                href: "mqtt://host",
                op: ["readproperty", "observeproperty"],
                "mqv:controlPacket": "subscribe",
                "mqv:filter": "heat/is",
              },
            ],
          },
          brightness: { type: "integer", unit: "%", minimum: 0, maximum: 100, forms: mqtt("light", { op: "writeproperty" }) },
          setpoint: { type: "number", unit: "°C", minimum: 5, maximum: 30, forms: mqtt("valve", { op: "writeproperty" }) },
        },
      }),
    );
    expect(writeMessages(house, "workshop_air.heating", "on")).toEqual([{ topic: "heat/set", text: "true", retained: true }]);
    expect(readConfirmation(house, "heat/is", "false")).toEqual([{ output: "workshop_air.heating", value: "off" }]);
    expect(writeMessages(house, "workshop_air.brightness", 40)).toEqual([{ topic: "light", text: "40" }]);
    expect(house.outputs.find(({ name }) => name === "workshop_air.setpoint")).toMatchObject({ range: [5, 30], atRest: 5 });
  });

  test("listed words are states, whatever they are written as", () => {
    const { house } = houseOf(
      thing({
        properties: { door: { type: "string", enum: ["OPEN", "Half-open", "closed"], readOnly: true, forms: mqtt("door") } },
      }),
    );
    expect(house.sensors[0]?.type).toMatchObject({ kind: "words", words: ["open", "half_open", "closed"] });
    expect(readMessage(house, "door", "Half-open")).toEqual([{ sensor: "workshop_air.door", value: "half_open" }]);
  });

  test("an event without data is a button; an action with an input is an output", () => {
    const { house } = houseOf(
      thing({
        events: { pressed: { forms: mqtt("button") } },
        actions: { fan: { input: { type: "boolean" }, forms: mqtt("fan/set") }, reboot: { forms: mqtt("reboot") } },
      }),
    );
    expect(house.sensors).toMatchObject([{ name: "workshop_air.pressed", type: { kind: "press" } }]);
    expect(house.outputs).toMatchObject([{ name: "workshop_air.fan" }]);
  });

  test("several things are several zones, and names that are none become some", () => {
    const one = (title: string, key: string) =>
      JSON.parse(thing({ title, properties: { [key]: { type: "number", readOnly: true, forms: mqtt(`${title}/${key}`) } } }));
    const { house, made } = houseOf(JSON.stringify([one("Zone", "on"), one("Zone", "7"), one('Küche "1" {x}', "__proto")]));
    expect(house.sensors.map(({ name }) => name)).toHaveLength(3);
    expect(new Set(house.zones.map(({ name }) => name)).size).toBe(3);
    expect(house.zones.map(({ title }) => title)).toContain('Küche "1" {x}');
    expect(made.startsWith('house "Things"')).toBe(true);
  });

  test.each<[string, object, RegExp]>([
    [
      "a property over HTTP",
      { properties: { p: { type: "number", forms: [{ href: "https://x" }] } } },
      /property p is left out: it has no form over MQTT/,
    ],
    [
      "a value that is none",
      { properties: { p: { type: "null", readOnly: true, forms: mqtt("p") } } },
      /p is left out: values of type null/,
    ],
    [
      "an object of nothing",
      { events: { e: { data: { type: "object" }, forms: mqtt("e") } } },
      /does not say what its object holds/,
    ],
    ["an action without a state", { actions: { a: { forms: mqtt("a") } } }, /action a is left out: it has no state/],
    ["a topic of many", { properties: { p: { type: "number", readOnly: true, forms: mqtt("a/#") } } }, /property p is left out/],
  ])("%s is left out, and said", (_, more, says) => {
    const rest = {
      properties: { ok: { type: "number", readOnly: true, forms: mqtt("ok") }, ...(more as { properties?: object }).properties },
    };
    expect(readThings(thing({ ...more, ...rest })).notes.join("\n")).toMatch(says);
  });
});

test.each<[string, string]>([
  ["no JSON", "{"],
  ["a number", "7"],
  ["a house", '{"name": "x", "zones": []}'],
  ["a list of nothing", "[]"],
  ["a description of nothing", '{"title": "x"}'],
])("%s is no description of a thing", (_, text) => {
  expect(isThingDescription(text)).toBe(false);
  expect(() => readThings(text)).toThrow(FormatError);
});
