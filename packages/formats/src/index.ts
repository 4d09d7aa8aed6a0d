// Formats of other programs: pure functions, text in, text out.
export { type CalendarOptions, FormatError, readCalendar } from "./calendar.js";
