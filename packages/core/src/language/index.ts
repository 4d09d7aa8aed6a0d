export type { CalendarEvent, EventMoment } from "./binder/time.js";
export type { Completion, Completions } from "./complete.js";
export { dataPaths } from "./data-path.js";
export {
  type FirstAnswers,
  type FirstHouse,
  type FirstNumber,
  firstHouses,
  misfitsOfNumbers,
  writeFirstHouse,
} from "./first-houses.js";
export { type Fixed, type FixedLine, fixHouse } from "./fix.js";
export { type Formatted, formatHouse } from "./format.js";
export {
  writeAttributes,
  writeDeclarations,
  writeEffect,
  writeExpectation,
  writeExpression,
  writeHappening,
  writeHouse,
  writeNeverTogether,
  writePermit,
  writeRange,
  writeRoom,
  writeSentence,
  writeTrial,
  writeTrigger,
  writeType,
} from "./house-text.js";
export type { NameAt } from "./name-at.js";
export { nearest } from "./nearest.js";
export {
  type Beside,
  type Files,
  type HouseText,
  isSound,
  type NameUse,
  openHouse,
  type ParsedHouse,
  parseHouse,
} from "./open.js";
export { type Allowance, allowanceFor, type SpokenOf, type SpokenPlace } from "./places.js";
export { type Problem, type ProblemCode, problemCodes, type SourcePlace } from "./problem.js";
export type { Renamed } from "./rename.js";
export type { SourceToken } from "./tokens.js";
