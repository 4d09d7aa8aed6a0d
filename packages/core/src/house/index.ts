export * from "./author/index.js";
export { calibrate } from "./calibrate.js";
export { colours } from "./colours.js";
export type * from "./expression.js";
export { baseOfNumber, givenIn, ownValue, recordedValue, unitOf } from "./given.js";
export type * from "./house.js";
export { isIn, type Thing, thingsBehind, thingsOf, titleOf } from "./lookup.js";
export { writeExpectation, writePermit, writeSentence, writeTrigger } from "./sentences.js";
export { branchCondition, setsIn, stepsIn } from "./steps.js";
export { writeHouse, writeTrial } from "./text.js";
export { writeRange, writeType } from "./type-text.js";
export type {
  ColourType,
  NumberType,
  PressType,
  Range,
  TimeType,
  TruthType,
  Value,
  ValueType,
  WordType,
} from "./types.js";
export { hasPress, visitExpressions } from "./visit.js";
export { thingsIn, writeExpression } from "./write.js";
