// Timelines that show a problem: situations one after another as a trial, run before anybody is told of it.

import {
  type Condition,
  type Expectation,
  type Expression,
  type Happening,
  type House,
  type Occurrence,
  ownOf,
  restOf,
  type Setting,
  type Thing,
  type Trial,
  thingsOf,
} from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { DAY, dateOfDay, MINUTE } from "../time/index.js";
import { expressionOf, type Goal, isFound, passes, Search, Settled, type Situation } from "../trial/index.js";

/** What is so from some time on. */
export interface Stage {
  readonly at: number;
  readonly values: ReadonlyMap<number, number>;
  /** What else happens then: presses, faults. */
  readonly faults?: readonly Occurrence[];
}

/** A sensor that falls silent. */
export function silence(name: string, at: number): Stage {
  return { at, values: new Map(), faults: [{ kind: "falls silent", name }] };
}

/** That a thing is unknown. */
export function isUnknown(of: string): Condition {
  return { kind: "is", left: { kind: "value", of }, right: { kind: "unknown" } };
}

/** A claim about a stretch of the timeline. */
export interface Claim {
  readonly claim: Expectation["claim"];
  readonly condition: Condition;
  readonly at?: number;
  readonly from?: number;
  readonly to?: number;
}

/** What else is wanted of a situation. */
interface FindOptions {
  /** Conditions that are not to hold. */
  readonly not?: readonly Condition[];
  readonly at?: number | undefined;
  /** The output it is about. */
  readonly of?: string;
}

/** A house to reason about, and a stage to show on what was found. */
export class Scene {
  readonly settled: Settled;
  readonly search: Search;
  readonly #things: ReadonlyMap<string, Thing>;
  #count = 0;

  constructor(readonly house: House) {
    this.settled = new Settled(house);
    this.search = new Search(this.settled);
    this.#things = thingsOf(house);
  }

  node(expression: Expression): number {
    return this.settled.node(expression);
  }

  goal(condition: Condition, wanted = true): Goal {
    return { node: this.node(condition), wanted };
  }

  /** A number that does not hang on sensors or time, dials as they are at first; in base units, NaN where there is none. */
  figure(expression: Expression): number {
    const { settled } = this;
    const node = this.node(expression);
    if (settled.goesByTime(node)) return Number.NaN;
    return settled.value(node, { at: settled.beginning, values: this.search.settings }) ?? Number.NaN;
  }

  /** A situation in which the conditions hold; where there is one, one in which no guard of the output stands in its way. */
  find(conditions: readonly Condition[], { not = [], at, of }: FindOptions = {}): Situation | undefined {
    const permits = this.house.guards.flatMap((guard) =>
      guard.permits.flatMap(({ output, onlyWhile }) => (output === of ? [onlyWhile] : [])),
    );
    return this.#find([...conditions, ...permits], not, at) ?? (permits.length > 0 ? this.#find(conditions, not, at) : undefined);
  }

  #find(conditions: readonly Condition[], not: readonly Condition[], at: number | undefined): Situation | undefined {
    const goals = [...conditions.map((one) => this.goal(one)), ...not.map((one) => this.goal(one, false))];
    const found = this.search.find(goals, at === undefined ? {} : { at });
    return isFound(found) ? found : undefined;
  }

  /** What must have been so before, for the bands of a situation to remember what it says; nothing where they need not. */
  before({ at, values }: Situation): Situation | undefined {
    const remembered = [...values].filter(([node, value]) => this.settled.op(node).op === "until" && value === 1);
    if (remembered.length === 0) return undefined;
    const goals = remembered.flatMap(([node]): Goal[] => {
      const [condition, reset] = this.settled.op(node).args as [number, number];
      return [
        { node: condition, wanted: true },
        { node: reset, wanted: false },
      ];
    });
    const found = this.search.find(goals, { at });
    return isFound(found) ? found : undefined;
  }

  /** Stages that lead to a situation, the last of them the situation itself at its instant. */
  leadingTo(situation: Situation): Stage[] {
    const before = this.before(situation);
    return before ? [{ at: situation.at - 5 * MINUTE, values: before.values }, situation] : [situation];
  }

  /** The trial, if running it shows what it claims. */
  shows(title: string, stages: readonly Stage[], claims: readonly Claim[], ends?: number): Trial | undefined {
    const trial = this.#trial(title, stages, claims, ends);
    return trial && passes(this.house, trial) ? trial : undefined;
  }

  #trial(title: string, stages: readonly Stage[], claims: readonly Claim[], ends: number | undefined): Trial | undefined {
    const [first] = stages;
    if (!first) return undefined;
    const given: Setting[] = [];
    const happenings: Happening[] = [];
    const was = new Map<number, number>();
    for (const { at, values, faults = [] } of stages) {
      const when = { at: this.#time(at, first.at) };
      for (const [node, value] of values) {
        if (Object.is(was.get(node), value)) continue;
        const begins = at === first.at && !was.has(node);
        was.set(node, value);
        const told = this.#told(node, value);
        if (told === "unsayable") return undefined;
        if (!told) continue;
        if (!begins || told.kind !== "is") happenings.push({ when, what: told });
        // What is not given has not been heard of.
        else if (!Number.isNaN(value)) given.push({ name: told.name, value: told.value });
      }
      for (const what of faults) happenings.push({ when, what });
    }
    this.#count++;
    return {
      name: `shown_${this.#count}`,
      title,
      from: this.#instant(first.at),
      ...(ends !== undefined && { to: this.#time(ends, first.at) }),
      given,
      happenings,
      expectations: claims.map(({ claim, condition, at, from, to }) => ({
        claim,
        condition,
        ...(at !== undefined && { at: this.#time(at, first.at) }),
        ...(from !== undefined && { from: this.#time(from, first.at) }),
        ...(to !== undefined && { to: this.#time(to, first.at) }),
      })),
    };
  }

  /** `bench.motion is moving`, for what a sentence can say of a situation. */
  said(node: number, value: number): string[] {
    const told = this.#told(node, value);
    if (!told || told === "unsayable") return [];
    return "value" in told ? [`${told.name} is ${writeExpression(told.value)}`] : [];
  }

  /** How a timeline says that a thing has a value; nothing for what needs no saying. */
  #told(node: number, value: number): Occurrence | "unsayable" | undefined {
    const { op, key, name } = this.settled.op(node);
    if (this.settled.remembers(node) || op === "pulse") return undefined;
    if (key === `running ${name}`) return value === 1 ? { kind: "person starts", name } : undefined;
    if (key === `disobeys ${name}`) return value === 1 ? "unsayable" : undefined;
    const found = this.#things.get(name);
    if (!found || found.kind === "let" || found.kind === "profile") return "unsayable";
    const said = expressionOf(value, found.thing.type);
    if (found.kind !== "output") return { kind: "is", name, value: said };
    const rest = restOf(found.thing);
    return rest === ownOf(value, found.thing.type) ? undefined : { kind: "person sets", name, value: said };
  }

  #time(instant: number, first: number): Expression {
    if (instant - first >= DAY) return this.#instant(instant);
    return { kind: "time", ms: this.settled.sky.clock.local(instant).ms };
  }

  #instant(instant: number): Expression {
    const { day, ms } = this.settled.sky.clock.local(instant);
    return { kind: "instant", date: dateOfDay(day), ms };
  }
}
