// Times and lengths on the panel.
import { describe, expect, test } from "vitest";
import { ageOf, clockOf, dayOf, figureOf, lengthOf, momentOf, rangeOf } from "../src/say.js";

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;

describe("lengths", () => {
  test.each<[number, string, string]>([
    [-500, "0 s", "0 s"],
    [400, "0 s", "0 s"],
    [59.4 * SECOND, "59 s", "59 s"],
    [MINUTE, "1 min", "1 min"],
    [59.6 * MINUTE, "1 h", "60 min"],
    [89 * MINUTE, "1 h 29 min", "89 min"],
    [164 * MINUTE, "2 h 44 min", "3 h"],
    [24 * HOUR, "24 h", "24 h"],
    [47 * HOUR + 59.7 * MINUTE, "48 h", "48 h"],
    [5 * 24 * HOUR, "5 d", "5 d"],
  ])("%i ms is %s; ago, %s", (ms, length, age) => {
    expect(lengthOf(ms)).toBe(length);
    expect(ageOf(ms)).toBe(age);
  });
});

describe("moments, on the clock of the house", () => {
  const now = Date.parse("2026-03-28T22:30:00Z");
  test.each([
    ["2026-03-28T08:05:00Z", "09:05"],
    // Tomorrow, and near; the clock goes ahead that night.
    ["2026-03-29T04:00:00Z", "06:00"],
    ["2026-03-29T12:00:00Z", "Sun 29 Mar, 14:00"],
    ["2026-03-27T12:00:00Z", "Fri 27 Mar, 13:00"],
    ["2027-01-01T11:00:00Z", "Fri 1 Jan, 12:00"],
  ])("%s is %s", (instant, says) => expect(momentOf(instant, "Europe/Zurich", now)).toBe(says));

  test("with seconds, and days alone", () => {
    expect(clockOf("2026-03-28T23:59:58Z", "UTC", true)).toBe("23:59:58");
    expect(dayOf("2026-03-28T23:59:58Z", "Europe/Zurich")).toBe("Sun 29 Mar");
  });
});

test("ranges and figures", () => {
  expect([rangeOf([35, 60], "%RH"), rangeOf(["a", "b"])]).toEqual(["35..60 %RH", "a..b"]);
  expect([3, 2.345, 23.456, 234.56, -0.5].map(figureOf)).toEqual(["3", "2.35", "23.5", "235", "-0.50"]);
});
