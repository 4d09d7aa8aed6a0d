// Where sentences may be broken into lines.
import { unbroken } from "@modrik/look/unbroken";
import { expect, test } from "vitest";

test.each([
  ["off above 20.5 °C", "off above 20.5_°C"],
  ["it turns on below 42 %RH (45 %RH - 3)", "it turns on below 42_%RH (45_%RH_-_3)"],
  ["closed for 3 min: true since 2026-11-30 22:49:46", "closed for 3_min: true since 2026-11-30 22:49:46"],
  ["3 h 20 min more: at rest", "3_h 20_min more: at rest"],
  ["a lamp - and its colour", "a lamp - and its colour"],
])("%s is broken between a number and its unit nowhere", (text, unit) => {
  expect(unbroken(text).replaceAll("\u00a0", "_")).toBe(unit);
});
