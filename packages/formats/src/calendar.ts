// iCalendar (RFC 5545): the events of a calendar file as the core takes them. Recurrences are followed on the wall clock of
// the zone that the event is in, and become instants last: that is what the RFC asks for where a clock changes.
import ICAL from "ical.js";
import { type CalendarEvent, DAY, type EventMoment } from "modrik";
import { FormatError } from "./format-error.js";
import { RRule } from "./recurrence.js";
import { floating, inInstant, type Wall, type WallZone, zonesOf } from "./wall-zone.js";

export interface CalendarOptions {
  /** An event that recurs for ever is followed for so many years; 30 when absent. */
  readonly years?: number;
  /** From when on they count, in milliseconds since 1970, where the event begins before; its own beginning when absent. */
  readonly from?: number;
}

/** No calendar of a house comes near it. */
const MOST_TIMES = 50_000;

/**
 * Every time of every event of a calendar, recurrences followed and exceptions left out, by their beginning. All-day
 * events, and those without a time zone, are at the local time of the house; others are instants.
 * @throws FormatError when the text is no iCalendar, or an event of it cannot be followed
 */
export function readCalendar(text: string, options: CalendarOptions = {}): CalendarEvent[] {
  if (!/^\s*BEGIN:VCALENDAR\b/i.test(text))
    throw new FormatError("This is not an iCalendar file: one begins with BEGIN:VCALENDAR and ends with END:VCALENDAR.");
  try {
    return eventsIn(new ICAL.Component(ICAL.parse(text)), options);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError(`The calendar does not follow RFC 5545: ${(error as Error).message}.`);
  }
}

function eventsIn(calendar: ICAL.Component, options: CalendarOptions): CalendarEvent[] {
  const zoneOf = zonesOf(calendar);
  const events = calendar.getAllSubcomponents("vevent").map((component) => new CalendarEntry(component, zoneOf));
  const series = events.filter(({ recurrence }) => recurrence === undefined);
  const changed = events.filter(({ recurrence }) => recurrence !== undefined);
  const known = new Set(series.map(({ uid }) => uid));
  const times = series.flatMap((event) =>
    timesOf(
      event,
      changed.filter(({ uid }) => uid === event.uid),
      options,
    ),
  );
  // A changed time of a series that the file does not have stands for itself.
  const alone = changed.filter(({ uid, isCancelled }) => !known.has(uid) && !isCancelled);
  return [...times, ...alone.map((event) => event.spanAt(event.start))].sort((a, b) => order(a.from) - order(b.from));
}

/** An event of the file, its times on the wall clock of its zone. */
class CalendarEntry {
  readonly uid: string;
  readonly isCancelled: boolean;
  readonly zone: WallZone;
  /** On the clock of its zone, in milliseconds as if that clock showed UTC. */
  readonly start: Wall;
  /** Which time of a series it changes. */
  readonly recurrence: ICAL.Property | undefined;
  /** Changes all that come later too. */
  readonly andLater: boolean;
  readonly isAllDay: boolean;
  readonly #component: ICAL.Component;
  readonly #zoneOf: (property: ICAL.Property) => WallZone;

  constructor(component: ICAL.Component, zoneOf: (property: ICAL.Property) => WallZone) {
    this.#component = component;
    this.#zoneOf = zoneOf;
    this.uid = String(component.getFirstPropertyValue("uid") ?? "");
    this.isCancelled = component.getFirstPropertyValue("status") === "CANCELLED";
    const start = component.getFirstProperty("dtstart");
    const time = start?.getFirstValue();
    if (!start || !(time instanceof ICAL.Time)) throw new FormatError(`The event "${this.title}" has no start. Add a DTSTART.`);
    this.isAllDay = time.isDate;
    this.zone = zoneOf(start);
    this.start = wallOf(time);
    this.recurrence = component.getFirstProperty("recurrence-id") ?? undefined;
    this.andLater = this.recurrence?.getFirstParameter("range") === "THISANDFUTURE";
    if (component.getFirstProperty("exrule"))
      throw new FormatError(`The event "${this.title}" has an EXRULE, which RFC 5545 no longer knows. Use EXDATE.`);
  }

  get title(): string {
    return String(this.#component.getFirstPropertyValue("summary") ?? this.uid);
  }

  /** Its recurrence rules, as written. */
  get rules(): readonly string[] {
    return this.#component.getAllProperties("rrule").map((property) => String(property.getFirstValue()));
  }

  /** The times of `rdate` or `exdate`, on its own wall clock; a date stands for all of its day. */
  dates(name: "rdate" | "exdate"): { readonly at: Wall; readonly isDate: boolean; readonly lasts?: number }[] {
    return this.#component.getAllProperties(name).flatMap((property) =>
      property.getValues().map((value: unknown) => {
        if (value instanceof ICAL.Period) {
          const at = this.#ownWall(value.start, this.#zoneOf(property));
          return { at, isDate: false, lasts: value.getDuration().toSeconds() * 1000 };
        }
        const time = value as ICAL.Time;
        return { at: this.#ownWall(time, this.#zoneOf(property)), isDate: time.isDate };
      }),
    );
  }

  /** What a time of another property shows on the clock of this event. */
  ownWall(property: ICAL.Property): Wall {
    return this.#ownWall(property.getFirstValue() as ICAL.Time, this.#zoneOf(property));
  }

  /** `20260602T223000Z`, `20260602`: the end of a rule, on the clock of this event. */
  untilOf(text: string): Wall {
    const time = ICAL.Time.fromString(dashed(text), this.#component.getFirstProperty("dtstart") as ICAL.Property);
    if (time.isDate) return wallOf(time) + DAY - 1;
    return this.zone !== floating && text.endsWith("Z") ? this.zone.wall(wallOf(time)) : wallOf(time);
  }

  #ownWall(time: ICAL.Time, zone: WallZone): Wall {
    const wall = wallOf(time);
    if (time.isDate || zone === this.zone || zone === floating || this.zone === floating) return wall;
    return this.zone.wall(zone.instant(wall));
  }

  /** From one of its beginnings until its end: exactly as long as its first, but whole days of a DURATION are days of the clock. */
  spanAt(start: Wall, lasts?: number): CalendarEvent {
    const from = this.zone.instant(start);
    const to = lasts === undefined ? this.#endAt(start, from) : from + lasts;
    if (to < from) throw new FormatError(`The event "${this.title}" ends before it begins.`);
    return { from: this.#moment(from), to: this.#moment(to) };
  }

  #endAt(start: Wall, from: number): number {
    const end = this.#component.getFirstProperty("dtend");
    if (end) {
      const first = this.#zoneOf(end).instant(wallOf(end.getFirstValue() as ICAL.Time));
      return from + first - this.zone.instant(this.start);
    }
    const duration = this.#component.getFirstPropertyValue("duration");
    if (!(duration instanceof ICAL.Duration)) return this.isAllDay ? start + DAY : from;
    const sign = duration.isNegative ? -1 : 1;
    const { weeks, days, hours, minutes, seconds } = duration;
    const exact = ((hours * 60 + minutes) * 60 + seconds) * 1000;
    return this.zone.instant(start + sign * (weeks * 7 + days) * DAY) + sign * exact;
  }

  #moment(time: number): EventMoment {
    return this.zone === floating ? { day: Math.floor(time / DAY), ms: ((time % DAY) + DAY) % DAY } : time;
  }
}

/** All times of an event and of what changes some of them. */
function timesOf(
  event: CalendarEntry,
  changes: readonly CalendarEntry[],
  { years = 30, from }: CalendarOptions,
): CalendarEvent[] {
  const begins = Math.max(event.start, from ?? event.start);
  const last = new Date(begins).setUTCFullYear(new Date(begins).getUTCFullYear() + years);
  const left = event.dates("exdate");
  const isLeft = (at: Wall) =>
    left.some((one) => (one.isDate ? Math.floor(at / DAY) === Math.floor(one.at / DAY) : one.at === at));
  const lasting = new Map<Wall, number | undefined>([[event.start, undefined]]);
  for (const rule of event.rules) for (const at of followed(event, rule, last)) lasting.set(at, undefined);
  for (const { at, lasts } of event.dates("rdate")) lasting.set(at, lasts);
  const moved = new Map(changes.map((change) => [event.ownWall(change.recurrence as ICAL.Property), change]));
  return [...lasting]
    .filter(([at]) => !isLeft(at))
    .flatMap(([at, lasts]): CalendarEvent[] => {
      const own = moved.get(at);
      if (own) return own.isCancelled ? [] : [own.spanAt(own.start)];
      const before = [...moved].filter(([since, { andLater }]) => andLater && since < at).sort((a, b) => b[0] - a[0])[0];
      if (before) return before[1].isCancelled ? [] : [before[1].spanAt(before[1].start + at - before[0])];
      return event.isCancelled ? [] : [event.spanAt(at, lasts)];
    });
}

/** Rules that no calendar of a house needs, and that could be followed without end. */
const tooOften = ["SECONDLY", "MINUTELY"];

/** The beginnings that a rule gives, up to its end or the last that is looked for. */
function followed(event: CalendarEntry, text: string, last: Wall): Wall[] {
  const often = tooOften.find((frequency) => text.toUpperCase().includes(`FREQ=${frequency}`));
  if (often) throw new FormatError(`The event "${event.title}" recurs ${often}. Use HOURLY or slower.`);
  const until = /UNTIL=([^;]+)/i.exec(text)?.[1];
  const rule = new RRule({
    ...RRule.parseString(text.replace(/;?UNTIL=[^;]+/i, "")),
    dtstart: new Date(event.start),
    until: new Date(until === undefined ? last : Math.min(last, event.untilOf(until))),
  });
  const times = rule.all((_, index) => index <= MOST_TIMES).map((date) => date.getTime());
  if (times.length <= MOST_TIMES) return times;
  throw new FormatError(`The event "${event.title}" recurs more than ${MOST_TIMES} times. End it earlier, with UNTIL or COUNT.`);
}

function wallOf({ year, month, day, hour, minute, second, isDate }: ICAL.Time): Wall {
  return isDate ? Date.UTC(year, month - 1, day) : Date.UTC(year, month - 1, day, hour, minute, second);
}

/** As the library reads times: `2026-06-02T22:30:00Z`. */
function dashed(text: string): string {
  return text.includes("-")
    ? text
    : text.replace(/^(\d{4})(\d{2})(\d{2})/, "$1-$2-$3").replace(/T(\d{2})(\d{2})(\d{2})/, "T$1:$2:$3");
}

const order = (moment: EventMoment) => inInstant(moment);
