// Formats of other programs: pure functions, text in, text out.
export { type CalendarOptions, readCalendar } from "./calendar.js";
export { FormatError } from "./format-error.js";
export { houseJsonSchema, readHouseJson, writeHouseJson } from "./house-json.js";
export { type JunitCase, writeJunit } from "./junit.js";
export { type TracedFile, writeLcov } from "./lcov.js";
export { readRecording } from "./recording.js";
