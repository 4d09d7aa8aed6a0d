// Values for things: `bench.heater at on`.
import type { Expression, Target } from "../../house/index.js";
import { writeQuantity } from "../../units/index.js";
import { shareHabits } from "../habits.js";
import type { TargetNode, Term } from "../syntax.js";
import type { HouseSymbol, Scope, SymbolKind } from "./scope.js";
import { bindApart, bindValue } from "./terms.js";
import { typeOfValue } from "./type.js";

/** Targets one by one; a group stands for each of its outputs. */
export function bindTargets(nodes: readonly TargetNode[], scope: Scope, kinds: readonly SymbolKind[]): Target[] {
  return nodes.flatMap(({ name, value }) => {
    const symbols = scope.outputs(name, kinds);
    if (symbols.length === 0) bindApart(value, scope);
    return symbols.flatMap((symbol) => {
      const bound = bindFor(symbol, value, scope);
      return bound ? [{ output: symbol.name, value: bound }] : [];
    });
  });
}

const isRest = (term: Term) => term.kind === "name" && term.text === "rest";
const hasWord = ({ type }: HouseSymbol, word: string) => type?.kind === "words" && type.words.includes(word);

/** A value for a thing; `rest` is what an output does at rest. */
export function bindFor(symbol: HouseSymbol, value: Term, scope: Scope): Expression | undefined {
  if (isRest(value) && symbol.kind === "output" && !hasWord(symbol, "rest")) return { kind: "rest", of: symbol.name };
  if (!symbol.type) return undefined;
  return bindShare(symbol, value, scope) ?? bindValue(value, scope, typeOfValue(symbol.type), symbol.range);
}

/** `full`, `half`: told with the figure, where the range says it and nothing is called so. */
function bindShare({ type, range }: HouseSymbol, value: Term, scope: Scope): Expression | undefined {
  const share = value.kind === "name" && !scope.find(value) ? shareHabits[value.text] : undefined;
  if (share === undefined || value.kind !== "name" || type?.kind !== "number" || !range) return undefined;
  const quantity = { value: range[0] + share * (range[1] - range[0]), unit: type.unit };
  scope.faults.add(value.span, { kind: "habit", written: value.text, meant: writeQuantity(quantity) });
  return { kind: "number", ...quantity };
}
