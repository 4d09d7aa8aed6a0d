// Values and conditions of a house written in TypeScript. What kind each is, is known to the compiler: a humidity is not
// compared with a temperature, a door is open or closed and nothing else.

import type { Bound, Expression, SeveralFunction } from "../house/index.js";
import { readTimeOfDay } from "../house/index.js";
import type { Dimension, DimensionOf, Quantity, Unit } from "../units/index.js";

declare const kind: unique symbol;

/** A value or condition whose kind the compiler knows. */
export interface Term<Kind> {
  readonly expression: Expression;
  /** The words it may be, where it is one of some. */
  readonly words?: readonly string[];
  readonly [kind]?: Kind;
}

/** Kinds of values: a number of a dimension, one of some words, a time of day, something true or false. */
export interface NumberOf<Of extends Dimension> {
  readonly number: Of;
}
export interface WordOf<Words extends string> {
  readonly word: Words;
}
export interface TimeOfDay {
  readonly time: true;
}
export interface Truth {
  readonly truth: true;
}

/** Something that is true, false or unknown. */
export type Condition = Term<Truth>;

type UnitOf<Of extends Dimension> = { [Name in Unit]: DimensionOf<Name> extends Of ? Name : never }[Unit];

/** A temperature moves by kelvins, all else by its own units. */
export type DifferenceOf<Of extends Dimension> = Of extends "temperature" ? "temperature difference" : Of;

/** Another value of a dimension, or a fixed one. */
export type Amount<Of extends Dimension> = Term<NumberOf<Of>> | Quantity<UnitOf<Of>>;
export type Lasting = Amount<"duration">;

/** What may be put where a kind is wanted: a value of it, or a constant as it is written. */
export type Operand<Kind> =
  | Term<Kind>
  | (Kind extends NumberOf<infer Of> ? Quantity<UnitOf<Of>> : never)
  | (Kind extends WordOf<infer Words> ? Words : never)
  | (Kind extends TimeOfDay ? string : never);

// ── Constants ───────────────────────────────────────────────────────────────────────────────────────────────────────────

/** So many seconds, in milliseconds. */
export const seconds = (count: number): Quantity<"ms"> => ({ value: count * 1e3, unit: "ms" });
/** So many minutes, in milliseconds. */
export const minutes = (count: number): Quantity<"ms"> => ({ value: count * 60e3, unit: "ms" });
/** So many hours, in milliseconds. */
export const hours = (count: number): Quantity<"ms"> => ({ value: count * 3600e3, unit: "ms" });

/**
 * Milliseconds since midnight of `07:30` or `22:15:30`.
 * @throws RangeError when it is no time of day
 */
export function timeOfDay(text: string): number {
  const ms = readTimeOfDay(text);
  if (ms === undefined) throw new RangeError(`"${text}" is no time of day, as 07:30`);
  return ms;
}

export function amount(of: Amount<Dimension>): Expression {
  return "expression" in of ? of.expression : { kind: "number", ...of };
}

/** A constant or a value as an expression; `words` are those of the place it stands in. */
export function operand(of: Term<unknown> | Quantity | string, words: readonly string[] = []): Expression {
  if (typeof of !== "string") return amount(of as Amount<Dimension>);
  return words.length > 0 ? { kind: "word", word: of, of: words } : { kind: "time", ms: timeOfDay(of) };
}

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
export function between<Of extends Dimension>(
  value: Term<NumberOf<Of>>,
  low: Amount<NoInfer<Of>>,
  high: Amount<NoInfer<Of>>,
): Condition {
  return condition({ kind: "between", value: value.expression, low: amount(low), high: amount(high) });
}

/** It has this word; unknown where it has not reported. */
export function is<Words extends string>(value: Term<WordOf<Words>>, word: NoInfer<Words>): Condition {
  return condition({ kind: "is", left: value.expression, right: { kind: "word", word, of: value.words ?? [] } });
}

/** It has not reported, or nothing good for too long. */
export function isUnknown(value: Term<unknown>): Condition {
  return condition({ kind: "is", left: value.expression, right: { kind: "unknown" } });
}

/** The opposite; unknown stays unknown. */
export function not(of: Condition): Condition {
  return condition({ kind: "not", of: of.expression });
}

/** All of these: false where one is, whatever is unknown beside it. */
export function all(...of: readonly Condition[]): Condition {
  return joined("and", of);
}

/** At least one of these: true where one is, whatever is unknown beside it. */
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

/** With memory: from the first until the second; the second wins where both hold. */
export function until(of: Condition, reset: Condition, limit?: { readonly atMost: Lasting; readonly pause: Lasting }): Condition {
  const ends = limit && { atMost: amount(limit.atMost), pause: amount(limit.pause) };
  return condition({ kind: "until", condition: of.expression, reset: reset.expression, ...ends });
}

// ── Values ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** More by a difference: of a temperature by kelvins. */
export function plus<Of extends Dimension>(value: Term<NumberOf<Of>>, by: Amount<DifferenceOf<NoInfer<Of>>>): Term<NumberOf<Of>> {
  return { expression: { kind: "plus", left: value.expression, right: amount(by) } };
}

/** Less by a difference: of a temperature by kelvins. */
export function minus<Of extends Dimension>(
  value: Term<NumberOf<Of>>,
  by: Amount<DifferenceOf<NoInfer<Of>>>,
): Term<NumberOf<Of>> {
  return { expression: { kind: "minus", left: value.expression, right: amount(by) } };
}

/** One value or another. */
export function choose<Kind>(when: Condition, then: Term<Kind>, otherwise: Operand<NoInfer<Kind>>): Term<Kind> {
  const parts = { condition: when.expression, then: then.expression, else: operand(otherwise as Term<unknown>, then.words) };
  return { expression: { kind: "if", ...parts }, ...(then.words && { words: then.words }) };
}

/** Of several values of one kind: those that are unknown are left out; unknown when fewer than `known` are not. */
export function aggregate<Of extends Dimension>(
  name: Exclude<SeveralFunction, "spread">,
  of: readonly Term<NumberOf<Of>>[],
  known = 1,
): Term<NumberOf<Of>> {
  return { expression: { kind: "of several", function: name, of: of.map((one) => one.expression), known } };
}

/** How much one value is above another: of temperatures in kelvins. */
export function difference<Of extends Dimension>(
  value: Term<NumberOf<Of>>,
  less: Amount<NoInfer<Of>>,
): Term<NumberOf<DifferenceOf<Of>>> {
  return { expression: { kind: "minus", left: value.expression, right: amount(less) } };
}

// ── Named values ────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A value under a name of its own, as `let` gives one. */
export interface Reckoned<Kind> extends Term<Kind> {
  readonly reckoned: { readonly name: string; readonly title?: string; readonly value: Expression };
}

/** Gives a value or condition a name: `why` and the panel then show it. It has to be among the `lets` of the house. */
export function reckoned<Kind>(name: string, value: Term<Kind>, { title }: { readonly title?: string } = {}): Reckoned<Kind> {
  const named = { name, ...(title !== undefined && { title }), value: value.expression };
  return { expression: { kind: "value", of: name }, ...(value.words && { words: value.words }), reckoned: named };
}
