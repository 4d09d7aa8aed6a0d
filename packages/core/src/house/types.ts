// What a value can be, and values as plain data.
import type { Unit } from "../units/index.js";

/** A number with its unit. Durations are numbers too: `1..60 min`. */
export interface NumberType {
  readonly kind: "number";
  readonly unit: Unit;
}

/** One of a few words; of exactly two, the first counts as true. Ordered words stand from lowest to highest. */
export interface WordType {
  readonly kind: "words";
  readonly words: readonly string[];
  readonly ordered: boolean;
}

/** A time of day. */
export interface TimeType {
  readonly kind: "time";
}

/** A colour, as `#rrggbb`. */
export interface ColourType {
  readonly kind: "colour";
}

/** A moment, not a state: a button, a remote key. */
export interface PressType {
  readonly kind: "press";
}

/** What a sensor, an output, a dial or a mode holds. */
export type ValueType = NumberType | WordType | TimeType | ColourType | PressType;

/** What a `let` may be, too. */
export interface TruthType {
  readonly kind: "truth";
}

/**
 * A value as plain data: a number in the thing's own unit, a word, milliseconds since midnight for a time of day, or
 * `#rrggbb` for a colour.
 */
export type Value = number | string;

/** Inclusive bounds, in the thing's own unit. */
export type Range = readonly [low: number, high: number];

/** The words of a switch. */
export const onOff: WordType = { kind: "words", words: ["on", "off"], ordered: false };
