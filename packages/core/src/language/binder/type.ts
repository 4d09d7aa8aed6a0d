// What the binder knows about a value: its kind, and for numbers the dimension and a unit to name it by.
import type { ValueType } from "../../house/index.js";
import { type Dimension, dimensionOf, type Unit } from "../../units/index.js";
import { sayDimension } from "../words.js";

export type Type =
  | { readonly kind: "truth" }
  | { readonly kind: "number"; readonly dimension: Dimension; readonly unit: Unit }
  | { readonly kind: "words"; readonly words: readonly string[]; readonly ordered: boolean }
  | { readonly kind: "time" }
  | { readonly kind: "instant" }
  | { readonly kind: "unknown" };

export const truth: Type = { kind: "truth" };
export const timeOfDay: Type = { kind: "time" };
export const instant: Type = { kind: "instant" };
export const duration: Type = { kind: "number", dimension: "duration", unit: "min" };

export function numberType(unit: Unit): Extract<Type, { kind: "number" }> {
  return { kind: "number", dimension: dimensionOf(unit), unit };
}

export function typeOfValue(type: ValueType): Type {
  return type.kind === "number" ? numberType(type.unit) : type;
}

/** A difference of two values of a type: kelvin for temperatures, itself for all else. */
export function differenceOf(type: Type): Type {
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
      return type.dimension === "plain" ? "a bare number" : `${sayDimension(type.dimension)} (${type.unit})`;
    case "words":
      return `one of ${type.words.join("/")}`;
    case "time":
      return "a time of day";
    case "instant":
      return "a date and time";
    case "unknown":
      return "unknown";
    default:
      throw new RangeError(`no such type: ${JSON.stringify(type satisfies never)}`);
  }
}
