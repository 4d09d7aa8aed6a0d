// What each node does with its parts, and what the others have to know of it: a row an op, asked for by the compiler.
import type { Bound, SeveralFunction, ValueFunction } from "../house/index.js";

/** What a node does with its parts. */
export type Op =
  | "constant"
  /** Set from outside: an output, a dial, a mode, whether a countdown runs. */
  | "cell"
  /** Set from outside, true for its instant only. */
  | "pulse"
  /** Set by reports; part a, if any, is how long a report is good for. */
  | "sensor"
  | "schedule"
  | "clock between"
  | "weekday"
  | "date"
  | "sun time"
  | "profile"
  | "plus"
  | "minus"
  | "times"
  | "divided"
  | "negative"
  | "if"
  | SeveralFunction
  | ValueFunction
  | "clamp"
  | "scale"
  | Bound
  | "is"
  | "is unknown"
  | "not"
  | "and"
  | "or"
  | "for"
  | "in the last"
  | "until"
  /** Parts: condition, reset, at most. */
  | "until at most"
  /** Parts: condition, reset, at most, pause. */
  | "limited until"
  /** Parts: when it applies, on, off. */
  | "cycle"
  /** Parts: when it applies, the share, the length of a cycle. */
  | "share cycle"
  // ── Values that move by themselves ──
  | "age"
  | "remaining"
  | "mean over"
  | "min over"
  | "max over"
  | "rise over"
  | "time over"
  | "count over"
  | "begins in"
  | "ends in"
  | "elevation"
  | "azimuth"
  | "time of day"
  | "ramped profile";

/** What an op is to those who run a graph, rest it or put its lines together. What is not said is not so. */
export interface OpTraits {
  /** Set from outside. */
  readonly given?: true;
  /** Compares two values. */
  readonly compares?: true;
  /** Follows from the present values of its parts alone. */
  readonly pure?: true;
  /** Its value is a function of time between the changes of its parts: by itself, or where one of its parts is. */
  readonly moves?: "by itself" | "with its parts";
  /** Looks back over a window of time that ends now. */
  readonly window?: true;
  /** Has a deadline of its own, and is looked at again when `now` or the clock jumps. */
  readonly planned?: true;
  /** Is another some time after its parts are. */
  readonly lasts?: true;
  /** Keeps what it was between its parts: in a house at rest it is what the situation says. */
  readonly remembers?: true;
  /** Goes by the hour, the day or the sun. */
  readonly calendar?: true;
  /** Cannot be calculated in a house at rest, or only in part. */
  readonly inexact?: true;
}

/** Every op with its traits. */
export const ops: Readonly<Record<Op, OpTraits>> = {
  constant: {},
  cell: { given: true },
  pulse: { given: true, inexact: true },
  sensor: { given: true, planned: true },
  schedule: { planned: true, calendar: true },
  "clock between": { planned: true, calendar: true },
  weekday: { planned: true, calendar: true },
  date: { planned: true, calendar: true, inexact: true },
  "sun time": { planned: true, calendar: true, inexact: true },
  profile: { planned: true, calendar: true, inexact: true },
  plus: { pure: true, moves: "with its parts" },
  minus: { pure: true, moves: "with its parts" },
  times: { pure: true, moves: "with its parts" },
  divided: { pure: true, moves: "with its parts" },
  negative: { pure: true, moves: "with its parts" },
  if: { pure: true, moves: "with its parts" },
  mean: { pure: true, moves: "with its parts" },
  median: { pure: true, moves: "with its parts" },
  min: { pure: true, moves: "with its parts" },
  max: { pure: true, moves: "with its parts" },
  sum: { pure: true, moves: "with its parts" },
  spread: { pure: true, moves: "with its parts" },
  first_known: { pure: true, moves: "with its parts" },
  abs: { pure: true, moves: "with its parts" },
  round: { pure: true, moves: "with its parts" },
  dew_point: { pure: true, moves: "with its parts" },
  absolute_humidity: { pure: true, moves: "with its parts" },
  vapour_pressure_deficit: { pure: true, moves: "with its parts" },
  felt_temperature: { pure: true, moves: "with its parts" },
  clamp: { pure: true, moves: "with its parts" },
  scale: { pure: true, moves: "with its parts" },
  above: { compares: true, pure: true },
  below: { compares: true, pure: true },
  "at least": { compares: true, pure: true },
  "at most": { compares: true, pure: true },
  is: { compares: true, pure: true },
  "is unknown": { pure: true },
  not: { pure: true },
  and: { pure: true },
  or: { pure: true },
  for: { planned: true, lasts: true },
  "in the last": { planned: true, lasts: true, inexact: true },
  until: { remembers: true },
  "until at most": { planned: true, lasts: true, remembers: true, inexact: true },
  "limited until": { planned: true, lasts: true, remembers: true, inexact: true },
  cycle: { planned: true, inexact: true },
  "share cycle": { planned: true, inexact: true },
  age: { moves: "by itself", inexact: true },
  remaining: { moves: "by itself", inexact: true },
  "mean over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "min over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "max over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "rise over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "time over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "count over": { moves: "by itself", window: true, lasts: true, inexact: true },
  "begins in": { moves: "by itself", calendar: true, inexact: true },
  "ends in": { moves: "by itself", calendar: true, inexact: true },
  elevation: { moves: "by itself", calendar: true, inexact: true },
  azimuth: { moves: "by itself", calendar: true, inexact: true },
  "time of day": { moves: "by itself", calendar: true },
  "ramped profile": { moves: "by itself", calendar: true, inexact: true },
};
