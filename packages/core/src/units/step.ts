// How finely people tell values apart.
import { type Unit, units } from "./catalogue.js";

const fine: ReadonlySet<Unit> = new Set<Unit>(["°C", "°F", "K", "%RH", "kPa", "m/s", "pH"]);
const MINUTE = 60_000;

/** The step in which people tell values of a unit, in its base unit: a tenth of a kelvin, one lux, a minute. */
export function stepOf(unit: Unit): number {
  if (units[unit].dimension === "duration") return MINUTE;
  return (fine.has(unit) ? 0.1 : 1) * units[unit].factor;
}
