// Quantities: a value with its unit. Inside the engine every number stands in the base unit of its dimension
// (`catalogue.ts`); °C and °F are absolute, K is a difference, and a difference in °F has no 32 in it.
import { type Dimension, type Unit, units } from "./catalogue.js";

/** A number with its unit; durations are always whole milliseconds with the unit `ms`. */
export interface Quantity<Of extends Unit = Unit> {
  readonly value: number;
  readonly unit: Of;
}

/** A quantity as plain data. */
export function quantity<Of extends Unit>(value: number, unit: Of): Quantity<Of> {
  return { value, unit };
}

export function dimensionOf(unit: Unit): Dimension {
  return units[unit].dimension;
}

/** The value in the base unit of its dimension. */
export function toBase({ value, unit }: Quantity): number {
  const { factor, zero } = units[unit];
  return (value - zero) * factor;
}

/** A value in base units, expressed in `unit`. */
export function fromBase(value: number, unit: Unit): number {
  const { factor, zero } = units[unit];
  return value / factor + zero;
}

/** °C and °F read as a difference: the same step, without the zero point. */
export function differenceInBase({ value, unit }: Quantity): number {
  return value * units[unit].factor;
}

/**
 * The same quantity in another unit.
 * @throws RangeError when the two units do not measure the same thing
 */
export function convert(from: Quantity, unit: Unit): Quantity {
  if (dimensionOf(from.unit) !== dimensionOf(unit)) {
    throw new RangeError(`cannot convert ${from.unit} to ${unit}: ${dimensionOf(from.unit)} is not ${dimensionOf(unit)}`);
  }
  return { value: fromBase(toBase(from), unit), unit };
}

/** The unit of a difference between two values of a unit: of temperatures K, of all else the same. */
export function differenceUnit(unit: Unit): Unit {
  return units[unit].dimension === "temperature" ? "K" : unit;
}

/** Relative width within which two numbers in base units count as equal. */
const EQUAL = 1e-9;

/** Whether two numbers in base units are equal: they differ by less than 1e-9 of the larger, or of one base unit. */
export function equalNumbers(a: number, b: number): boolean {
  if (a === b) return true;
  const scale = Math.max(1, Math.abs(a), Math.abs(b));
  return Math.abs(a - b) < EQUAL * scale;
}
