// Keys of expressions, and the lines of those that were not written down as a whole: put together from their parts, where
// they remember nothing.
import type { Expression, House } from "../house/index.js";
import { clockOf, profileAt, type Sky, sunAzimuth, sunElevation } from "../time/index.js";
import { profileOf, rampAt } from "./calendar.js";
import { pure } from "./functions.js";
import { GraphBuilder, type Node } from "./graph.js";
import { ops } from "./ops.js";
import { overWindow, Window } from "./window.js";

/** Values that hold from their time until the next; NaN is unknown, words stand by their place, numbers in base units. */
export interface Series {
  readonly times: readonly number[];
  readonly values: readonly number[];
}

/** What a line held at an instant. */
function heldAt({ times, values }: Series, at: number): number {
  const place = times.findLastIndex((time) => time <= at);
  return place < 0 ? Number.NaN : (values[place] as number);
}

/** When it last took a value, be it the same. */
function heldSince({ times }: Series, at: number): number {
  return times.findLast((time) => time <= at) ?? Number.NaN;
}

const nothing: Series = { times: [], values: [] };

export class Keys {
  /** Only to find keys by: it is never run. */
  readonly #graph: GraphBuilder;
  readonly #sky: Sky;

  constructor(house: House) {
    this.#graph = new GraphBuilder(house);
    this.#sky = { clock: clockOf(house.clock), place: house.place };
  }

  /** The line of an expression, by those that are known by their keys. */
  lineOf(expression: Expression, known: (key: string) => Series | undefined): Series {
    return this.#line(this.#graph.node(expression), known);
  }

  /** What an expression was at an instant: also of what moved between its records, where its parts tell. */
  valueOf(expression: Expression, at: number, known: (key: string) => Series | undefined): number {
    return this.#value(this.#graph.node(expression), at, known);
  }

  /** Whether there would be a line of it. */
  isKnown(expression: Expression, known: (key: string) => boolean): boolean {
    return this.#isKnown(this.#graph.node(expression), known);
  }

  #isKnown(node: number, known: (key: string) => boolean): boolean {
    const { key, op, args } = this.#graph.nodes[node] as Node;
    if (op === "constant" || known(key)) return true;
    return ops[op].pure === true && args.length > 0 && args.every((part) => this.#isKnown(part, known));
  }

  #value(node: number, at: number, known: (key: string) => Series | undefined): number {
    const { op, args, constant, moving, name } = this.#graph.nodes[node] as Node;
    const part = (place: number) => this.#value(args[place] as number, at, known);
    if (moving && ops[op].window) return this.#over(node, at, part(1), known);
    if (moving && ops[op].pure) {
      return pure(
        op,
        args.map((_, place) => part(place)),
        constant,
      );
    }
    if (op === "ramped profile") {
      const stretch = profileAt(profileOf(this.#graph.house, name, args), this.#sky, at);
      return rampAt(stretch, at, (point) => this.#value(point, at, known));
    }
    if (op === "time of day") return this.#sky.clock.local(at).ms;
    const { place } = this.#sky;
    if (op === "elevation") return place ? sunElevation(place, at) : Number.NaN;
    if (op === "azimuth") return place ? sunAzimuth(place, at) : Number.NaN;
    const line = this.#line(node, known);
    const held = heldAt(line, at);
    // An age grows from what it was when it was last written down.
    return op === "age" ? held + at - heldSince(line, at) : held;
  }

  #over(node: number, at: number, span: number, known: (key: string) => Series | undefined): number {
    const { op, args } = this.#graph.nodes[node] as Node;
    const { times, values } = this.#line(args[0] as number, known);
    const window = new Window();
    times.forEach((time, place) => {
      if (time <= at) window.put(time, values[place] as number, span || 0);
    });
    return overWindow(op, window, at, span);
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
