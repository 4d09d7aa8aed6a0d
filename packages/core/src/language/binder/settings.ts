// Fixed values that things are told, or given, in a trial.
import { constantIn, type Expression, isFixedTime, type Setting } from "../../house/index.js";
import type { Term, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { HouseSymbol, Scope, SymbolKind } from "./scope.js";
import { bindApart, bindTerm, bindValue } from "./terms.js";
import { typeOfValue } from "./type.js";

/** A fixed value for a thing. What a sensor is told may be out of its range on purpose. */
export function bindSetting(name: Word, value: Term, scope: Scope, kinds: readonly SymbolKind[]): Setting | undefined {
  const symbol = scope.resolve(name, kinds);
  const bound = bindOwn(symbol, value, scope);
  return symbol && bound && { name: symbol.name, value: bound };
}

export function bindOwn(symbol: HouseSymbol | undefined, value: Term, scope: Scope): Expression | undefined {
  if (!symbol?.type) return bindApart(value, scope);
  const bound = bindValue(value, scope, typeOfValue(symbol.type), symbol.kind === "sensor" ? undefined : symbol.range);
  if (!bound) return undefined;
  if (!["word", "unknown", "colour"].includes(bound.kind) && constantIn(bound) === undefined) {
    scope.faults.add(value.span, {
      kind: "wrongType",
      what: writeTerm(value),
      wanted: "a value that does not depend on anything",
    });
    return undefined;
  }
  return bound;
}

/** A time of day, or a date and time. */
export function bindMoment(term: Term, scope: Scope): Expression | undefined {
  const bound = bindTerm(term, scope);
  const isTime = bound?.type.kind === "time" || bound?.type.kind === "instant";
  if (bound && isTime && !isFixedTime(bound.expression)) {
    const remedy = "Write the time itself: the times of a trial must be known beforehand.";
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a time that does not change", remedy });
    return undefined;
  }
  if (!bound || isTime) return bound?.expression;
  scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a time such as 07:30" });
  return undefined;
}
