// Values and conditions of a house as plain data. Numbers carry their unit; names are whole (`bench.door`); words are
// resolved against the type of what they stand beside.

import type { Weekday } from "../time/index.js";
import type { Unit } from "../units/index.js";

export type Expression =
  /** A temperature difference stands in K, a duration in ms. */
  | { readonly kind: "number"; readonly value: number; readonly unit: Unit }
  | { readonly kind: "word"; readonly word: string }
  /** Milliseconds since midnight. */
  | { readonly kind: "time"; readonly ms: number }
  /** A moment on the house's own clock: `2026-03-14`, and milliseconds since midnight. */
  | { readonly kind: "instant"; readonly date: string; readonly ms: number }
  | { readonly kind: "unknown" }
  /** What a sensor, output, dial or mode holds now. */
  | { readonly kind: "value"; readonly of: string }
  | { readonly kind: "plus" | "minus" | "times" | "divided"; readonly left: Expression; readonly right: Expression }
  | { readonly kind: "negative"; readonly of: Expression }
  | { readonly kind: Bound; readonly left: Expression; readonly right: Expression }
  /** With both bounds. */
  | { readonly kind: "between"; readonly value: Expression; readonly low: Expression; readonly high: Expression }
  | { readonly kind: "is"; readonly left: Expression; readonly right: Expression }
  | { readonly kind: "not"; readonly of: Expression }
  | { readonly kind: "and" | "or"; readonly of: readonly Expression[] }
  /** True when `condition` has been true, without a break, for `duration`. */
  | { readonly kind: "for"; readonly condition: Expression; readonly duration: Expression }
  /** True while `condition` is true, and until `duration` after it ended. */
  | { readonly kind: "in the last"; readonly condition: Expression; readonly duration: Expression }
  /** With memory: from `condition` until `reset`; the reset wins where both hold. */
  | { readonly kind: "until"; readonly condition: Expression; readonly reset: Expression }
  | { readonly kind: "during"; readonly schedule: string }
  /** How often the condition became true; in trials, over the span of the expectation. */
  | { readonly kind: "count"; readonly condition: Expression }
  /** A notice whose text has this part was told; in trials only. */
  | { readonly kind: "told"; readonly text: string };

/** Strict, strict, with the bound, with the bound. */
export type Bound = "above" | "below" | "at least" | "at most";

/** An expression that is true, false or unknown. */
export type Condition = Expression;

/** Text whose `{…}` parts are filled in with values. */
export type Text = readonly (string | Expression)[];

/** What starts the steps of an event sentence. */
export type Trigger =
  /** As the condition becomes true. */
  | { readonly kind: "becomes true"; readonly condition: Condition }
  | { readonly kind: "at"; readonly time: Expression; readonly days: readonly Weekday[] }
  | { readonly kind: "begins" | "ends"; readonly schedule: string };
