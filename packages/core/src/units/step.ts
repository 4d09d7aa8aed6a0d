// How finely people tell values apart.
import { type Unit, units } from "./catalogue.js";
import { fromBase } from "./quantity.js";

const fine: ReadonlySet<Unit> = new Set<Unit>([
  "°C",
  "°F",
  "K",
  "%RH",
  "g/m³",
  "kPa",
  "kW",
  "V",
  "A",
  "Hz",
  "kg",
  "m",
  "m/s",
  "pH",
]);
const MINUTE = 60_000;

/** The step in which people tell values of a unit, in its base unit: a tenth of a kelvin, one lux, a minute. */
export function stepOf(unit: Unit): number {
  if (units[unit].dimension === "duration") return MINUTE;
  return (fine.has(unit) ? 0.1 : 1) * units[unit].factor;
}

/** A move that makes a plain difference: a twentieth of the value or ten steps, whichever is more; both in the base unit. */
export function plainMove(base: number, unit: Unit): number {
  const step = stepOf(unit);
  const twentieth = Number.isNaN(base) ? 0 : (Math.abs(fromBase(base, unit)) * units[unit].factor) / 20;
  return Math.max(10, Math.round(twentieth / step)) * step;
}
