// What stands fixed in a declaration: numbers, ranges, words and values that depend on nothing.
import type { Range, TruthType, Value, ValueType } from "../../house/index.js";
import { constantIn } from "../../house/index.js";
import { fromBase, type Unit, units } from "../../units/index.js";
import { nearest } from "../nearest.js";
import type { Term, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { Scope } from "./scope.js";
import { bindValue, withUnitOf } from "./terms.js";
import { differenceOf, numberType, type Type, typeOfValue } from "./type.js";

/** A fixed number of a type, in the type's own unit. */
export function bindAmount(term: Term, want: Extract<Type, { kind: "number" }>, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, want);
  return bound && constantIn(bound, want.unit);
}

/** A number in a given unit, for physics and weather. */
export function bindFigure(term: Term, unit: Unit, scope: Scope): number | undefined {
  return bindAmount(term, numberType(unit), scope);
}

/** A fixed difference, in the size of a unit. */
export function bindDifference(term: Term, unit: Unit, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, differenceOf(numberType(unit)));
  const base = bound && constantIn(bound);
  return base === undefined ? undefined : base / units[unit].factor;
}

export function bindRange(lowTerm: Term, highTerm: Term, unit: Unit, scope: Scope): Range | undefined {
  const want = numberType(unit);
  const low = bindAmount(withUnitOf(lowTerm, highTerm), want, scope);
  const high = bindAmount(withUnitOf(highTerm, lowTerm), want, scope);
  if (low === undefined || high === undefined) return undefined;
  if (low >= high) {
    const says = `The range ${writeTerm(lowTerm)}..${writeTerm(highTerm)} is empty.`;
    scope.faults.add(lowTerm.span, { kind: "backwards", says, remedy: "Write the lower end first." });
    return undefined;
  }
  return [low, high];
}

/** A value that stands fixed in a declaration, in the thing's own unit. */
export function bindConstantValue(term: Term, scope: Scope, type: ValueType, range?: Range): Value | undefined {
  const bound = bindValue(term, scope, typeOfValue(type), range);
  if (!bound) return undefined;
  if (bound.kind === "word") return bound.word;
  if (bound.kind === "colour") return bound.colour;
  const value = constantIn(bound);
  if (value === undefined) {
    const remedy = "Write a number or a word that does not depend on anything else.";
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a fixed value", remedy });
    return undefined;
  }
  return type.kind === "number" ? fromBase(value, type.unit) : value;
}

/** A word that must be one of a type's. */
export function bindWord(word: Word, scope: Scope, type: ValueType | TruthType): string | undefined {
  if (type.kind === "words" && type.words.includes(word.text)) return word.text;
  const words = type.kind === "words" ? type.words : [];
  if (words.length === 0) {
    scope.faults.add(word.span, { kind: "wrongType", what: `the word "${word.text}"`, wanted: "a number" });
  } else {
    scope.faults.add(word.span, { kind: "unknownWord", word: word.text, words, nearest: nearest(word.text, words) });
  }
  return undefined;
}
