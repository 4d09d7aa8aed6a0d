// What a thing can hold: texts read, values said, and why something does not fit.
import { misfit, readTimeOfDay, readValue, type Slot, sayValue } from "modrik";
import { seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";

const degrees: Slot = { type: { kind: "number", unit: "°C" }, range: [14, 24] };
const step: Slot = { type: { kind: "number", unit: "K" } };
const count: Slot = { type: { kind: "number", unit: "" }, range: [0, 10] };
const mode: Slot = { type: { kind: "words", words: ["home", "away"], ordered: false } };
const time: Slot = { type: { kind: "time" } };
const colour: Slot = { type: { kind: "colour" } };

describe("a text is read as what a thing can hold", () => {
  test.each([
    [degrees, "20", 20],
    [degrees, "20.5 °C", 20.5],
    [degrees, "68 °F", 20],
    [degrees, "68°F", 20],
    [degrees, "14", 14],
    [degrees, "24 °C", 24],
    [step, "-0.5", -0.5],
    [step, "+2 K", 2],
    [count, "7", 7],
    [mode, "away", "away"],
    [time, "07:30", 27_000_000],
    [time, "22:15:30", 80_130_000],
    [time, "24:00", 86_400_000],
    [time, "06:45:50.4", 24_350_400],
    [time, "06:45:59.999", 24_359_999],
    [colour, "#ffbf00", "#ffbf00"],
  ])("%j reads %j as %j", (slot, text, value) => {
    const read = readValue(slot, text);
    expect("value" in read ? read.value : read.misfit).toEqual(typeof value === "number" ? expect.closeTo(value, 9) : value);
  });
});

describe("what does not fit says why", () => {
  test.each([
    [degrees, "13.9", "its range is 14..24 °C"],
    [degrees, "24.1", "its range is 14..24 °C"],
    [degrees, "20 °F", "its range is 14..24 °C"],
    [degrees, "20 %RH", "it is a number in °C, and its range is 14..24 °C"],
    [degrees, "20zzz", "it is a number in °C, and its range is 14..24 °C"],
    [degrees, "", "it is a number in °C, and its range is 14..24 °C"],
    [degrees, "1e3", "it is a number in °C, and its range is 14..24 °C"],
    [degrees, "constructor", "it is a number in °C, and its range is 14..24 °C"],
    [step, "half", "it is a number in K"],
    [count, "11", "its range is 0..10"],
    [count, "5 °C", "it is a number, and its range is 0..10"],
    [mode, "out", "it is one of home/away"],
    [mode, "", "it is one of home/away"],
    [mode, "toString", "it is one of home/away"],
    [time, "24:01", "it is a time of day such as 07:30"],
    [time, "7.30", "it is a time of day such as 07:30"],
    [time, "07:60", "it is a time of day such as 07:30"],
    [colour, "reddish", "it is a colour such as #ffbf00"],
    [colour, "#FFBF00", "it is a colour such as #ffbf00"],
  ])("%j does not read %j: %s", (slot, text, why) => {
    expect(readValue(slot, text)).toEqual({ misfit: why });
  });
});

describe("what is said is read back", () => {
  test.each([
    [degrees, [14, 18.5, 24]],
    [step, [-2, 0, 0.5]],
    [mode, ["home", "away"]],
    [time, [0, 27_000_000, 80_130_000]],
    [colour, ["#000000", "#ffbf00"]],
  ] as const)("%j", (slot, values) => {
    for (const value of values) {
      expect(misfit(slot, value)).toBeUndefined();
      expect(readValue(slot, sayValue(slot.type, value))).toEqual({ value });
    }
  });

  test("unknown is said, and never read", () => {
    expect(sayValue(degrees.type, undefined)).toBe("unknown");
    expect(readValue(degrees, "unknown")).toHaveProperty("misfit");
  });
});

test("a time of day is read as it is written", () => {
  const random = seeded(7);
  for (let times = 0; times < 2000; times++) {
    const ms = Math.floor(random() * 86_400_000);
    expect(readTimeOfDay(sayValue({ kind: "time" }, ms))).toBe(ms);
  }
});

test("a time of day is one", () => {
  for (let minute = 0; minute <= 1440; minute++) {
    const text = `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
    expect(readTimeOfDay(text)).toBe(minute * 60_000);
  }
  for (const text of ["", ":", "7", "24:00:01", "25:00", "-1:00", "07:30 ", "٠٧:٣٠"]) expect(readTimeOfDay(text)).toBeUndefined();
});
