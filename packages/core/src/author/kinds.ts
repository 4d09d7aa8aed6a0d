// What kind a value is, as the compiler knows it, and what may be written where a kind is wanted: a humidity is not compared
// with a temperature, a door is open or closed and nothing else.

import type { Expression } from "../house/index.js";
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

/** Kinds of values: a number of a dimension, one of some words, a time of day, a date, both, a colour, true or false. */
export interface NumberOf<Of extends Dimension> {
  readonly number: Of;
}
export interface WordOf<Words extends string> {
  readonly word: Words;
}
export interface TimeOfDay {
  readonly time: true;
}
export interface DateOf {
  readonly date: true;
}
export interface InstantOf {
  readonly instant: true;
}
export interface ColourOf {
  readonly colour: true;
}
export interface Truth {
  readonly truth: true;
}
/** A moment that is pressed, not a state. */
export interface Pressed {
  readonly pressed: true;
}

/** Something that is true, false or unknown. */
export type Condition = Term<Truth>;

type UnitOf<Of extends Dimension> = { [Name in Unit]: DimensionOf<Name> extends Of ? Name : never }[Unit];

/** What two values of a kind differ by: temperatures by kelvins, times of day by a duration, all else by its own units. */
export type DifferenceOf<Of extends Dimension> = Of extends "temperature" ? "temperature difference" : Of;
export type DifferenceOfKind<Kind> = Kind extends TimeOfDay
  ? "duration"
  : Kind extends NumberOf<infer Of>
    ? DifferenceOf<Of>
    : never;

/** Another value of a dimension, or a fixed one. */
export type Amount<Of extends Dimension> = Term<NumberOf<Of>> | Quantity<UnitOf<Of>>;
export type Lasting = Amount<"duration">;

/**
 * What may be put where a kind is wanted: a value of it, or a constant as it is written: `quantity(20, "°C")`, `"open"`,
 * `"07:30"`, `"2026-03-14"`, `"2026-03-14 07:30"`, `"#ffbf00"`.
 */
export type Operand<Kind> =
  | Term<Kind>
  | (Kind extends NumberOf<infer Of> ? Quantity<UnitOf<Of>> : never)
  | (Kind extends WordOf<infer Words> ? Words : never)
  | (Kind extends TimeOfDay | DateOf | InstantOf ? string : never)
  | (Kind extends ColourOf ? `#${string}` : never);

// ── Constants ───────────────────────────────────────────────────────────────────────────────────────────────────────────

/** So many seconds, in milliseconds. */
export const seconds = (count: number): Quantity<"ms"> => ({ value: count * 1e3, unit: "ms" });
/** So many minutes, in milliseconds. */
export const minutes = (count: number): Quantity<"ms"> => ({ value: count * 60e3, unit: "ms" });
/** So many hours, in milliseconds. */
export const hours = (count: number): Quantity<"ms"> => ({ value: count * 3600e3, unit: "ms" });

/** A number as a value: where a sum, a product or a choice begins with it. */
export function fixed<Of extends Unit>(value: number, unit: Of): Term<NumberOf<DimensionOf<Of>>> {
  return { expression: { kind: "number", value, unit } };
}

/** A word as a value: of the words of a thing, or of these. */
export function word<Words extends string>(of: Term<WordOf<Words>> | readonly Words[], one: NoInfer<Words>): Term<WordOf<Words>> {
  const words = "expression" in of ? (of.words ?? []) : of;
  return { expression: { kind: "word", word: one, of: words }, words };
}

/** A time of day as a value: `time("07:30")`. */
export function time(text: string): Term<TimeOfDay> {
  return { expression: { kind: "time", ms: timeOfDay(text) } };
}

/** A colour as a value: `colour("#ffbf00")`. */
export function colour(text: `#${string}`): Term<ColourOf> {
  return { expression: { kind: "colour", colour: text.toLowerCase() } };
}

/** A date as a value: `date("2026-03-14")`. */
export function date(text: string): Term<DateOf> {
  return { expression: { kind: "date", date: text } };
}

/** A date and time on the house's own clock as a value: `instant("2026-03-14", "07:30")`. */
export function instant(day: string, clock: string): Term<InstantOf> {
  return { expression: { kind: "instant", date: day, ms: timeOfDay(clock) } };
}

/** Nothing is known: it goes with any kind. */
export const unknown: Term<never> = { expression: { kind: "unknown" } };

/**
 * Milliseconds since midnight of `07:30` or `22:15:30`.
 * @throws RangeError when it is not a time of day
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
  if (words.length > 0) return { kind: "word", word: of, of: words };
  if (of.startsWith("#")) return { kind: "colour", colour: of.toLowerCase() };
  const [, date, clock] = /^(\d{4}-\d\d-\d\d)(?:[ T](.+))?$/.exec(of) ?? [];
  if (date === undefined) return { kind: "time", ms: timeOfDay(of) };
  return clock === undefined ? { kind: "date", date } : { kind: "instant", date, ms: timeOfDay(clock) };
}
