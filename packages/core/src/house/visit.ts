// Walking through whatever holds expressions: rules, guards, conditions.
import type { Condition, Expression } from "./expression.js";

/** Every expression within a holder of expressions, outer ones first. */
export function visitExpressions(holder: unknown, visit: (expression: Expression) => void): void {
  if (Array.isArray(holder)) for (const part of holder) visitExpressions(part, visit);
  else if (typeof holder === "object" && holder !== null) {
    if ("kind" in holder) visit(holder as Expression);
    for (const part of Object.values(holder)) visitExpressions(part, visit);
  }
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
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (typeof value === "object" && value !== null) {
      if ("kind" in value && value.kind === "value" && "of" in value) found.add(value.of as string);
      else Object.values(value).forEach(visit);
    }
  };
  visit(holder);
  return [...found];
}
