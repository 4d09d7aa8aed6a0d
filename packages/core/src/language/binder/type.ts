// What the binder knows about a value: its kind, and for numbers the dimension and a unit to name it by.
import type { TruthType, ValueType } from "../../house/index.js";
import { weekdayNames } from "../../time/index.js";
import { type Dimension, dimensionOf, type Unit } from "../../units/index.js";
import { sayDimension } from "../words.js";

export type Type =
  | { readonly kind: "truth" }
  | { readonly kind: "number"; readonly dimension: Dimension; readonly unit: Unit }
  | { readonly kind: "words"; readonly words: readonly string[]; readonly ordered: boolean }
  | { readonly kind: "time" }
  | { readonly kind: "date" }
  | { readonly kind: "instant" }
  | { readonly kind: "colour" }
  | { readonly kind: "press" }
  | { readonly kind: "unknown" };

export const truth: Type = { kind: "truth" };
export const timeOfDay: Type = { kind: "time" };
export const date: Type = { kind: "date" };
export const instant: Type = { kind: "instant" };
export const colour: Type = { kind: "colour" };
export const duration: Type = { kind: "number", dimension: "duration", unit: "min" };
export const weekday: Extract<Type, { kind: "words" }> = { kind: "words", words: weekdayNames, ordered: true };

export function numberType(unit: Unit): Extract<Type, { kind: "number" }> {
  return { kind: "number", dimension: dimensionOf(unit), unit };
}

export function typeOfValue(type: ValueType | TruthType): Type {
  return type.kind === "number" ? numberType(type.unit) : type;
}

/** What a thing of this type holds; undefined for what no thing can hold. */
export function valueTypeOf(type: Type): ValueType | TruthType | undefined {
  if (type.kind === "number") return { kind: "number", unit: type.unit };
  return type.kind === "words" || type.kind === "time" || type.kind === "colour" || type.kind === "truth" ? type : undefined;
}

/** A difference of two values of a type: kelvin for temperatures, a duration for times of day, itself for all else. */
export function differenceOf(type: Type): Type {
  if (type.kind === "time") return duration;
  return type.kind === "number" && type.dimension === "temperature" ? numberType("K") : type;
}

/** Whether one value may be compared with, or set to, another. */
export function fits(a: Type, b: Type): boolean {
  if (a.kind === "unknown" || b.kind === "unknown") return true;
  if (a.kind === "number" && b.kind === "number") return a.dimension === b.dimension;
  if (a.kind === "words" && b.kind === "words") return a.words.join("/") === b.words.join("/");
  return a.kind === b.kind;
}

export function sayType(type: Type): string {
  switch (type.kind) {
    case "truth":
      return "a condition";
    case "number":
      if (type.dimension === "plain") return "a bare number";
      return type.dimension === "share" ? "a percentage" : `${sayDimension(type.dimension)} (${type.unit})`;
    case "words":
      return `one of ${type.words.join("/")}`;
    case "time":
      return "a time of day";
    case "date":
      return "a date";
    case "instant":
      return "a date and time";
    case "colour":
      return "a colour";
    case "press":
      return "a press";
    case "unknown":
      return "unknown";
    default:
      throw new RangeError(`no such type: ${JSON.stringify(type satisfies never)}`);
  }
}
