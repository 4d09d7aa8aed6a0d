// A trial's timeline: when it begins and ends, and what happens in between.
import { clockOf, DAY, type Sky, sunTimeOn } from "../time/index.js";
import type { Expression } from "./expression.js";
import type { Expectation, Happening, House, Trial } from "./house.js";

/** The instants an expectation speaks of: one, or [from, to), or all of the trial. */
export interface Window {
  readonly from: number;
  readonly to: number;
  readonly kind: "instant" | "until" | "span" | "whole";
}

export interface Timeline {
  readonly from: number;
  readonly to: number;
  /** In the order of their instants. */
  readonly happenings: readonly { readonly at: number; readonly to: number; readonly what: Happening["what"] }[];
  /** As they are written. */
  readonly happened: readonly { readonly at: number; readonly to: number }[];
  readonly windows: readonly Window[];
}

/** From when to when a trial runs, in milliseconds since 1970 UTC. */
export function trialSpan(house: House, trial: Trial): { readonly from: number; readonly to: number } {
  const { from, to } = timelineOf(trial, skyOf(house));
  return { from, to };
}

/** The clock of a house, and where on earth it is. */
export function skyOf({ clock, place }: Pick<House, "clock" | "place">): Sky {
  return { clock: clockOf(clock), place };
}

export function timelineOf(trial: Trial, sky: Sky): Timeline {
  const from = instantOf(trial.from, sky);
  let last = from;
  const happenings = trial.happenings.map(({ when, what }) => {
    last = "later" in when ? last + when.later : momentOf(when.at, sky, last);
    const to = "at" in when && when.to ? momentOf(when.to, sky, last, true) : last;
    return { at: last, to, what };
  });
  const named = trial.expectations.flatMap((expectation) => timesOf(expectation, sky, from));
  const to = endOf(trial, sky, from) ?? Math.max(from, last, ...happenings.map((one) => one.to), ...named);
  const windows = trial.expectations.map((expectation) => windowOf(expectation, sky, from, to));
  return { from, to, happened: happenings, happenings: [...happenings].sort((a, b) => a.at - b.at), windows };
}

function endOf({ lasts, to }: Trial, sky: Sky, from: number): number | undefined {
  if (lasts?.kind === "number") return from + lasts.value;
  return to && momentOf(to, sky, from, true);
}

function timesOf({ by, at, from, to }: Expectation, sky: Sky, start: number): number[] {
  const begin = from && momentOf(from, sky, start);
  const end = to && momentOf(to, sky, begin ?? start, true);
  const one = by ?? at;
  return [one && momentOf(one, sky, start), begin, end].filter((time) => time !== undefined);
}

function windowOf(expectation: Expectation, sky: Sky, start: number, end: number): Window {
  const [first = end, second = end] = timesOf(expectation, sky, start);
  if (expectation.by) return { from: start, to: first, kind: "until" };
  if (expectation.at) return { from: first, to: first, kind: "instant" };
  if (expectation.from) return { from: first, to: second, kind: "span" };
  return { from: start, to: end, kind: "whole" };
}

// ── Times as instants ───────────────────────────────────────────────────────────────────────────────────────────────────

/** The local day and time of a date and time as an instant. */
export function instantOf(expression: Expression, { clock }: Sky): number {
  if (expression.kind !== "instant") throw new RangeError(`a trial begins at a date and time, not at a ${expression.kind}`);
  return clock.instant(Date.parse(`${expression.date}T00:00Z`) / DAY, expression.ms);
}

/** Whether a time of a trial can be calculated beforehand. */
export function isFixedTime(expression: Expression): boolean {
  if (expression.kind === "plus" || expression.kind === "minus")
    return isFixedTime(expression.left) && isFixedTime(expression.right);
  return ["instant", "time", "number", "sun time"].includes(expression.kind);
}

/** The sun may not rise for so long. */
const DAYS = 366;

/** The moment an expression names, at or after `from`; strictly after it with `after`. A bare time is the first such time. */
export function momentOf(expression: Expression, sky: Sky, from: number, after = false): number {
  if (expression.kind === "instant") return instantOf(expression, sky);
  const { day } = sky.clock.local(from);
  for (let later = 0; later < DAYS; later++) {
    const ms = timeOf(expression, sky, day + later);
    const moment = ms === undefined ? Number.NaN : sky.clock.instant(day + later, ms);
    if (moment > from || (moment === from && !after)) return moment;
  }
  throw new RangeError("this time of the sun never comes where the house is");
}

/** The time of day an expression names on a day; undefined where the sun does not do that. */
function timeOf(expression: Expression, sky: Sky, day: number): number | undefined {
  switch (expression.kind) {
    case "time":
      return expression.ms;
    case "number":
      return expression.value;
    case "sun time":
      return sunTimeOn(sky, expression.event, day);
    case "plus":
    case "minus": {
      const [left, right] = [timeOf(expression.left, sky, day), timeOf(expression.right, sky, day)];
      if (left === undefined || right === undefined) return undefined;
      return expression.kind === "plus" ? left + right : left - right;
    }
    default:
      throw new RangeError(`no time of day: ${expression.kind}`);
  }
}
