// Reports by which comparisons turn while nothing that rests on these does: motion ends, and `moving in the last 10 min`
// stays true; it gets dark while nobody is there. They are taken without a step. More may come in the same instant, and
// turn them back: of what stood within an instant alone `for` and `in the last` keep no trace, and all else that may rest
// on such a comparison remembers nothing.
import { AND, compared, FOR, IN_THE_LAST, isComparison, OR, UNTIL } from "./codes.js";
import type { Graph } from "./graph.js";
import type { Layout } from "./layout.js";
import type { Memory } from "./memory.js";
import type { Quiet, Watchers } from "./quiet.js";
import type { State } from "./state.js";

export class Absorbed {
  readonly #layout: Layout;
  readonly #state: State;
  readonly #values: Float64Array;
  readonly #memory: Memory;
  readonly #quiet: Quiet;
  /** Comparisons of which nobody is told, and which nobody looks at. */
  readonly #mayTurn: Uint8Array;
  readonly #asksWhetherKnown: Uint8Array;
  /** Comparisons that turned, while a report is looked at: the first so many. */
  readonly #turned: Int32Array;
  #count = 0;

  constructor({ nodes, asked }: Graph, layout: Layout, state: State, memory: Memory, quiet: Quiet, watchers: Watchers) {
    this.#layout = layout;
    this.#state = state;
    this.#values = state.values;
    this.#memory = memory;
    this.#quiet = quiet;
    this.#mayTurn = Uint8Array.from(nodes, (_, node) =>
      isComparison(layout.codes[node] as number) && !asked.has(node) && !watchers.isTold(node) ? 1 : 0,
    );
    this.#asksWhetherKnown = Uint8Array.from(nodes, ({ op }) => (op === "is unknown" ? 1 : 0));
    this.#turned = new Int32Array(nodes.length);
  }

  /** Takes such a report; false where more may turn, or the report may be no good one, and nothing was taken. */
  take(sensor: number, value: number, at: number): boolean {
    if (!this.#quiet.isPlain(sensor, value)) return false;
    const state = this.#state;
    const values = this.#values;
    const before = values[sensor] as number;
    const now = state.now;
    values[sensor] = value;
    state.now = at;
    this.#count = 0;
    const isAbsorbed = this.#turnUsers(sensor) && this.#allStay();
    if (isAbsorbed) {
      for (let place = 0; place < this.#count; place++) this.#note(this.#turned[place] as number);
      state.since[sensor] = at;
      state.held[sensor] = value;
      this.#unsettle(sensor);
    } else {
      for (let place = 0; place < this.#count; place++) {
        const comparison = this.#turned[place] as number;
        values[comparison] = 1 - (values[comparison] as number);
      }
      values[sensor] = before;
    }
    state.now = now;
    return isAbsorbed;
  }

  /** Where the sensor, and the other side of an `until` of it, is quiet may have changed. */
  #unsettle(sensor: number): void {
    this.#quiet.unsettle(sensor);
    const { users, usersAt, codes } = this.#layout;
    const end = usersAt[sensor + 1] as number;
    for (let place = usersAt[sensor] as number; place < end; place++)
      if (codes[users[place] as number] === UNTIL) this.#quiet.unsettleFolded(users[place] as number);
  }

  /** Turns the comparisons that a sensor's new value turns; false where a user may not turn, or does not stay as it is. */
  #turnUsers(sensor: number): boolean {
    const { users, usersAt, codes } = this.#layout;
    const end = usersAt[sensor + 1] as number;
    for (let place = usersAt[sensor] as number; place < end; place++) {
      const user = users[place] as number;
      const code = codes[user] as number;
      if (isComparison(code) ? !this.#turns(user) : code === UNTIL ? !this.#staysUntil(user) : this.#asksWhetherKnown[user] === 0)
        return false;
    }
    return true;
  }

  /** Turns a comparison if it has to; false where it must not. */
  #turns(comparison: number): boolean {
    const before = this.#values[comparison] as number;
    const after = this.#compared(comparison);
    if (after === before) return true;
    if (this.#mayTurn[comparison] === 0 || Number.isNaN(before + after)) return false;
    this.#values[comparison] = after;
    this.#turned[this.#count++] = comparison;
    return true;
  }

  #compared(comparison: number): number {
    const { codes, first, second } = this.#layout;
    const left = this.#values[first[comparison] as number] as number;
    return compared(codes[comparison] as number, left, this.#values[second[comparison] as number] as number);
  }

  /** Its memory stays too. */
  #staysUntil(node: number): boolean {
    const [set, reset] = [this.#layout.first[node] as number, this.#layout.second[node] as number];
    const [isSet, isReset] = [this.#quiet.side(set), this.#quiet.side(reset)];
    const held = this.#state.held[node] as number;
    if (Number.isNaN(isSet + isReset) || held !== this.#values[node]) return false;
    return held === (isReset === 1 ? 0 : isSet === 1 ? 1 : held);
  }

  /** Whether all stays that rests on the comparisons that turned. */
  #allStay(): boolean {
    const { users, usersAt } = this.#layout;
    for (let place = 0; place < this.#count; place++) {
      const comparison = this.#turned[place] as number;
      const end = usersAt[comparison + 1] as number;
      for (let user = usersAt[comparison] as number; user < end; user++)
        if (this.#valueOf(users[user] as number, comparison) !== this.#values[users[user] as number]) return false;
    }
    return true;
  }

  /** NaN where it may be anything. */
  #valueOf(node: number, comparison: number): number {
    const { codes, first, second } = this.#layout;
    const condition = this.#values[comparison] as number;
    const duration = this.#values[second[node] as number] as number;
    switch (codes[node]) {
      case FOR:
        return first[node] === comparison ? this.#memory.forNow(node, condition, duration) : Number.NaN;
      case IN_THE_LAST:
        return first[node] === comparison ? this.#memory.inTheLastNow(node, condition, duration) : Number.NaN;
      case AND:
        return this.#layout.joined(this.#values, node, 0);
      case OR:
        return this.#layout.joined(this.#values, node, 1);
      default:
        return Number.NaN;
    }
  }

  /** What remembers that a comparison turned. */
  #note(comparison: number): void {
    this.#quiet.unsettleSides(comparison);
    const { users, usersAt, codes, second } = this.#layout;
    const end = usersAt[comparison + 1] as number;
    const turned = this.#values[comparison] as number;
    for (let place = usersAt[comparison] as number; place < end; place++) {
      const node = users[place] as number;
      const duration = this.#values[second[node] as number] as number;
      if (codes[node] === FOR) this.#memory.for(node, turned, duration);
      else if (codes[node] === IN_THE_LAST) this.#memory.inTheLast(node, turned, duration);
    }
  }
}
