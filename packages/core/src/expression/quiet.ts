// Between which bounds a report of a sensor changes nothing but its value and time: most reports are taken here, without
// a step. What may have moved the bounds makes them unsure, and they are found again when the next report asks.
import { oncePer, type Sensor, thingsOf } from "../house/index.js";
import { toBase } from "../units/index.js";
import type { Audience } from "./audience.js";
import { ABOVE, AT_LEAST, AT_MOST, BELOW, compared, isComparison, SENSOR, turnedRound, UNTIL } from "./codes.js";
import type { Graph } from "./graph.js";
import type { Layout } from "./layout.js";
import { HELD, HIGH, LOW, SINCE, type State } from "./state.js";

/** What readings may be, worked out once for all that run a graph. */
interface Readings {
  /** What may surely be taken: for a sensor all numbers within its range, for what is none nothing. */
  readonly lowest: Float64Array;
  readonly highest: Float64Array;
  /** Sensors of numbers; words and colours do not move, and only one that is repeated is quiet. */
  readonly isNumber: Uint8Array;
  readonly isWord: Uint8Array;
  readonly asksWhetherKnown: Uint8Array;
}

const readingsOf: (graph: Graph) => Readings = oncePer(({ nodes, house }) => {
  const things = thingsOf(house);
  const sensors = nodes.map(({ op, name }) => (op === "sensor" ? (things.get(name)?.thing as Sensor) : undefined));
  const bounds = sensors.map((sensor) => (sensor ? surelyIn(sensor) : [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]));
  const kinds = sensors.map((sensor) => sensor?.type.kind);
  // One that may only move so far is looked at each time.
  const moves = sensors.map((sensor) => sensor !== undefined && !sensor.movesAtMost);
  return {
    lowest: Float64Array.from(bounds, ([lowest]) => lowest as number),
    highest: Float64Array.from(bounds, ([, highest]) => highest as number),
    isNumber: Uint8Array.from(kinds, (kind, node) => (moves[node] && kind !== "words" && kind !== "colour" ? 1 : 0)),
    isWord: Uint8Array.from(kinds, (kind) => (kind === "words" ? 1 : 0)),
    asksWhetherKnown: Uint8Array.from(nodes, ({ op }) => (op === "is unknown" ? 1 : 0)),
  };
});

export class Quiet {
  readonly #state: State;
  readonly #layout: Layout;
  readonly #audience: Pick<Audience, "isAwaited">;
  /**
   * Of a sensor, when it reported last and what, and between which bounds, themselves not within, a report is quiet: none
   * where no change is known to be; NaN where they have to be found first.
   */
  readonly #kept: Float64Array;
  readonly #values: Float64Array;
  readonly #lowest: Float64Array;
  readonly #highest: Float64Array;
  readonly #isNumber: Uint8Array;
  readonly #isWord: Uint8Array;
  readonly #isTold: Uint8Array;
  readonly #asksWhetherKnown: Uint8Array;

  constructor(graph: Graph, layout: Layout, state: State, audience: Pick<Audience, "isAwaited">) {
    this.#state = state;
    this.#layout = layout;
    this.#audience = audience;
    const { lowest, highest, isNumber, isWord, asksWhetherKnown } = readingsOf(graph);
    this.#lowest = lowest;
    this.#highest = highest;
    this.#isNumber = isNumber;
    this.#isWord = isWord;
    this.#isTold = layout.told;
    this.#asksWhetherKnown = asksWhetherKnown;
    this.#kept = state.kept;
    this.#values = state.values;
  }

  /** What is known of a node may no longer hold. */
  unsettle(node: number): void {
    this.#kept[4 * node + HIGH] = Number.NaN;
  }

  /** A comparison was looked at again: its sides may have moved. */
  unsettleSides(comparison: number): void {
    this.unsettle(this.#layout.first[comparison] as number);
    this.unsettle(this.#layout.second[comparison] as number);
  }

  /** The same of those sides of an `until` that have no value of their own. */
  unsettleFolded(until: number): void {
    const { first, second, folded } = this.#layout;
    const set = first[until] as number;
    const reset = second[until] as number;
    if (folded[set] === 1) this.unsettleSides(set);
    if (folded[reset] === 1) this.unsettleSides(reset);
  }

  /**
   * Takes a good report of a sensor that changes nothing but its value and time; false where it may change more, or may
   * be no good report, and nothing was taken.
   */
  take(node: number, value: number, at: number): boolean {
    const kept = this.#kept;
    const isWithin = value > (kept[4 * node + LOW] as number) && value < (kept[4 * node + HIGH] as number);
    if (!isWithin && !this.#isQuiet(node, value)) return false;
    kept[4 * node + SINCE] = at;
    kept[4 * node + HELD] = value;
    this.#values[node] = value;
    return true;
  }

  /** Takes a report that says the same again as the last good one, which changes nothing but its time; false where it may. */
  takeAgain(node: number, value: number, at: number): boolean {
    if (value !== this.#values[node] || value !== this.#kept[4 * node + HELD] || this.#layout.aged[node] !== 0) return false;
    if (this.#audience.isAwaited(node)) return false;
    this.#kept[4 * node + SINCE] = at;
    return true;
  }

  /** A sensor whose readings may lie between bounds. */
  moves(node: number): boolean {
    return this.#isNumber[node] === 1;
  }

  /** Surely a good report of a sensor whose last one was good too, and which nobody waits for. */
  isPlain(node: number, value: number): boolean {
    const isOfItsKind = this.#isNumber[node] === 1 || (this.#isWord[node] === 1 && Math.floor(value) === value);
    if (!isOfItsKind || !(value >= (this.#lowest[node] as number) && value <= (this.#highest[node] as number))) return false;
    return !Number.isNaN(this.#values[node] as number) && !this.#audience.isAwaited(node);
  }

  /** A second look, at what is not within the bounds as they are known. */
  #isQuiet(node: number, value: number): boolean {
    const kept = this.#kept;
    if (Number.isNaN(kept[4 * node + HIGH] as number) && !this.#find(node)) return false;
    const isWithin = value > (kept[4 * node + LOW] as number) && value < (kept[4 * node + HIGH] as number);
    return isWithin || this.#repeats(node, value);
  }

  /** The same value again changes nothing, but for its age. */
  #repeats(node: number, value: number): boolean {
    const isGood = value >= (this.#lowest[node] as number) && value <= (this.#highest[node] as number);
    return isGood && value === this.#values[node] && this.#layout.aged[node] === 0;
  }

  /** Finds the bounds of a sensor; false where no report of it is quiet. */
  #find(node: number): boolean {
    if (this.#audience.isAwaited(node)) return false;
    this.#setBounds(node, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY);
    if (this.#isNumber[node] === 0 || Number.isNaN(this.#values[node] as number) || this.#isTold[node] === 1) return true;
    this.#setBounds(node, this.#lowest[node] as number, this.#highest[node] as number);
    const { users, usersAt } = this.#layout;
    const end = usersAt[node + 1] as number;
    for (let at = usersAt[node] as number; at < end; at++) {
      if (this.#narrowTo(node, users[at] as number)) continue;
      this.#setBounds(node, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY);
      return true;
    }
    return true;
  }

  #setBounds(node: number, low: number, high: number): void {
    this.#kept[4 * node + LOW] = low;
    this.#kept[4 * node + HIGH] = high;
  }

  /** Narrows the bounds to where a user of a sensor stays as it is; false where that is not known. */
  #narrowTo(node: number, user: number): boolean {
    if (this.#layout.codes[user] === UNTIL) return this.#narrowToSides(node, user);
    return this.#narrow(node, user) || this.#asksWhetherKnown[user] === 1;
  }

  /** Of an `until`: while it holds only its reset counts; while it does not, only its condition, as long as that is false. */
  #narrowToSides(node: number, until: number): boolean {
    const [set, reset] = [this.#layout.first[until] as number, this.#layout.second[until] as number];
    const holds = this.#kept[4 * until + HELD] === 1;
    const waits = !holds && this.side(set) === 0;
    return (
      (holds || this.#layout.folded[set] === 0 || this.#narrow(node, set)) &&
      (waits || this.#layout.folded[reset] === 0 || this.#narrow(node, reset))
    );
  }

  /**
   * Narrows the bounds to where a comparison of a sensor stays as it is; false where that is not known. Its other side
   * stands still unless it is looked at again, which no other sensor does: that may move quietly too. Equal numbers lie
   * within 1e-9 of one another: twice that is surely next to a bound, half of it surely on it.
   */
  #narrow(node: number, comparison: number): boolean {
    const [left, right] = [this.#layout.first[comparison] as number, this.#layout.second[comparison] as number];
    const other = left === node ? right : left;
    const code = turnedRound(this.#layout.codes[comparison] as number, left !== node);
    if (!isComparison(code) || other === node) return false;
    // A side of an `until` may be about another thing.
    if (left !== node && right !== node) return true;
    if (this.#layout.codes[other] === SENSOR) return false;
    const value = this.#state.values[node] as number;
    const bound = this.#state.values[other] as number;
    if (Number.isNaN(bound)) return true;
    const beside = 2e-9 * Math.max(1, Math.abs(bound));
    const onIt = beside / 4;
    // What the comparison is now decides, not where the value lies: a value a little next to its bound is on it.
    const holds = compared(code, value, bound) === 1;
    if (code === ABOVE || code === AT_MOST) {
      if (holds === (code === ABOVE)) this.#raise(node, bound + beside);
      else this.#lower(node, bound + onIt);
    } else if (code === BELOW || code === AT_LEAST) {
      if (holds === (code === BELOW)) this.#lower(node, bound - beside);
      else this.#raise(node, bound - onIt);
    } else if (holds) return false;
    else if (value < bound) this.#lower(node, bound - beside);
    else this.#raise(node, bound + beside);
    return true;
  }

  #raise(node: number, low: number): void {
    if (low > (this.#kept[4 * node + LOW] as number)) this.#kept[4 * node + LOW] = low;
  }

  #lower(node: number, high: number): void {
    if (high < (this.#kept[4 * node + HIGH] as number)) this.#kept[4 * node + HIGH] = high;
  }

  /** The value of a part of an `until`, compared now where it has none of its own. */
  side(node: number): number {
    if (this.#layout.folded[node] === 0) return this.#state.values[node] as number;
    const [left, right] = [this.#layout.first[node] as number, this.#layout.second[node] as number];
    return compared(this.#layout.codes[node] as number, this.#state.values[left] as number, this.#state.values[right] as number);
  }
}

/** Readings that lie within a sensor's range. */
function surelyIn({ type, range }: Sensor): [lowest: number, highest: number] {
  // By their places.
  if (type.kind === "words") return [0, type.words.length - 1];
  if (!range) return [-Number.MAX_VALUE, Number.MAX_VALUE];
  const unit = type.kind === "number" ? type.unit : "";
  const [low, high] = range.map((value) => toBase({ value, unit })) as [number, number];
  // The ends belong to it, and the bounds of what is taken do not.
  const beyond = Number.EPSILON * Math.max(1, Math.abs(low), Math.abs(high));
  return [low - beyond, high + beyond];
}
