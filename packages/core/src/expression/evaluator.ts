// Keeps the values of a graph up to date: what changes is marked, and `settle` brings each marked node up to date once,
// in order of dependence. Nodes that change with time put their deadlines into the agenda, under their own number
// after the engine's timers. What nodes remember, how they move and when a report is quiet have files of their own.
import type { Sky } from "../time/index.js";
import { Absorbed } from "./absorbed.js";
import type { Agenda } from "./agenda.js";
import type { Audience } from "./audience.js";
import { Calendar, rampAt } from "./calendar.js";
import { ABOVE, AND, AT_LEAST, AT_MOST, BELOW, compared, FOR, IN_THE_LAST, IS, NOT, OR, SENSOR, UNTIL } from "./codes.js";
import { compares, compute, pure } from "./functions.js";
import type { Graph, Node } from "./graph.js";
import { IDLE, type Layout, layoutOf, MOVING, STILL } from "./layout.js";
import { Marked } from "./marked.js";
import { Memory } from "./memory.js";
import { Moving } from "./moving.js";
import { ops } from "./ops.js";
import { Quiet } from "./quiet.js";
import { HELD, MARK, SINCE, State } from "./state.js";

/** Everything a node remembers: value, since, held, mark; unknown is null. Of a window: its entries. */
export type NodeState = readonly (number | null)[] | { readonly window: readonly (readonly [number, number | null])[] };

export class Evaluator {
  readonly values: Float64Array;
  readonly quiet: Quiet;
  /** Nothing is absorbed of what somebody is told of whatever happens. */
  readonly absorbed: Absorbed | undefined;
  readonly #nodes: readonly Node[];
  readonly #layout: Layout;
  /** Of the layout, what is read for every node: a step takes a fifth longer where each is looked up in it. */
  readonly #codes: Uint8Array;
  readonly #first: Int32Array;
  readonly #second: Int32Array;
  readonly #users: Int32Array;
  readonly #usersAt: Int32Array;
  readonly #moves: Uint8Array;
  readonly #told: Uint8Array;
  readonly #seen: Uint8Array;
  readonly #state: State;
  readonly #marked: Marked;
  readonly #memory: Memory;
  readonly #calendar: Calendar;
  readonly #moving: Moving;
  readonly #audience: Audience;

  constructor(graph: Graph, agenda: Agenda, firstTimer: number, now: number, audience: Audience) {
    const size = graph.nodes.length;
    this.#nodes = graph.nodes;
    this.#audience = audience;
    this.#layout = layoutOf(graph, audience);
    this.#codes = this.#layout.codes;
    this.#first = this.#layout.first;
    this.#second = this.#layout.second;
    this.#users = this.#layout.users;
    this.#usersAt = this.#layout.usersAt;
    this.#moves = this.#layout.moves;
    this.#told = this.#layout.told;
    this.#seen = this.#layout.seen;
    this.#state = new State(size, agenda, firstTimer, now);
    this.#marked = new Marked(size);
    this.#memory = new Memory(this.#state);
    this.#calendar = new Calendar(graph, this.#state);
    this.#moving = new Moving(graph, this.#layout, this.#state, this.#calendar);
    this.quiet = new Quiet(graph, this.#layout, this.#state, audience);
    this.absorbed = audience.foldsSides
      ? new Absorbed(this.#layout, this.#state, this.#memory, this.#moving, this.quiet)
      : undefined;
    this.values = this.#state.values;
    for (let node = 0; node < size; node++) this.#begin(node);
  }

  #begin(node: number): void {
    const { op, constant, key, name } = this.#nodes[node] as Node;
    const isFlag = op === "cell" && key !== name;
    if (op === "constant" || isFlag) this.values[node] = constant;
    if (op === "pulse") this.values[node] = 0;
    if (op === "until") this.#state.kept[4 * node + HELD] = 0;
    if (op === "in the last") this.#state.kept[4 * node + SINCE] = Number.NEGATIVE_INFINITY;
    const isSet = op === "cell" || op === "constant" || op === "pulse";
    if (!isSet && this.#layout.folded[node] === 0 && this.#layout.moves[node] !== IDLE) this.mark(node);
  }

  // ── From outside ──────────────────────────────────────────────────────────────────────────────────────────────────

  get now(): number {
    return this.#state.now;
  }

  set now(instant: number) {
    this.#state.now = instant;
  }

  set sky(sky: Sky) {
    this.#state.sky = sky;
  }

  /** Sets a cell or a pulse. */
  set(node: number, value: number): void {
    this.#change(node, value);
  }

  /** Takes a good report of a sensor. */
  report(node: number, value: number): void {
    this.#state.kept[4 * node + SINCE] = this.#state.now;
    this.#state.kept[4 * node + HELD] = value;
    this.quiet.unsettle(node);
    const isAged = this.#layout.aged[node] === 1;
    // One that never grows too old, and of which nobody is told, has its value at once.
    if (!isAged && (this.#first[node] as number) < 0 && this.#told[node] === 0) return this.#change(node, value);
    this.mark(node);
    if (!isAged) return;
    // An age starts again whatever the value.
    const { users, usersAt } = this.#layout;
    for (let at = usersAt[node] as number; at < (usersAt[node + 1] as number); at++) {
      const user = users[at] as number;
      if (this.#nodes[user]?.op === "age") this.mark(user);
    }
  }

  /** When a sensor last sent something good; NaN where it never did, or that was taken back. */
  lastReport(node: number): number {
    return this.#state.kept[4 * node + SINCE] as number;
  }

  /** Makes a sensor unknown, as if it had not reported. */
  forget(node: number): void {
    this.#state.kept[4 * node + SINCE] = Number.NaN;
    this.quiet.unsettle(node);
    this.mark(node);
  }

  /** Ends an instant: its moments are over. What they broke is broken, and what they held counts from now. */
  endMoments(pulses: readonly number[]): void {
    this.#state.ending = true;
    for (const node of pulses) this.set(node, 0);
    this.settle();
    this.#state.ending = false;
  }

  /** To be brought up to date at the next `settle`. */
  mark(node: number): void {
    this.#marked.add(node);
  }

  /** The deadline of a node has come: by the number of its timer. */
  fallDue(timer: number): void {
    this.mark(timer - this.#state.firstTimer);
  }

  /** A sensor that has reported since its deadline was set is not too old then: it is put off, and needs no step. */
  putOffAges(): void {
    const { agenda, firstTimer, kept } = this.#state;
    for (let node = agenda.first - firstTimer; node >= 0 && this.#codes[node] === SENSOR; node = agenda.first - firstTimer) {
      const after = this.#first[node] as number;
      const end = after < 0 ? Number.NaN : Math.ceil((kept[4 * node + SINCE] as number) + (this.values[after] as number));
      if (!(end > agenda.next)) return;
      agenda.set(firstTimer + node, end);
    }
  }

  /** Marks what changes with time alone: after a jump of `now` or of the clock. */
  markTemporal(): void {
    this.#nodes.forEach(({ op, moving, args }, node) => {
      if (this.#moves[node] === IDLE) return;
      if (ops[op].planned || moving || args.some((part) => this.isMoving(part))) this.mark(node);
    });
  }

  /**
   * What is given has been so for ever, and memories are what that makes of them: not what the way there did. What goes
   * round, or lasts for a time, begins at an instant; `now` is the last before it.
   */
  beginMemories(at: number): void {
    const { kept } = this.#state;
    const lasting: number[] = [];
    this.#nodes.forEach(({ op }, node) => {
      if (op === "until") kept[4 * node + HELD] = 0;
      else if (op === "until at most" || op === "limited until" || op === "cycle" || op === "share cycle") {
        kept[4 * node + SINCE] = Number.NaN;
        kept[4 * node + MARK] = Number.NaN;
        lasting.push(node);
      } else return;
      this.mark(node);
    });
    this.settle();
    for (const node of lasting) if (!Number.isNaN(kept[4 * node + SINCE] as number)) kept[4 * node + SINCE] = at;
  }

  get settled(): boolean {
    return this.#marked.isEmpty;
  }

  settle(): void {
    while (!this.#marked.isEmpty) {
      const node = this.#marked.take();
      this.#change(node, this.#evaluate(node));
    }
  }

  isMoving(node: number): boolean {
    return this.#layout.moves[node] === MOVING;
  }

  /** Whether a node has its value, and keeps it until it changes. */
  stands(node: number): boolean {
    return this.#layout.moves[node] === STILL;
  }

  /** The value of a node now, moving or not. */
  current(node: number): number {
    return this.#moving.current(node);
  }

  /**
   * The value of a node with all that has been set since it was last brought up to date: so steps see it. What remembers is
   * as it was, as nothing remembers what only stood between two steps.
   */
  peek(node: number): number {
    const { op, args, constant } = this.#nodes[node] as Node;
    if (this.#marked.isEmpty) return this.current(node);
    if (op === "profile" || op === "ramped profile" || op === "clock between") return this.#peekAtClock(node);
    // What has lasted is over, or begins, with what it is of, and how long it has to last may have been set too.
    if (op === "for") return this.#memory.forNow(node, this.peek(args[0] as number), this.peek(args[1] as number));
    if (op === "in the last") return this.#memory.inTheLastNow(node, this.peek(args[0] as number), this.peek(args[1] as number));
    if (!ops[op].pure) return this.current(node);
    return pure(
      op,
      args.map((part) => this.peek(part)),
      constant,
    );
  }

  /** What the clock chooses among the values of its parts. */
  #peekAtClock(node: number): number {
    const { op, args } = this.#nodes[node] as Node;
    const { now } = this.#state;
    if (op === "clock between") {
      const [from = Number.NaN, to = Number.NaN] = args.map((part) => this.peek(part));
      const stretch = this.#calendar.span(node, from, to);
      return stretch ? Number(stretch.open) : Number.NaN;
    }
    const stretch = this.#calendar.profileAt(node, now);
    if (op === "ramped profile") return rampAt(stretch, now, (point) => this.peek(point));
    return stretch ? this.peek(stretch.value) : Number.NaN;
  }

  /** What a node would be if others were: what remembers or moves is as it is. */
  supposing(node: number, given: ReadonlyMap<number, number>): number {
    const { op, args, constant, moving } = this.#nodes[node] as Node;
    const supposed = given.get(node);
    if (supposed !== undefined) return supposed;
    if (moving || !ops[op].pure) return this.current(node);
    return pure(
      op,
      args.map((part) => this.supposing(part, given)),
      constant,
    );
  }

  /** The value of a node at an instant not before now, if nothing but time passes until then. */
  at(node: number, instant: number): number {
    return this.#moving.at(node, instant);
  }

  /** The next instant from which a moving value, so far not, is at least so far from another value; or turns. */
  nextStep(node: number, step: number, from: number): number {
    return this.#moving.nextStep(node, step, from);
  }

  state(node: number): NodeState {
    const window = this.#moving.windows.get(node);
    if (window) return { window: window.toJSON() };
    const { values, kept } = this.#state;
    const [since, held, mark] = kept.subarray(4 * node);
    // Of a sensor it is where reports are quiet, which is found again.
    const remembered = [values[node], since, held, this.#nodes[node]?.op === "sensor" ? Number.NaN : mark];
    return remembered.map((value = Number.NaN) => (Number.isFinite(value) ? value : null));
  }

  restore(node: number, state: NodeState): void {
    if ("window" in state) {
      this.#moving.windows.get(node)?.restore(state.window);
      return;
    }
    const { op } = this.#nodes[node] as Node;
    const [value, since, held, mark] = state;
    this.values[node] = value ?? Number.NaN;
    const never = op === "in the last" ? Number.NEGATIVE_INFINITY : Number.NaN;
    this.#state.kept.set([since ?? never, held ?? Number.NaN, mark ?? Number.NaN], 4 * node);
  }

  // ── Bringing up to date ───────────────────────────────────────────────────────────────────────────────────────────

  #change(node: number, value: number): void {
    const before = this.values[node] as number;
    // What comes of a moving value may have changed though the value has not.
    if ((before === value || Object.is(before, value)) && this.#moves[node] !== MOVING) return;
    this.values[node] = value;
    const users = this.#users;
    const end = this.#usersAt[node + 1] as number;
    for (let at = this.#usersAt[node] as number; at < end; at++) this.#marked.add(users[at] as number);
    if (this.#seen[node] === 1 || Number.isNaN(value)) this.#audience.onChange(node);
  }

  #evaluate(node: number): number {
    const { values } = this;
    const first = this.#first[node] as number;
    const left = first < 0 ? Number.NaN : (values[first] as number);
    const second = this.#second[node] as number;
    const right = second < 0 ? Number.NaN : (values[second] as number);
    const code = this.#codes[node] as number;
    switch (code) {
      case SENSOR:
        return this.#sensor(node, first < 0 ? Number.POSITIVE_INFINITY : left);
      case ABOVE:
      case BELOW:
      case AT_LEAST:
      case AT_MOST:
      case IS:
        this.quiet.unsettleSides(node);
        return compared(code, left, right);
      case NOT:
        return 1 - left;
      case AND:
        return this.#layout.joined(values, node, 0);
      case OR:
        return this.#layout.joined(values, node, 1);
      case FOR:
        return this.#memory.for(node, left, right);
      case IN_THE_LAST:
        return this.#memory.inTheLast(node, left, right);
      case UNTIL:
        this.quiet.unsettleFolded(node);
        return this.#memory.until(node, this.quiet.side(first), this.quiet.side(second));
      default:
        return this.#evaluateOther(node);
    }
  }

  /** One that has grown too old is no longer quiet, even where nobody compares it. */
  #sensor(node: number, after: number): number {
    this.quiet.unsettle(node);
    return this.#memory.sensor(node, after);
  }

  /** What is met more rarely, or has moving parts. */
  #evaluateOther(node: number): number {
    const { op, args, moving, constant, name } = this.#nodes[node] as Node;
    const { values } = this;
    if (moving) {
      this.#moving.take(node);
      return this.at(node, this.#state.now);
    }
    const part = (place: number) => (place < args.length ? this.current(args[place] as number) : Number.NaN);
    const [first, second] = [part(0), part(1)];
    switch (op) {
      case "constant":
      case "cell":
      case "pulse":
        return values[node] as number;
      case "sensor":
        return this.#sensor(node, args.length === 0 ? Number.POSITIVE_INFINITY : first);
      case "schedule":
        return this.#calendar.schedule(node, name);
      case "clock between":
        return this.#calendar.clockBetween(node, first, second);
      case "weekday":
      case "date":
      case "sun time":
        return this.#calendar.calendarDay(node, op, name);
      case "profile":
        return this.#stepped(node);
      case "above":
      case "below":
      case "at least":
      case "at most":
      case "is":
        this.#moving.planCrossing(node, op, args as [number, number]);
        return compares(op, first, second);
      case "is unknown":
        return Number.isNaN(first) ? 1 : 0;
      case "not":
        return 1 - first;
      case "and":
        return this.#layout.joined(values, node, 0);
      case "or":
        return this.#layout.joined(values, node, 1);
      case "if":
        return Number.isNaN(first) ? Number.NaN : first === 1 ? second : part(2);
      case "for":
        return this.#memory.for(node, first, second);
      case "in the last":
        return this.#memory.inTheLast(node, first, second);
      case "until":
        return this.#memory.until(node, first, second);
      case "until at most":
        return this.#memory.untilAtMost(node, first, second, part(2));
      case "limited until":
        return this.#memory.limitedUntil(node, first, second, part(2), part(3));
      case "cycle":
        return this.#memory.cycle(node, first, second, part(2));
      case "share cycle":
        return this.#memory.shareCycle(node, first, second, part(2));
      default:
        return compute(
          op,
          args.map((_, place) => part(place)),
          constant,
        );
    }
  }

  #stepped(node: number): number {
    const stretch = this.#calendar.profileAt(node, this.#state.now);
    if (!stretch) return Number.NaN;
    this.#state.plan(node, stretch.until);
    return this.current(stretch.value);
  }
}
