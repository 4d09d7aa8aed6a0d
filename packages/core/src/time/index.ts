export { DAY, dateOfDay, dayOfDate, EVERY_DAY, HOUR, isZone, MINUTE, SECOND, type Weekday } from "./calendar.js";
export { type Clock, clockOf } from "./clock.js";
export { nextOccurrence, type Opening, stretchOf } from "./schedule.js";
export { type Place, sunElevation } from "./sun.js";
