// A graph laid out flat for running: what each node is, of which parts, and who has it as a part.
import type { Audience } from "./audience.js";
import { codes, isComparison, OTHER, UNTIL } from "./codes.js";
import type { Graph, Node } from "./graph.js";
import { ops } from "./ops.js";
import { packed } from "./packed.js";

/** A node that has its value. */
export const STILL = 0;
/** One that is a function of time. */
export const MOVING = 1;
/** One that nothing depends on, and that remembers nothing: it is calculated when somebody looks at it. */
export const IDLE = 2;

/** Of each graph, as those lay it out who are told of all that happens in it, and those who are not. */
const known = { folded: new WeakMap<Graph, Layout>(), plain: new WeakMap<Graph, Layout>() };

/** A graph is laid out once for all that run it: who is told of a node, and looks on at it, is always the same of one graph. */
export function layoutOf(graph: Graph, audience: Audience): Layout {
  const layouts = audience.foldsSides ? known.folded : known.plain;
  const layout = layouts.get(graph) ?? new Layout(graph, audience);
  layouts.set(graph, layout);
  return layout;
}

export class Layout {
  /** Code of each node's op; OTHER too where a part of it moves. */
  readonly codes: Uint8Array;
  /** Its first two parts, -1 where there are fewer. */
  readonly first: Int32Array;
  readonly second: Int32Array;
  /** All parts of node n: parts[partsAt[n] … partsAt[n+1]-1]. */
  readonly parts: Int32Array;
  readonly partsAt: Int32Array;
  /** Nodes that have node n as a part: users[usersAt[n] … usersAt[n+1]-1]. */
  readonly users: Int32Array;
  readonly usersAt: Int32Array;
  /** Nodes somebody is told of. */
  readonly told: Uint8Array;
  /** Those, and what somebody looks on at. */
  readonly seen: Uint8Array;
  /** STILL, MOVING or IDLE. */
  readonly moves: Uint8Array;
  /** Whether somebody looks at the age of a sensor. */
  readonly aged: Uint8Array;
  /**
   * Whether a comparison is a side of an `until` that nobody else reads. Then it has no value of its own: the `until`
   * compares when it has to, and a report that crosses a bound its memory makes irrelevant changes nothing (measured: a
   * fifth of the time of a year, as a signal that swings about one bound of a band is the common case).
   */
  readonly folded: Uint8Array;

  constructor(
    readonly graph: Graph,
    { foldsSides, isTold, isWatched }: Audience,
  ) {
    const { nodes, asked, glanced } = graph;
    this.told = Uint8Array.from(nodes, (_, node) => (isTold(node) ? 1 : 0));
    this.seen = this.told.map((isTold, node) => (isTold === 1 || isWatched(node) ? 1 : 0));
    [this.parts, this.partsAt] = packed(nodes.map(({ args }) => args));
    this.moves = Uint8Array.from(nodes, ({ moving }) => (moving ? MOVING : STILL));
    this.codes = Uint8Array.from(nodes, ({ op, args }) =>
      args.some((part) => this.moves[part] === MOVING) ? OTHER : (codes[op] ?? OTHER),
    );
    this.first = Int32Array.from(nodes, ({ args }) => args[0] ?? -1);
    this.second = Int32Array.from(nodes, ({ args }) => args[1] ?? -1);
    const users = usersOf(nodes);
    const folds = ([user, ...others]: readonly number[], node: number) =>
      user !== undefined &&
      others.length === 0 &&
      !asked.has(node) &&
      !glanced.has(node) &&
      this.codes[user] === UNTIL &&
      isComparison(this.codes[node] as number);
    this.folded = Uint8Array.from(nodes, (_, node) => (foldsSides && folds(users[node] as number[], node) ? 1 : 0));
    // Users have higher numbers than their parts.
    for (let node = nodes.length - 1; foldsSides && node >= 0; node--) {
      const { pure, moves, window } = ops[(nodes[node] as Node).op];
      const above = users[node] as number[];
      // What nobody has as a part, nor looks at now and then, is for somebody who reads its value as it stands.
      const isGlanced = glanced.has(node) || above.length > 0;
      const canBeFound = pure || (moves !== undefined && !window);
      if (!canBeFound || !isGlanced || asked.has(node) || this.told[node] === 1) continue;
      if (above.every((user) => this.moves[user] === IDLE)) this.moves[node] = IDLE;
    }
    this.aged = new Uint8Array(nodes.length);
    nodes.forEach(({ op, args }, node) => {
      if (op === "age" && this.moves[node] !== IDLE) this.aged[args[0] as number] = 1;
    });
    const busy = users.map((all) => all.filter((user) => this.moves[user] !== IDLE));
    [this.users, this.usersAt] = packed(busy.map((all) => this.#unfolded(all, users)));
  }

  /** What an `and` (decided by 0) or `or` (by 1) is. */
  joined(values: Float64Array, node: number, decisive: 0 | 1): number {
    let unknown = false;
    const end = this.partsAt[node + 1] as number;
    for (let at = this.partsAt[node] as number; at < end; at++) {
      const value = values[this.parts[at] as number] as number;
      if (value === decisive) return decisive;
      if (Number.isNaN(value)) unknown = true;
    }
    return unknown ? Number.NaN : 1 - decisive;
  }

  /** Users, and in the place of a side that is folded its `until`. */
  #unfolded(users: readonly number[], all: readonly (readonly number[])[]): number[] {
    return [...new Set(users.map((user) => (this.folded[user] === 1 ? (all[user]?.[0] as number) : user)))];
  }
}

function usersOf(nodes: readonly Node[]): number[][] {
  const users: number[][] = nodes.map(() => []);
  nodes.forEach(({ args }, node) => {
    for (const part of args) users[part]?.push(node);
  });
  return users;
}
