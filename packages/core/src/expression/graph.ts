// Expressions of a house compiled once into a graph of nodes. Equal expressions share a node; a node's parts have lower
// numbers than itself, so that going up in number is an order of dependence. Values are doubles: truth is 1 or 0, a word
// its place among its type's words, a colour its 24 bits, a number stands in the base unit, unknown is NaN.
import {
  type Bound,
  baseOf,
  type Case,
  type DayTime,
  type Expression,
  type House,
  lastsOf,
  restOf,
  type Thing,
  thingsOf,
  unitOfExpression,
} from "../house/index.js";
import { DAY, type SunEvent } from "../time/index.js";
import { toBase, units } from "../units/index.js";
import { type Op, ops } from "./ops.js";

export interface Node {
  readonly op: Op;
  /** Numbers of its parts. */
  readonly args: readonly number[];
  /** The value of a constant; how many members must be known. */
  readonly constant: number;
  /** Equal for equal expressions, also in another version of the house: what snapshots are keyed by. */
  readonly key: string;
  /** The thing, schedule or profile it stands for; the events of the sun a span depends on. */
  readonly name: string;
  /** Whether its value changes with time alone, between the changes of its parts. */
  readonly moving: boolean;
}

/** Nodes of a house, each after its parts: what is run. Nothing is added to it any more. */
export interface Graph {
  readonly house: House;
  readonly nodes: readonly Node[];
  /** Nodes that somebody reads; the others are only parts of these. */
  readonly asked: ReadonlySet<number>;
  /** Nodes that somebody looks at now and then: unless they are asked for too, they need not be kept up to date. */
  readonly glanced: ReadonlySet<number>;
}

/** What the engine tells of a countdown or an output besides its value. */
type Flag = "running" | "ends" | "disobeys" | "last amount";

/** Numbers of the nodes of a house, and how to add more before the graph is run. */
export class GraphBuilder implements Graph {
  readonly nodes: Node[] = [];
  readonly asked = new Set<number>();
  readonly glanced = new Set<number>();
  readonly #byKey = new Map<string, number>();
  readonly #things: ReadonlyMap<string, Thing>;

  constructor(readonly house: House) {
    this.#things = thingsOf(house);
  }

  /** Another one that goes on from here, without touching this. */
  fork(): GraphBuilder {
    const fork = new GraphBuilder(this.house);
    for (const node of this.nodes) fork.nodes.push(node);
    for (const node of this.asked) fork.asked.add(node);
    for (const node of this.glanced) fork.glanced.add(node);
    for (const [key, node] of this.#byKey) fork.#byKey.set(key, node);
    return fork;
  }

  /** The graph as it is now. */
  seal(): Graph {
    return { house: this.house, nodes: [...this.nodes], asked: new Set(this.asked), glanced: new Set(this.glanced) };
  }

  #found(name: string): Thing {
    const found = this.#things.get(name);
    if (!found) throw new RangeError(`the house has no thing called "${name}"`);
    return found;
  }

  /** The node of a thing that holds a value; from then on somebody may read it. */
  thing(name: string): number {
    return this.#ask(this.#thing(name));
  }

  /** The node of a thing that is shown when somebody looks. */
  show(name: string): number {
    return this.#glance(this.#thing(name));
  }

  #ask(node: number): number {
    this.asked.add(node);
    return node;
  }

  #thing(name: string): number {
    const found = this.#found(name);
    if (found.kind === "let") return this.#node(found.thing.value);
    if (found.kind === "profile") {
      const values = found.thing.days.flatMap(({ points }) => points.map(({ value }) => this.#node(value)));
      return this.#add(found.thing.ramped ? "ramped profile" : "profile", values, name, name);
    }
    if (found.kind !== "sensor") return this.#add("cell", [], name, name);
    const raw = this.sensor(name);
    const { smoothOver } = found.thing;
    if (!smoothOver) return raw;
    // A sensor that is silent is unknown, however long the window still has something to say.
    const smooth = this.#combine("mean over", [raw, this.#node(smoothOver)]);
    return this.choose(this.isUnknown(raw), this.constant(Number.NaN), smooth);
  }

  /** What a sensor reports, before it is smoothed. */
  sensor(name: string): number {
    const found = this.#found(name);
    const after = found.kind === "sensor" ? lastsOf(this.house, found.thing) : undefined;
    return this.#add("sensor", after ? [this.#node(after)] : [], name, name);
  }

  /** What an output does at rest; where it has no rest, what it does now. */
  #rest(name: string): number {
    const output = this.house.outputs.find((one) => one.name === name);
    const rest = output && restOf(output);
    return output === undefined || rest === undefined ? this.#thing(name) : this.constant(baseOf(rest, output.type));
  }

  schedule(name: string): number {
    return this.#add("schedule", [], `during ${name}`, name);
  }

  /** True for the instant of something: a press, a notice, a message, a problem, a countdown that runs out. */
  pulse(kind: "pressed" | "told" | "problem" | "sent" | "runs out", text: string): number {
    return this.#add("pulse", [], `${kind} ${text}`, text);
  }

  /** The node of a flag that some expression looks at, or -1. */
  flagAsked(kind: Flag, name: string): number {
    return this.#byKey.get(`${kind} ${name}`) ?? -1;
  }

  /** Set by the engine. */
  flag(kind: Flag, name: string): number {
    const first = kind === "running" || kind === "disobeys" ? 0 : Number.NaN;
    return this.#add("cell", [], `${kind} ${name}`, name, first);
  }

  constant(value: number): number {
    return this.#add("constant", [], String(value), "", value);
  }

  /** Joins conditions that may be left out; -1 when all are. */
  all(...parts: readonly number[]): number {
    const given = parts.filter((part) => part >= 0);
    return given.length < 2 ? (given[0] ?? -1) : this.#combine("and", given);
  }

  /** The node of an expression; from then on somebody may read it. */
  node(expression: Expression): number {
    return this.#ask(this.#node(expression));
  }

  /** The node of an expression that somebody looks at now and then, and is never told of. */
  glance(expression: Expression): number {
    return this.#glance(this.#node(expression));
  }

  #glance(node: number): number {
    this.glanced.add(node);
    return node;
  }

  #node(expression: Expression): number {
    switch (expression.kind) {
      case "number":
        return this.constant(toBase(expression));
      case "time":
        return this.constant(expression.ms);
      case "date":
        return this.constant(Date.parse(`${expression.date}T00:00Z`) / DAY);
      case "unknown":
        return this.constant(Number.NaN);
      case "word":
        return this.constant(expression.of.indexOf(expression.word));
      case "colour":
        return this.constant(Number.parseInt(expression.colour.slice(1), 16));
      case "value":
        return this.#thing(expression.of);
      case "age":
        return this.#combine("age", [this.sensor(expression.of)]);
      case "remaining":
        return this.#combine("remaining", [this.flag("ends", expression.countdown)]);
      case "last amount":
        return this.flag("last amount", expression.output);
      case "rest":
        return this.#rest(expression.of);
      case "begins in":
      case "ends in":
        return this.#add(
          expression.kind,
          [this.schedule(expression.schedule)],
          `${expression.kind} ${expression.schedule}`,
          expression.schedule,
        );
      case "sun":
        return this.#add(expression.what, [], `sun ${expression.what}`, "");
      case "sun time":
        return this.#add("sun time", [], `sun ${expression.event}`, expression.event);
      case "clock":
        return this.#add(expression.what === "time" ? "time of day" : expression.what, [], `clock ${expression.what}`, "");
      case "negative":
      case "not":
        return this.#combine(expression.kind, [this.#node(expression.of)]);
      case "plus":
      case "minus":
      case "times":
      case "divided":
      case "above":
      case "below":
      case "at least":
      case "at most":
        return this.#combine(expression.kind, [this.#node(expression.left), this.#node(expression.right)]);
      case "if":
        return this.choose(this.#node(expression.condition), this.#node(expression.then), this.#node(expression.else));
      case "pick":
        return this.#pick(expression.by, expression.cases);
      case "of several":
        return this.#combine(
          expression.function,
          expression.of.map((part) => this.#node(part)),
          expression.known,
        );
      case "call":
        if (expression.function === "round") return this.#rounded(expression.of[0] as Expression);
        return this.#combine(
          expression.function,
          expression.of.map((part) => this.#node(part)),
        );
      case "clamp":
        return this.#combine(
          "clamp",
          [expression.value, expression.low, expression.high].map((part) => this.#node(part)),
        );
      case "scale": {
        const { value, from, to } = expression;
        return this.#combine(
          "scale",
          [value, from.low, from.high, to.low, to.high].map((part) => this.#node(part)),
        );
      }
      case "over":
        return this.#combine(`${expression.function} over`, [this.#node(expression.value), this.#node(expression.over)]);
      case "between": {
        const value = this.#node(expression.value);
        return this.all(
          this.compare("at least", value, this.#node(expression.low)),
          this.compare("at most", value, this.#node(expression.high)),
        );
      }
      case "is": {
        const left = this.#node(expression.left);
        if (expression.right.kind === "unknown") return this.isUnknown(left);
        return this.#combine("is", [left, this.#node(expression.right)]);
      }
      case "and":
      case "or":
        return this.#combine(
          expression.kind,
          expression.of.map((part) => this.#node(part)),
        );
      case "for":
      case "in the last":
        return this.#combine(expression.kind, [this.#node(expression.condition), this.#node(expression.duration)]);
      case "until": {
        const parts = [this.#node(expression.condition), this.#node(expression.reset)];
        const { atMost, pause } = expression;
        if (!atMost) return this.#combine("until", parts);
        if (!pause) return this.#combine("until at most", [...parts, this.#node(atMost)]);
        return this.#combine("limited until", [...parts, this.#node(atMost), this.#node(pause)]);
      }
      case "during":
        return this.schedule(expression.schedule);
      case "clock between":
        return this.#clockBetween(expression.from, expression.to);
      case "pressed":
        return this.pulse("pressed", expression.sensor);
      case "told":
      case "problem":
        return this.pulse(expression.kind, expression.text);
      case "sent":
        return this.pulse("sent", JSON.stringify([expression.text, expression.to]));
      case "running":
        return this.flag("running", expression.countdown);
      case "disobeys":
        return this.flag("disobeys", expression.output);
      case "instant":
      case "count":
      case "time true":
      case "share":
        throw new RangeError(`"${expression.kind}" has no value of its own while a house runs`);
      default:
        throw new RangeError(`no such expression: ${JSON.stringify(expression satisfies never)}`);
    }
  }

  /** From the last case to the first; an unknown value has its own case or none. */
  #pick(by: Expression, cases: readonly Case[]): number {
    let found = this.constant(Number.NaN);
    for (const { if: when, then } of [...cases].reverse()) {
      if (when === "otherwise")
        found = this.choose(this.not(this.isUnknown(this.#node(by))), this.#node(then), this.constant(Number.NaN));
      else if (when !== "unknown") found = this.choose(this.#node(when), this.#node(then), found);
    }
    const unknown = cases.find((one) => one.if === "unknown");
    return unknown ? this.choose(this.isUnknown(this.#node(by)), this.#node(unknown.then), found) : found;
  }

  #clockBetween(from: DayTime, to: DayTime): number {
    const events = [from.sun ?? "", to.sun ?? ""].join(" ");
    const parts = [this.#node(from.time), this.#node(to.time)];
    return this.#add("clock between", parts, `clock between ${events} ${this.#keysOf(parts)}`, events);
  }

  /** Whether nothing but time turns a node: it hears of no sensor, person or step. */
  goesByClock(node: number): boolean {
    const { op, args } = this.nodes[node] as Node;
    if (op === "sensor" || op === "cell" || op === "pulse") return false;
    return args.every((part) => this.goesByClock(part));
  }

  choose(condition: number, then: number, otherwise: number): number {
    return this.#combine("if", [condition, then, otherwise]);
  }

  isUnknown(of: number): number {
    return this.#combine("is unknown", [of]);
  }

  not(of: number): number {
    return this.#combine("not", [of]);
  }

  compare(bound: Bound, left: number, right: number): number {
    return this.#combine(bound, [left, right]);
  }

  /** With memory: true from the first until the second. */
  until(condition: number, reset: number): number {
    return this.#combine("until", [condition, reset]);
  }

  combine(op: "plus" | "minus" | "times" | "divided" | "clamp" | "cycle" | "share cycle", ...parts: readonly number[]): number {
    return this.#combine(op, parts);
  }

  #keysOf(parts: readonly number[]): string {
    return parts.map((part) => `(${this.nodes[part]?.key})`).join(" ");
  }

  /** To whole numbers of the unit it is written in, which its base may not be: 70.4 °F is 70 °F, 1.4 kPa is 1 kPa. */
  #rounded(of: Expression): number {
    const { factor, zero } = units[unitOfExpression(this.house, of)];
    const value = this.#node(of);
    if (factor === 1 && zero === 0) return this.#combine("round", [value]);
    const number = (constant: number) => this.#node({ kind: "number", value: constant, unit: "" });
    const own = this.#combine("plus", [this.#combine("divided", [value, number(factor)]), number(zero)]);
    const whole = this.#combine("round", [own]);
    return this.#combine("times", [this.#combine("minus", [whole, number(zero)]), number(factor)]);
  }

  #combine(op: Op, parts: readonly number[], constant = Number.NaN): number {
    const count = Number.isNaN(constant) ? "" : ` ${constant}`;
    return this.#add(op, parts, `${op}${count} ${this.#keysOf(parts)}`, "", constant);
  }

  #add(op: Op, args: readonly number[], key: string, name: string, constant = Number.NaN): number {
    const known = this.#byKey.get(key);
    if (known !== undefined) return known;
    const { moves } = ops[op];
    const moving = moves === "by itself" || (moves === "with its parts" && args.some((part) => this.nodes[part]?.moving));
    this.nodes.push({ op, args, constant, key, name, moving });
    this.#byKey.set(key, this.nodes.length - 1);
    return this.nodes.length - 1;
  }
}

/** The events of the sun that the ends of a span of the clock depend on. */
export function eventsOf(node: Node): [SunEvent | undefined, SunEvent | undefined] {
  const [from = "", to = ""] = node.name.split(" ");
  return [(from || undefined) as SunEvent | undefined, (to || undefined) as SunEvent | undefined];
}
