// Instants as people say them: by the clock of the house, with the date where it is another day.
import { type Clock, dateOfDay, SECOND } from "../time/index.js";
import { writeTimeOfDay } from "../units/index.js";

/** `10:15`, `10:15:20`, and another day than that of `beside` as `2026-01-14 10:15`. */
export function sayInstant(clock: Clock, instant: number, beside: number): string {
  const { day, ms } = clock.local(instant);
  const time = writeTimeOfDay(ms - (ms % SECOND));
  return day === clock.local(beside).day ? time : `${dateOfDay(day)} ${time}`;
}
