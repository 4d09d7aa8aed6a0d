// What every check is given: the house, a stage to try things on, and all that is asked of outputs.
import {
  type Condition,
  type EventSentence,
  type Expression,
  type House,
  hasPress,
  type Sensor,
  type Trigger,
  thingsBehind,
  unitOfExpression,
  visitExpressions,
} from "../house/index.js";
import { HOUR, MINUTE } from "../time/index.js";
import { equalNumbers, fromBase, type Unit, writeFigure, writeReading } from "../units/index.js";
import { type Ask, asksOf } from "./asks.js";
import type { Draft } from "./finding.js";
import { Scene, type Stage } from "./scene.js";
import { type Start, startsOfDay } from "./simulated-day.js";

/** One idea of what can be wrong. */
export type Check = (inquiry: Inquiry) => Draft[];

export class Inquiry {
  readonly scene: Scene;
  readonly asks: readonly Ask[];
  #starts: readonly Start[] | undefined;

  constructor(readonly house: House) {
    this.scene = new Scene(house);
    this.asks = asksOf(house);
  }

  /** What goes on in a day of the simulated house, which is run when it is first asked for. */
  get starts(): readonly Start[] {
    this.#starts ??= startsOfDay(this.house);
    return this.#starts;
  }

  unitOf(expression: Expression): Unit {
    return unitOfExpression(this.house, expression);
  }

  /** A base value as people read it. */
  say(base: number, unit: Unit, beside = base): string {
    const value = fromBase(base, unit);
    return equalNumbers(base, beside) ? writeFigure(value, unit) : writeReading(value, unit, fromBase(beside, unit));
  }

  /** Whether the search looks at conditions in full, so that what it does not find can never be. */
  isExact(conditions: readonly Condition[]): boolean {
    const { settled } = this.scene;
    return conditions.every((condition) => {
      const node = this.scene.node(condition);
      return settled.isExact(node) && settled.comparisons(node).every(({ args }) => settled.measures(args) <= 1);
    });
  }

  /** Whether conditions can never hold together, whatever sensors say and dials are set to. */
  neverHold(conditions: readonly Condition[]): boolean {
    const { scene } = this;
    const goals = conditions.map((condition) => scene.goal(condition));
    return this.isExact(conditions) && scene.search.find(goals, { anyDial: true, unknowns: true }) === "none";
  }

  /** That a number has just one value, or is near it, in base units. */
  isAt(signal: Expression, base: number, within = 0): Condition {
    const unit = this.unitOf(signal);
    const [low, high] = [base - within, base + within].map(
      (end): Expression => ({ kind: "number", value: Math.round(fromBase(end, unit) * 1e6) / 1e6, unit }),
    ) as [Expression, Expression];
    return { kind: "between", value: signal, low, high };
  }

  /** Sensors that an expression rests on, also through lets. */
  sensorsIn(holder: unknown): Sensor[] {
    const names = thingsBehind(this.house, holder);
    return this.house.sensors.filter(({ name }) => names.has(name));
  }

  /** Sensors that measure a number. */
  measuredIn(holder: unknown): Sensor[] {
    return this.sensorsIn(holder).filter(({ type }) => type.kind === "number");
  }

  /** Stages in which an event fires while some conditions hold: what it waits for is not so before. */
  firing(event: EventSentence, provided: readonly Condition[], of: string): { stages: readonly Stage[]; at: number } | undefined {
    for (const trigger of event.when) {
      const found = this.#firing(trigger, provided, of);
      if (found) return found;
    }
    return undefined;
  }

  #firing(trigger: Trigger, provided: readonly Condition[], of: string): { stages: readonly Stage[]; at: number } | undefined {
    const { scene } = this;
    if (trigger.kind === "becomes true") {
      const { condition } = trigger;
      if (hasPress(condition)) return this.#pressing(condition, provided, of);
      const so = scene.find([...provided, condition], { of });
      const before = so && scene.find([], { not: [condition], at: so.at - 10 * MINUTE });
      if (!so || !before) return undefined;
      // A `for` fires when its time is up.
      const at = so.at + Math.max(0, this.longestWait(condition));
      return { stages: [{ at: so.at - 10 * MINUTE, values: settledFirst(before.values, so.values) }, so], at };
    }
    const so = scene.find(provided, { of });
    if (!so) return undefined;
    const from = this.#momentOf(trigger, so.at);
    return from === undefined ? undefined : { stages: [{ at: from - 10 * MINUTE, values: so.values }], at: from };
  }

  #pressing(
    condition: Condition,
    provided: readonly Condition[],
    of: string,
  ): { stages: readonly Stage[]; at: number } | undefined {
    const parts = condition.kind === "and" ? condition.of : [condition];
    const pressed = parts.flatMap((part) => (part.kind === "pressed" ? [part.sensor] : []));
    const so = this.scene.find([...provided, ...parts.filter(({ kind }) => kind !== "pressed")], { of });
    if (!so || pressed.length === 0) return undefined;
    return {
      stages: [
        { at: so.at - 10 * MINUTE, values: so.values },
        { ...so, faults: pressed.map((name) => ({ kind: "is pressed", name }) as const) },
      ],
      at: so.at,
    };
  }

  #momentOf(trigger: Trigger, after: number): number | undefined {
    const { settled } = this.scene;
    switch (trigger.kind) {
      case "begins":
      case "ends":
        return settled.stretches(trigger.schedule).find(({ from, open }) => from > after && open === (trigger.kind === "begins"))
          ?.from;
      case "at": {
        if (trigger.at.sun !== undefined || trigger.days.length < 7) return undefined;
        const ms = this.scene.figure(trigger.at.time);
        const { clock } = settled.sky;
        const { day } = clock.local(after);
        return Number.isNaN(ms) ? undefined : clock.instant(day + 1, ms);
      }
      case "every":
        return after + HOUR;
      default:
        return undefined;
    }
  }

  /** The longest `for` in a condition, as far as it is a fixed time, in milliseconds. */
  longestWait(condition: unknown): number {
    let longest = 0;
    visitExpressions(condition, (part) => {
      if (part.kind === "for") longest = Math.max(longest, this.scene.figure(part.duration) || 0);
    });
    return longest;
  }
}

/** What is not said of before is as it is afterwards. */
function settledFirst(before: ReadonlyMap<number, number>, after: ReadonlyMap<number, number>): Map<number, number> {
  return new Map([...after, ...before]);
}
