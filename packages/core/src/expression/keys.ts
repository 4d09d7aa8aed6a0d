// Keys of expressions, and the lines of those that were not written down as a whole: put together from their parts, where
// they remember nothing.
import type { Expression, House } from "../house/index.js";
import { compares, compute } from "./functions.js";
import { GraphBuilder, type Node } from "./graph.js";
import { type Op, ops } from "./ops.js";

/** Values that hold from their time until the next; NaN is unknown, words stand by their place, numbers in base units. */
export interface Series {
  readonly times: readonly number[];
  readonly values: readonly number[];
}

const nothing: Series = { times: [], values: [] };

export class Keys {
  /** Only to find keys by: it is never run. */
  readonly #graph: GraphBuilder;

  constructor(house: House) {
    this.#graph = new GraphBuilder(house);
  }

  /** The line of an expression, by those that are known by their keys. */
  lineOf(expression: Expression, known: (key: string) => Series | undefined): Series {
    return this.#line(this.#graph.node(expression), known);
  }

  #line(node: number, known: (key: string) => Series | undefined): Series {
    const { key, op, args, constant } = this.#graph.nodes[node] as Node;
    if (op === "constant") return { times: [Number.NEGATIVE_INFINITY], values: [constant] };
    const own = known(key);
    if (own) return own;
    const parts = args.map((part) => this.#line(part, known));
    if (!ops[op].pure || parts.length === 0 || parts.some(({ times }) => times.length === 0)) return nothing;
    const times = [...new Set(parts.flatMap((part) => part.times))].sort((a, b) => a - b);
    return { times, values: joined(parts, times, (values) => pure(op, values, constant)) };
  }
}

function joined(parts: readonly Series[], times: readonly number[], value: (parts: readonly number[]) => number): number[] {
  const places = parts.map(() => -1);
  return times.map((at) =>
    value(
      parts.map((part, index) => {
        let place = places[index] as number;
        while (place + 1 < part.times.length && (part.times[place + 1] as number) <= at) place++;
        places[index] = place;
        return place < 0 ? Number.NaN : (part.values[place] as number);
      }),
    ),
  );
}

function pure(op: Op, parts: readonly number[], constant: number): number {
  const [first = Number.NaN, second = Number.NaN, third = Number.NaN] = parts;
  switch (op) {
    case "above":
    case "below":
    case "at least":
    case "at most":
    case "is":
      return compares(op, first, second);
    case "is unknown":
      return Number.isNaN(first) ? 1 : 0;
    case "not":
      return 1 - first;
    case "and":
    case "or": {
      const decisive = op === "and" ? 0 : 1;
      if (parts.includes(decisive)) return decisive;
      return parts.some(Number.isNaN) ? Number.NaN : 1 - decisive;
    }
    case "if":
      return Number.isNaN(first) ? Number.NaN : first === 1 ? second : third;
    default:
      return compute(op, parts, constant);
  }
}
