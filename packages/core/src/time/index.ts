export {
  DAY,
  dateOfDay,
  dayOfDate,
  EVERY_DAY,
  HOUR,
  isZone,
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
  stretchOf,
} from "./schedule.js";
export { type Place, type Sky, SUN_EVENTS, type SunEvent, sunAzimuth, sunElevation, sunEventOn } from "./sun.js";
