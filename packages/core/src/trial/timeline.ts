// A trial's timeline: when it begins and ends, and what happens in between.
import type { Expectation, Happening, House, Trial } from "../house/index.js";
import { type Clock, clockOf } from "../time/index.js";
import { instantOf, momentOf } from "./moments.js";

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
  readonly windows: readonly Window[];
}

/** From when to when a trial runs, in milliseconds since 1970 UTC. */
export function trialSpan(house: House, trial: Trial): { readonly from: number; readonly to: number } {
  const { from, to } = timelineOf(trial, clockOf(house.clock));
  return { from, to };
}

export function timelineOf(trial: Trial, clock: Clock): Timeline {
  const from = instantOf(trial.from, clock);
  let last = from;
  const happenings = trial.happenings.map(({ when, what }) => {
    last = "later" in when ? last + when.later : momentOf(when.at, clock, last);
    const to = "at" in when && when.to ? momentOf(when.to, clock, last, true) : last;
    return { at: last, to, what };
  });
  const named = trial.expectations.flatMap((expectation) => timesOf(expectation, clock, from));
  const to = endOf(trial, clock, from) ?? Math.max(from, last, ...happenings.map((one) => one.to), ...named);
  const windows = trial.expectations.map((expectation) => windowOf(expectation, clock, from, to));
  return { from, to, happenings: happenings.sort((a, b) => a.at - b.at), windows };
}

function endOf({ lasts, to }: Trial, clock: Clock, from: number): number | undefined {
  if (lasts?.kind === "number") return from + lasts.value;
  return to && momentOf(to, clock, from, true);
}

function timesOf({ by, at, from, to }: Expectation, clock: Clock, start: number): number[] {
  const begin = from && momentOf(from, clock, start);
  const end = to && momentOf(to, clock, begin ?? start, true);
  const one = by ?? at;
  return [one && momentOf(one, clock, start), begin, end].filter((time) => time !== undefined);
}

function windowOf(expectation: Expectation, clock: Clock, start: number, end: number): Window {
  const [first = end, second = end] = timesOf(expectation, clock, start);
  if (expectation.by) return { from: start, to: first, kind: "until" };
  if (expectation.at) return { from: first, to: first, kind: "instant" };
  if (expectation.from) return { from: first, to: second, kind: "span" };
  return { from: start, to: end, kind: "whole" };
}
