// Instants and values as people say them.
import { ownOf, type Run, valueAt } from "../engine/index.js";
import { typeOf, type Value, type ValueType } from "../house/index.js";
import { type Clock, dateOfDay, SECOND } from "../time/index.js";
import { writeReading, writeTimeOfDay } from "../units/index.js";

/** `10:15`, `10:15:20`, and another day than that of `beside` as `2026-01-14 10:15`. */
export function sayInstant(clock: Clock, instant: number, beside: number): string {
  const { day, ms } = clock.local(instant);
  const time = writeTimeOfDay(ms - (ms % SECOND));
  return day === clock.local(beside).day ? time : `${dateOfDay(day)} ${time}`;
}

/** `2026-01-15 10:15`. */
export function sayDate(clock: Clock, instant: number): string {
  const { day, ms } = clock.local(instant);
  return `${dateOfDay(day)} ${writeTimeOfDay(ms - (ms % SECOND))}`;
}

/** A value of a thing with its unit: `41.9 %RH`, `open`, `22:30`, `unknown`. */
export function sayValue(type: ValueType, value: Value | undefined): string {
  if (value === undefined) return "unknown";
  if (typeof value === "string") return value;
  if (type.kind === "time") return writeTimeOfDay(value);
  return type.kind === "number" ? writeReading(value, type.unit) : String(value);
}

/**
 * What a sensor, output, dial, mode or let had at an instant of a run.
 * @throws RangeError when the house has no such thing
 */
export function readingOf(run: Run, thing: string, at: number): string {
  const type = typeOf(run.past.house, thing);
  const value = ownOf(valueAt(run.past.line({ kind: "value", of: thing }), at), type);
  return type.kind === "truth" ? (value === undefined ? "unknown" : String(value)) : sayValue(type, value);
}
