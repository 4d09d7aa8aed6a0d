export { type BoundTest, isBound, isUp } from "./bound.js";
export { assumedOf, builds, FURNISHED, floorOf, type RoomFigure, roomOf, usualRoom } from "./builds.js";
export { calibrate } from "./calibrate.js";
export { colours, nameOfColour } from "./colours.js";
export { constantIn, crosses, dayTimeOf, fixedTimeOf } from "./constant.js";
export type * from "./expression.js";
export { baseOfNumber, givenIn, ownValue, recordedValue, unitOf } from "./given.js";
export type * from "./house.js";
export { standings } from "./house.js";
export { bandOf, crossingOf, offPartOf, switchPoints, targetsOf } from "./keep.js";
export { typeOf, unitOfExpression } from "./kinds.js";
export {
  fullOf,
  isIn,
  lastsOf,
  modesMentioned,
  movesByItself,
  noneOf,
  offWordOf,
  onWordOf,
  reachOf,
  restOf,
  type Thing,
  thingsBehind,
  thingsOf,
  titleOf,
} from "./lookup.js";
export { oncePer } from "./once-per.js";
export { partOf } from "./part.js";
export { type Misfit, misfitsOf } from "./recorded.js";
export {
  baseOf,
  clampTo,
  misfit,
  misfitNumber,
  ownOf,
  placeOf,
  readTimeOfDay,
  readValue,
  type Slot,
  sayValue,
} from "./slot.js";
export { branchCondition, ifsIn, setsIn, stepsIn } from "./steps.js";
export { instantOf, isFixedTime, momentOf, skyOf, type Timeline, timelineOf, trialSpan, type Window } from "./timeline.js";
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
export { onOff } from "./types.js";
export { hasPress, replaceParts, thingsIn, visitExpressions, visitParts } from "./visit.js";
