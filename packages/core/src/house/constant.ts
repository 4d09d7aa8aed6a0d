// The value of an expression that is the same at all times.

import type { FixedTime } from "../time/index.js";
import { fromBase, toBase, type Unit } from "../units/index.js";
import type { DayTime, Expression } from "./expression.js";

/** In `unit`, or in the base unit of its dimension; undefined when it depends on anything. */
export function constantIn(expression: Expression, unit?: Unit): number | undefined {
  const value = fold(expression);
  return value === undefined || unit === undefined ? value : fromBase(value, unit);
}

function fold(expression: Expression): number | undefined {
  switch (expression.kind) {
    case "number":
      return toBase(expression);
    case "time":
      return expression.ms;
    case "negative": {
      const of = fold(expression.of);
      return of === undefined ? undefined : -of;
    }
    case "plus":
    case "minus":
    case "times":
    case "divided": {
      const left = fold(expression.left);
      const right = fold(expression.right);
      if (left === undefined || right === undefined) return undefined;
      if (expression.kind === "plus") return left + right;
      if (expression.kind === "minus") return left - right;
      return expression.kind === "times" ? left * right : left / right;
    }
    default:
      return undefined;
  }
}

/** A value of time of day, with the event of the sun it depends on taken out of its sum. */
export function dayTimeOf(expression: Expression): DayTime {
  if (expression.kind === "sun time") return { sun: expression.event, time: { kind: "number", value: 0, unit: "ms" } };
  if (expression.kind !== "plus" && expression.kind !== "minus") return { time: expression };
  const left = dayTimeOf(expression.left);
  if (left.sun === undefined) return { time: expression };
  const time: Expression = { kind: expression.kind, left: left.time, right: expression.right };
  const ms = constantIn(time);
  return { sun: left.sun, time: ms === undefined ? time : { kind: "number", value: ms, unit: "ms" } };
}

/** A time of day that is the same every day, but for the sun; undefined when it depends on anything else. */
export function fixedTimeOf(expression: Expression): FixedTime | undefined {
  const { sun, time } = dayTimeOf(expression);
  const ms = constantIn(time);
  return ms === undefined ? undefined : { ...(sun && { sun }), ms };
}

const rising: ReadonlySet<string> = new Set(["above", "at least"]);

/** `below a until above b` wants a ≤ b, the mirror likewise. */
export function crosses(begins: Expression, ends: Expression): boolean {
  if (!("left" in begins) || !("left" in ends) || rising.has(begins.kind) === rising.has(ends.kind)) return false;
  const from = constantIn(begins.right);
  const to = constantIn(ends.right);
  if (from === undefined || to === undefined) return false;
  return rising.has(begins.kind) ? to > from : to < from;
}
