export {
  DAY,
  dateOfDay,
  dayOfDate,
  daysOf,
  EVERY_DAY,
  HOUR,
  isZone,
  longMonthNames,
  MINUTE,
  monthNames,
  SECOND,
  type Weekday,
  weekdayNames,
  weekdayOf,
  writeDays,
} from "./calendar.js";
export { type Clock, clockOf, type LocalTime } from "./clock.js";
export {
  type Calendar,
  type DatesRange,
  type FixedTime,
  instantOn,
  nextOccurrence,
  type Opening,
  type ProfileDay,
  profileAt,
  type Stretch,
  stretchOf,
} from "./schedule.js";
export { type Place, type Sky, SUN_EVENTS, type SunEvent, sunAzimuth, sunElevation, sunEventOn } from "./sun.js";
