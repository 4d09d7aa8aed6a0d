// Expectations against what was: from the line of a condition over a trial to a verdict.

import { lastNotAfter } from "../engine/index.js";
import { compares } from "../expression/index.js";
import type { Expectation, Expression, Window } from "../house/index.js";
import { toBase } from "../units/index.js";

/** What a condition was over time: 1, 0 or NaN from each time on. */
export interface Line {
  readonly times: number[];
  readonly values: number[];
  /** Whether each 1 is a moment of its own. */
  readonly moments: boolean;
}

/** True for single instants only. */
export function isMoment(condition: Expression): boolean {
  return condition.kind === "told" || condition.kind === "problem" || condition.kind === "sent" || condition.kind === "pressed";
}

/** When an expectation first went wrong; undefined when it is met. */
export function firstWrong(claim: Expectation["claim"], window: Window, line: Line): number | undefined {
  if (line.moments) return wrongMoment(claim, window, line);
  if (claim === "holds" && window.kind !== "span") return at(line, window.to) === 1 ? undefined : window.to;
  const wrong = claim === "never" ? (value: number) => value === 1 : (value: number) => value !== 1;
  return firstWithin(line, window, wrong);
}

/** Moments are met at some instant of the window, or at none of it. */
function wrongMoment(claim: Expectation["claim"], window: Window, line: Line): number | undefined {
  const found = line.times.find((time, index) => line.values[index] === 1 && within(window, time));
  if (claim === "never") return found;
  return found === undefined ? window.to : undefined;
}

/** A span leaves its end out, all else takes it in. */
export function within({ from, to, kind }: Window, time: number): boolean {
  return time >= from && (kind === "span" ? time < to : time <= to);
}

function firstWithin(line: Line, window: Window, wrong: (value: number) => boolean): number | undefined {
  if (within(window, window.from) && wrong(at(line, window.from))) return window.from;
  return line.times.find((time, index) => within(window, time) && wrong(line.values[index] as number));
}

export function at({ times, values }: Line, instant: number): number {
  return values[lastNotAfter(times, instant)] ?? Number.NaN;
}

/** Whether a condition became true at a place of its line, from what it was last known to be, as triggers see it. */
export function rises({ values, moments }: Line, place: number): boolean {
  if (values[place] !== 1 || moments) return values[place] === 1;
  let before = place - 1;
  while (before >= 0 && Number.isNaN(values[before] as number)) before--;
  return values[before] !== 1;
}

/** How often a condition became true within the window; true from the beginning of the run on, it did not. */
function countRises(line: Line, window: Window): number {
  return line.times.filter((time, place) => (place > 0 || line.moments) && rises(line, place) && within(window, time)).length;
}

/** Whether a claim about counts and what is joined with them holds; undefined where it cannot be told. */
export function holdsWith(
  expression: Expression,
  figures: ReadonlyMap<Expression, number>,
  truths: ReadonlyMap<Expression, boolean>,
): boolean | undefined {
  const known = truths.get(expression);
  if (known !== undefined) return known;
  switch (expression.kind) {
    case "above":
    case "below":
    case "at least":
    case "at most":
    case "is": {
      const truth = compares(
        expression.kind,
        numberWith(expression.left, figures) ?? Number.NaN,
        numberWith(expression.right, figures) ?? Number.NaN,
      );
      return Number.isNaN(truth) ? undefined : truth === 1;
    }
    case "between": {
      const [value, low, high] = [expression.value, expression.low, expression.high].map((one) => numberWith(one, figures));
      if (value === undefined || low === undefined || high === undefined) return undefined;
      return value >= low && value <= high;
    }
    case "not": {
      const of = holdsWith(expression.of, figures, truths);
      return of === undefined ? undefined : !of;
    }
    case "and":
    case "or": {
      const parts = expression.of.map((part) => holdsWith(part, figures, truths));
      const decisive = expression.kind === "or";
      if (parts.includes(decisive)) return decisive;
      return parts.includes(undefined) ? undefined : !decisive;
    }
    default:
      return undefined;
  }
}

export function numberWith(expression: Expression, counts: ReadonlyMap<Expression, number>): number | undefined {
  if (expression.kind === "number") return toBase(expression);
  return counts.get(expression);
}

export type Counted = Extract<Expression, { kind: "count" | "time true" | "share" }>;

export function isCounted(expression: Expression): expression is Counted {
  return expression.kind === "count" || expression.kind === "time true" || expression.kind === "share";
}

/** The counts, times and shares an expectation speaks of. */
export function countedIn(expression: Expression): Counted[] {
  if (isCounted(expression)) return [expression];
  if (expression.kind === "not") return countedIn(expression.of);
  if (expression.kind === "and" || expression.kind === "or") return expression.of.flatMap(countedIn);
  if (expression.kind === "between") return [expression.value, expression.low, expression.high].flatMap(countedIn);
  return "left" in expression ? [expression.left, expression.right].flatMap(countedIn) : [];
}

/** What a claim with counts rests on: the counts, and the conditions joined with them. */
export function partsOf(expression: Expression): Expression[] {
  const counted = countedIn(expression);
  if (counted.length === 0) return [expression];
  if (expression.kind === "not") return partsOf(expression.of);
  return expression.kind === "and" || expression.kind === "or" ? expression.of.flatMap(partsOf) : counted;
}

/** The condition whose line a part is told by. */
export function lineOf(part: Expression): Expression {
  return isCounted(part) ? part.condition : part;
}

/** How often, how long (ms), or for what share (%) of what is known, a condition was true. */
export function figureOf({ kind }: Counted, line: Line, window: Window): number {
  if (kind === "count") return countRises(line, window);
  const { from, to } = window;
  let truth = 0;
  let known = 0;
  line.times.forEach((time, index) => {
    const lasted = Math.min(to, line.times[index + 1] ?? to) - Math.max(from, time);
    const value = line.values[index] as number;
    if (lasted <= 0 || Number.isNaN(value)) return;
    known += lasted;
    if (value === 1) truth += lasted;
  });
  return kind === "time true" ? truth : known > 0 ? (100 * truth) / known : Number.NaN;
}

/** The first time a condition became true within the window that was not answered in time. */
export function firstUnanswered(window: Window, line: Line, answer: Line, limit: number): number | undefined {
  return line.times.find((time, index) => {
    if (!rises(line, index) || !within(window, time) || time + limit > window.to) return false;
    const already = !answer.moments && at(answer, time) === 1;
    return !already && !comesWithin(answer, time, time + limit);
  });
}

/** Whether a line becomes, or is again, 1 from one instant to another, both included. */
function comesWithin({ times, values }: Line, from: number, to: number): boolean {
  for (let place = lastNotAfter(times, from - 1) + 1; place < times.length && (times[place] as number) <= to; place++)
    if (values[place] === 1) return true;
  return false;
}
