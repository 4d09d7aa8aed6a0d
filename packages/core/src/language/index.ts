export { type Completion, type Completions, complete } from "./complete.js";
export { type Formatted, formatHouse } from "./format.js";
export {
  writeAttributes,
  writeExpectation,
  writeExpression,
  writeHouse,
  writePermit,
  writeRange,
  writeSentence,
  writeTrial,
  writeTrigger,
  writeType,
} from "./house-text.js";
export { type Mended, type MendedLine, mendHouse } from "./mend.js";
export { nameAt } from "./name-at.js";
export { nearest } from "./nearest.js";
export {
  type CalendarEvent,
  type EventMoment,
  isSound,
  type NameUse,
  type ParsedHouse,
  type ParseOptions,
  parseHouse,
} from "./parse.js";
export { type Allowance, allowanceFor, allowancesIn, placeOf, type SpokenOf, type SpokenPlace, spokenPlaces } from "./places.js";
export { type Problem, type ProblemCode, placeIn, problemCodes, type SourcePlace } from "./problem.js";
export { type Renamed, renameThing } from "./rename.js";
