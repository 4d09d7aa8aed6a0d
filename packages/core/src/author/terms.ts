// Conditions and values of a house written in TypeScript: comparisons, memory, sums, choices, functions.

import type { Bound, Case, DayTime, Expression, SeveralFunction, ValueFunction } from "../house/index.js";
import { dayTimeOf } from "../house/index.js";
import type { Dimension } from "../units/index.js";
import {
  type Amount,
  amount,
  type Condition,
  type DifferenceOf,
  type DifferenceOfKind,
  type Lasting,
  type NumberOf,
  type Operand,
  operand,
  type Term,
  type TimeOfDay,
  type WordOf,
} from "./kinds.js";

const condition = (expression: Expression): Condition => ({ expression });

// ── Conditions ──────────────────────────────────────────────────────────────────────────────────────────────────────────

function compare<Kind>(bound: Bound, left: Term<Kind>, right: Operand<NoInfer<Kind>>): Condition {
  return condition({ kind: bound, left: left.expression, right: operand(right as Term<unknown>, left.words) });
}

/** Strictly above; unknown where one of the two is. */
export function above<Kind>(value: Term<Kind>, bound: Operand<NoInfer<Kind>>): Condition {
  return compare("above", value, bound);
}

/** Strictly below; unknown where one of the two is. */
export function below<Kind>(value: Term<Kind>, bound: Operand<NoInfer<Kind>>): Condition {
  return compare("below", value, bound);
}

/** Above, or equal to the bound. */
export function atLeast<Kind>(value: Term<Kind>, bound: Operand<NoInfer<Kind>>): Condition {
  return compare("at least", value, bound);
}

/** Below, or equal to the bound. */
export function atMost<Kind>(value: Term<Kind>, bound: Operand<NoInfer<Kind>>): Condition {
  return compare("at most", value, bound);
}

/** With both bounds. */
export function between<Kind>(value: Term<Kind>, low: Operand<NoInfer<Kind>>, high: Operand<NoInfer<Kind>>): Condition {
  const [bottom, top] = [low, high].map((end) => operand(end as Term<unknown>, value.words)) as [Expression, Expression];
  return condition({ kind: "between", value: value.expression, low: bottom, high: top });
}

/** It has this word, or equals this; unknown where it has not reported. */
export function is<Kind>(value: Term<Kind>, one: Operand<NoInfer<Kind>>): Condition {
  return condition({ kind: "is", left: value.expression, right: operand(one as Term<unknown>, value.words) });
}

/** It has not reported, or nothing good for too long. */
export function isUnknown(value: Term<unknown>): Condition {
  return condition({ kind: "is", left: value.expression, right: { kind: "unknown" } });
}

/** The opposite; unknown stays unknown. */
export function not(of: Condition): Condition {
  return condition({ kind: "not", of: of.expression });
}

/** All of these: false where one is, whatever is unknown besides. */
export function all(...of: readonly Condition[]): Condition {
  return joined("and", of);
}

/** At least one of these: true where one is, whatever is unknown besides. */
export function any(...of: readonly Condition[]): Condition {
  return joined("or", of);
}

function joined(kind: "and" | "or", of: readonly Condition[]): Condition {
  const [only] = of;
  return only && of.length === 1 ? only : condition({ kind, of: of.map((one) => one.expression) });
}

/** It has been so, without a break, for so long. */
export function lasting(of: Condition, duration: Lasting): Condition {
  return condition({ kind: "for", condition: of.expression, duration: amount(duration) });
}

/** It is so, or was less than so long ago. */
export function inTheLast(of: Condition, duration: Lasting): Condition {
  return condition({ kind: "in the last", condition: of.expression, duration: amount(duration) });
}

/**
 * With memory: from the first until the second; the second wins where both hold. With `atMost` it ends by itself too, and then
 * rests for `pause`, or until the first has been false.
 */
export function until(
  of: Condition,
  reset: Condition,
  { atMost, pause }: { readonly atMost?: Lasting; readonly pause?: Lasting } = {},
): Condition {
  const ends = { ...(atMost && { atMost: amount(atMost) }), ...(pause && { pause: amount(pause) }) };
  return condition({ kind: "until", condition: of.expression, reset: reset.expression, ...ends });
}

// ── Sums and choices ────────────────────────────────────────────────────────────────────────────────────────────────────

type Movable = NumberOf<Dimension> | TimeOfDay;
/** A temperature is not multiplied: a difference is, in K. */
type Multiplied = Exclude<Dimension, "temperature">;

const joins = (kind: "plus" | "minus" | "times" | "divided", left: Term<unknown>, right: unknown): Term<never> => ({
  expression: { kind, left: left.expression, right: operand(right as Term<unknown>) },
});

/** More by a difference: a temperature by kelvins, a time of day by a duration. */
export function plus<Kind extends Movable>(value: Term<Kind>, by: Amount<DifferenceOfKind<NoInfer<Kind>>>): Term<Kind> {
  return joins("plus", value, by);
}

/** Less by a difference: a temperature by kelvins, a time of day by a duration. */
export function minus<Kind extends Movable>(value: Term<Kind>, by: Amount<DifferenceOfKind<NoInfer<Kind>>>): Term<Kind>;
/** How much one value is above another: of temperatures in kelvins, of times of day as a duration. */
export function minus<Kind extends Movable>(value: Term<Kind>, less: Term<NoInfer<Kind>>): Term<NumberOf<DifferenceOfKind<Kind>>>;
export function minus(value: Term<unknown>, by: unknown): Term<never> {
  return joins("minus", value, by);
}

/** So many times as much; one of the two is a bare number. */
export function times<Of extends Multiplied>(value: Term<NumberOf<Of>>, by: Amount<"plain">): Term<NumberOf<Of>>;
export function times<Of extends Multiplied>(by: Term<NumberOf<"plain">>, value: Term<NumberOf<Of>>): Term<NumberOf<Of>>;
export function times(value: Term<unknown>, by: unknown): Term<never> {
  return joins("times", value, by);
}

/** The so manieth part. */
export function dividedBy<Of extends Multiplied>(value: Term<NumberOf<Of>>, by: Amount<"plain">): Term<NumberOf<Of>>;
/** How often one value goes into another of its dimension. */
export function dividedBy<Of extends Multiplied>(value: Term<NumberOf<Of>>, by: Amount<NoInfer<Of>>): Term<NumberOf<"plain">>;
export function dividedBy(value: Term<unknown>, by: unknown): Term<never> {
  return joins("divided", value, by);
}

/** Below zero by as much as it was above. */
export function negative<Of extends Dimension>(value: Term<NumberOf<Of>>): Term<NumberOf<Of>> {
  return { expression: { kind: "negative", of: value.expression } };
}

/** One value or another. */
export function choose<Kind>(when: Condition, then: Term<Kind>, otherwise: Operand<Kind>): Term<Kind> {
  const parts = { condition: when.expression, then: then.expression, else: operand(otherwise as Term<unknown>, then.words) };
  const words = then.words ?? (otherwise as Term<Kind>).words;
  return { expression: { kind: "if", ...parts }, ...(words && { words }) };
}

/** A case of `pick`: what is picked by has one of some words, lies beyond a bound or between two, or is all else. */
export type PickCase<By, Kind> = { readonly then: Term<Kind> } & (
  | { readonly is: By extends WordOf<infer Words> ? Words | readonly Words[] : never }
  | { readonly above: Operand<By> }
  | { readonly below: Operand<By> }
  | { readonly atLeast: Operand<By> }
  | { readonly atMost: Operand<By> }
  | { readonly between: readonly [Operand<By>, Operand<By>] }
  | { readonly otherwise: true }
  | { readonly unknown: true }
);

/** The first case that fits, from the top. Without a case for `unknown`, what is picked by something unknown is unknown. */
export function pick<By, Kind>(by: Term<By>, cases: readonly PickCase<NoInfer<By>, Kind>[]): Term<Kind> {
  const words = cases.find(({ then }) => then.words)?.then.words;
  const picked = cases.map((one): Case => ({ if: headOf(by, one), then: one.then.expression }));
  return { expression: { kind: "pick", by: by.expression, cases: picked }, ...(words && { words }) };
}

function headOf<By>(by: Term<By>, one: PickCase<By, unknown>): Case["if"] {
  if ("is" in one) {
    const of = [one.is as string | readonly string[]].flat().map((each) => is(by, each as Operand<By>));
    return any(...of).expression;
  }
  if ("above" in one) return above(by, one.above).expression;
  if ("below" in one) return below(by, one.below).expression;
  if ("atLeast" in one) return atLeast(by, one.atLeast).expression;
  if ("atMost" in one) return atMost(by, one.atMost).expression;
  if ("between" in one) return between(by, ...one.between).expression;
  return "otherwise" in one ? "otherwise" : "unknown";
}

// ── Functions ───────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Of several values of one kind: those that are unknown are left out; unknown when fewer than `known` are not. */
export function aggregate<Of extends Dimension>(
  name: Exclude<SeveralFunction, "spread">,
  of: readonly Term<NumberOf<Of>>[],
  known?: number,
): Term<NumberOf<Of>>;
/** How far the highest of several values is above the lowest. */
export function aggregate<Of extends Dimension>(
  name: "spread",
  of: readonly Term<NumberOf<Of>>[],
  known?: number,
): Term<NumberOf<DifferenceOf<Of>>>;
export function aggregate(name: SeveralFunction, of: readonly Term<unknown>[], known = 1): Term<never> {
  return { expression: { kind: "of several", function: name, of: of.map((one) => one.expression), known } };
}

const called = (name: ValueFunction, ...of: readonly Operand<never>[]): Term<never> => ({
  expression: { kind: "call", function: name, of: of.map((one) => operand(one)) },
});

/** Without its sign. */
export function abs<Of extends Dimension>(value: Term<NumberOf<Of>>): Term<NumberOf<Of>> {
  return called("abs", value as Term<never>);
}

/** To a whole number of its unit. */
export function round<Of extends Dimension>(value: Term<NumberOf<Of>>): Term<NumberOf<Of>> {
  return called("round", value as Term<never>);
}

type Temperature = Amount<"temperature">;
type Humidity = Amount<"relative humidity">;
const ofAir = (name: ValueFunction, temperature: Temperature, humidity: Humidity) =>
  called(name, temperature as Term<never>, humidity as Term<never>);

/** The temperature at which its water would condense. */
export function dewPoint(temperature: Temperature, humidity: Humidity): Term<NumberOf<"temperature">> {
  return ofAir("dew_point", temperature, humidity);
}

/** Its water, in g/m³. */
export function absoluteHumidity(temperature: Temperature, humidity: Humidity): Term<NumberOf<"mass concentration">> {
  return ofAir("absolute_humidity", temperature, humidity);
}

/** How much more water it would take, as a pressure. */
export function vapourPressureDeficit(temperature: Temperature, humidity: Humidity): Term<NumberOf<"pressure">> {
  return ofAir("vapour_pressure_deficit", temperature, humidity);
}

/** How warm it feels. */
export function feltTemperature(temperature: Temperature, humidity: Humidity): Term<NumberOf<"temperature">> {
  return ofAir("felt_temperature", temperature, humidity);
}

type Ends<Of extends Dimension> = readonly [low: Amount<NoInfer<Of>>, high: Amount<NoInfer<Of>>];
const endsOf = ([low, high]: Ends<Dimension>) => ({ low: amount(low), high: amount(high) });

/** Kept between two ends. */
export function clamp<Of extends Dimension>(value: Term<NumberOf<Of>>, ends: Ends<Of>): Term<NumberOf<Of>> {
  return { expression: { kind: "clamp", value: value.expression, ...endsOf(ends as Ends<Dimension>) } };
}

/** A straight line from one range to another, clamped at both ends; the second begins with a value. */
export function scale<Of extends Dimension, To extends Dimension>(
  value: Term<NumberOf<Of>>,
  from: Ends<Of>,
  to: readonly [low: Term<NumberOf<To>>, high: Amount<NoInfer<To>>],
): Term<NumberOf<To>> {
  const ends = { from: endsOf(from as Ends<Dimension>), to: endsOf(to as Ends<Dimension>) };
  return { expression: { kind: "scale", value: value.expression, ...ends } };
}

/** Over a window of time that ends now: the mean, the lowest or highest value. */
export function over<Of extends Dimension>(
  name: "mean" | "min" | "max",
  value: Term<NumberOf<Of>>,
  window: Lasting,
): Term<NumberOf<Of>>;
/** How much it has risen in that time. */
export function over<Of extends Dimension>(
  name: "rise",
  value: Term<NumberOf<Of>>,
  window: Lasting,
): Term<NumberOf<DifferenceOf<Of>>>;
/** How long it was so in that time. */
export function over(name: "time", of: Condition, window: Lasting): Term<NumberOf<"duration">>;
/** How often it became so in that time. */
export function over(name: "count", of: Condition, window: Lasting): Term<NumberOf<"plain">>;
export function over(
  name: "mean" | "min" | "max" | "rise" | "time" | "count",
  value: Term<unknown>,
  window: Lasting,
): Term<never> {
  return { expression: { kind: "over", function: name, value: value.expression, over: amount(window) } as Expression };
}

// ── Named values ────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A value under a name of its own, as `let` gives one. */
export interface Reckoned<Kind> extends Term<Kind> {
  readonly reckoned: { readonly name: string; readonly title?: string; readonly note?: string; readonly value: Expression };
}

/** Gives a value or condition a name: `why` and the panel then show it. It has to be among the `lets` of the house. */
export function reckoned<Kind>(
  name: string,
  value: Term<Kind>,
  { title, note }: { readonly title?: string; readonly note?: string } = {},
): Reckoned<Kind> {
  const named = { name, ...(title !== undefined && { title }), ...(note !== undefined && { note }), value: value.expression };
  return { expression: { kind: "value", of: name }, ...(value.words && { words: value.words }), reckoned: named };
}

/** A time of day as what a trigger or a span takes: one of the sun goes with the sun. */
export function dayTime(time: Operand<TimeOfDay>): DayTime {
  return dayTimeOf(operand(time));
}
