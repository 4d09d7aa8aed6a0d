// The band of a `keep`: where each way starts and stops, and when it drives, as a condition with memory.
import type { Condition, Expression } from "./expression.js";
import type { Keep, Output } from "./house.js";
import { noneOf, restOf } from "./lookup.js";
import type { Value } from "./types.js";
import { visitExpressions } from "./visit.js";

/** The two ends of what a `keep` aims at. */
export function targetsOf({ at }: Keep): [low: Expression, high: Expression] {
  return "low" in at ? [at.low, at.high] : [at, at];
}

/** The switch points of one way of a `keep`, as expressions: where it starts, where it stops. */
export function switchPoints(keep: Keep, way: "raise" | "lower"): { starts: Expression; stops: Expression; reached: boolean } {
  const [low, high] = targetsOf(keep);
  const tolerance = keep.tolerance ?? { below: zero, above: zero };
  const bottom: Expression = { kind: "minus", left: low, right: tolerance.below };
  const top: Expression = { kind: "plus", left: high, right: tolerance.above };
  const both = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
  return way === "raise"
    ? { starts: bottom, stops: both ? low : top, reached: both }
    : { starts: top, stops: both ? high : bottom, reached: both };
}

const zero: Expression = { kind: "number", value: 0, unit: "K" };

/** A dial, a let or a sensor may move it. */
function moves(expression: Expression): boolean {
  let found = false;
  visitExpressions(expression, ({ kind }) => {
    found ||= kind !== "number" && kind !== "negative" && kind !== "plus" && kind !== "minus";
  });
  return found;
}

/**
 * When the targets of a `keep` cross, tolerances counted, so that it would drive both ways, or stop before it starts;
 * undefined where they never can.
 */
export function crossingOf(keep: Keep): Condition | undefined {
  const { tolerance, raiseWith, lowerWith } = keep;
  if (!tolerance) return undefined;
  const [low, high] = targetsOf(keep);
  const above = (left: Expression, right: Expression): Condition[] =>
    moves(left) || moves(right) ? [{ kind: "above", left, right }] : [];
  const outwards = { kind: "negative", of: tolerance.above } as const;
  const of =
    raiseWith && lowerWith
      ? [
          ...("low" in keep.at ? above(low, high) : []),
          ...above({ kind: "negative", of: tolerance.below }, zero),
          ...above(outwards, zero),
        ]
      : above(outwards, tolerance.below);
  return of.length < 2 ? of[0] : { kind: "or", of };
}

/** When one way of a `keep` drives, as a condition with memory. */
export function bandOf(keep: Keep, way: "raise" | "lower"): Condition {
  const { starts, stops, reached } = switchPoints(keep, way);
  const { value } = keep;
  const [begin, end] =
    way === "raise" ? (["below", reached ? "at least" : "above"] as const) : (["above", reached ? "at most" : "below"] as const);
  return {
    kind: "until",
    condition: { kind: begin, left: value, right: starts },
    reset: { kind: end, left: value, right: stops },
  };
}

/**
 * What a `keep` asks of an output while it does not drive: what is off, where it is alone and would not be at rest. Nothing
 * else is asked then, so that another rule may want the output too.
 */
export function offPartOf({ raiseWith, lowerWith }: Keep, output: Output): Value | undefined {
  const drive = raiseWith ?? lowerWith;
  if ((raiseWith && lowerWith) || drive?.proportion) return undefined;
  const none = noneOf(output);
  return restOf(output) === none ? undefined : none;
}
