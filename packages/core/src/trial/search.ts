// Looks for a situation in which some conditions are true and others are not, among the values that can make a
// difference: each word, each bound and what lies just next to it, each end of a range, the turns of each schedule.

import { baseOf, type Thing, thingsOf } from "../house/index.js";
import { DAY, HOUR, MINUTE } from "../time/index.js";
import { stepOf, type Unit, units } from "../units/index.js";
import type { Settled, Situation } from "./settled.js";

/** A node that should be true, or anything else. */
export interface Goal {
  readonly node: number;
  readonly wanted: boolean;
}

export interface SearchOptions {
  /** Dials over all of their range, instead of as they are at first. */
  readonly anyDial?: boolean;
  /** Sensors may be unknown. */
  readonly unknowns?: boolean;
  readonly at?: number;
}

/** How many situations are looked at before the search gives up. */
const BUDGET = 20_000;

/** A situation, "none" when there is none among those that can make a difference, "undecided" when that took too long. */
export type Found = Situation | "none" | "undecided";

export function isFound(found: Found): found is Situation {
  return typeof found === "object";
}

export class Search {
  readonly #things: ReadonlyMap<string, Thing>;

  constructor(readonly settled: Settled) {
    this.#things = thingsOf(settled.house);
  }

  /** The first situation that fits, the plainest values before others. */
  find(goals: readonly Goal[], options: SearchOptions = {}): Found {
    const { settled } = this;
    const variables = [...new Set(goals.flatMap(({ node }) => settled.variables(node)))];
    const choices = variables.map((node) => this.#candidates(node, goals, options));
    const shared = variables.map((node) => this.#sharedComparisons(node, goals));
    const values = new Map<number, number>();
    let left = BUDGET;
    const fits = (at: number): boolean | undefined => {
      left--;
      let open = false;
      for (const { node, wanted } of goals) {
        const value = settled.value(node, { at, values });
        if (value === undefined) open = true;
        else if ((value === 1) !== wanted) return false;
      }
      return open ? undefined : true;
    };
    const assign = (at: number, index: number): boolean => {
      if (left <= 0) return false;
      const fit = fits(at);
      if (fit !== undefined) return fit;
      const node = variables[index];
      if (node === undefined) return false;
      const tryAll = (some: readonly number[]) =>
        some.some((value) => {
          values.set(node, value);
          const isFound = assign(at, index + 1);
          if (!isFound) values.delete(node);
          return isFound;
        });
      const plain = choices[index] as number[];
      return tryAll(plain) || tryAll(this.#levels(node, plain, shared[index] as Sides[], { at, values }));
    };
    for (const at of options.at === undefined ? this.#instants(goals) : [options.at]) {
      if (assign(at, 0)) return { at, values: this.#filled(values, variables, choices) };
      if (left <= 0) return "undecided";
    }
    return "none";
  }

  /** What made no difference has its plainest value. */
  #filled(
    values: Map<number, number>,
    variables: readonly number[],
    choices: readonly (readonly number[])[],
  ): Map<number, number> {
    variables.forEach((node, index) => {
      const first = choices[index]?.[0];
      // A memory that made no difference is not a part of the situation.
      if (!values.has(node) && first !== undefined && !this.settled.remembers(node)) values.set(node, first);
    });
    return values;
  }

  /** The values of a thing that can make a difference to some conditions, in base units. */
  valuesFor(node: number, goals: readonly Goal[]): number[] {
    return this.#candidates(node, goals, { anyDial: true });
  }

  /** The comparisons in which a thing of a number stands beside others that are measured. */
  #sharedComparisons(node: number, goals: readonly Goal[]): Sides[] {
    if (this.#measuredAt(node) === undefined) return [];
    return goals
      .flatMap((goal) => this.settled.comparisons(goal.node))
      .map(({ args }) => args as Sides)
      .filter((sides) => this.settled.measures(sides) > 1 && sides.some((side) => this.settled.variables(side).includes(node)));
  }

  /** Where a thing makes the two sides of a comparison equal, with the others as they are; and a step to either side. */
  #levels(node: number, plain: readonly number[], comparisons: readonly Sides[], { at, values }: Situation): number[] {
    const measured = comparisons.length > 0 ? this.#measuredAt(node) : undefined;
    if (!measured) return [];
    const { step, within } = measured;
    return comparisons.flatMap((sides) => {
      const apart = (value: number): number => {
        const [left = Number.NaN, right = Number.NaN] = sides.map((side) =>
          this.settled.value(side, { at, values: new Map([...values, [node, value]]) }),
        );
        return left - right;
      };
      const level = rootOf(apart, plain[0] ?? 0, step);
      if (level === undefined) return [];
      const round = (value: number) => (Math.round((10 * value) / step) * step) / 10;
      return [level, level - step, level + step].map(round).filter(within);
    });
  }

  /** A sensor of a number: the step in which it is told apart, and what it may read. */
  #measuredAt(node: number): Measured | undefined {
    const { key, name } = this.settled.op(node);
    const found = this.#things.get(name);
    return found?.kind === "sensor" && key === name && found.thing.type.kind === "number" ? measuredBy(found) : undefined;
  }

  // ── Which values are tried ──────────────────────────────────────────────────────────────────────────────────────────

  #candidates(node: number, goals: readonly Goal[], options: SearchOptions): number[] {
    const { key, name } = this.settled.op(node);
    const found = this.#things.get(name);
    // A memory, a press, whether a countdown runs or an output disobeys.
    if (!found || key !== name) return [0, 1];
    return this.#valuesOf(node, found, goals, options);
  }

  #valuesOf(node: number, found: Thing, goals: readonly Goal[], { anyDial, unknowns }: SearchOptions): number[] {
    const { kind, thing } = found;
    const { type } = thing;
    const unknown = kind === "sensor" && unknowns ? [Number.NaN] : [];
    if (type.kind === "words") {
      const first = kind === "dial" || kind === "mode" ? [baseOf(thing.atFirst, type)] : [];
      // What counts as true comes last: a door is closed, nobody moves.
      return [...new Set([...first, ...type.words.map((_, place) => place).reverse()]), ...unknown];
    }
    if (type.kind === "colour" || type.kind === "truth" || type.kind === "press") return [0];
    const first = kind === "dial" ? [baseOf(thing.atFirst, type)] : [];
    if (kind === "dial" && !anyDial) return first;
    const { range, within, unit, step } = measuredBy(found);
    const points = [...new Set(goals.flatMap((goal) => this.#pointsFor(node, goal.node)))];
    const near = points.flatMap((point) => [point - step, point, point + step]);
    const usual = range ? [((range[0] as number) + (range[1] as number)) / 2, ...range] : usualOf(unit);
    return [...new Set([...first, ...near, ...usual].filter(within)), ...unknown];
  }

  /** The bounds that a thing is next to, as far as they are settled: those that pass through a sum are near enough. */
  #pointsFor(node: number, goal: number): number[] {
    const { settled } = this;
    const start = { at: settled.beginning, values: this.settings };
    return settled.comparisons(goal).flatMap(({ args }) => {
      const [left, right] = args as [number, number];
      return [
        [left, right],
        [right, left],
      ].flatMap(([own, other]) => {
        if (!settled.variables(own as number).includes(node)) return [];
        const value = settled.value(other as number, start);
        if (value === undefined || Number.isNaN(value)) return [];
        // Beside other things on its side, it is so far from the bound as these are.
        const rest = settled.op(own as number);
        if (rest.op !== "minus" && rest.op !== "plus") return [value];
        const at0 = settled.value(own as number, { at: start.at, values: new Map([...start.values, [node, 0]]) });
        return at0 === undefined || Number.isNaN(at0) ? [value] : [value, value - at0, at0 - value];
      });
    });
  }

  #first: Map<number, number> | undefined;

  /** Dials and modes as they are at first. */
  get settings(): Map<number, number> {
    if (this.#first) return this.#first;
    const { graph, house } = this.settled;
    this.#first = new Map(
      [...house.dials, ...house.modes].map(({ name, type, atFirst }) => [
        graph.node({ kind: "value", of: name }),
        baseOf(atFirst, type),
      ]),
    );
    return this.#first;
  }

  /** Instants at which conditions can turn: quiet minutes of a week, and the turns of what they depend on. */
  #instants(goals: readonly Goal[]): number[] {
    const { settled } = this;
    const { beginning } = settled;
    const plain = beginning + 10 * HOUR + 7 * MINUTE;
    if (!goals.some(({ node }) => settled.goesByTime(node))) return [plain];
    const names = [...new Set(goals.flatMap(({ node }) => settled.schedulesIn(node)))];
    const turns = names.flatMap((name) =>
      settled.stretches(name).flatMap(({ from, to }) => [from + MINUTE, Number.isFinite(to) ? (from + to) / 2 : from + HOUR]),
    );
    const week = Array.from({ length: 8 * 24 }, (_, hour) => beginning + hour * HOUR + 7 * MINUTE);
    const year = Array.from({ length: 24 }, (_, half) => beginning + half * 15 * DAY + 7 * MINUTE).flatMap((day) =>
      Array.from({ length: 12 }, (_, hour) => day + hour * 2 * HOUR),
    );
    const { clock } = settled.sky;
    const { day } = clock.local(beginning);
    const times = goals.flatMap(({ node }) => settled.timesIn(node, this.settings));
    const hours = times.flatMap((ms) => Array.from({ length: 8 }, (_, index) => clock.instant(day + index, ms)));
    const whole = (instant: number) => Math.round(instant / MINUTE) * MINUTE;
    return [plain, ...hours, ...week, ...turns.slice(0, 1500).map(whole), ...year];
  }
}

/** The two sides of a comparison. */
type Sides = readonly [left: number, right: number];

/** What a thing of a number may be, in base units, and the step in which people tell it apart. */
interface Measured {
  readonly unit: Unit;
  readonly step: number;
  readonly range: readonly number[] | undefined;
  readonly within: (base: number) => boolean;
}

function measuredBy({ thing }: Thing): Measured {
  const { type } = thing;
  const range =
    "range" in thing && thing.range && type.kind !== "truth" ? thing.range.map((end) => baseOf(end, type)) : undefined;
  const within = (base: number) => !range || (base >= (range[0] as number) - 1e-9 && base <= (range[1] as number) + 1e-9);
  const unit = type.kind === "number" ? type.unit : "ms";
  return { unit, step: stepOf(unit), range, within };
}

/** Where a function is zero, by the secant method from a point and a step beside it; undefined where that finds none. */
function rootOf(of: (value: number) => number, from: number, step: number): number | undefined {
  let [before, value] = [from, from + step];
  let [offBefore, off] = [of(before), of(value)];
  for (let turn = 0; turn < MOST_TURNS && Math.abs(off) > CLOSE; turn++) {
    const next = value - (off * (value - before)) / (off - offBefore);
    if (!Number.isFinite(next)) return undefined;
    [before, offBefore] = [value, off];
    [value, off] = [next, of(next)];
  }
  return Math.abs(off) <= CLOSE ? value : undefined;
}

const MOST_TURNS = 12;
const CLOSE = 1e-9;

/** What a sensor without a range commonly says, in the base unit. */
function usualOf(unit: Unit): number[] {
  const usual: Partial<Record<Unit, readonly number[]>> = { "°C": [18, 5, 30], "°F": [64, 41, 86], "%RH": [50, 30, 70] };
  const { factor, zero } = units[unit];
  return (usual[unit] ?? [10, 0, 1000]).map((value) => (value - zero) * factor);
}
