// Quantities: converting them, and writing them as people read them.
import {
  convert,
  fromBase,
  quantity,
  toBase,
  type Unit,
  units,
  writeDuration,
  writeFigure,
  writeQuantity,
  writeReading,
} from "modrik";
import { describe, expect, test } from "vitest";

const all = Object.keys(units) as Unit[];

describe("converting", () => {
  // Independent figures: the definitions of the units.
  test.each<[number, Unit, number, Unit]>([
    [68, "°F", 20, "°C"],
    [-40, "°C", -40, "°F"],
    [1, "kWh", 3.6, "MJ"],
    [1.2, "kW", 1200, "W"],
    [6, "l/min", 100, "ml/s"],
    [1, "m³/h", 1000, "l/h"],
    [1013.25, "hPa", 101325, "Pa"],
    [90, "km/h", 25, "m/s"],
    [1500, "ppb", 1.5, "ppm"],
    [0.5, "m³", 500_000, "ml"],
    [90, "min", 1.5, "h"],
    [35, "µg/m³", 0.035, "mg/m³"],
  ])("%d %s is %d %s", (value, unit, other, into) => {
    expect(convert(quantity(value, unit), into).value).toBeCloseTo(other, 9);
    expect(convert(quantity(other, into), unit).value).toBeCloseTo(value, 9);
  });

  test("goes there and back between all units that measure the same thing, and between no others", () => {
    for (const from of all) {
      for (const into of all) {
        const same = units[from].dimension === units[into].dimension;
        const there = () => convert(quantity(12.5, from), into);
        if (!same) expect(there).toThrow(/cannot convert/);
        else expect(convert(there(), from).value).toBeCloseTo(12.5, 9);
      }
    }
  });

  test("through the base unit changes nothing", () => {
    for (const unit of all) expect(fromBase(toBase(quantity(7.25, unit)), unit)).toBeCloseTo(7.25, 9);
  });
});

describe("writing", () => {
  test.each<[string, string]>([
    [writeQuantity(quantity(20 - 0.4, "°C")), "19.6 °C"],
    [writeQuantity(quantity(0.1 + 0.2, "kW")), "0.3 kW"],
    [writeQuantity(quantity(12, "")), "12"],
    [writeQuantity(quantity(90_000, "ms")), "1 min 30 s"],
    [writeDuration(0), "0 ms"],
    [writeDuration(90.5e3), "1 min 30.5 s"],
    [writeDuration(86_400e3 + 3_600e3), "1 d 1 h"],
    [writeDuration(-5e3), "-5 s"],
    [writeReading(49.97, "%RH"), "50 %RH"],
    [writeReading(49.97, "%RH", 50), "49.97 %RH"],
    [writeReading(50, "%RH", 49.97), "50 %RH"],
    [writeReading(209.6, "lx"), "210 lx"],
    [writeReading(209.6, "lx", 210), "209.6 lx"],
    [writeReading(20, "°C", 20), "20 °C"],
    [writeReading(19.99999, "°C", 20), "19.99999 °C"],
    [writeReading(21.26, "°C", Number.NaN), "21.3 °C"],
    [writeReading(0.0043, "m³"), "0.0043 m³"],
    [writeReading(0.5, "%"), "0.5 %"],
    [writeReading(0.04, "K"), "0.04 K"],
    [writeReading(0, "%"), "0 %"],
    [writeFigure(20.05, "°C"), "20.05 °C"],
    [writeFigure(0.003, "m³"), "0.003 m³"],
    [writeFigure(60.25, "%RH"), "60.25 %RH"],
    [writeFigure(55 / 3, "°C"), "18.333 °C"],
    [writeFigure(42, "%RH"), "42 %RH"],
  ])("%s reads %s", (written, reads) => {
    expect(written).toBe(reads);
  });
});
