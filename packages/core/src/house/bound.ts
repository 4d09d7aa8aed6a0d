// Comparisons with a bound.
import type { Bound, Expression } from "./expression.js";

export type BoundTest = Extract<Expression, { readonly kind: Bound }>;

export function isBound(expression: Expression): expression is BoundTest {
  const { kind } = expression;
  return kind === "above" || kind === "below" || kind === "at least" || kind === "at most";
}

/** Whether it is true of more than its bound. */
export const isUp = (kind: Bound): boolean => kind === "above" || kind === "at least";
