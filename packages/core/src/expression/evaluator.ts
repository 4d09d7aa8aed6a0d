// Keeps the values of a graph up to date: what changes is marked, and `settle` brings each marked node up to date once,
// in order of dependence. Nodes that change with time put their deadlines into the agenda, under their own number
// behind the engine's timers.
//
// State of nodes that remember, three doubles each, as of `now`:
//   sensor         since = last good report; held = its value
//   for            since = when the condition became true, NaN while it is not; held = `since` before a break at `mark`
//   in the last    since = when the condition last ended; mark = when it rose, NaN while it is not true; held = `since` then
//   until          held = the memory, 1 or 0
//   limited until  since = when it began, NaN while it has not; mark = when its pause is over, NaN without one
//   cycle          since = when it began, NaN while it does not apply
//   share cycle    since = when the present cycle began; held = the share taken then
// A change taken back within its instant leaves no trace, hence `held` and `mark`.
//
// A moving node has no value in `values` but a function of time, `at`. Comparisons of moving values have a deadline at
// their next crossing, found to the millisecond by halving a stretch in which nothing turns; such a stretch ends at a
// corner: where a window drops an entry, a schedule turns, a clamp begins.
import { type Sensor, typeOf } from "../house/index.js";
import {
  EVERY_DAY,
  instantOn,
  type ProfileDay,
  profileAt,
  type Sky,
  type SunEvent,
  stretchOf,
  sunAzimuth,
  sunElevation,
  sunEventOn,
  weekdayOf,
} from "../time/index.js";
import { equalNumbers, toBase } from "../units/index.js";
import type { Agenda } from "./agenda.js";
import { compares, compute } from "./functions.js";
import { eventsOf, type Graph, type Node, type Op } from "./graph.js";
import { packed } from "./packed.js";
import { Window } from "./window.js";

/** Told of each node whose value changed. */
export type OnChange = (node: number, value: number, before: number) => void;

/** Everything a node remembers: value, since, held, mark; unknown is null. Of a window: its entries. */
export type NodeState = readonly (number | null)[] | { readonly window: readonly (readonly [number, number | null])[] };

/** What changes with time alone, and is looked at anew when the clock or `now` jumps. */
const temporal: ReadonlySet<Op> = new Set<Op>([
  "sensor",
  "schedule",
  "clock between",
  "weekday",
  "date",
  "sun time",
  "profile",
  "for",
  "in the last",
  "limited until",
  "cycle",
  "share cycle",
]);

// The ops met on nearly every event, as small numbers: a switch on them is one jump, where one on words compares them
// one after another (measured: a third of the time of a step that changes something).
const OTHER = 0;
const SENSOR = 1;
const ABOVE = 2;
const BELOW = 3;
const AT_LEAST = 4;
const AT_MOST = 5;
const IS = 6;
const NOT = 7;
const AND = 8;
const OR = 9;
const FOR = 10;
const IN_THE_LAST = 11;
const UNTIL = 12;

const codes: Partial<Record<Op, number>> = {
  sensor: SENSOR,
  above: ABOVE,
  below: BELOW,
  "at least": AT_LEAST,
  "at most": AT_MOST,
  is: IS,
  not: NOT,
  and: AND,
  or: OR,
  for: FOR,
  "in the last": IN_THE_LAST,
  until: UNTIL,
};

/** Nothing moves for longer without being looked at: 400 days. */
const FAR = 400 * 86400e3;
/** The sun is taken to move without a turn for so long. */
const SUN_STRETCH = 600e3;

export class Evaluator {
  readonly values: Float64Array;
  now: number;
  /** Without a sky, schedules and the sun are unknown. */
  sky: Sky | undefined;
  readonly #nodes: readonly Node[];
  /** Code of each node's op; OTHER too where a part of it moves. */
  readonly #codes: Uint8Array;
  /** Its first two parts, -1 where there are fewer. */
  readonly #first: Int32Array;
  readonly #second: Int32Array;
  /** Whether a comparison is looked at by its `until` alone, see {@link Evaluator.#foldsInto}. */
  readonly #folded: Uint8Array;
  /** All parts of node n: #parts[#partsAt[n] … #partsAt[n+1]-1]. */
  readonly #parts: Int32Array;
  readonly #partsAt: Int32Array;
  readonly #moves: Uint8Array;
  readonly #since: Float64Array;
  readonly #held: Float64Array;
  readonly #mark: Float64Array;
  /** Nodes that have node n as a part: #users[#usersAt[n] … #usersAt[n+1]-1]. */
  readonly #users: Int32Array;
  readonly #usersAt: Int32Array;
  /** Marked nodes, a heap by number. */
  readonly #queue: number[] = [];
  readonly #marked: Uint8Array;
  readonly #windows = new Map<number, Window>();
  readonly #profiles = new Map<number, readonly ProfileDay<number>[]>();
  readonly #graph: Graph;
  #ending = false;
  /** Between these bounds a report of a sensor changes nothing but its value and time; empty where that is not known. */
  readonly #quietLow: Float64Array;
  readonly #quietHigh: Float64Array;
  readonly #quietStale: Uint8Array;
  /** The bounds of the sensor that is looked at. */
  #low = Number.NEGATIVE_INFINITY;
  #high = Number.POSITIVE_INFINITY;
  /** What may surely be taken: for a sensor all numbers within its range, for what is none nothing. */
  readonly #lowest: Float64Array;
  readonly #highest: Float64Array;
  readonly #isTold: (node: number) => boolean;
  /** Whether somebody looks at the age of a sensor. */
  readonly #aged: Uint8Array;

  constructor(
    graph: Graph,
    readonly agenda: Agenda,
    /** Number of the timer of node 0; the others follow. */
    readonly firstTimer: number,
    now: number,
    readonly onChange: OnChange,
    /** Whether nobody looks at what is only a part: its changes may then go unseen. */
    foldsSides: boolean,
    /** Whether somebody is told when a node itself changes, who is no node. */
    isTold: (node: number) => boolean,
  ) {
    this.#graph = graph;
    this.#isTold = isTold;
    this.#nodes = graph.nodes;
    const size = graph.nodes.length;
    this.now = now;
    this.values = new Float64Array(size).fill(Number.NaN);
    this.#since = new Float64Array(size).fill(Number.NaN);
    this.#held = new Float64Array(size).fill(Number.NaN);
    this.#mark = new Float64Array(size).fill(Number.NaN);
    this.#marked = new Uint8Array(size);
    this.#quietLow = new Float64Array(size).fill(Number.POSITIVE_INFINITY);
    this.#quietHigh = new Float64Array(size).fill(Number.NEGATIVE_INFINITY);
    this.#quietStale = new Uint8Array(size).fill(1);
    this.#aged = new Uint8Array(size);
    this.#lowest = new Float64Array(size).fill(Number.POSITIVE_INFINITY);
    this.#highest = new Float64Array(size).fill(Number.NEGATIVE_INFINITY);
    const sensors = new Map(graph.house.sensors.map((sensor) => [sensor.name, sensor]));
    graph.nodes.forEach(({ op, name }, node) => {
      if (op === "sensor") [this.#lowest[node], this.#highest[node]] = surelyIn(sensors.get(name) as Sensor);
    });
    for (const { op, args } of graph.nodes) if (op === "age") this.#aged[args[0] as number] = 1;
    [this.#parts, this.#partsAt] = packed(graph.nodes.map(({ args }) => args));
    const moves = (node: number) => graph.nodes[node]?.moving === true;
    this.#moves = Uint8Array.from(graph.nodes, ({ moving }) => (moving ? 1 : 0));
    this.#codes = Uint8Array.from(graph.nodes, ({ op, args }) => (args.some(moves) ? OTHER : (codes[op] ?? OTHER)));
    this.#first = Int32Array.from(graph.nodes, ({ args }) => args[0] ?? -1);
    this.#second = Int32Array.from(graph.nodes, ({ args }) => args[1] ?? -1);
    const users = usersOf(graph.nodes);
    this.#folded = Uint8Array.from(graph.nodes, (_, node) => (foldsSides && this.#foldsInto(users[node] ?? [], node) ? 1 : 0));
    [this.#users, this.#usersAt] = packed(users.map((all) => this.#unfolded(all, users)));
    for (let node = 0; node < size; node++) this.#begin(node);
  }

  /**
   * Whether a comparison is a side of an `until` that nobody else reads. Then it has no value of its own: the `until`
   * compares when it has to, and a report that crosses a bound its memory makes irrelevant changes nothing (measured: a
   * fifth of the time of a year, as a signal that swings about one bound of a band is the common case).
   */
  #foldsInto([user, ...others]: readonly number[], node: number): boolean {
    if (user === undefined || others.length > 0 || this.#graph.asked.has(node)) return false;
    return this.#codes[user] === UNTIL && isComparison(this.#codes[node] as number);
  }

  /** Users, and in the place of a side that is folded its `until`. */
  #unfolded(users: readonly number[], all: readonly (readonly number[])[]): number[] {
    return [...new Set(users.map((user) => (this.#folded[user] === 1 ? (all[user]?.[0] as number) : user)))];
  }

  #begin(node: number): void {
    const { op, constant, args, name } = this.#nodes[node] as Node;
    if (op === "constant") this.values[node] = constant;
    if (op === "pulse" || (op === "cell" && this.#isFlag(node))) this.values[node] = 0;
    if (op === "until") this.#held[node] = 0;
    if (op === "in the last") this.#since[node] = Number.NEGATIVE_INFINITY;
    if (op.endsWith(" over")) this.#windows.set(node, new Window());
    if (op === "profile" || op === "ramped profile") this.#profiles.set(node, this.#profileOf(name, args));
    if (op !== "cell" && op !== "constant" && op !== "pulse" && this.#folded[node] === 0) this.mark(node);
  }

  #isFlag(node: number): boolean {
    const { key, name } = this.#nodes[node] as Node;
    return key !== name;
  }

  /** The profile with the nodes of its values. */
  #profileOf(name: string, args: readonly number[]): ProfileDay<number>[] {
    const profile = this.#graph.house.profiles.find((one) => one.name === name);
    let place = 0;
    return (profile?.days ?? []).map(({ days, points }) => ({
      days,
      points: points.map(({ from }) => ({ from, value: args[place++] as number })),
    }));
  }

  // ── From outside ──────────────────────────────────────────────────────────────────────────────────────────────────

  /** Sets a cell or a pulse. */
  set(node: number, value: number): void {
    this.#change(node, value);
  }

  /**
   * Takes a good report of a sensor that changes nothing but its value and time; false where it may change more, or may
   * be no good report, and nothing was taken.
   */
  reportQuietly(node: number, value: number, at: number): boolean {
    if (this.#quietStale[node] === 1) this.#findQuiet(node);
    const inside = value > (this.#quietLow[node] as number) && value < (this.#quietHigh[node] as number);
    // The same value again changes nothing, but for its age.
    if (!inside && !(this.#repeats(node, value) && this.#aged[node] === 0)) return false;
    this.#since[node] = at;
    this.#held[node] = value;
    this.values[node] = value;
    return true;
  }

  #repeats(node: number, value: number): boolean {
    const isGood = value >= (this.#lowest[node] as number) && value <= (this.#highest[node] as number);
    return isGood && value === this.values[node];
  }

  /** Ends an instant: its moments are over. What they broke is broken, and what they held counts from now. */
  endMoments(pulses: readonly number[]): void {
    this.#ending = true;
    for (const node of pulses) this.set(node, 0);
    this.settle();
    this.#ending = false;
  }

  /** The next instant from which a moving value is at least so far from what it is now, or turns. */
  nextStep(node: number, step: number): number {
    const from = this.current(node);
    const corner = Math.min(this.corner(node), this.now + FAR);
    return this.#crossing((at) => Math.abs(this.at(node, at) - from) >= step, corner);
  }

  /** Takes a good report of a sensor. */
  report(node: number, value: number): void {
    this.#since[node] = this.now;
    this.#held[node] = value;
    this.#quietStale[node] = 1;
    this.mark(node);
    if (this.#aged[node] === 0) return;
    // An age starts anew whatever the value.
    for (let at = this.#usersAt[node] as number; at < (this.#usersAt[node + 1] as number); at++) {
      const user = this.#users[at] as number;
      if (this.#nodes[user]?.op === "age") this.mark(user);
    }
  }

  /** Makes a sensor unknown, as if it had not reported. */
  forget(node: number): void {
    this.#since[node] = Number.NaN;
    this.#quietStale[node] = 1;
    this.mark(node);
  }

  /**
   * The bounds between which a sensor may move without turning any of its comparisons, where it has no other users and
   * nobody else is told. Words and colours do not move: only one that is repeated is quiet.
   */
  #findQuiet(node: number): void {
    this.#quietStale[node] = 0;
    this.#quietLow[node] = Number.POSITIVE_INFINITY;
    this.#quietHigh[node] = Number.NEGATIVE_INFINITY;
    const { op, name } = this.#nodes[node] as Node;
    const kind = op === "sensor" ? typeOf(this.#graph.house, name).kind : undefined;
    if (kind === undefined || kind === "words" || kind === "colour") return;
    if (Number.isNaN(this.values[node] as number) || this.#isTold(node)) return;
    this.#low = this.#lowest[node] as number;
    this.#high = this.#highest[node] as number;
    for (let at = this.#usersAt[node] as number; at < (this.#usersAt[node + 1] as number); at++) {
      const user = this.#users[at] as number;
      const known =
        this.#codes[user] === UNTIL
          ? this.#narrowToSides(node, user)
          : this.#narrow(node, user) || this.#nodes[user]?.op === "is unknown";
      if (!known) return;
    }
    this.#quietLow[node] = this.#low;
    this.#quietHigh[node] = this.#high;
  }

  /** Of an `until`: while it holds only its reset counts; while it does not, only its condition, as long as that is false. */
  #narrowToSides(node: number, until: number): boolean {
    const [set, reset] = [this.#first[until] as number, this.#second[until] as number];
    const holds = this.#held[until] === 1;
    const waits = !holds && this.#side(set) === 0;
    return (
      (holds || this.#folded[set] === 0 || this.#narrow(node, set)) &&
      (waits || this.#folded[reset] === 0 || this.#narrow(node, reset))
    );
  }

  /**
   * Narrows the bounds to where a comparison of a sensor stays as it is; false where that is not known. Its other side
   * stands still unless it is looked at anew, which no other sensor does: that may move quietly too. Equal numbers lie
   * within 1e-9 of one another: twice that is surely beside a bound, half of it surely on it.
   */
  #narrow(node: number, comparison: number): boolean {
    const [left, right] = [this.#first[comparison] as number, this.#second[comparison] as number];
    const other = left === node ? right : left;
    const code = turnedRound(this.#codes[comparison] as number, left !== node);
    if (!isComparison(code) || other === node) return false;
    // A side of an `until` may be about another thing.
    if (left !== node && right !== node) return true;
    if (this.#codes[other] === SENSOR) return false;
    const value = this.values[node] as number;
    const bound = this.values[other] as number;
    if (Number.isNaN(bound)) return true;
    const beside = 2e-9 * Math.max(1, Math.abs(bound));
    const onIt = beside / 4;
    // What the comparison is now decides, not where the value lies: a value a little beside its bound is on it.
    const holds = compared(code, value, bound) === 1;
    if (code === ABOVE || code === AT_MOST) {
      if (holds === (code === ABOVE)) this.#low = Math.max(this.#low, bound + beside);
      else this.#high = Math.min(this.#high, bound + onIt);
    } else if (code === BELOW || code === AT_LEAST) {
      if (holds === (code === BELOW)) this.#high = Math.min(this.#high, bound - beside);
      else this.#low = Math.max(this.#low, bound - onIt);
    } else if (holds) return false;
    else if (value < bound) this.#high = Math.min(this.#high, bound - beside);
    else this.#low = Math.max(this.#low, bound + beside);
    return true;
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

  /** Marks what changes with time alone: after a jump of `now` or of the clock. */
  markTemporal(): void {
    this.#nodes.forEach(({ op, moving, args }, node) => {
      if (temporal.has(op) || moving || args.some((part) => this.#nodes[part]?.moving)) this.mark(node);
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
    const window = this.#windows.get(node);
    if (window) return { window: window.toJSON() };
    const state = [this.values, this.#since, this.#held, this.#mark].map((from) => from[node] as number);
    return state.map((value) => (Number.isFinite(value) ? value : null));
  }

  restore(node: number, state: NodeState): void {
    if ("window" in state) {
      this.#windows.get(node)?.restore(state.window);
      return;
    }
    const { op } = this.#nodes[node] as Node;
    const [value, since, held, mark] = state;
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
    // What comes of a moving value may have changed though the value has not.
    if ((before === value || Object.is(before, value)) && this.#moves[node] === 0) return;
    this.values[node] = value;
    const end = this.#usersAt[node + 1] as number;
    for (let at = this.#usersAt[node] as number; at < end; at++) this.mark(this.#users[at] as number);
    this.onChange(node, value, before);
  }

  isMoving(node: number): boolean {
    return this.#moves[node] === 1;
  }

  // ── Values at an instant ──────────────────────────────────────────────────────────────────────────────────────────

  /** The value of a node now, moving or not. */
  current(node: number): number {
    return this.#moves[node] === 1 ? this.at(node, this.now) : (this.values[node] as number);
  }

  /** The value of a node at an instant not before now, if nothing but time passes until then. */
  at(node: number, instant: number): number {
    if (this.#moves[node] === 0) return this.values[node] as number;
    const { op, args, constant, name } = this.#nodes[node] as Node;
    const part = (place: number) => this.at(args[place] as number, instant);
    switch (op) {
      case "age":
        return instant - (this.#since[args[0] as number] as number);
      case "mean over":
      case "min over":
      case "max over":
      case "rise over":
      case "time over":
      case "count over":
        return this.#over(node, op, instant, this.current(args[1] as number));
      case "begins in":
      case "ends in":
        return this.#untilTurn(op, args[0] as number, name, instant);
      case "elevation":
        return this.sky?.place ? sunElevation(this.sky.place, instant) : Number.NaN;
      case "azimuth":
        return this.sky?.place ? sunAzimuth(this.sky.place, instant) : Number.NaN;
      case "time of day":
        return this.sky ? this.sky.clock.local(instant).ms : Number.NaN;
      case "ramped profile":
        return this.#ramp(node, instant);
      case "if": {
        const condition = part(0);
        return Number.isNaN(condition) ? Number.NaN : part(condition === 1 ? 1 : 2);
      }
      default:
        return compute(
          op,
          args.map((_, place) => part(place)),
          constant,
        );
    }
  }

  #over(node: number, op: Op, instant: number, over: number): number {
    const window = this.#windows.get(node) as Window;
    if (Number.isNaN(over) || window.isEmpty) return Number.NaN;
    switch (op) {
      case "mean over":
        return window.mean(instant, over);
      case "min over":
        return window.extreme(instant, over, Math.min);
      case "max over":
        return window.extreme(instant, over, Math.max);
      case "rise over":
        return window.rise(instant, over);
      case "time over":
        return window.isKnown(instant, over) ? window.sum(instant, over) : Number.NaN;
      default:
        return window.isKnown(instant, over) ? window.rises(instant, over) : Number.NaN;
    }
  }

  #untilTurn(op: Op, schedule: number, name: string, instant: number): number {
    const open = this.values[schedule] as number;
    if (Number.isNaN(open)) return Number.NaN;
    if (open === (op === "begins in" ? 1 : 0)) return 0;
    const calendar = this.#graph.house.schedules.find((one) => one.name === name);
    const { until } = calendar && this.sky ? stretchOf(calendar, this.sky, this.now) : { until: Number.NaN };
    return Number.isFinite(until) ? Math.max(0, until - instant) : Number.NaN;
  }

  #ramp(node: number, instant: number): number {
    const stretch = this.sky && profileAt(this.#profiles.get(node) ?? [], this.sky, instant);
    if (!stretch) return Number.NaN;
    const from = this.values[stretch.value] as number;
    const to = this.values[stretch.next] as number;
    if (!Number.isFinite(stretch.until)) return from;
    return from + ((to - from) * (instant - stretch.since)) / (stretch.until - stretch.since);
  }

  /** The next instant at which a moving value may turn: until then it goes one way. */
  corner(node: number): number {
    const { op, args, moving } = this.#nodes[node] as Node;
    if (!moving) return Number.POSITIVE_INFINITY;
    switch (op) {
      case "age":
        return Number.POSITIVE_INFINITY;
      case "elevation":
      case "azimuth":
        return this.now + SUN_STRETCH;
      case "time of day":
        return this.#midnight();
      case "ramped profile":
        return (this.sky && profileAt(this.#profiles.get(node) ?? [], this.sky, this.now)?.until) ?? Number.POSITIVE_INFINITY;
      case "begins in":
      case "ends in":
        return this.#due(args[0] as number);
      case "mean over":
      case "min over":
      case "max over":
      case "rise over":
      case "time over":
      case "count over":
        return (this.#windows.get(node) as Window).corner(this.now, this.current(args[1] as number));
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
    const { now } = this;
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

  // ── Bringing up to date ───────────────────────────────────────────────────────────────────────────────────────────

  #evaluate(node: number): number {
    const { values } = this;
    const first = this.#first[node] as number;
    const left = first < 0 ? Number.NaN : (values[first] as number);
    const second = this.#second[node] as number;
    const right = second < 0 ? Number.NaN : (values[second] as number);
    const code = this.#codes[node] as number;
    switch (code) {
      case SENSOR:
        // One that has grown too old is no longer quiet, even where nobody compares it.
        this.#quietStale[node] = 1;
        return this.#sensor(node, first < 0 ? Number.POSITIVE_INFINITY : left);
      case ABOVE:
      case BELOW:
      case AT_LEAST:
      case AT_MOST:
      case IS:
        this.#staleQuiet(first, second);
        return compared(code, left, right);
      case NOT:
        return 1 - left;
      case AND:
        return this.#joined(node, 0);
      case OR:
        return this.#joined(node, 1);
      case FOR:
        return this.#for(node, left, right);
      case IN_THE_LAST:
        return this.#inTheLast(node, left, right);
      case UNTIL:
        this.#staleSide(first);
        this.#staleSide(second);
        return this.#until(node, this.#side(first), this.#side(second));
      default:
        return this.#evaluateOther(node);
    }
  }

  /** The value of a part of an `until`, compared now where it has none of its own. */
  #side(node: number): number {
    if (this.#folded[node] === 0) return this.values[node] as number;
    const [left, right] = [this.#first[node] as number, this.#second[node] as number];
    return compared(this.#codes[node] as number, this.values[left] as number, this.values[right] as number);
  }

  #staleSide(node: number): void {
    if (this.#folded[node] === 1) this.#staleQuiet(this.#first[node] as number, this.#second[node] as number);
  }

  #evaluateOther(node: number): number {
    const { op, args, moving, constant, name } = this.#nodes[node] as Node;
    const { values } = this;
    if (moving) {
      const window = this.#windows.get(node);
      if (window) window.put(this.now, this.current(args[0] as number), this.current(args[1] as number) || 0);
      return this.at(node, this.now);
    }
    const first = args.length > 0 ? this.current(args[0] as number) : Number.NaN;
    const second = args.length > 1 ? this.current(args[1] as number) : Number.NaN;
    switch (op) {
      case "constant":
      case "cell":
      case "pulse":
        return values[node] as number;
      case "sensor":
        return this.#sensor(node, args.length === 0 ? Number.POSITIVE_INFINITY : first);
      case "schedule":
        return this.#schedule(node, name);
      case "clock between":
        return this.#clockBetween(node, first, second);
      case "weekday":
      case "date":
      case "sun time":
        return this.#calendarDay(node, op, name);
      case "profile":
        return this.#stepped(node);
      case "above":
      case "below":
      case "at least":
      case "at most":
      case "is":
        this.#planCrossing(node, op, args as [number, number]);
        return compares(op, first, second);
      case "is unknown":
        return Number.isNaN(first) ? 1 : 0;
      case "not":
        return 1 - first;
      case "and":
        return this.#joined(node, 0);
      case "or":
        return this.#joined(node, 1);
      case "if":
        return Number.isNaN(first) ? Number.NaN : first === 1 ? second : (values[args[2] as number] as number);
      case "for":
        return this.#for(node, first, second);
      case "in the last":
        return this.#inTheLast(node, first, second);
      case "until":
        return this.#until(node, first, second);
      case "limited until":
        return this.#limitedUntil(node, first, second, this.current(args[2] as number), this.current(args[3] as number));
      case "cycle":
        return this.#cycle(node, first, second, this.current(args[2] as number));
      case "share cycle":
        return this.#shareCycle(node, first, second, this.current(args[2] as number));
      default:
        return compute(
          op,
          args.map((part) => values[part] as number),
          constant,
        );
    }
  }

  /** A comparison was looked at anew: its other side may have moved. */
  #staleQuiet(left: number, right: number): void {
    this.#quietStale[left] = 1;
    this.#quietStale[right] = 1;
  }

  #plan(node: number, at: number): void {
    this.agenda.set(this.firstTimer + node, at);
  }

  #unplan(node: number): void {
    this.agenda.clear(this.firstTimer + node);
  }

  #due(node: number): number {
    return this.agenda.due(this.firstTimer + node);
  }

  #joined(node: number, decisive: 0 | 1): number {
    let unknown = false;
    const end = this.#partsAt[node + 1] as number;
    for (let at = this.#partsAt[node] as number; at < end; at++) {
      const value = this.values[this.#parts[at] as number] as number;
      if (value === decisive) return decisive;
      if (Number.isNaN(value)) unknown = true;
    }
    return unknown ? Number.NaN : 1 - decisive;
  }

  #planCrossing(node: number, op: Op, [left, right]: readonly [number, number]): void {
    const end = Math.min(this.corner(left), this.corner(right), this.now + FAR);
    // A value that passes another is equal to it for an instant.
    const kinds: Op[] = op === "is" ? ["above", "at least"] : [op];
    const next = kinds.map((kind) => this.#crossing((at) => compares(kind, this.at(left, at), this.at(right, at)), end));
    this.#plan(node, Math.max(this.now + 1, Math.ceil(Math.min(...next))));
  }

  /** Known until its report is `after` old, that instant excluded. */
  #sensor(node: number, after: number): number {
    const since = this.#since[node] as number;
    if (Number.isNaN(since) || Number.isNaN(after)) return Number.NaN;
    if (this.now - since >= after) return Number.NaN;
    // A later report only moves the deadline out: it is looked at again when the earlier one falls due.
    const end = Math.ceil(since + after);
    if (this.#due(node) > end) this.#plan(node, end);
    return this.#held[node] as number;
  }

  #schedule(node: number, name: string): number {
    const calendar = this.#graph.house.schedules.find((one) => one.name === name);
    if (!this.sky || !calendar) return Number.NaN;
    const { open, until } = stretchOf(calendar, this.sky, this.now);
    this.#plan(node, until);
    return open ? 1 : 0;
  }

  #clockBetween(node: number, from: number, to: number): number {
    if (!this.sky || Number.isNaN(from) || Number.isNaN(to)) return Number.NaN;
    const [begins, ends] = eventsOf(this.#nodes[node] as Node);
    const time = (sun: SunEvent | undefined, ms: number) => ({ ...(sun && { sun }), ms });
    const openings = [{ days: EVERY_DAY, spans: [{ from: time(begins, from), to: time(ends, to) }] }];
    const { open, until } = stretchOf({ openings }, this.sky, this.now);
    this.#plan(node, until);
    return open ? 1 : 0;
  }

  #midnight(): number {
    if (!this.sky) return Number.POSITIVE_INFINITY;
    return instantOn(this.sky, { ms: 0 }, this.sky.clock.local(this.now).day + 1) as number;
  }

  #calendarDay(node: number, op: Op, event: string): number {
    if (!this.sky) return Number.NaN;
    this.#plan(node, this.#midnight());
    const { day } = this.sky.clock.local(this.now);
    if (op === "date") return day;
    if (op === "weekday") return weekdayOf(day);
    const instant = sunEventOn(this.sky, event as SunEvent, day);
    return instant === undefined ? Number.NaN : this.sky.clock.local(instant).ms;
  }

  #stepped(node: number): number {
    const stretch = this.sky && profileAt(this.#profiles.get(node) ?? [], this.sky, this.now);
    if (!stretch) return Number.NaN;
    this.#plan(node, stretch.until);
    return this.current(stretch.value);
  }

  #for(node: number, condition: number, duration: number): number {
    const { now } = this;
    if (condition !== 1) {
      if (!Number.isNaN(this.#since[node] as number)) {
        this.#held[node] = this.#since[node] as number;
        this.#mark[node] = now;
        this.#since[node] = Number.NaN;
      }
      this.#unplan(node);
      return condition === 0 ? 0 : Number.NaN;
    }
    if (Number.isNaN(this.#since[node] as number))
      this.#since[node] = this.#mark[node] === now && !this.#ending ? (this.#held[node] as number) : now;
    if (Number.isNaN(duration)) return Number.NaN;
    const end = Math.ceil((this.#since[node] as number) + duration);
    if (now >= end) {
      this.#unplan(node);
      return 1;
    }
    this.#plan(node, end);
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
      this.#unplan(node);
      return 1;
    }
    if (risen) {
      this.#since[node] = this.#mark[node] === now && !this.#ending ? (this.#held[node] as number) : now;
      this.#mark[node] = Number.NaN;
    }
    const end = Math.ceil((this.#since[node] as number) + duration);
    if (now < end) {
      this.#plan(node, end);
      return 1;
    }
    this.#unplan(node);
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

  /** Ends by itself too, and then pauses; an end by the reset has no pause. */
  #limitedUntil(node: number, condition: number, reset: number, atMost: number, pause: number): number {
    const { now } = this;
    this.#unplan(node);
    // What may last for nothing never begins.
    if (atMost <= 0) return 0;
    if (reset === 1) this.#since[node] = Number.NaN;
    const over = (this.#since[node] as number) + atMost;
    if (now >= over) {
      this.#since[node] = Number.NaN;
      this.#mark[node] = Math.ceil(over + pause);
    }
    if (now < (this.#mark[node] as number)) {
      this.#plan(node, this.#mark[node] as number);
      return 0;
    }
    this.#mark[node] = Number.NaN;
    if (reset === 1) return 0;
    if (Number.isNaN(reset) || Number.isNaN(atMost) || Number.isNaN(pause)) return Number.NaN;
    if (condition === 1 && Number.isNaN(this.#since[node] as number)) this.#since[node] = now;
    if (Number.isNaN(this.#since[node] as number)) return condition === 0 ? 0 : Number.NaN;
    this.#plan(node, Math.ceil((this.#since[node] as number) + atMost));
    return 1;
  }

  /** On and off in turn from when it began to apply. */
  #cycle(node: number, applies: number, on: number, off: number): number {
    const { now } = this;
    this.#unplan(node);
    if (applies !== 1 || !(on > 0) || Number.isNaN(off)) {
      this.#since[node] = Number.NaN;
      return 0;
    }
    if (Number.isNaN(this.#since[node] as number)) this.#since[node] = now;
    const period = on + Math.max(0, off);
    const begun = this.#since[node] as number;
    const turn = begun + Math.floor((now - begun) / period) * period;
    const isOn = now < turn + on;
    this.#plan(node, Math.max(now + 1, Math.ceil(isOn ? turn + on : turn + period)));
    return isOn ? 1 : 0;
  }

  /** On for the share taken at the beginning of each cycle; less than 4 % and more than 96 % are rounded off. */
  #shareCycle(node: number, applies: number, share: number, length: number): number {
    const { now } = this;
    this.#unplan(node);
    if (applies !== 1 || !(length > 0)) {
      this.#since[node] = Number.NaN;
      return 0;
    }
    if (Number.isNaN(this.#since[node] as number)) {
      this.#since[node] = now;
      this.#held[node] = share;
    }
    // However many cycles went by: what has been so for ever began very long ago.
    const passed = Math.floor((now - (this.#since[node] as number)) / length);
    if (passed > 0) {
      this.#since[node] = (this.#since[node] as number) + passed * length;
      this.#held[node] = share;
    }
    const begun = this.#since[node] as number;
    const taken = this.#held[node] as number;
    const rounded = taken < 0.04 ? 0 : taken > 0.96 ? 1 : taken;
    const off = begun + rounded * length;
    this.#plan(node, Math.max(now + 1, Math.ceil(now < off && rounded < 1 ? off : begun + length)));
    return now < off ? 1 : 0;
  }
}

/** Readings that lie within a sensor's range whatever the last digits do. */
function surelyIn({ type, range }: Sensor): [lowest: number, highest: number] {
  if (!range) return [-Number.MAX_VALUE, Number.MAX_VALUE];
  const unit = type.kind === "number" ? type.unit : "";
  const [low, high] = range.map((value) => toBase({ value, unit })) as [number, number];
  const within = 2e-9 * Math.max(1, Math.abs(low), Math.abs(high));
  return [low + within, high - within];
}

function isComparison(code: number): boolean {
  return code >= ABOVE && code <= IS;
}

/** A comparison read from its other side. */
function turnedRound(code: number, turned: boolean): number {
  if (!turned) return code;
  if (code === ABOVE) return BELOW;
  if (code === BELOW) return ABOVE;
  if (code === AT_LEAST) return AT_MOST;
  return code === AT_MOST ? AT_LEAST : code;
}

/** What a comparison of values that do not move is. */
function compared(code: number, left: number, right: number): number {
  switch (code) {
    case ABOVE:
      return left > right ? (equalNumbers(left, right) ? 0 : 1) : unlessUnknown(left, right, 0);
    case BELOW:
      return left < right ? (equalNumbers(left, right) ? 0 : 1) : unlessUnknown(left, right, 0);
    case AT_LEAST:
      return left < right ? (equalNumbers(left, right) ? 1 : 0) : unlessUnknown(left, right, 1);
    case AT_MOST:
      return left > right ? (equalNumbers(left, right) ? 1 : 0) : unlessUnknown(left, right, 1);
    default:
      return left === right ? 1 : unlessUnknown(left, right, equalNumbers(left, right) ? 1 : 0);
  }
}

function unlessUnknown(left: number, right: number, truth: number): number {
  return Number.isNaN(left) || Number.isNaN(right) ? Number.NaN : truth;
}

function usersOf(nodes: readonly Node[]): number[][] {
  const users: number[][] = nodes.map(() => []);
  nodes.forEach(({ args }, node) => {
    for (const part of args) users[part]?.push(node);
  });
  return users;
}
