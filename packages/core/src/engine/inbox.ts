// What has come from outside and waits for its step: values by their nodes, presses, acts.
import { misfitNumber } from "../house/index.js";
import type { Cell, Program } from "./program.js";
import type { Act, Queued } from "./snapshot.js";

/** A report of it waits for the next step; its last reading was refused. */
const QUEUED = 1;
const REFUSED = 2;

export class Inbox {
  /** Flags of a node whose next report makes a step: QUEUED, REFUSED. */
  readonly #awaited: Uint8Array;
  /** Nodes that were reported or set, each once, and the value that counts. */
  readonly #nodes: number[] = [];
  readonly #values: Float64Array;
  readonly #cellOf: readonly (Cell | undefined)[];
  #presses = new Set<string>();
  #acts: Act[] = [];

  constructor(program: Program, cellOf: readonly (Cell | undefined)[]) {
    const size = program.graph.nodes.length;
    this.#awaited = new Uint8Array(size);
    this.#values = new Float64Array(size);
    this.#cellOf = cellOf;
  }

  isAwaited(node: number): boolean {
    return this.#awaited[node] !== 0;
  }

  /** A node has a value from its step on; the later of one instant counts. */
  put(node: number, value: number): void {
    const awaited = this.#awaited[node] as number;
    if ((awaited & QUEUED) === 0) this.#nodes.push(node);
    this.#awaited[node] = awaited | QUEUED;
    this.#values[node] = value;
  }

  /** The next good report of a sensor ends that it was refused, and is not a quiet one; it may be just being taken. */
  refuse(node: number): void {
    this.#awaited[node] = (this.#awaited[node] as number) | REFUSED;
  }

  accept(node: number): void {
    this.#awaited[node] = QUEUED;
  }

  press(sensor: string): void {
    this.#presses.add(sensor);
  }

  act(act: Act): void {
    this.#acts.push(act);
  }

  get nodes(): readonly number[] {
    return this.#nodes;
  }

  valueOf(node: number): number {
    return this.#values[node] as number;
  }

  /** Puts the nodes that have a value in an order of their own, so that it does not matter in which they came. */
  sort(): void {
    const nodes = this.#nodes;
    // Few, and mostly in order.
    for (let place = 1; place < nodes.length; place++) {
      const node = nodes[place] as number;
      let free = place;
      for (; free > 0 && (nodes[free - 1] as number) < node; free--) nodes[free] = nodes[free - 1] as number;
      nodes[free] = node;
    }
  }

  /** Takes the next of them, lower numbers first; -1 where none is left. */
  take(): number {
    const node = this.#nodes.pop();
    if (node === undefined) return -1;
    this.#awaited[node] = (this.#awaited[node] as number) & ~QUEUED;
    return node;
  }

  takePresses(): readonly string[] {
    if (this.#presses.size === 0) return none;
    const presses = [...this.#presses].sort();
    this.#presses.clear();
    return presses;
  }

  takeActs(): readonly Act[] {
    if (this.#acts.length === 0) return none;
    const acts = this.#acts;
    this.#acts = [];
    return acts;
  }

  /** All of it, as plain data: nothing is taken before it is due, and nothing is lost. */
  toJSON(at: number): Queued {
    const values = this.#nodes.map((node): [string, number | null] => {
      const value = this.valueOf(node);
      return [(this.#cellOf[node] as Cell).name, Number.isNaN(value) ? null : value];
    });
    return { at, values, presses: [...this.#presses], acts: this.#acts };
  }

  /** What was queued as the house went down is queued again; what no longer fits it is left out and named. */
  restore({ values, presses, acts }: Queued, program: Program, misfitOf: (act: Act) => string | undefined): string[] {
    const leftOut: string[] = [];
    for (const [name, value] of values) {
      const cell = program.cells.get(name);
      const fits = cell && cell.kind !== "output" && (value === null || misfitNumber(cell, value) === undefined);
      if (fits) this.put(cell.node, value ?? Number.NaN);
      else leftOut.push(name);
    }
    for (const name of presses) {
      if (program.presses.has(name)) this.#presses.add(name);
      else leftOut.push(name);
    }
    for (const act of acts) {
      const why = misfitOf(act);
      if (why === undefined) this.#acts.push(act);
      else leftOut.push(why);
    }
    return leftOut;
  }
}

const none: readonly never[] = [];
