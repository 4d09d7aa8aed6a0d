// iCalendar (RFC 5545): the events of a calendar file as the core takes them.

import ICAL from "ical.js";
import { type CalendarEvent, clockOf, DAY, type EventMoment, HOUR, MINUTE, SECOND } from "modrik";
import { FormatError } from "./format-error.js";

export interface CalendarOptions {
  /** An event that recurs for ever is followed for so many years from its first time; 30 when absent. */
  readonly years?: number;
}

/** No calendar of a house comes near it; a rule such as "every second" would. */
const MOST_TIMES = 20_000;

/**
 * Every time of every event of a calendar, recurrences followed and exceptions left out, by their beginning. All-day
 * events, and those without a time zone, are at the local time of the house; others are instants.
 * @throws FormatError when the text is no iCalendar, or an event of it cannot be followed
 */
export function readCalendar(text: string, { years = 30 }: CalendarOptions = {}): CalendarEvent[] {
  if (!/^\s*BEGIN:VCALENDAR\b/i.test(text))
    throw new FormatError("This is not an iCalendar file: one begins with BEGIN:VCALENDAR and ends with END:VCALENDAR.");
  try {
    return eventsIn(new ICAL.Component(ICAL.parse(text)), years);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError(`The calendar does not follow RFC 5545: ${(error as Error).message}.`);
  }
}

function eventsIn(calendar: ICAL.Component, years: number): CalendarEvent[] {
  const events = calendar.getAllSubcomponents("vevent").map((component) => new ICAL.Event(component));
  const series = events.filter((event) => !event.isRecurrenceException());
  for (const one of events.filter((event) => event.isRecurrenceException()))
    for (const whole of series) if (whole.uid === one.uid) whole.relateException(one);
  return series.flatMap((event) => timesOf(event, years)).sort((a, b) => order(a.from) - order(b.from));
}

function timesOf(event: ICAL.Event, years: number): CalendarEvent[] {
  if (!event.startDate) throw new FormatError(`The event "${event.summary ?? event.uid}" has no start. Add a DTSTART.`);
  if (event.component.getFirstPropertyValue("status") === "CANCELLED") return [];
  if (!event.isRecurring()) return [spanOf(event, event.startDate, event.endDate)];
  const times: CalendarEvent[] = [];
  const last = event.startDate.year + years;
  const each = event.iterator();
  for (let start = each.next(); start && start.year <= last; start = each.next()) {
    if (times.length === MOST_TIMES)
      throw new FormatError(
        `The event "${event.summary}" recurs more than ${MOST_TIMES} times. End it earlier, with UNTIL or COUNT.`,
      );
    const { startDate, endDate, item } = event.getOccurrenceDetails(start);
    if (item.component.getFirstPropertyValue("status") !== "CANCELLED") times.push(spanOf(item, startDate, endDate));
  }
  return times;
}

/** Of a zone that the file does not describe, times computed from others have lost the name; so it is read anew. */
function spanOf({ component }: ICAL.Event, start: ICAL.Time, end: ICAL.Time): CalendarEvent {
  const zoneOf = (name: string) => component.getFirstProperty(name)?.getFirstParameter("tzid");
  const zone = zoneOf("dtstart");
  return { from: momentOf(start, zone), to: momentOf(end, zoneOf("dtend") ?? zone) };
}

function momentOf(time: ICAL.Time, zone: string | undefined): EventMoment {
  const day = Date.UTC(time.year, time.month - 1, time.day) / DAY;
  if (time.isDate) return { day, ms: 0 };
  if (time.zone && time.zone !== ICAL.Timezone.localTimezone) return time.toUnixTime() * SECOND;
  const ms = time.hour * HOUR + time.minute * MINUTE + time.second * SECOND;
  return zone ? inZone(zone, day, ms) : { day, ms };
}

function inZone(zone: string, day: number, ms: number): EventMoment {
  try {
    return clockOf(zone).instant(day, ms);
  } catch {
    throw new FormatError(`The time zone "${zone}" is not described in the file and not known by name.`);
  }
}

const order = (moment: EventMoment) => (typeof moment === "number" ? moment : moment.day * DAY + moment.ms);
