// Values and conditions of a house as plain data. Numbers carry their unit; names are whole (`bench.door`); words are
// resolved against the type of what they are next to.
import type { SunEvent, Weekday } from "../time/index.js";
import type { Unit } from "../units/index.js";

/** A value or condition as a tree: what the text of a rule means. Numbers keep the unit they were written in. */
export type Expression =
  /** A temperature difference stands in K, a duration in ms. */
  | { readonly kind: "number"; readonly value: number; readonly unit: Unit }
  /** With the words of its place, in their order. */
  | { readonly kind: "word"; readonly word: string; readonly of: readonly string[] }
  /** Milliseconds since midnight. */
  | { readonly kind: "time"; readonly ms: number }
  /** `2026-03-14` */
  | { readonly kind: "date"; readonly date: string }
  /** A moment on the house's own clock: `2026-03-14`, and milliseconds since midnight. */
  | { readonly kind: "instant"; readonly date: string; readonly ms: number }
  /** `#rrggbb` */
  | { readonly kind: "colour"; readonly colour: string }
  | { readonly kind: "unknown" }
  /** What a sensor, output, dial, mode, let or profile holds now. */
  | { readonly kind: "value"; readonly of: string }
  /** How long ago a sensor last reported. */
  | { readonly kind: "age"; readonly of: string }
  /** How long a countdown still runs; zero while it does not. */
  | { readonly kind: "remaining"; readonly countdown: string }
  /** How much the last dose of an output gave, in ml; unknown before the first. */
  | { readonly kind: "last amount"; readonly output: string }
  /** What an output does when nobody asks; of one without a rest, what it does now. */
  | { readonly kind: "rest"; readonly of: string }
  /** How long until a schedule next begins or ends; zero while it does not apply. */
  | { readonly kind: "begins in" | "ends in"; readonly schedule: string }
  /** Degrees above the horizon; degrees clockwise from north. */
  | { readonly kind: "sun"; readonly what: "elevation" | "azimuth" }
  /** Today's time of day of an event of the sun. */
  | { readonly kind: "sun time"; readonly event: SunEvent }
  | { readonly kind: "clock"; readonly what: "time" | "weekday" | "date" }
  | { readonly kind: "plus" | "minus" | "times" | "divided"; readonly left: Expression; readonly right: Expression }
  | { readonly kind: "negative"; readonly of: Expression }
  | { readonly kind: "if"; readonly condition: Condition; readonly then: Expression; readonly else: Expression }
  /** The first case that fits, from the top. Without an `unknown` case an unknown `by` is unknown. */
  | { readonly kind: "pick"; readonly by: Expression; readonly cases: readonly Case[] }
  /** Of several values: those that are unknown are left out; unknown when fewer than `known` are not. */
  | {
      readonly kind: "of several";
      readonly function: SeveralFunction;
      readonly of: readonly Expression[];
      readonly known: number;
    }
  | { readonly kind: "call"; readonly function: ValueFunction; readonly of: readonly Expression[] }
  /** Kept between two ends. */
  | { readonly kind: "clamp"; readonly value: Expression; readonly low: Expression; readonly high: Expression }
  /** A straight line from one range to another, clamped at both ends. */
  | { readonly kind: "scale"; readonly value: Expression; readonly from: Ends; readonly to: Ends }
  /** Over a window of time that ends now. */
  | {
      readonly kind: "over";
      readonly function: "mean" | "min" | "max" | "rise";
      readonly value: Expression;
      readonly over: Expression;
    }
  | { readonly kind: "over"; readonly function: "time" | "count"; readonly value: Condition; readonly over: Expression }
  | { readonly kind: Bound; readonly left: Expression; readonly right: Expression }
  /** With both bounds. */
  | { readonly kind: "between"; readonly value: Expression; readonly low: Expression; readonly high: Expression }
  | { readonly kind: "is"; readonly left: Expression; readonly right: Expression }
  /** True for the instant of a press only. */
  | { readonly kind: "pressed"; readonly sensor: string }
  | { readonly kind: "running"; readonly countdown: string }
  /** What was confirmed differs from what was last sent. */
  | { readonly kind: "disobeys"; readonly output: string }
  | { readonly kind: "not"; readonly of: Condition }
  | { readonly kind: "and" | "or"; readonly of: readonly Condition[] }
  /** True when `condition` has been true, without a break, for `duration`. */
  | { readonly kind: "for"; readonly condition: Condition; readonly duration: Expression }
  /** True while `condition` is true, and until `duration` after it ended. */
  | { readonly kind: "in the last"; readonly condition: Condition; readonly duration: Expression }
  /**
   * With memory: from `condition` until `reset`; the reset wins where both hold. With `atMost` it also ends by itself: then it
   * rests for `pause` where that is said, else until `condition` has been false.
   */
  | {
      readonly kind: "until";
      readonly condition: Condition;
      readonly reset: Condition;
      readonly atMost?: Expression;
      readonly pause?: Expression;
    }
  | { readonly kind: "during"; readonly schedule: string }
  /** The wall clock within [from, to); a span may pass midnight. */
  | { readonly kind: "clock between"; readonly from: DayTime; readonly to: DayTime }
  /** In trials: how often, how long, and for what share of the expectation's span, a condition was true. */
  | { readonly kind: "count" | "time true" | "share"; readonly condition: Condition }
  /** In trials: a notice or a raw message whose text has this part, or a problem of this code, at this instant. */
  | { readonly kind: "told" | "problem"; readonly text: string }
  | { readonly kind: "sent"; readonly text: string; readonly to: string };

/** Strict, strict, with the bound, with the bound. */
export type Bound = "above" | "below" | "at least" | "at most";

/** Functions of several values of one kind. */
export type SeveralFunction = "mean" | "median" | "min" | "max" | "sum" | "spread" | "first_known";

/** Functions of one or two values. */
export type ValueFunction = "abs" | "round" | "dew_point" | "absolute_humidity" | "vapour_pressure_deficit" | "felt_temperature";

/** An expression that is true, false or unknown. */
export type Condition = Expression;

/** The two ends of a range. */
export interface Ends {
  readonly low: Expression;
  readonly high: Expression;
}

/** `if` is a condition on what is picked by. */
export interface Case {
  readonly if: Condition | "otherwise" | "unknown";
  readonly then: Expression;
}

/** A time of day; with `sun`, so long after today's event of the sun (before it, where negative). */
export interface DayTime {
  readonly sun?: SunEvent;
  readonly time: Expression;
}

/** Text whose `{…}` parts are filled in with values. */
export type Text = readonly (string | Expression)[];

/** A moment of something. */
export type Occasion =
  /** As the condition becomes true. */
  | { readonly kind: "becomes true"; readonly condition: Condition }
  | { readonly kind: "begins" | "ends"; readonly schedule: string }
  /** A countdown runs out. */
  | { readonly kind: "runs out"; readonly countdown: string }
  /** Each change; with `by`, each time it is so far from where it last fired. */
  | { readonly kind: "changes"; readonly of: string; readonly by?: Expression };

/** What starts the steps of an event sentence. */
export type Trigger =
  | Occasion
  | { readonly kind: "at"; readonly at: DayTime; readonly days: readonly Weekday[] }
  /** Aligned to local midnight. */
  | { readonly kind: "every"; readonly every: Expression; readonly days: readonly Weekday[] }
  | { readonly kind: "the house starts" };

export type { SunEvent };
