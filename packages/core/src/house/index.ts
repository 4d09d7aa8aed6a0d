export type { Bound, Condition, Expression, Text, Trigger } from "./expression.js";
export type * from "./house.js";
export { type Thing, thingsOf, titleOf } from "./lookup.js";
export { type NumberType, onOff, type Range, type TimeType, type Value, type ValueType, type WordType, yesNo } from "./types.js";
export { thingsIn, writeExpression } from "./write.js";
