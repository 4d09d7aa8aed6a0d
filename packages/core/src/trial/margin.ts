// How far a verdict was from turning: the quantitative semantics of signal temporal logic. A bound on a number counts by
// its distance, `and` by the least and `or` by the greatest of its parts, `always` by the least over its span (Fainekos
// and Pappas 2009, Theoretical Computer Science 410; Donzé and Maler 2010, FORMATS). What is only true or false counts by
// time, as theirs does: how much earlier or later it would have had to turn.

import { lastNotAfter } from "../engine/index.js";
import type { Window } from "../house/index.js";
import { baseOfNumber, type Expectation, type Expression, type House, unitOfExpression } from "../house/index.js";
import { differenceUnit, dimensionOf, greatest, least, stepOf, type Unit, units, writeDuration } from "../units/index.js";
import { at, type Line, numberWith, rises, within } from "./verdict.js";

/** A distance; above zero where the expectation was met, below where it was not. */
export interface Margin {
  /** In the unit; a temperature as a difference, a time in milliseconds. */
  readonly value: number;
  readonly unit: Unit;
  /** In steps in which people tell such values, so that margins of different kinds can be ranked. */
  readonly steps: number;
}

/** `0.4 K`, `3 min`; below zero where it was not met. */
export function sayMargin({ value, unit }: Margin): string {
  if (unit === "ms") {
    const rounded = Math.abs(value) < 10_000 ? value : Math.round(value / 1000) * 1000;
    return rounded === 0 ? "0 s" : `${rounded < 0 ? "-" : ""}${writeDuration(Math.abs(Math.round(rounded)))}`;
  }
  return `${Math.round(value * 100) / 100} ${unit}`.trim();
}

/** The number by which a condition on numbers of one kind holds, below zero where it does not; none for all other conditions. */
export function distanceOf(house: House, condition: Expression): Expression | undefined {
  const distance = numberOf(condition);
  if (!distance) return undefined;
  const sides = boundsOf(condition).map((side) => unitOfExpression(house, side));
  const kinds = new Set(sides.map(dimensionOf));
  return kinds.size === 1 && !kinds.has("plain") ? distance : undefined;
}

function boundsOf(condition: Expression): Expression[] {
  if (condition.kind === "and" || condition.kind === "or") return condition.of.flatMap(boundsOf);
  if (condition.kind === "not") return boundsOf(condition.of);
  if (condition.kind === "between") return [condition.value];
  return "left" in condition ? [condition.left] : [];
}

function numberOf(condition: Expression): Expression | undefined {
  switch (condition.kind) {
    case "above":
    case "at least":
      return { kind: "minus", left: condition.left, right: condition.right };
    case "below":
    case "at most":
      return { kind: "minus", left: condition.right, right: condition.left };
    case "between":
      return leastOf("min", [
        { kind: "minus", left: condition.value, right: condition.low },
        { kind: "minus", left: condition.high, right: condition.value },
      ]);
    case "not": {
      const of = numberOf(condition.of);
      return of && { kind: "negative", of };
    }
    case "and":
    case "or": {
      const parts = condition.of.map(numberOf);
      if (parts.includes(undefined)) return undefined;
      return leastOf(condition.kind === "and" ? "min" : "max", parts as Expression[]);
    }
    default:
      return undefined;
  }
}

function leastOf(which: "min" | "max", of: readonly Expression[]): Expression {
  return { kind: "of several", function: which, of, known: 1 };
}

/** What a margin is calculated from. */
export interface Seen {
  readonly line: Line;
  /** Of `whenever`: the line of what must come. */
  readonly answer: Line | undefined;
  readonly far: { readonly line: Line; readonly unit: Unit } | undefined;
  /** Where the run ends. */
  readonly ends: number;
  readonly passed: boolean;
}

export function marginOf(expectation: Expectation, window: Window, seen: Seen): Margin | undefined {
  const { claim, then, by } = expectation;
  const { line, answer, far } = seen;
  if (then) return answer && inTime(slackOf(window, line, answer, limitOf(expectation)));
  if (by && !line.moments) return inTime(earlierBy(window.to, seen));
  if (far && !(claim === "holds" && by)) return inValue(claim, window, far);
  return inTime(line.moments ? momentSlack(claim, window, line) : turnSlack(claim, window, seen));
}

/** How long an answer may take, in milliseconds. */
export function limitOf({ within }: Expectation): number {
  return baseOfNumber(within) ?? 0;
}

function inTime(ms: number | undefined): Margin | undefined {
  return ms === undefined || !Number.isFinite(ms) ? undefined : { value: ms, unit: "ms", steps: ms / stepOf("ms") };
}

function inValue(claim: Expectation["claim"], window: Window, { line, unit }: NonNullable<Seen["far"]>): Margin | undefined {
  const sign = claim === "never" ? -1 : 1;
  const single = claim === "holds" && window.kind !== "span";
  const values = single ? [at(line, window.to)] : valuesWithin(line, window);
  const nearest = least(values.map((value) => sign * value));
  if (!Number.isFinite(nearest)) return undefined;
  const difference = differenceUnit(unit);
  return { value: nearest / units[difference].factor, unit: difference, steps: nearest / stepOf(unit) };
}

function valuesWithin(line: Line, window: Window): number[] {
  const values = line.times.flatMap((time, index) => (within(window, time) ? [line.values[index] as number] : []));
  return [at(line, window.from), ...values].filter((value) => !Number.isNaN(value));
}

/** How far its time could be moved, earlier or later, until it would not be true; below zero how far until it would be. */
function earlierBy(due: number, { line, passed }: Seen): number | undefined {
  const place = lastNotAfter(line.times, due);
  const since = line.times[place];
  const until = line.times[place + 1];
  const nearest = least([
    ...(since === undefined || place === 0 ? [] : [due - since]),
    ...(until === undefined ? [] : [until - due]),
  ]);
  if (passed) return Number.isFinite(nearest) ? nearest : undefined;
  const wrong = line.times.flatMap((time, index) =>
    line.values[index] === 1 ? [awayFrom(due, time, line.times[index + 1])] : [],
  );
  return wrong.length === 0 ? undefined : -least(wrong);
}

/** How far an instant is from the stretch [from, to), which goes on where it has no end. */
function awayFrom(instant: number, from: number, to = Number.POSITIVE_INFINITY): number {
  return instant < from ? from - instant : Math.max(0, instant - to);
}

/** Of a state: how near the window, or the instant, a turn comes; of one that fails how long it was wrong. */
function turnSlack(claim: Expectation["claim"], window: Window, { line, ends, passed }: Seen): number | undefined {
  const single = claim === "holds" && window.kind !== "span";
  const [from, to] = single ? [window.to, window.to] : [window.from, window.to];
  const isWrong = claim === "never" ? (value: number) => value === 1 : (value: number) => value !== 1;
  const stretches = line.times.map((time, index) => ({
    from: time,
    to: line.times[index + 1] ?? ends,
    wrong: isWrong(line.values[index] as number),
  }));
  const wrong = stretches.filter((one) => one.wrong);
  if (!passed && single) {
    const right = stretches.filter((one) => !one.wrong).map((one) => awayFrom(from, one.from, one.to));
    return right.length === 0 ? undefined : -least(right);
  }
  if (!passed) {
    const inside = wrong.map((one) => Math.min(one.to, Math.max(to, from + 1)) - Math.max(one.from, from)).filter((ms) => ms > 0);
    return inside.length === 0 ? undefined : -greatest(inside);
  }
  const before = wrong.filter((one) => one.to <= from).map((one) => from - one.to);
  const after = wrong.filter((one) => one.from >= to).map((one) => one.from - to);
  return Math.min(least(before), least(after));
}

/** Of moments: how near the end of the window the one that counts came, or how near outside one that must not. */
function momentSlack(claim: Expectation["claim"], window: Window, line: Line): number | undefined {
  const moments = line.times.filter((_, index) => line.values[index] === 1);
  const inside = moments.filter((time) => within(window, time));
  if (claim === "never")
    return least(
      moments
        .filter((time) => !within(window, time))
        .map((time) => Math.min(Math.abs(time - window.from), Math.abs(time - window.to))),
    );
  const [first] = inside;
  return first === undefined ? undefined : window.to - first;
}

/** The least time that was left when an answer came. */
function slackOf(window: Window, line: Line, answer: Line, limit: number): number | undefined {
  const risen = line.times.filter((time, place) => rises(line, place) && within(window, time));
  const slacks = risen.map((time) => {
    if (!answer.moments && at(answer, time) === 1) return limit;
    const came = answer.times.find((other, index) => other >= time && answer.values[index] === 1);
    return came === undefined ? Number.POSITIVE_INFINITY : time + limit - came;
  });
  return least(slacks);
}

/** Of a bound on a count, a time or a share. */
export function figureMargin(condition: Expression, figures: ReadonlyMap<Expression, number>): Margin | undefined {
  const distance = figureDistance(condition, figures);
  if (distance === undefined || Number.isNaN(distance)) return undefined;
  const kinds = new Set([...figures.keys()].map(({ kind }) => kind));
  if (kinds.size !== 1) return undefined;
  const unit: Unit = kinds.has("time true") ? "ms" : kinds.has("share") ? "%" : "";
  return { value: distance, unit, steps: distance / (unit === "ms" ? stepOf("ms") : 1) };
}

function figureDistance(condition: Expression, figures: ReadonlyMap<Expression, number>): number | undefined {
  const number = (expression: Expression) => numberWith(expression, figures) ?? Number.NaN;
  switch (condition.kind) {
    case "above":
    case "at least":
      return number(condition.left) - number(condition.right);
    case "below":
    case "at most":
      return number(condition.right) - number(condition.left);
    case "is":
      return -Math.abs(number(condition.left) - number(condition.right));
    case "between": {
      const value = number(condition.value);
      return Math.min(value - number(condition.low), number(condition.high) - value);
    }
    case "and":
      return Math.min(...condition.of.map((part) => figureDistance(part, figures) ?? Number.NaN));
    default:
      return undefined;
  }
}
