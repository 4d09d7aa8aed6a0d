// Why a condition is true, false or unknown at an instant: its parts with their values, in sentences.
import { type Past, type Run, sinceAt } from "../engine/index.js";
import {
  type DayTime,
  type Expression,
  type House,
  nameOfColour,
  ownOf,
  thingsBehind,
  thingsIn,
  typeOf,
  unitOfExpression,
} from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { type Clock, clockOf, EVERY_DAY, type Stretch, stretchOf } from "../time/index.js";
import { fromBase, writeDuration, writeReading, writeTimeOfDay } from "../units/index.js";
import { sayInstant } from "./moments.js";

/** A sentence, and the sentences it rests on. */
export interface Explanation {
  readonly says: string;
  readonly because: readonly Explanation[];
}

export function explanation(says: string, because: readonly Explanation[] = []): Explanation {
  return { says, because };
}

/** Speaks about a run as it was at one instant. */
export class Narrator {
  readonly past: Past;
  readonly house: House;
  readonly clock: Clock;
  /** Where the journal begins: what was so then, was so before. */
  readonly beginning: number;

  constructor(
    readonly run: Run,
    readonly at: number,
  ) {
    this.past = run.past;
    this.house = run.past.house;
    this.clock = clockOf(this.house.clock);
    this.beginning = Math.max(run.from, run.past.beginning);
  }

  /** 1 true, 0 false, NaN unknown; or a number in base units. */
  value(expression: Expression, instant = this.at): number {
    return this.past.value(expression, instant);
  }

  isUnknown(thing: string): boolean {
    return Number.isNaN(this.value({ kind: "value", of: thing }));
  }

  /** Since when an expression has had the value it has; the run's beginning where it always had it. */
  since(expression: Expression): number {
    return sinceAt(this.past.line(expression), this.at) ?? this.run.from;
  }

  /** An instant next to the one spoken of. */
  when(instant: number): string {
    return instant <= this.beginning ? "the beginning" : sayInstant(this.clock, instant, this.at);
  }

  /** What a value reads: `41.9 %RH`, `open`; told apart from a number, in base units, that it is next to. */
  reading(expression: Expression, instant = this.at, beside = Number.NaN): string {
    if (expression.kind === "word") return expression.word;
    const base = this.value(expression, instant);
    if (Number.isNaN(base)) return "unknown";
    if (isTime(expression)) return writeTimeOfDay(base - (base % 1000));
    if (expression.kind === "value") {
      const type = typeOf(this.house, expression.of);
      const own = ownOf(base, type);
      if (typeof own === "string") return type.kind === "colour" ? (nameOfColour(own) ?? own) : own;
      if (type.kind === "time") return writeTimeOfDay(base);
    }
    const unit = unitOfExpression(this.house, expression);
    if (unit === "ms" || unit === "min") return writeDuration(base);
    return writeReading(fromBase(base, unit), unit, fromBase(beside, unit));
  }

  /** A number with where it comes from: `42 %RH (bench.moisture - bench.slack)`. */
  figure(expression: Expression, beside = Number.NaN): string {
    const reading = this.reading(expression, this.at, beside);
    const isPlain = expression.kind === "number" || expression.kind === "word" || expression.kind === "time";
    return isPlain ? reading : `${reading} (${writeExpression(expression)})`;
  }

  /** The things behind an expression, through whatever has a name, that are unknown now: by them it is. */
  unknownBehind(...expressions: readonly Expression[]): Explanation[] {
    const lets = new Set(this.house.lets.map(({ name }) => name));
    const said = new Set(expressions.flatMap((one) => ("left" in one && one.left.kind === "value" ? [one.left.of] : [])));
    const things = [...thingsBehind(this.house, expressions)].filter((name) => !lets.has(name) && !said.has(name));
    return things.flatMap((name) => {
      const thing: Expression = { kind: "value", of: name };
      return Number.isNaN(this.value(thing)) ? [explanation(`${name} is unknown${this.sinceWhen(thing)}`)] : [];
    });
  }

  /** The lets that an expression reads, each with what it is made of. */
  opened(...expressions: readonly Expression[]): Explanation[] {
    return thingsIn(expressions).flatMap((name) => this.openLet(name) ?? []);
  }

  /** What a let is, and by what; undefined where the name is not a let. */
  openLet(name: string): Explanation | undefined {
    const found = this.house.lets.find((one) => one.name === name);
    if (!found) return undefined;
    const { value } = found;
    const says = `${name} is ${this.reading({ kind: "value", of: name })}`;
    if (found.type.kind === "truth") return explanation(says, [this.explain(value)]);
    if (Number.isNaN(this.value(value))) return explanation(`${says}: ${writeExpression(value)}`, this.unknownBehind(value));
    const members = thingsIn(value).map(
      (one) => this.openLet(one) ?? explanation(`${one} is ${this.reading({ kind: "value", of: one })}`),
    );
    return explanation(`${says}: ${writeExpression(value)}`, members);
  }

  /** Whether a schedule is open, and until when. */
  stretch(schedule: string): Stretch {
    const { schedules, place } = this.house;
    const calendar = schedules.find(({ name }) => name === schedule) ?? { openings: [] };
    return stretchOf(calendar, { clock: this.clock, place }, this.at);
  }

  /** Until when a span of the clock is as it is, by what its ends are now; undefined where one is unknown. */
  #turnOfClock({ from, to }: Extract<Expression, { kind: "clock between" }>): number | undefined {
    const end = ({ sun, time }: DayTime) => ({ ...(sun && { sun }), ms: this.value(time) });
    const span = { from: end(from), to: end(to) };
    if (Number.isNaN(span.from.ms + span.to.ms)) return undefined;
    const calendar = { openings: [{ days: EVERY_DAY, spans: [span] }] };
    const { until } = stretchOf(calendar, { clock: this.clock, place: this.house.place }, this.at);
    return Number.isFinite(until) ? until : undefined;
  }

  explain(expression: Expression): Explanation {
    const truth = this.value(expression);
    switch (expression.kind) {
      case "and":
      case "or":
        return this.#joined(expression, truth);
      case "not":
        return this.#not(expression);
      case "above":
      case "below":
      case "at least":
      case "at most": {
        const { left } = expression;
        const compared = `${writeExpression(left)} is ${this.reading(left, this.at, this.value(expression.right))}`;
        const right = this.figure(expression.right, this.value(left));
        if (Number.isNaN(truth))
          return explanation(`${compared} and cannot be compared with ${right}`, this.unknownBehind(expression));
        return explanation(`${compared}, ${truth === 1 ? "" : "not "}${expression.kind} ${right}`, this.opened(expression));
      }
      case "between": {
        const range = `${this.figure(expression.low)} and ${this.figure(expression.high)}`;
        const compared = `${writeExpression(expression.value)} is ${this.reading(expression.value)}`;
        const says = Number.isNaN(truth)
          ? `${compared} and cannot be compared with ${range}`
          : `${compared}, ${truth === 1 ? "" : "not "}between ${range}`;
        return explanation(says, Number.isNaN(truth) ? this.unknownBehind(expression) : this.opened(expression));
      }
      case "is":
        return this.#is(expression);
      case "for":
        return this.#for(expression, truth);
      case "in the last":
        return this.#inTheLast(expression, truth);
      case "until":
        return this.#until(expression, truth);
      case "during": {
        const { until } = this.stretch(expression.schedule);
        const ends = Number.isFinite(until) ? ` until ${this.when(until)}` : "";
        return explanation(`it is ${truth === 1 ? "during" : "outside"} ${expression.schedule}${ends}`);
      }
      case "clock between": {
        const until = this.#turnOfClock(expression);
        const ends = until === undefined ? "" : ` until ${this.when(until)}`;
        return explanation(`${writeExpression(expression)}: ${truth === 1 ? "true" : "not true"}${ends}`);
      }
      case "disobeys": {
        const { output } = expression;
        if (Number.isNaN(truth)) return explanation(`nobody knows whether ${output} disobeys`);
        return explanation(truth === 1 ? `${output} disobeys${this.sinceWhen(expression)}` : `${output} does what it was set to`);
      }
      case "pressed":
        return explanation(truth === 1 ? `${expression.sensor} is pressed` : `nobody presses ${expression.sensor}`);
      case "running":
        return explanation(`${expression.countdown} is ${truth === 1 ? "" : "not "}running`);
      case "value": {
        const { says, because } = this.openLet(expression.of) ?? { says: "", because: [] };
        if (says !== "") return explanation(says, because);
        return explanation(`${expression.of} is ${this.reading(expression)}`);
      }
      default:
        return explanation(`${writeExpression(expression)}: ${this.reading(expression)}`);
    }
  }

  /** The parts that decide: all of a true `and`, those that fail of a false one; the reverse for `or`. */
  #joined({ kind, of }: Extract<Expression, { kind: "and" | "or" }>, truth: number): Explanation {
    const decisive = kind === "and" ? (part: number) => truth === 1 || part !== 1 : (part: number) => truth !== 1 || part === 1;
    const parts = of.filter((part) => decisive(this.value(part))).map((part) => this.explain(part));
    const [only] = parts;
    if (only && parts.length === 1) return only;
    return explanation(
      kind === "and" && truth === 1 ? "all of these are true" : truth === 1 ? "these are true" : "these are not true",
      parts,
    );
  }

  #not({ of }: Extract<Expression, { kind: "not" }>): Explanation {
    return this.explain(of);
  }

  #is({ left, right }: Extract<Expression, { kind: "is" }>): Explanation {
    const name = writeExpression(left);
    const value = this.reading(left);
    const since = this.sinceWhen(left);
    const wanted = right.kind === "word" ? right.word : this.reading(right);
    if (right.kind === "unknown") return explanation(`${name} is ${value === "unknown" ? "unknown" : "known"}`);
    return explanation(value === wanted ? `${name} is ${value}${since}` : `${name} is ${value}, not ${wanted}${since}`);
  }

  /** `, since 08:05`; nothing where it has always been so. */
  sinceWhen(expression: Expression): string {
    const since = this.since(expression);
    return since <= this.beginning ? "" : `, since ${this.when(since)}`;
  }

  #for({ condition, duration }: Extract<Expression, { kind: "for" }>, truth: number): Explanation {
    const held = this.value(condition);
    const says = writeExpression({ kind: "for", condition, duration });
    if (held !== 1) return explanation(`${says}: not true`, [this.explain(condition)]);
    const since = this.since(condition);
    const lasts = this.value(duration);
    if (truth === 1) return explanation(`${says}: true since ${this.when(since)}`, this.#inner(condition));
    return explanation(
      `${says}: true since ${this.when(since)}, which is not long enough until ${this.when(since + lasts)}`,
      this.#inner(condition),
    );
  }

  #inTheLast({ condition, duration }: Extract<Expression, { kind: "in the last" }>, truth: number): Explanation {
    const says = writeExpression({ kind: "in the last", condition, duration });
    if (this.value(condition) === 1) return explanation(`${says}: true now`, this.#inner(condition));
    const ended = this.since(condition);
    if (ended <= this.beginning && truth !== 1) return explanation(`${says}: not once since the beginning`);
    const last = condition.kind === "is" && condition.right.kind === "word" ? condition.right.word : "true";
    const ends = this.when(ended + this.value(duration));
    return explanation(`${says}: last ${last} at ${this.when(ended)}; that ${truth === 1 ? "counts" : "counted"} until ${ends}`);
  }

  #until(expression: Extract<Expression, { kind: "until" }>, truth: number): Explanation {
    const { condition, reset } = expression;
    const says = writeExpression(expression);
    const since = this.since(expression);
    // While it holds only its end matters, and where its beginning is so all the same, the end is what keeps it.
    const now = [this.explain(truth === 1 || this.value(condition) === 1 ? reset : condition)];
    if (Number.isNaN(truth)) return explanation(`${says}: unknown`, [...now, ...this.unknownBehind(expression)]);
    return explanation(`${says}: ${truth === 1 ? "true" : "not true"} since ${this.when(since)}`, now);
  }

  /** What stands inside a condition over time, where its words do not say it all. */
  #inner(condition: Expression): Explanation[] {
    return condition.kind === "is" || condition.kind === "during" ? [] : [this.explain(condition)];
  }
}

/** A time of day: written down, of the clock, or of the sun. */
function isTime(expression: Expression): boolean {
  return (
    expression.kind === "time" || expression.kind === "sun time" || (expression.kind === "clock" && expression.what === "time")
  );
}
