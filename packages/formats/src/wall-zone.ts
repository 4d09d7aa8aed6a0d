// What a clock on the wall shows, and the instants that stands for: of UTC, of a zone that is known by name, of one that a
// calendar describes, and of the house, whose zone a calendar does not know.
import ICAL from "ical.js";
import { clockOf, DAY, type EventMoment, SECOND } from "modrik";
import { FormatError } from "./format-error.js";

/** What a clock shows, in milliseconds as if it showed UTC. */
export type Wall = number;

export interface WallZone {
  /** A time that does not exist is the first after the gap, one that comes twice the first. */
  instant(wall: Wall): number;
  wall(instant: number): Wall;
}

/** On the clock of the house. */
export const floating: WallZone = { instant: (wall) => wall, wall: (instant) => instant };

const utc: WallZone = { instant: (wall) => wall, wall: (instant) => instant };

/** The zone that a property of a calendar is in. */
export function zonesOf(calendar: ICAL.Component): (property: ICAL.Property) => WallZone {
  const known = new Map<string, WallZone>();
  for (const component of calendar.getAllSubcomponents("vtimezone")) {
    const name = String(component.getFirstPropertyValue("tzid"));
    known.set(name, described(new ICAL.Timezone(component)));
  }
  return (property) => {
    const value: unknown = property.getFirstValue();
    const time = value instanceof ICAL.Period ? value.start : value;
    if (!(time instanceof ICAL.Time) || time.isDate) return floating;
    const name = property.getFirstParameter("tzid");
    if (name === undefined) return time.zone === ICAL.Timezone.utcTimezone ? utc : floating;
    const zone = known.get(name) ?? named(name);
    known.set(name, zone);
    return zone;
  };
}

function named(name: string): WallZone {
  try {
    const clock = clockOf(name);
    return {
      instant: (wall) => clock.instant(Math.floor(wall / DAY), ((wall % DAY) + DAY) % DAY),
      wall: (instant) => {
        const { day, ms } = clock.local(instant);
        return day * DAY + ms;
      },
    };
  } catch {
    throw new FormatError(`The time zone "${name}" is not described in the file and not known by name.`);
  }
}

function described(zone: ICAL.Timezone): WallZone {
  const timeAt = (wall: number, within: ICAL.Timezone) => {
    const date = new Date(wall);
    const [year, month, day] = [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()];
    const [hour, minute, second] = [date.getUTCHours(), date.getUTCMinutes(), date.getUTCSeconds()];
    return new ICAL.Time({ year, month, day, hour, minute, second, isDate: false }, within);
  };
  return {
    instant: (wall) => timeAt(wall, zone).toUnixTime() * SECOND,
    wall: (instant) => {
      const { year, month, day, hour, minute, second } = timeAt(instant, ICAL.Timezone.utcTimezone).convertToZone(zone);
      return Date.UTC(year, month - 1, day, hour, minute, second);
    },
  };
}

/** To sort by, whatever clock a moment is on. */
export function inInstant(moment: EventMoment): number {
  return typeof moment === "number" ? moment : moment.day * DAY + moment.ms;
}
