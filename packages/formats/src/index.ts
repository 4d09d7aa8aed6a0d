// Formats of other programs: pure functions, text in, text out.
export { type CalendarOptions, readCalendar } from "./calendar.js";
export { FormatError } from "./format-error.js";
export { houseJsonSchema, readHouseJson, writeHouseJson } from "./house-json.js";
export { type JunitCase, writeJunit } from "./junit.js";
export { type TracedFile, writeLcov } from "./lcov.js";
export { type LogForm, writeLog } from "./log.js";
export { type OpenedRecording, openRecording, type RecordingForm, readRecording, writeRecording } from "./recording.js";
export { isThingDescription, type ReadThings, readThings } from "./thing-description.js";
export type { TimeOptions } from "./times.js";
