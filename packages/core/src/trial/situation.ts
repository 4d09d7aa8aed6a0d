// Situations in the words of a timeline.

import { type Expression, ownOf, thingsOf, type ValueType } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { fromBase } from "../units/index.js";
import type { Settled, Situation } from "./settled.js";

/** A base value as one would write it in a trial. */
export function expressionOf(base: number, type: ValueType | { readonly kind: "truth" }): Expression {
  if (Number.isNaN(base)) return { kind: "unknown" };
  if (type.kind === "words") return { kind: "word", word: type.words[base] ?? "", of: type.words };
  if (type.kind === "time") return { kind: "time", ms: base };
  if (type.kind === "colour") return { kind: "colour", colour: String(ownOf(base, type)) };
  const unit = type.kind === "number" ? type.unit : "";
  return { kind: "number", value: Math.round(fromBase(base, unit) * 1e6) / 1e6, unit };
}

/** `at 10:07 bench.door is open, bench.humidity is 49 %RH`; what is remembered is left out. */
export function saysSituation(settled: Settled, { at, values }: Situation): string | undefined {
  const things = thingsOf(settled.house);
  const said = [...values].flatMap(([node, value]) => {
    const { op, key, name } = settled.op(node);
    if (op === "pulse") return value === 1 ? [`${name} is pressed`] : [];
    if (key === `running ${name}`) return value === 1 ? [`person starts ${name}`] : [];
    const found = things.get(name);
    return found && key === name ? [`${name} is ${writeExpression(expressionOf(value, found.thing.type))}`] : [];
  });
  if (said.length === 0) return undefined;
  return `at ${writeExpression({ kind: "time", ms: settled.sky.clock.local(at).ms })} ${said.join(", ")}`;
}
