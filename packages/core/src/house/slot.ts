// What a thing can hold, and the only place that turns texts, own values and base numbers into one another. Base numbers
// are what is calculated with: numbers stand in the base unit of their dimension, words by their place among the words of
// their type, colours by their 24 bits, times by milliseconds since midnight, and unknown is NaN.

import {
  convert,
  dimensionOf,
  equalNumbers,
  fromBase,
  isUnit,
  toBase,
  writeQuantity,
  writeReading,
  writeTimeOfDay,
} from "../units/index.js";
import { colours, nameOfColour } from "./colours.js";
import type { Range, Value, ValueType } from "./types.js";

/** What a thing can hold. */
export interface Slot {
  readonly type: ValueType;
  /** In its own unit, both ends included. */
  readonly range?: Range | undefined;
}

/** The type of what is shown of a thing: also of what is true or not. */
type ShownType = ValueType | { readonly kind: "truth" };

/** The number that stands for a word. @throws RangeError when the type has no such word */
export function placeOf(word: string, type: ValueType): number {
  const place = type.kind === "words" ? type.words.indexOf(word) : -1;
  if (place < 0) throw new RangeError(`"${word}" is none of the words of its place`);
  return place;
}

/** A base number, from a value in the thing's own unit. @throws RangeError when the type has no such word */
export function baseOf(value: Value, type: ValueType): number {
  if (type.kind === "colour" && typeof value === "string") return Number.parseInt(value.slice(1), 16);
  if (typeof value === "string") return placeOf(value, type);
  return type.kind === "number" ? toBase({ value, unit: type.unit }) : value;
}

/** A value in the thing's own unit; undefined when unknown. */
export function ownOf(base: number, type: ShownType): Value | undefined {
  if (Number.isNaN(base)) return undefined;
  if (type.kind === "words") return type.words[base];
  if (type.kind === "truth") return base === 1 ? "yes" : "no";
  if (type.kind === "colour") return `#${base.toString(16).padStart(6, "0")}`;
  return type.kind === "number" ? fromBase(base, type.unit) : base;
}

/** Why a value is not one of a thing's own, if it is not. */
export function misfit({ type, range }: Slot, value: Value): string | undefined {
  if (type.kind === "words") {
    return typeof value === "string" && type.words.includes(value) ? undefined : `it is one of ${type.words.join("/")}`;
  }
  if (type.kind === "colour")
    return typeof value === "string" && /^#[0-9a-f]{6}$/.test(value) ? undefined : "it is a colour such as #ffbf00";
  if (typeof value !== "number" || !Number.isFinite(value)) return notANumber({ type, range });
  return range && beyond(range, baseOf(value, type), type);
}

/** The same of a base number. */
export function misfitNumber({ type, range }: Slot, base: number): string | undefined {
  if (type.kind === "words") return type.words[base] === undefined ? `it is one of ${type.words.join("/")}` : undefined;
  if (!Number.isFinite(base)) return notANumber({ type, range });
  if (type.kind === "colour") return Number.isInteger(base) && base >= 0 && base <= 0xffffff ? undefined : "it is a colour";
  return range && beyond(range, base, type);
}

/** One that is equal to an end of the range is in it. */
function beyond([low, high]: Range, base: number, type: ValueType): string | undefined {
  const [lowest, highest] = [baseOf(low, type), baseOf(high, type)];
  const isIn = (base >= lowest && base <= highest) || equalNumbers(base, lowest) || equalNumbers(base, highest);
  const unit = type.kind === "number" ? type.unit : "";
  return isIn ? undefined : `its range is ${low}..${writeQuantity({ value: high, unit })}`;
}

/** A base number kept within the range. */
export function clampTo({ type, range }: Slot, base: number): number {
  if (!range || Number.isNaN(base)) return base;
  return Math.min(baseOf(range[1], type), Math.max(baseOf(range[0], type), base));
}

/**
 * A text as a value in the thing's own unit: "20.5", "68 °F" for a thing in °C, "on", "07:30", "#ffbf00", "amber".
 * Else why it is none.
 */
export function readValue(slot: Slot, text: string): { readonly value: Value } | { readonly misfit: string } {
  const { type } = slot;
  const written = type.kind === "words" ? text : type.kind === "colour" ? (colours.get(text) ?? text) : undefined;
  const value = written !== undefined ? written : type.kind === "time" ? readTimeOfDay(text) : readNumber(type, text);
  if (value === undefined) return { misfit: type.kind === "time" ? "it is a time of day such as 07:30" : notANumber(slot) };
  const why = misfit(slot, value);
  return why === undefined ? { value } : { misfit: why };
}

function notANumber({ type, range }: Slot): string {
  if (type.kind === "time") return "it is a time of day, in milliseconds since midnight";
  if (type.kind === "colour") return "it is a colour such as #ffbf00";
  const unit = type.kind === "number" ? type.unit : "";
  const inUnit = unit === "" ? "it is a number" : `it is a number in ${unit}`;
  return range ? `${inUnit}, and its range is ${range[0]}..${writeQuantity({ value: range[1], unit })}` : inUnit;
}

/** In the unit of the type, or with a unit of the same dimension. */
function readNumber(type: ValueType, text: string): number | undefined {
  const [, number, unit = ""] = /^([+-]?\d+(?:\.\d+)?)\s*(\S*)$/.exec(text) ?? [];
  if (number === undefined || type.kind !== "number") return undefined;
  if (unit === "" || unit === type.unit) return Number(number);
  if (!isUnit(unit) || dimensionOf(unit) !== dimensionOf(type.unit)) return undefined;
  return convert({ value: Number(number), unit }, type.unit).value;
}

/** Milliseconds since midnight of `07:30`, `22:15:30` or `24:00`. */
export function readTimeOfDay(text: string): number | undefined {
  const [, hours, minutes = "", seconds = "0"] = /^(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?$/.exec(text) ?? [];
  if (hours === undefined || Number(minutes) > 59 || Number(seconds) >= 60) return undefined;
  const ms = Math.round((Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) * 1e3);
  return ms <= 86400e3 ? ms : undefined;
}

/** A value in the thing's own unit as people read it. */
export function sayValue(type: ShownType, value: Value | undefined): string {
  if (value === undefined) return "unknown";
  if (typeof value === "string") return type.kind === "colour" ? (nameOfColour(value) ?? value) : value;
  if (type.kind === "time") return writeTimeOfDay(value);
  return type.kind === "number" ? writeReading(value, type.unit) : String(value);
}
