// `pick by`: the first case that fits; whether every value has its case, and none stands after one that covers it.
import { type Case, type Condition, constantIn, type Expression, isUp } from "../../house/index.js";
import { equalNumbers } from "../../units/index.js";
import { nearest } from "../nearest.js";
import type { CaseNode, Term } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { Scope } from "./scope.js";
import { type BoundTerm, bindTerm, bindValue, oneType, withUnitOf } from "./terms.js";
import type { Type } from "./type.js";

type Pick = Extract<Term, { kind: "pick" }>;

export function bindPick(term: Pick, scope: Scope, want?: Type): BoundTerm | undefined {
  const by = bindTerm(term.by, scope);
  if (!by) return undefined;
  if (by.type.kind !== "words" && by.type.kind !== "number") {
    scope.faults.add(term.by.span, { kind: "wrongType", what: writeTerm(term.by), wanted: "a number or something with states" });
    return undefined;
  }
  checkCases(term, by.type, scope);
  const heads = term.cases.map((one) => bindHead(one, by.expression, by.type, scope));
  checkBounds(term.cases, heads, scope);
  const values: (BoundTerm | undefined)[] = [];
  let type = want;
  for (const one of term.cases) {
    const bound = bindTerm(one.value, scope, type);
    if (bound && bound.type.kind !== "unknown") type ??= bound.type;
    values.push(bound);
  }
  if (heads.includes(undefined) || values.includes(undefined)) return undefined;
  const known = values as BoundTerm[];
  const found = oneType(
    known,
    term.cases.map(({ value }) => value),
    scope,
  );
  const cases = known.map(({ expression }, index): Case => ({ if: heads[index] as Case["if"], then: expression }));
  return found && { expression: { kind: "pick", by: by.expression, cases }, type: found };
}

function bindHead(node: CaseNode, by: Expression, type: Type, scope: Scope): Case["if"] | undefined {
  switch (node.kind) {
    case "otherwise":
    case "unknown":
      return node.kind;
    case "words": {
      if (type.kind !== "words")
        return void scope.faults.add(node.span, { kind: "wrongType", what: "a word", wanted: "a limit such as below 20 °C" });
      const unknown = node.words.find(({ text }) => !type.words.includes(text));
      if (unknown) {
        const near = nearest(unknown.text, type.words);
        return void scope.faults.add(unknown.span, { kind: "unknownWord", word: unknown.text, words: type.words, nearest: near });
      }
      const of = node.words.map(
        ({ text }): Condition => ({ kind: "is", left: by, right: { kind: "word", word: text, of: type.words } }),
      );
      return of.length === 1 ? of[0] : { kind: "or", of };
    }
    case "bound": {
      const limit = bindValue(node.limit, scope, type);
      return limit && { kind: node.bound, left: by, right: limit };
    }
    case "between": {
      const low = bindValue(withUnitOf(node.low, node.high), scope, type);
      const high = bindValue(withUnitOf(node.high, node.low), scope, type);
      return low && high && { kind: "between", value: by, low, high };
    }
    default:
      throw new RangeError(`no such case: ${JSON.stringify(node satisfies never)}`);
  }
}

/** Over words all are named, or otherwise; over numbers it ends with otherwise. Nothing twice, nothing after what covers it. */
function checkCases({ cases, span }: Pick, type: Type, scope: Scope): void {
  const seen = new Set<string>();
  let closed = false;
  for (const node of cases) {
    const heads =
      node.kind === "words"
        ? node.words.map(({ text }) => text)
        : node.kind === "otherwise" || node.kind === "unknown"
          ? [node.kind]
          : [];
    const twice = heads.find((head) => seen.has(head));
    if (twice !== undefined || (closed && node.kind !== "unknown")) {
      const says =
        twice === undefined
          ? "This case is never reached, because otherwise comes before it."
          : `There are two cases for ${twice}.`;
      scope.faults.add(node.span, { kind: "incompletePick", says, remedy: "Remove it, or move it up." });
    }
    for (const head of heads) seen.add(head);
    closed ||= node.kind === "otherwise";
  }
  if (closed) return;
  const missing = type.kind === "words" ? type.words.filter((word) => !seen.has(word)) : [];
  if (type.kind === "words" && missing.length > 0) {
    const remedy = `Add ${missing.map((word) => `${word}: …`).join(", ")}, or otherwise: ….`;
    scope.faults.add(span, { kind: "incompletePick", says: `There is no case for ${missing.join(", ")}.`, remedy });
  }
  if (type.kind === "number") {
    const says = "Some numbers may fit no case.";
    scope.faults.add(span, { kind: "incompletePick", says, remedy: "End with otherwise: …." });
  }
}

/** A bound after one of the same way that covers it is never reached. Limits are compared as quantities are. */
function checkBounds(cases: readonly CaseNode[], heads: readonly (Case["if"] | undefined)[], scope: Scope): void {
  const reach = new Map<"up" | "down", { limit: number; strict: boolean }>();
  for (const [index, node] of cases.entries()) {
    const head = heads[index];
    if (node.kind !== "bound" || typeof head !== "object" || !("right" in head)) continue;
    const limit = constantIn(head.right);
    if (limit === undefined) continue;
    const way = isUp(node.bound) ? "up" : "down";
    const strict = node.bound === "above" || node.bound === "below";
    const before = reach.get(way);
    const beyond = before && (way === "up" ? limit - before.limit : before.limit - limit);
    const same = before !== undefined && equalNumbers(limit, before.limit);
    if (before && beyond !== undefined && (same ? strict || !before.strict : beyond > 0)) {
      const says = `${node.bound} ${writeTerm(node.limit)} is already covered by a case above.`;
      scope.faults.add(node.span, { kind: "incompletePick", says, remedy: "Remove it, or move it up." });
    } else reach.set(way, { limit, strict });
  }
}
