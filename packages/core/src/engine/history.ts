// What was when: a journal read as one line of values for each node.
import type { Value } from "../house/index.js";
import type { Journal } from "./journal.js";
import { ownOf, type Program } from "./program.js";
import type { Snapshot } from "./snapshot.js";

/** Values that hold from their time until the next; NaN is unknown, words stand by their place, numbers in base units. */
export interface Series {
  readonly times: readonly number[];
  readonly values: readonly number[];
}

/** A stretch of a house's life, written down. */
export interface Run {
  readonly program: Program;
  readonly journal: Journal;
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
  readonly to: number;
  /** The house as it was at an instant, where that was asked for. */
  readonly kept?: { readonly at: number; readonly snapshot: Snapshot };
}

/** What each thing of a run was at each time, read from its journal. */
export class History {
  readonly #lines = new Map<number, { times: number[]; values: number[] }>();

  constructor(readonly run: Run) {
    for (const { event, at } of run.journal.records) if (event.kind === "node") this.#take(event.node, at, event.value);
  }

  /** The last value of an instant is the one it shows. */
  #take(node: number, at: number, value: number): void {
    let line = this.#lines.get(node);
    if (!line) {
      line = { times: [], values: [] };
      this.#lines.set(node, line);
    }
    if (line.times.at(-1) === at) line.values[line.values.length - 1] = value;
    else {
      line.times.push(at);
      line.values.push(value);
    }
  }

  /** The line of a node that is no constant; empty where it never had a value. */
  series(node: number): Series {
    return this.#lines.get(node) ?? { times: [], values: [] };
  }

  /** The line of any node, constants included. */
  line(node: number): Series {
    const { op, constant } = this.run.program.graph.nodes[node] ?? { op: "cell", constant: Number.NaN };
    return op === "constant" ? { times: [Number.NEGATIVE_INFINITY], values: [constant] } : this.series(node);
  }

  /** The line of a sensor, output, dial or mode. */
  seriesOf(name: string): Series {
    return this.series(this.#cell(name).node);
  }

  /** The value of a node at an instant, after its last turn. */
  at(node: number, instant: number): number {
    const { op, constant } = this.run.program.graph.nodes[node] ?? { op: "cell", constant: Number.NaN };
    if (op === "constant") return constant;
    const { times, values } = this.series(node);
    const index = lastNotAfter(times, instant);
    return index < 0 ? Number.NaN : (values[index] as number);
  }

  /** Since when a node has had the value it has at an instant; the run's beginning where it always had it. */
  since(node: number, instant: number): number {
    const { times } = this.series(node);
    return times[lastNotAfter(times, instant)] ?? this.run.from;
  }

  /** A thing's value in its own unit. */
  valueOf(name: string, instant: number): Value | undefined {
    const { node, type } = this.#cell(name);
    return ownOf(this.at(node, instant), type);
  }

  #cell(name: string) {
    const cell = this.run.program.cells.get(name);
    if (!cell) throw new RangeError(`the house has no thing called "${name}"`);
    return cell;
  }
}

/** The index of the last time not after an instant, or -1. */
export function lastNotAfter(times: readonly number[], instant: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((times[middle] as number) <= instant) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
