// Nodes that depend on the clock, the days and the sun. Without a sky they are unknown.

import type { House } from "../house/index.js";
import {
  DAY,
  EVERY_DAY,
  instantOn,
  type ProfileDay,
  type ProfileStretch,
  profileAt,
  type Sky,
  type SunEvent,
  stretchOf,
  sunTimeOn,
  weekdayOf,
} from "../time/index.js";
import { eventsOf, type Graph, type Node } from "./graph.js";
import type { Op } from "./ops.js";
import type { State } from "./state.js";

export class Calendar {
  readonly #graph: Graph;
  readonly #state: State;
  /** Profiles by their nodes, with the nodes of their values. */
  readonly #profiles = new Map<number, readonly ProfileDay<number>[]>();
  /** The stretch each profile was last found in: it holds until its end. */
  readonly #stretches = new Map<number, { readonly sky: Sky; readonly stretch: ProfileStretch<number> }>();

  constructor(graph: Graph, state: State) {
    this.#graph = graph;
    this.#state = state;
    graph.nodes.forEach(({ op, name, args }, node) => {
      if (op === "profile" || op === "ramped profile") this.#profiles.set(node, profileOf(graph.house, name, args));
    });
  }

  schedule(node: number, name: string): number {
    const calendar = this.#graph.house.schedules.find((one) => one.name === name);
    if (!this.#state.sky || !calendar) return Number.NaN;
    const { open, until } = stretchOf(calendar, this.#state.sky, this.#state.now);
    this.#state.plan(node, until);
    return open ? 1 : 0;
  }

  clockBetween(node: number, from: number, to: number): number {
    const stretch = this.span(node, from, to);
    if (!stretch) return Number.NaN;
    this.#state.plan(node, stretch.until);
    return stretch.open ? 1 : 0;
  }

  /** Whether now is between two times of day, and until when that stays so; undefined where one of the two is unknown. */
  span(node: number, from: number, to: number): ReturnType<typeof stretchOf> | undefined {
    if (!this.#state.sky || Number.isNaN(from) || Number.isNaN(to)) return undefined;
    const [begins, ends] = eventsOf(this.#graph.nodes[node] as Node);
    const time = (sun: SunEvent | undefined, ms: number) => ({ ...(sun && { sun }), ms });
    const openings = [{ days: EVERY_DAY, spans: [{ from: time(begins, from), to: time(ends, to) }] }];
    return stretchOf({ openings }, this.#state.sky, this.#state.now);
  }

  /** The day, its weekday, or a time of the sun on it. */
  calendarDay(node: number, op: Op, event: string): number {
    if (!this.#state.sky) return Number.NaN;
    this.#state.plan(node, this.midnight());
    const { day } = this.#state.sky.clock.local(this.#state.now);
    if (op === "date") return day;
    if (op === "weekday") return weekdayOf(day);
    return sunTimeOn(this.#state.sky, event as SunEvent, day) ?? Number.NaN;
  }

  /** How long it is until a schedule turns: nothing where it is already so. */
  untilTurn(op: Op, schedule: number, name: string, instant: number): number {
    const open = this.#state.values[schedule] as number;
    if (Number.isNaN(open)) return Number.NaN;
    if (open === (op === "begins in" ? 1 : 0)) return 0;
    const calendar = this.#graph.house.schedules.find((one) => one.name === name);
    const { until } = calendar && this.#state.sky ? stretchOf(calendar, this.#state.sky, this.#state.now) : { until: Number.NaN };
    return Number.isFinite(until) ? Math.max(0, until - instant) : Number.NaN;
  }

  /** Until when the clock goes on without a turn: the next midnight, or before it the change of summer time. */
  turnOfClock(): number {
    const { sky, now } = this.#state;
    const midnight = this.midnight();
    if (!sky) return midnight;
    const offset = (at: number) => {
      const { day, ms } = sky.clock.local(at);
      return day * DAY + ms - at;
    };
    const before = offset(now);
    if (offset(midnight - 1) === before) return midnight;
    let low = now;
    let high = midnight - 1;
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (offset(middle) === before) low = middle;
      else high = middle;
    }
    return high;
  }

  /** The next midnight of the clock. */
  midnight(): number {
    if (!this.#state.sky) return Number.POSITIVE_INFINITY;
    return instantOn(this.#state.sky, { ms: 0 }, this.#state.sky.clock.local(this.#state.now).day + 1) as number;
  }

  /** The stretch of a profile at an instant, with the nodes of its values. */
  profileAt(node: number, instant: number): ReturnType<typeof profileAt<number>> {
    const { sky } = this.#state;
    if (!sky) return undefined;
    const last = this.#stretches.get(node);
    if (last?.sky === sky && instant >= last.stretch.since && instant < last.stretch.until) return last.stretch;
    const stretch = profileAt(this.#profiles.get(node) ?? [], sky, instant);
    if (stretch) this.#stretches.set(node, { sky, stretch });
    return stretch;
  }

  /** Between the points of a ramped profile. */
  ramp(node: number, instant: number): number {
    return rampAt(this.profileAt(node, instant), instant, (point) => this.#state.values[point] as number);
  }
}

/** The days of a profile, its values by their nodes. */
export function profileOf({ profiles }: Pick<House, "profiles">, name: string, args: readonly number[]): ProfileDay<number>[] {
  const profile = profiles.find((one) => one.name === name);
  let place = 0;
  return (profile?.days ?? []).map(({ days, points }) => ({
    days,
    points: points.map(({ from }) => ({ from, value: args[place++] as number })),
  }));
}

/** The straight line between two points of a ramped profile. */
export function rampAt(stretch: ProfileStretch<number> | undefined, instant: number, at: (node: number) => number): number {
  if (!stretch) return Number.NaN;
  const [from, to] = [at(stretch.value), at(stretch.next)];
  if (!Number.isFinite(stretch.until)) return from;
  return from + ((to - from) * (instant - stretch.since)) / (stretch.until - stretch.since);
}
