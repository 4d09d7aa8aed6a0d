// Attributes of things: each bound by its row, said once, or several times where they make a list.
import type { Range, ValueType } from "../../house/index.js";
import type { Unit } from "../../units/index.js";
import type { Row } from "../phrase.js";
import type { AttributeNode } from "../syntax.js";
import type { Span } from "../token.js";
import type { Scope } from "./scope.js";

/** Where an attribute stands: the thing it is of. */
export interface Place {
  readonly scope: Scope;
  readonly type: ValueType;
  /** Of a thing with a number, else none. */
  readonly unit: Unit;
  /** What its values must lie in. */
  readonly bounds: Range | undefined;
  readonly span: Span;
}

/** What is known of the thing whose attribute is said again. */
export interface Told {
  readonly type: ValueType;
  readonly unit: Unit;
}

export function unitOf(type: { readonly kind: string; readonly unit?: Unit }): Unit {
  return type.kind === "number" ? (type.unit ?? "") : "";
}

/** Rows of attributes by the names of what they set. */
export type Rows = Readonly<Record<string, Row<never, Place, Told, unknown>>>;

/** What the attributes of a thing set, by name; `lists` hold one item for each time they are said. */
export function bindAttributes(
  nodes: readonly AttributeNode[],
  rows: Rows,
  { lists = [], numbers }: { readonly lists?: readonly string[]; readonly numbers: ReadonlySet<string> },
  place: Omit<Place, "span">,
): Record<string, unknown> {
  const { faults } = place.scope;
  const bound: Record<string, unknown> = Object.fromEntries(lists.map((name) => [name, []]));
  const said = new Map<string, Span>();
  for (const { kind, parts, span } of nodes) {
    const before = said.get(kind);
    if (before && !lists.includes(kind)) {
      const related = [{ span: before, says: "the first is here" }];
      faults.add(span, { kind: "missing", what: "This is defined twice.", remedy: "Remove one of the two." }, related);
    }
    said.set(kind, span);
    if (numbers.has(kind) && place.type.kind !== "number") {
      const remedy = "Remove it, or give the thing a unit.";
      faults.add(span, { kind: "missing", what: "This attribute is only for numbers.", remedy });
      continue;
    }
    const value = (rows[kind] as Row<never, Place, Told, unknown>).bind(parts, { ...place, span });
    if (value === undefined) continue;
    if (lists.includes(kind)) (bound[kind] as unknown[]).push(value);
    else bound[kind] = value;
  }
  return bound;
}
