// Expressions of a house compiled once into a graph of nodes. Equal expressions share a node; a node's parts have lower
// numbers than itself, so that going up in number is an order of dependence. Values are doubles: truth is 1 or 0, a word
// its place among its type's words, a number stands in the base unit, unknown is NaN.
import type { Bound, Expression, House, Thing, ValueType } from "../house/index.js";
import { thingsOf } from "../house/index.js";
import { toBase, type Unit } from "../units/index.js";

/** What a node does with its parts. */
export type Op =
  | "constant"
  /** Set from outside: an output, a dial, a mode. */
  | "cell"
  /** Set from outside, true for its instant only. */
  | "pulse"
  /** Set by reports; part a, if any, is how long a report is good for. */
  | "sensor"
  | "schedule"
  | "plus"
  | "minus"
  | "times"
  | "divided"
  | "negative"
  | Bound
  | "is"
  | "is unknown"
  | "not"
  | "and"
  | "or"
  | "for"
  | "in the last"
  | "until";

export interface Node {
  readonly op: Op;
  /** Numbers of its parts, -1 where there is none. */
  readonly a: number;
  readonly b: number;
  /** The value of a constant. */
  readonly constant: number;
  /** Equal for equal expressions, also in another version of the house: what snapshots are keyed by. */
  readonly key: string;
  /** The thing or schedule a cell, sensor or schedule stands for. */
  readonly name: string;
}

/** Numbers of the nodes of a house, and how to add more before the graph is run. */
export class Graph {
  readonly nodes: Node[] = [];
  readonly #byKey = new Map<string, number>();
  readonly #things: ReadonlyMap<string, Thing>;

  constructor(readonly house: House) {
    this.#things = thingsOf(house);
  }

  /** The node of a thing that holds a value. */
  thing(name: string): number {
    const found = this.#things.get(name);
    if (!found) throw new RangeError(`the house has no thing called "${name}"`);
    if (found.kind !== "sensor") return this.#add("cell", -1, -1, name, name);
    const { unknownAfter } = found.thing;
    const after = unknownAfter ? this.node(unknownAfter) : -1;
    return this.#add("sensor", after, -1, name, name);
  }

  typeOf(name: string): ValueType {
    const found = this.#things.get(name);
    if (!found) throw new RangeError(`the house has no thing called "${name}"`);
    return found.thing.type;
  }

  /** The unit a number is best told in: that of the first thing or number in it. */
  unitOf(expression: Expression): Unit {
    switch (expression.kind) {
      case "number":
        return expression.unit;
      case "value": {
        const type = this.typeOf(expression.of);
        return type.kind === "number" ? type.unit : "";
      }
      case "plus":
      case "minus":
      case "times":
      case "divided":
        return this.unitOf(expression.left) || this.unitOf(expression.right);
      case "negative":
        return this.unitOf(expression.of);
      default:
        return "";
    }
  }

  schedule(name: string): number {
    return this.#add("schedule", -1, -1, `during ${name}`, name);
  }

  told(text: string): number {
    return this.#add("pulse", -1, -1, `told ${JSON.stringify(text)}`, text);
  }

  constant(value: number): number {
    return this.#add("constant", -1, -1, String(value), "", value);
  }

  /** Joins conditions that may be left out; -1 when all are. */
  all(...parts: readonly number[]): number {
    const given = parts.filter((part) => part >= 0);
    return given.length === 0 ? -1 : given.reduce((left, right) => this.#combine("and", left, right));
  }

  /** The node of an expression; a word takes its place from the type of what it stands beside. */
  node(expression: Expression, type?: ValueType): number {
    switch (expression.kind) {
      case "number":
        return this.constant(toBase(expression));
      case "time":
        return this.constant(expression.ms);
      case "unknown":
        return this.constant(Number.NaN);
      case "word":
        return this.constant(placeOf(expression.word, type));
      case "value":
        return this.thing(expression.of);
      case "negative":
      case "not":
        return this.#combine(expression.kind, this.node(expression.of), -1);
      case "plus":
      case "minus":
      case "times":
      case "divided":
        return this.#combine(expression.kind, this.node(expression.left), this.node(expression.right));
      case "above":
      case "below":
      case "at least":
      case "at most":
        return this.compare(
          expression.kind,
          this.node(expression.left),
          this.node(expression.right, this.#typeOf(expression.left)),
        );
      case "between": {
        const value = this.node(expression.value);
        const type = this.#typeOf(expression.value);
        return this.all(
          this.compare("at least", value, this.node(expression.low, type)),
          this.compare("at most", value, this.node(expression.high, type)),
        );
      }
      case "is": {
        const left = this.node(expression.left);
        if (expression.right.kind === "unknown") return this.#combine("is unknown", left, -1);
        return this.#combine("is", left, this.node(expression.right, this.#typeOf(expression.left)));
      }
      case "and":
      case "or":
        return expression.of.map((part) => this.node(part)).reduce((left, right) => this.#combine(expression.kind, left, right));
      case "for":
      case "in the last":
        return this.#combine(expression.kind, this.node(expression.condition), this.node(expression.duration));
      case "until":
        return this.until(this.node(expression.condition), this.node(expression.reset));
      case "during":
        return this.schedule(expression.schedule);
      case "told":
        return this.told(expression.text);
      case "instant":
      case "count":
        throw new RangeError(`"${expression.kind}" has no value of its own while a house runs`);
      default:
        throw new RangeError(`no such expression: ${JSON.stringify(expression satisfies never)}`);
    }
  }

  compare(bound: Bound, left: number, right: number): number {
    return this.#combine(bound, left, right);
  }

  /** With memory: true from the first until the second. */
  until(condition: number, reset: number): number {
    return this.#combine("until", condition, reset);
  }

  sum(op: "plus" | "minus", left: number, right: number): number {
    return this.#combine(op, left, right);
  }

  #typeOf(expression: Expression): ValueType | undefined {
    return expression.kind === "value" ? this.typeOf(expression.of) : undefined;
  }

  #combine(op: Op, a: number, b: number): number {
    const parts = [a, b].filter((part) => part >= 0).map((part) => this.nodes[part]?.key);
    return this.#add(op, a, b, parts.length === 1 ? `${op} (${parts[0]})` : `(${parts[0]}) ${op} (${parts[1]})`, "");
  }

  #add(op: Op, a: number, b: number, key: string, name: string, constant = Number.NaN): number {
    const known = this.#byKey.get(key);
    if (known !== undefined) return known;
    this.nodes.push({ op, a, b, constant, key, name });
    this.#byKey.set(key, this.nodes.length - 1);
    return this.nodes.length - 1;
  }
}

/** The number that stands for a word. */
export function placeOf(word: string, type: ValueType | undefined): number {
  const place = type?.kind === "words" ? type.words.indexOf(word) : -1;
  if (place < 0) throw new RangeError(`"${word}" is none of the words of its place`);
  return place;
}
