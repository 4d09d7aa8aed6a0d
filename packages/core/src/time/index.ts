export { DAY, dateOfDay, dayOfDate, EVERY_DAY, HOUR, isZone, MINUTE, SECOND, type Weekday, weekdayOf } from "./calendar.js";
export { type Clock, clockOf, type LocalTime } from "./clock.js";
export { nextOccurrence, type Opening, type Span, type Stretch, stretchOf } from "./schedule.js";
export { type Place, sunElevation } from "./sun.js";
