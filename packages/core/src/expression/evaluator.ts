// Keeps the values of a graph up to date: what changes is marked, and `settle` brings each marked node up to date once,
// in order of dependence. Temporal nodes put their deadlines into the agenda under their own number.
//
// State of temporal nodes, three doubles each, as of `now`:
//   sensor       since = last good report; held = its value
//   for          since = when the condition became true, NaN while it is not; held = `since` before a break at `mark`
//   in the last  since = when the condition last ended; mark = when it rose, NaN while it is not true; held = `since` then
//   until        held = the memory, 1 or 0
// A change taken back within its instant leaves no trace, hence `held` and `mark`.
import { type Clock, type Opening, stretchOf } from "../time/index.js";
import { equalNumbers } from "../units/index.js";
import type { Agenda } from "./agenda.js";
import type { Graph, Node, Op } from "./graph.js";

/** Told of each node whose value changed. */
export type OnChange = (node: number, value: number, before: number) => void;

/** Everything a node remembers: value, since, held, mark; unknown is null. */
export type NodeState = readonly (number | null)[];

const temporal: ReadonlySet<Op> = new Set(["sensor", "schedule", "for", "in the last"]);

export class Evaluator {
  readonly values: Float64Array;
  now: number;
  /** Without a clock every schedule is unknown. */
  clock: Clock | undefined;
  readonly #nodes: readonly Node[];
  readonly #since: Float64Array;
  readonly #held: Float64Array;
  readonly #mark: Float64Array;
  /** Nodes that have node n as a part: #users[#usersAt[n] … #usersAt[n+1]-1]. */
  readonly #users: Int32Array;
  readonly #usersAt: Int32Array;
  /** Marked nodes, a heap by number. */
  readonly #queue: number[] = [];
  readonly #marked: Uint8Array;
  readonly #openings: ReadonlyMap<string, readonly Opening[]>;

  constructor(
    graph: Graph,
    readonly agenda: Agenda,
    now: number,
    readonly onChange: OnChange,
  ) {
    this.#nodes = graph.nodes;
    const size = graph.nodes.length;
    this.now = now;
    this.values = new Float64Array(size).fill(Number.NaN);
    this.#since = new Float64Array(size).fill(Number.NaN);
    this.#held = new Float64Array(size).fill(Number.NaN);
    this.#mark = new Float64Array(size).fill(Number.NaN);
    this.#marked = new Uint8Array(size);
    this.#openings = new Map(graph.house.schedules.map(({ name, openings }) => [name, openings]));
    [this.#users, this.#usersAt] = usersOf(graph.nodes);
    for (let node = 0; node < size; node++) this.#begin(node);
  }

  #begin(node: number): void {
    const { op, constant } = this.#nodes[node] as Node;
    if (op === "constant") this.values[node] = constant;
    if (op === "pulse") this.values[node] = 0;
    if (op === "until") this.#held[node] = 0;
    if (op === "in the last") this.#since[node] = Number.NEGATIVE_INFINITY;
    if (op !== "cell" && op !== "constant" && op !== "pulse") this.mark(node);
  }

  /** Sets a cell or a pulse. */
  set(node: number, value: number): void {
    this.#change(node, value);
  }

  /** Takes a good report of a sensor. */
  report(node: number, value: number): void {
    this.#since[node] = this.now;
    this.#held[node] = value;
    this.mark(node);
  }

  /** Makes a sensor unknown, as if it had not reported. */
  forget(node: number): void {
    this.#since[node] = Number.NaN;
    this.mark(node);
  }

  /** To be brought up to date at the next `settle`. */
  mark(node: number): void {
    if (this.#marked[node] === 1) return;
    this.#marked[node] = 1;
    const queue = this.#queue;
    let place = queue.push(node) - 1;
    while (place > 0) {
      const parent = (place - 1) >> 1;
      const above = queue[parent] as number;
      if (above <= node) break;
      queue[place] = above;
      place = parent;
    }
    queue[place] = node;
  }

  /** Marks what changes with time alone: after a jump of `now`. */
  markTemporal(): void {
    this.#nodes.forEach(({ op }, node) => {
      if (temporal.has(op)) this.mark(node);
    });
  }

  get settled(): boolean {
    return this.#queue.length === 0;
  }

  settle(): void {
    while (this.#queue.length > 0) {
      const node = this.#take();
      this.#change(node, this.#evaluate(node));
    }
  }

  state(node: number): NodeState {
    const state = [this.values, this.#since, this.#held, this.#mark].map((from) => from[node] as number);
    return state.map((value) => (Number.isFinite(value) ? value : null));
  }

  restore(node: number, [value, since, held, mark]: NodeState): void {
    const { op } = this.#nodes[node] as Node;
    this.values[node] = value ?? Number.NaN;
    this.#since[node] = since ?? (op === "in the last" ? Number.NEGATIVE_INFINITY : Number.NaN);
    this.#held[node] = held ?? Number.NaN;
    this.#mark[node] = mark ?? Number.NaN;
  }

  #take(): number {
    const queue = this.#queue;
    const first = queue[0] as number;
    const last = queue.pop() as number;
    if (queue.length > 0) {
      let place = 0;
      for (;;) {
        let child = 2 * place + 1;
        if (child >= queue.length) break;
        if (child + 1 < queue.length && (queue[child + 1] as number) < (queue[child] as number)) child++;
        const below = queue[child] as number;
        if (below >= last) break;
        queue[place] = below;
        place = child;
      }
      queue[place] = last;
    }
    this.#marked[first] = 0;
    return first;
  }

  #change(node: number, value: number): void {
    const before = this.values[node] as number;
    if (Object.is(before, value) || before === value) return;
    this.values[node] = value;
    const end = this.#usersAt[node + 1] as number;
    for (let at = this.#usersAt[node] as number; at < end; at++) this.mark(this.#users[at] as number);
    this.onChange(node, value, before);
  }

  #evaluate(node: number): number {
    const { op, a, b, name } = this.#nodes[node] as Node;
    const { values } = this;
    const left = a < 0 ? Number.NaN : (values[a] as number);
    const right = b < 0 ? Number.NaN : (values[b] as number);
    switch (op) {
      case "constant":
      case "cell":
      case "pulse":
        return values[node] as number;
      case "sensor":
        return this.#sensor(node, a < 0 ? Number.POSITIVE_INFINITY : left);
      case "schedule": {
        if (!this.clock) return Number.NaN;
        const { open, until } = stretchOf(this.#openings.get(name) ?? [], this.clock, this.now);
        this.agenda.set(node, until);
        return open ? 1 : 0;
      }
      case "plus":
        return left + right;
      case "minus":
        return left - right;
      case "times":
        return left * right;
      case "divided":
        return right === 0 ? Number.NaN : left / right;
      case "negative":
        return -left;
      case "above":
        return unlessUnknown(left, right, left > right && !equalNumbers(left, right));
      case "below":
        return unlessUnknown(left, right, left < right && !equalNumbers(left, right));
      case "at least":
        return unlessUnknown(left, right, left > right || equalNumbers(left, right));
      case "at most":
        return unlessUnknown(left, right, left < right || equalNumbers(left, right));
      case "is":
        return unlessUnknown(left, right, equalNumbers(left, right));
      case "is unknown":
        return Number.isNaN(left) ? 1 : 0;
      case "not":
        return 1 - left;
      case "and":
        return left === 0 || right === 0 ? 0 : left * right;
      case "or":
        return left === 1 || right === 1 ? 1 : left + right;
      case "for":
        return this.#for(node, left, right);
      case "in the last":
        return this.#inTheLast(node, left, right);
      case "until":
        return this.#until(node, left, right);
      default:
        throw new RangeError(`no such operation: ${op satisfies never}`);
    }
  }

  /** Known until its report is `after` old, that instant excluded. */
  #sensor(node: number, after: number): number {
    const since = this.#since[node] as number;
    if (Number.isNaN(since) || Number.isNaN(after)) return Number.NaN;
    if (this.now - since >= after) return Number.NaN;
    // A later report only moves the deadline out: it is looked at again when the earlier one falls due.
    const end = Math.ceil(since + after);
    if (this.agenda.due(node) > end) this.agenda.set(node, end);
    return this.#held[node] as number;
  }

  #for(node: number, condition: number, duration: number): number {
    const { now } = this;
    if (condition !== 1) {
      if (!Number.isNaN(this.#since[node] as number)) {
        this.#held[node] = this.#since[node] as number;
        this.#mark[node] = now;
        this.#since[node] = Number.NaN;
      }
      this.agenda.clear(node);
      return condition === 0 ? 0 : Number.NaN;
    }
    if (Number.isNaN(this.#since[node] as number))
      this.#since[node] = this.#mark[node] === now ? (this.#held[node] as number) : now;
    if (Number.isNaN(duration)) return Number.NaN;
    const end = Math.ceil((this.#since[node] as number) + duration);
    if (now >= end) {
      this.agenda.clear(node);
      return 1;
    }
    this.agenda.set(node, end);
    return 0;
  }

  #inTheLast(node: number, condition: number, duration: number): number {
    const { now } = this;
    const risen = !Number.isNaN(this.#mark[node] as number);
    if (condition === 1) {
      if (!risen) {
        this.#held[node] = this.#since[node] as number;
        this.#mark[node] = now;
      }
      this.agenda.clear(node);
      return 1;
    }
    if (risen) {
      this.#since[node] = this.#mark[node] === now ? (this.#held[node] as number) : now;
      this.#mark[node] = Number.NaN;
    }
    const end = Math.ceil((this.#since[node] as number) + duration);
    if (now < end) {
      this.agenda.set(node, end);
      return 1;
    }
    this.agenda.clear(node);
    return Number.isNaN(duration) || Number.isNaN(condition) ? Number.NaN : 0;
  }

  #until(node: number, condition: number, reset: number): number {
    if (reset === 1) {
      this.#held[node] = 0;
      return 0;
    }
    if (Number.isNaN(reset)) return Number.NaN;
    if (condition === 1) this.#held[node] = 1;
    if (this.#held[node] === 1) return 1;
    return condition === 0 ? 0 : Number.NaN;
  }
}

function unlessUnknown(left: number, right: number, truth: boolean): number {
  if (Number.isNaN(left) || Number.isNaN(right)) return Number.NaN;
  return truth ? 1 : 0;
}

function usersOf(nodes: readonly Node[]): [users: Int32Array, usersAt: Int32Array] {
  const usersAt = new Int32Array(nodes.length + 1);
  for (const { a, b } of nodes) {
    if (a >= 0) usersAt[a + 1] = (usersAt[a + 1] as number) + 1;
    if (b >= 0) usersAt[b + 1] = (usersAt[b + 1] as number) + 1;
  }
  for (let node = 0; node < nodes.length; node++) usersAt[node + 1] = (usersAt[node + 1] as number) + (usersAt[node] as number);
  const users = new Int32Array(usersAt[nodes.length] as number);
  const filled = usersAt.slice();
  nodes.forEach(({ a, b }, node) => {
    for (const part of [a, b]) {
      if (part < 0) continue;
      users[filled[part] as number] = node;
      filled[part] = (filled[part] as number) + 1;
    }
  });
  return [users, usersAt];
}
