// Walking through whatever is made of parts: houses, rules, guards, conditions. Here alone a part is known by its `kind`
// without its type; everybody else is told of parts that have one.
import type { Condition, Expression } from "./expression.js";

/** Something that a house is made of, with whatever it has. */
export type Part = Readonly<Record<string, unknown>> & { readonly kind?: unknown };

/** Every object within a holder, the holder first and outer ones before inner ones; lists are gone through. */
export function visitParts(holder: unknown, visit: (part: Part) => void): void {
  if (Array.isArray(holder)) for (const inner of holder) visitParts(inner, visit);
  else if (typeof holder === "object" && holder !== null) {
    visit(holder as Part);
    for (const inner of Object.values(holder)) visitParts(inner, visit);
  }
}

/** The same holder with parts in the place of others. What `replace` gives back as it is, is looked through; `key` is what holds it. */
export function replaceParts<Holder>(holder: Holder, replace: (part: unknown, key: string) => unknown, key = ""): Holder {
  const other = replace(holder, key);
  if (other !== holder) return other as Holder;
  if (Array.isArray(holder)) return holder.map((inner) => replaceParts(inner, replace, key)) as Holder;
  if (typeof holder !== "object" || holder === null) return holder;
  const entries = Object.entries(holder).map(([name, inner]) => [name, replaceParts(inner, replace, name)]);
  return Object.fromEntries(entries) as Holder;
}

/** Every expression within a holder of expressions, outer ones first. */
export function visitExpressions(holder: unknown, visit: (expression: Expression) => void): void {
  visitParts(holder, (part) => {
    if ("kind" in part) visit(part as unknown as Expression);
  });
}

/** Whether a condition is true for an instant only, or counts from one: a press. */
export function hasPress(condition: Condition): boolean {
  let found = false;
  visitExpressions(condition, ({ kind }) => {
    found ||= kind === "pressed";
  });
  return found;
}

/** The things that an expression, or whatever holds expressions, reads; each once, in the order written. */
export function thingsIn(holder: unknown): string[] {
  const found = new Set<string>();
  visitParts(holder, (part) => {
    if (part.kind === "value" && typeof part.of === "string") found.add(part.of);
  });
  return [...found];
}
