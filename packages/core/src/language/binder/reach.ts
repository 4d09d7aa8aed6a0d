// Where it matters how much full is: an output of numbers has a range then, or is a share.
import { reachOf } from "../../house/index.js";
import type { Span } from "../token.js";
import type { HouseSymbol, Scope } from "./scope.js";

/** Ranges as devices have them, by unit; others are told with figures in their place. */
const usual: Readonly<Record<string, string>> = { "": "0..255", "°C": "5..28 °C", "°F": "40..82 °F", V: "0..10 V" };

/** Whether what is on can be told of an output; where it cannot, that is told. Of what is no number it always can. */
export function hasReach({ name, type, range }: Pick<HouseSymbol, "name" | "type" | "range">, span: Span, scope: Scope): boolean {
  if (type?.kind !== "number" || reachOf({ type, ...(range && { range }) })) return true;
  const example = usual[type.unit] ?? `0..100 ${type.unit}`;
  const remedy = `Declare it with its range, for example ${name}: ${example}.`;
  scope.faults.add(span, { kind: "missing", what: `${name} has no range: nothing says how much is full.`, remedy });
  return false;
}
