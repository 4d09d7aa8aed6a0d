// Instants and values as people say them.
import type { Past } from "../engine/index.js";
import { ownOf, sayValue, typeOf } from "../house/index.js";
import { type Clock, dateOfDay, SECOND } from "../time/index.js";
import { writeTimeOfDay } from "../units/index.js";

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

/**
 * What a sensor, output, dial, mode or let had at an instant of a run.
 * @throws RangeError when the house has no such thing
 */
export function readingOf(run: { readonly past: Pick<Past, "house" | "value"> }, thing: string, at: number): string {
  const type = typeOf(run.past.house, thing);
  const value = ownOf(run.past.value({ kind: "value", of: thing }, at), type);
  return sayValue(type, value);
}
