// What a condition is in a house where everything has been as it is for ever: spans have run, windows are full of one
// value. A band between its two points remembers what the situation says it does.
import { compares, compute, eventsOf, GraphBuilder, type Node, ops } from "../expression/index.js";
import type { Expression, House } from "../house/index.js";
import { exampleDay } from "../physics/index.js";
import {
  clockOf,
  DAY,
  EVERY_DAY,
  MINUTE,
  type Opening,
  profileAt,
  type Sky,
  type SunEvent,
  stretchOf,
  sunAzimuth,
  sunElevation,
  sunTimeOn,
  weekdayOf,
} from "../time/index.js";

/** An instant, and what is so then: base values by the number of a node that is a thing, a flag or a memory. */
export interface Situation {
  readonly at: number;
  readonly values: ReadonlyMap<number, number>;
}

export class Settled {
  readonly graph: GraphBuilder;
  readonly sky: Sky;
  /** Midnight of the day that examples are told of. */
  readonly beginning: number;
  readonly #schedules = new Map<string, readonly Stretch[]>();

  constructor(readonly house: House) {
    this.graph = new GraphBuilder(house);
    this.beginning = exampleDay(house);
    this.sky = { clock: clockOf(house.clock), place: house.place };
  }

  node(expression: Expression): number {
    return this.graph.node(expression);
  }

  op(node: number): Node {
    return this.graph.nodes[node] as Node;
  }

  /** Whether a node remembers. */
  remembers(node: number): boolean {
    return ops[this.op(node).op].remembers === true;
  }

  /** Things, flags and memories that a node rests on, in the order in which it is written. */
  variables(node: number): number[] {
    const found = new Set<number>();
    const visit = (at: number): void => {
      const { op, args } = this.op(at);
      for (const part of args) visit(part);
      if (ops[op].given || ops[op].remembers) found.add(at);
    };
    visit(node);
    return [...found];
  }

  /** The comparisons within a node. */
  comparisons(node: number): Node[] {
    const { op, args } = this.op(node);
    const own = ops[op].compares ? [this.op(node)] : [];
    return [...own, ...args.flatMap((part) => this.comparisons(part))];
  }

  /** On how many things that are measured some nodes rest. */
  measures(nodes: readonly number[]): number {
    const numbers = new Set(this.house.sensors.filter(({ type }) => type.kind === "number").map(({ name }) => name));
    const own = nodes.flatMap((node) => this.variables(node)).filter((node) => numbers.has(this.op(node).name));
    return new Set(own).size;
  }

  /** Whether a node changes with the hour or the day. */
  goesByTime(node: number): boolean {
    return this.#some(node, ({ op }) => ops[op].calendar === true);
  }

  /** Names of the schedules it asks for. */
  schedulesIn(node: number): string[] {
    const { op, args, name } = this.op(node);
    return [...(op === "schedule" ? [name] : []), ...args.flatMap((part) => this.schedulesIn(part))];
  }

  /** Times of day about which spans of the clock within a node begin and end, with the middle of each, in milliseconds. */
  timesIn(node: number, values: ReadonlyMap<number, number>): number[] {
    const { op, args } = this.op(node);
    const inner = args.flatMap((part) => this.timesIn(part, values));
    const ends = () => args.map((part) => this.value(part, { at: this.beginning, values }));
    if (ops[op].compares && args.some((part) => this.op(part).op === "time of day"))
      return [...inner, ...ends().flatMap((ms = Number.NaN) => [ms, ms - MINUTE, ms + MINUTE])].filter(
        (ms) => ms >= 0 && ms < DAY,
      );
    if (op !== "clock between") return inner;
    const [from, to] = ends();
    if (from === undefined || to === undefined || Number.isNaN(from + to)) return inner;
    const length = (to - from + DAY) % DAY || DAY;
    return [...inner, (from + Math.floor(length / 2)) % DAY, from, to % DAY];
  }

  /** Whether what is calculated for a node, at the instants that are looked at, is all there is to it. */
  isExact(node: number): boolean {
    return this.#isExact(node, false);
  }

  /** What has lasted is so now; what has not lasted may be so now all the same. */
  #isExact(node: number, denied: boolean): boolean {
    const { op, args, name } = this.op(node);
    if (ops[op].inexact || (op === "clock between" && name.trim() !== "") || (op === "for" && denied)) return false;
    return args.every((part, index) => this.#isExact(part, denied !== (op === "not" || (op === "until" && index === 1))));
  }

  #some(node: number, is: (node: Node) => boolean): boolean {
    const found = this.op(node);
    return is(found) || found.args.some((part) => this.#some(part, is));
  }

  /** The base value of a node, NaN where it is unknown; undefined where it rests on what the situation leaves open. */
  value(node: number, situation: Situation): number | undefined {
    const { op, args, constant, name } = this.op(node);
    const part = (index: number) => this.value(args[index] as number, situation);
    switch (op) {
      case "constant":
        return constant;
      case "cell":
      case "sensor":
      case "pulse":
        return situation.values.get(node);
      case "schedule":
        return this.isOpen(name, situation.at) ? 1 : 0;
      case "and":
      case "or":
        return this.#joined(args, op === "and" ? 0 : 1, situation);
      case "not": {
        const of = part(0);
        return of === undefined ? undefined : 1 - of;
      }
      case "if": {
        const when = part(0);
        if (when === undefined) return undefined;
        return Number.isNaN(when) ? Number.NaN : part(when === 1 ? 1 : 2);
      }
      case "until":
      case "limited until":
        return this.#memory(node, part(0), part(1), situation);
      case "for":
      case "in the last":
      case "cycle":
      case "mean over":
      case "min over":
      case "max over":
      case "share cycle":
        return part(0);
      case "profile":
      case "ramped profile": {
        const profile = this.house.profiles.find((one) => one.name === name);
        const stretch = profile && profileAt(profile.days, this.sky, situation.at);
        return stretch ? this.value(this.node(stretch.value), situation) : Number.NaN;
      }
      case "is unknown": {
        const of = part(0);
        return of === undefined ? undefined : Number.isNaN(of) ? 1 : 0;
      }
      case "clock between":
        return this.#clockBetween(this.op(node), part(0), part(1), situation.at);
      case "rise over":
      case "count over":
      case "age":
      case "remaining":
        return 0;
      case "time over": {
        const of = part(0);
        return of === 1 ? part(1) : of;
      }
      case "above":
      case "below":
      case "at least":
      case "at most":
      case "is": {
        const [left, right] = [part(0), part(1)];
        return left === undefined || right === undefined ? undefined : compares(op, left, right);
      }
      default: {
        const byTime = this.#byTime(op, name, situation.at);
        if (byTime !== undefined) return byTime;
        const parts = args.map((_, index) => part(index));
        return parts.includes(undefined) ? undefined : compute(op, parts as number[], constant);
      }
    }
  }

  #joined(parts: readonly number[], decisive: 0 | 1, situation: Situation): number | undefined {
    const values = parts.map((part) => this.value(part, situation));
    if (values.includes(decisive)) return decisive;
    if (values.includes(undefined)) return undefined;
    return values.some((value) => Number.isNaN(value)) ? Number.NaN : 1 - decisive;
  }

  #memory(node: number, condition: number | undefined, reset: number | undefined, { values }: Situation): number | undefined {
    if (reset === 1) return 0;
    if (condition === undefined || reset === undefined) return undefined;
    return condition === 1 ? 1 : values.get(node);
  }

  #byTime(op: Node["op"], name: string, at: number): number | undefined {
    const { clock, place } = this.sky;
    const { day, ms } = clock.local(at);
    switch (op) {
      case "time of day":
        return ms;
      case "weekday":
        return weekdayOf(day);
      case "date":
        return day;
      case "elevation":
        return place ? sunElevation(place, at) : Number.NaN;
      case "azimuth":
        return place ? sunAzimuth(place, at) : Number.NaN;
      case "sun time":
        return sunTimeOn(this.sky, name as SunEvent, day) ?? Number.NaN;
      case "begins in":
      case "ends in": {
        const until = this.stretches(name).find(({ to }) => to > at)?.to ?? Number.POSITIVE_INFINITY;
        return this.isOpen(name, at) === (op === "ends in") ? until - at : 0;
      }
      default:
        return undefined;
    }
  }

  #clockBetween(node: Node, from: number | undefined, to: number | undefined, at: number): number | undefined {
    if (from === undefined || to === undefined) return undefined;
    if (Number.isNaN(from) || Number.isNaN(to)) return Number.NaN;
    const [begins, ends] = eventsOf(node);
    const time = (sun: SunEvent | undefined, ms: number) => ({ ...(sun && { sun }), ms });
    const opening: Opening = { days: EVERY_DAY, spans: [{ from: time(begins, from), to: time(ends, to) }] };
    return stretchOf({ openings: [opening] }, this.sky, at).open ? 1 : 0;
  }

  isOpen(schedule: string, at: number): boolean {
    const stretches = this.stretches(schedule);
    const found = stretches[lastBegun(stretches, at)];
    if (found && at < found.to) return found.open;
    const calendar = this.house.schedules.find(({ name }) => name === schedule);
    return calendar !== undefined && stretchOf(calendar, this.sky, at).open;
  }

  /** Open and closed in turn, from the beginning of what is looked at on: for a year, by the sun for a month. */
  stretches(schedule: string): readonly Stretch[] {
    const known = this.#schedules.get(schedule);
    if (known) return known;
    const found: Stretch[] = [];
    const calendar = this.house.schedules.find(({ name }) => name === schedule);
    const begin = this.beginning;
    const bySun = calendar?.openings.some(({ spans }) => spans.some(({ from, to }) => from.sun ?? to.sun));
    const end = begin + (bySun ? MONTH : YEAR);
    for (let at = begin; calendar && at < end; ) {
      const { open, until } = stretchOf(calendar, this.sky, at);
      found.push({ from: at, to: until, open });
      if (!(until > at)) break;
      at = until;
    }
    this.#schedules.set(schedule, found);
    return found;
  }
}

/** The place of the last stretch that has begun at an instant, or -1. */
function lastBegun(stretches: readonly Stretch[], at: number): number {
  let low = 0;
  let high = stretches.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((stretches[middle] as Stretch).from <= at) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** A stretch of a schedule. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly open: boolean;
}

const YEAR = 366 * DAY;
const MONTH = 30 * DAY;
