// The value of an expression that is the same at all times.
import type { Expression } from "../../house/index.js";
import { fromBase, toBase, type Unit } from "../../units/index.js";

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
    case "minus": {
      const left = fold(expression.left);
      const right = fold(expression.right);
      if (left === undefined || right === undefined) return undefined;
      return expression.kind === "plus" ? left + right : left - right;
    }
    default:
      return undefined;
  }
}
