// Fixed values that things are told, or given, in a trial.
import type { Expression, Setting } from "../../house/index.js";
import type { Term, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import type { HouseSymbol, Scope, SymbolKind } from "./scope.js";
import { bindApart, bindValue } from "./terms.js";
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
    scope.faults.add(value.span, { kind: "wrongType", what: writeTerm(value), wanted: "a fixed value" });
    return undefined;
  }
  return bound;
}
