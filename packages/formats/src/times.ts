// Times as recordings write them.
import { clockOf, DAY, dayOfDate, HOUR, MINUTE, SECOND } from "modrik";
import { FormatError } from "./format-error.js";
import type { Notes } from "./notes.js";

export interface TimeOptions {
  /** The IANA time zone of times without an offset. @default such times are refused */
  readonly clock?: string;
  /** The instant that relative times of SenML count from. @default such times are refused */
  readonly now?: number;
}

const DATE =
  /^(?:(\d{4})-(\d{2})-(\d{2})|(\d{1,2})\.(\d{1,2})\.(\d{4}))[T ]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?\s*(Z|[+-]\d{2}:?\d{2})?$/i;

/** Reads one time after another: a date and a time, with an offset or on a clock; or seconds or milliseconds since 1970. */
export class Times {
  readonly #clock: string | undefined;
  readonly #notes: Notes;
  #last = Number.NEGATIVE_INFINITY;

  constructor({ clock }: TimeOptions, notes: Notes) {
    this.#clock = clock;
    this.#notes = notes;
  }

  /** @throws FormatError when it is not a time */
  read(text: string, where: string): number {
    const at = this.#read(text.trim(), where);
    this.#last = at;
    return at;
  }

  #read(text: string, where: string): number {
    if (/^\d{9,10}(\.\d+)?$/.test(text)) return Math.round(Number(text) * SECOND);
    if (/^\d{12,13}$/.test(text)) return Number(text);
    const found = DATE.exec(text);
    const [, y, mo, d, gd, gmo, gy, h, min, s = "0", fraction = "", offset] = found ?? [];
    const day = found && dayOfDate(Number(y ?? gy), Number(mo ?? gmo), Number(d ?? gd));
    const ms = Number(h) * HOUR + Number(min) * MINUTE + Number(s) * SECOND + Math.round(Number(`0.${fraction || 0}`) * SECOND);
    if (day === undefined || day === null || Number(h) > 24 || Number(min) > 59 || Number(s) > 59 || ms > DAY)
      return refuse(text, where);
    if (offset !== undefined) return day * DAY + ms - minutesOf(offset) * MINUTE;
    if (this.#clock === undefined) return refuse(text, where);
    return this.#onClock(this.#clock, day, ms, where);
  }

  /** A time that comes twice, as clocks go back, is the second one where the first would be before the line above. */
  #onClock(zone: string, day: number, ms: number, where: string): number {
    const clock = clockOf(zone);
    const first = clock.instant(day, ms);
    const second = first + HOUR;
    const shows = (at: number) => {
      const local = clock.local(at);
      return local.day * DAY + local.ms === day * DAY + ms;
    };
    if (!shows(first))
      this.#notes.count("at a time that the clock left out as it went forward", "taken as the first instant after it", where);
    else if (shows(second)) {
      this.#notes.count("at a time that came twice as the clock went back", "taken in the order of the file", where);
      if (first < this.#last) return second;
    }
    return first;
  }
}

function minutesOf(offset: string): number {
  if (/^z$/i.test(offset)) return 0;
  const [, sign, hours, minutes] = /^([+-])(\d{2}):?(\d{2})$/.exec(offset) ?? [];
  return (sign === "-" ? -1 : 1) * (60 * Number(hours) + Number(minutes));
}

function refuse(text: string, where: string): never {
  throw new FormatError(
    `${where[0]?.toUpperCase()}${where.slice(1)}: "${text}" is not a time. Write 2026-01-15T07:00:00Z, or with an offset such as +01:00; without one, name the time zone.`,
  );
}
