// Nodes that move have no value but a function of time, `at`. Comparisons of moving values have a deadline at their next
// crossing, found to the millisecond by halving a stretch in which nothing turns; such a stretch ends at a corner: where a
// window drops an entry, a schedule turns, a clamp begins.
import { sunAzimuth, sunElevation } from "../time/index.js";
import type { Calendar } from "./calendar.js";
import { compares, compute, pure } from "./functions.js";
import type { Graph, Node } from "./graph.js";
import { type Layout, STILL } from "./layout.js";
import { type Op, ops } from "./ops.js";
import { greatestOf } from "./reach.js";
import { SINCE, type State } from "./state.js";
import { overWindow, Window } from "./window.js";

/** Nothing moves for longer without being looked at: 400 days. */
const FAR = 400 * 86400e3;
/** The sun is taken to move without a turn for so long. */
const SUN_STRETCH = 600e3;

export class Moving {
  readonly windows = new Map<number, Window>();
  /** How far back each may come to look; where nobody knows, the longest so far. */
  readonly #reach = new Map<number, number>();
  readonly #nodes: readonly Node[];
  readonly #layout: Layout;
  readonly #state: State;
  readonly #calendar: Calendar;

  constructor(graph: Graph, layout: Layout, state: State, calendar: Calendar) {
    const { nodes } = graph;
    this.#nodes = nodes;
    this.#layout = layout;
    this.#state = state;
    this.#calendar = calendar;
    nodes.forEach(({ op, args }, node) => {
      if (!ops[op].window) return;
      this.windows.set(node, new Window());
      this.#reach.set(node, greatestOf(graph, args[1] as number) || 0);
    });
  }

  /** Takes what the parts of a moving node have become. */
  take(node: number): void {
    const window = this.windows.get(node);
    if (!window) return;
    const { args } = this.#nodes[node] as Node;
    const reach = Math.max(this.#reach.get(node) ?? 0, this.current(args[1] as number) || 0);
    this.#reach.set(node, reach);
    window.put(this.#state.now, this.current(args[0] as number), reach);
  }

  /** The value of a node now, moving or not. */
  current(node: number): number {
    return this.#layout.moves[node] === STILL ? (this.#state.values[node] as number) : this.at(node, this.#state.now);
  }

  /** The value of a node at an instant not before now, if nothing but time passes until then. */
  at(node: number, instant: number): number {
    if (this.#layout.moves[node] === STILL) return this.#state.values[node] as number;
    const { op, args, constant, name, moving } = this.#nodes[node] as Node;
    if (!moving) return pure(op, this.#partsAt(args, instant), constant);
    const window = this.windows.get(node);
    if (window) return overWindow(op, window, instant, this.current(args[1] as number));
    switch (op) {
      case "age":
        return instant - (this.#state.kept[4 * (args[0] as number) + SINCE] as number);
      case "remaining": {
        const ends = this.#state.values[args[0] as number] as number;
        return ends > instant ? ends - instant : 0;
      }
      case "begins in":
      case "ends in":
        return this.#calendar.untilTurn(op, args[0] as number, name, instant);
      case "elevation":
        return this.#state.sky?.place ? sunElevation(this.#state.sky.place, instant) : Number.NaN;
      case "azimuth":
        return this.#state.sky?.place ? sunAzimuth(this.#state.sky.place, instant) : Number.NaN;
      case "time of day":
        return this.#state.sky ? this.#state.sky.clock.local(instant).ms : Number.NaN;
      case "ramped profile":
        return this.#calendar.ramp(node, instant);
      case "if": {
        const condition = this.at(args[0] as number, instant);
        return Number.isNaN(condition) ? Number.NaN : this.at(args[condition === 1 ? 1 : 2] as number, instant);
      }
      default:
        return compute(op, this.#partsAt(args, instant), constant);
    }
  }

  #partsAt(args: readonly number[], instant: number): number[] {
    return args.map((part) => this.at(part, instant));
  }

  /** The next instant at which a moving value may turn: until then it goes one way. */
  corner(node: number): number {
    const { op, args, moving } = this.#nodes[node] as Node;
    if (!moving) return Number.POSITIVE_INFINITY;
    const window = this.windows.get(node);
    if (window) return window.corner(this.#state.now, this.current(args[1] as number));
    switch (op) {
      case "age":
        return Number.POSITIVE_INFINITY;
      case "remaining": {
        const ends = this.#state.values[args[0] as number] as number;
        return ends > this.#state.now ? ends : Number.POSITIVE_INFINITY;
      }
      case "elevation":
      case "azimuth":
        return this.#state.now + SUN_STRETCH;
      case "time of day":
        return this.#calendar.turnOfClock();
      case "ramped profile":
        return this.#calendar.profileAt(node, this.#state.now)?.until ?? Number.POSITIVE_INFINITY;
      case "begins in":
      case "ends in":
        return this.#state.due(args[0] as number);
      default:
        return this.#cornerOfParts(op, args);
    }
  }

  #cornerOfParts(op: Op, args: readonly number[]): number {
    let corner = Number.POSITIVE_INFINITY;
    for (const part of args) corner = Math.min(corner, this.corner(part));
    const meet = (a: number, b: number) => {
      const [one, other] = [args[a] as number, args[b] as number];
      corner = Math.min(
        corner,
        this.#crossing((at) => this.at(one, at) >= this.at(other, at), corner),
      );
    };
    if (op === "abs")
      corner = Math.min(
        corner,
        this.#crossing((at) => this.at(args[0] as number, at) >= 0, corner),
      );
    if (op === "clamp" || op === "scale") {
      meet(0, 1);
      meet(0, 2);
    }
    if (op === "min" || op === "max" || op === "median" || op === "spread") {
      for (let a = 0; a < args.length; a++) for (let b = a + 1; b < args.length; b++) meet(a, b);
    }
    return corner;
  }

  /** The first instant after now, and before an end, at which a statement is no longer what it is now; else the end. */
  #crossing(holds: (at: number) => boolean | number, end: number): number {
    const { now } = this.#state;
    const before = holds(now);
    const last = Math.min(end, now + FAR) - 1;
    if (last <= now || Object.is(holds(last), before)) return end;
    let low = now;
    let high = Math.floor(last);
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (Object.is(holds(middle), before)) low = middle;
      else high = middle;
    }
    return high;
  }

  /** The next instant from which a moving value, so far not, is at least so far from another value; or turns. */
  nextStep(node: number, step: number, from: number): number {
    const corner = Math.min(this.corner(node), this.#state.now + FAR);
    return this.#crossing((at) => Math.abs(this.at(node, at) - from) >= step, corner);
  }

  /** Plans when a comparison of moving values turns. */
  planCrossing(node: number, op: Op, [left, right]: readonly [number, number]): void {
    const end = Math.min(this.corner(left), this.corner(right), this.#state.now + FAR);
    // A value that passes another is equal to it for an instant.
    const kinds: Op[] = op === "is" ? ["above", "at least"] : [op];
    const next = kinds.map((kind) => this.#crossing((at) => compares(kind, this.at(left, at), this.at(right, at)), end));
    this.#state.plan(node, Math.max(this.#state.now + 1, Math.ceil(Math.min(...next))));
  }
}
