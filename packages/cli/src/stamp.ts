import { type Clock, sayDate } from "modrik";

/** A moment at the head of a line: to the second also where a minute is full, so that what comes after stands in a column. */
export const stamp = (clock: Clock, at: number) => `${sayDate(clock, at)}:00`.slice(0, "2026-01-15 10:15:20".length);
