// Times of a trial as instants: a bare time is the first such time not before the one it goes by.
import type { Expression } from "../house/index.js";
import { type Clock, DAY } from "../time/index.js";

/** The local day and time of a date and time as an instant. */
export function instantOf(expression: Expression, clock: Clock): number {
  if (expression.kind !== "instant") throw new RangeError(`a trial begins at a date and time, not at a ${expression.kind}`);
  return clock.instant(Date.parse(`${expression.date}T00:00Z`) / DAY, expression.ms);
}

/** The moment an expression names, at or after `from`; strictly after it with `after`. */
export function momentOf(expression: Expression, clock: Clock, from: number, after = false): number {
  if (expression.kind === "instant") return instantOf(expression, clock);
  const ms = timeOf(expression);
  const { day } = clock.local(from);
  const today = clock.instant(day, ms);
  return today > from || (today === from && !after) ? today : clock.instant(day + 1, ms);
}

function timeOf(expression: Expression): number {
  if (expression.kind === "time") return expression.ms;
  if (expression.kind === "number") return expression.value;
  if (expression.kind === "plus") return timeOf(expression.left) + timeOf(expression.right);
  if (expression.kind === "minus") return timeOf(expression.left) - timeOf(expression.right);
  throw new RangeError(`no time of day: ${expression.kind}`);
}
