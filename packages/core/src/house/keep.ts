// The band of a `keep`: where each way starts and stops, and when it drives, as a condition with memory.
import type { Condition, Expression } from "./expression.js";
import type { Keep } from "./house.js";

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
