// What the expressions of a house are at a second, evaluated again from the definitions of the language. It remembers what
// each condition over time was at each past second, and nothing else that the definitions do not speak of.
import type { Condition, DayTime, Expression, House, Output, Value } from "modrik";
import { clockOf, fromBase, toBase } from "modrik";

export type Truth = boolean | undefined;
/** A number in base units, a word, or unknown. */
export type Plain = number | string | undefined;

type Of<Kind extends Expression["kind"]> = Extract<Expression, { kind: Kind }>;

const equal = (a: number, b: number) => Math.abs(a - b) < 1e-9 * Math.max(1, Math.abs(a), Math.abs(b));
const isKnown = <Item>(item: Item | undefined): item is Item => item !== undefined;

export class Values {
  now: number;
  readonly values = new Map<string, Plain>();
  readonly reports = new Map<string, { value: Plain; at: number }>();
  /** What is pressed in this second, and when each was pressed last. */
  readonly pressed = new Set<string>();
  readonly #lastPress = new Map<string, number>();
  /** Countdowns that run, with when they run out. */
  readonly running = new Map<string, number>();
  /** What the last dose of each output gave. */
  readonly lastAmounts = new Map<string, number | undefined>();
  /** What the inside of each condition over time, and of each window, was at each second since the start. */
  readonly #past = new Map<Expression, Plain[]>();
  /** Conditions that remember, to be looked at in every turn. */
  readonly remembered: readonly Condition[];
  readonly memories = new Map<object, boolean>();
  readonly #limits = new Map<object, { since?: number | undefined; pausedUntil?: number | undefined }>();

  constructor(
    readonly house: House,
    readonly start: number,
    /** How far one instant at which it looks is from the next. */
    readonly tick = 1000,
  ) {
    this.now = start;
    for (const dial of house.dials) this.values.set(dial.name, this.base(dial.name, dial.atFirst));
    for (const mode of house.modes) this.values.set(mode.name, mode.atFirst);
    for (const output of house.outputs) this.values.set(output.name, restOf(output));
    const expressions = everyExpression(house);
    this.remembered = expressions.filter(({ kind }) => kind === "until");
    for (const expression of expressions)
      if (["for", "in the last", "over"].includes(expression.kind)) this.#past.set(expression, []);
  }

  type(name: string) {
    const { sensors, outputs, dials, modes, profiles } = this.house;
    return [...sensors, ...outputs, ...dials, ...modes, ...profiles].find((thing) => thing.name === name)?.type;
  }

  base(name: string, value: Value): Plain {
    const type = this.type(name);
    return typeof value === "number" && type?.kind === "number" ? toBase({ value, unit: type.unit }) : value;
  }

  /** What a thing has now, in its own unit. */
  value(name: string): Value | undefined {
    const value = this.thing(name);
    const type = this.type(name);
    return typeof value === "number" && type?.kind === "number" ? fromBase(value, type.unit) : value;
  }

  thing(name: string): Plain {
    const { lets, sensors, profiles } = this.house;
    const named = lets.find((one) => one.name === name);
    if (named) return this.plain(named.value);
    const profile = profiles.find((one) => one.name === name);
    if (profile) {
      const points = profile.days.flatMap((day) => day.points);
      // Before the first of the day, the last of the day before goes on.
      const clock = clockOf(this.house.clock);
      const { day } = clock.local(this.now);
      const instants = [-1, 0, 1].flatMap((later) =>
        points.map(({ from, value }) => ({ at: clock.instant(day + later, from.ms), value: this.plain(value) })),
      );
      const place = instants.findLastIndex(({ at }) => at <= this.now);
      const [last, next] = [instants[place], instants[place + 1]];
      if (!last || !next || !profile.ramped) return last?.value;
      const share = (this.now - last.at) / (next.at - last.at);
      return typeof last.value === "number" && typeof next.value === "number"
        ? last.value + (next.value - last.value) * share
        : undefined;
    }
    const sensor = sensors.find((one) => one.name === name);
    if (!sensor) return this.values.get(name);
    const report = this.reports.get(name);
    const after = sensor.unknownAfter && this.number(sensor.unknownAfter);
    return !report || (after !== undefined && this.now - report.at >= after) ? undefined : report.value;
  }

  #clock(): number {
    return clockOf(this.house.clock).local(this.now).ms;
  }

  number(expression: Expression): number | undefined {
    const value = this.plain(expression);
    return typeof value === "number" ? value : undefined;
  }

  plain(expression: Expression): Plain {
    switch (expression.kind) {
      case "number":
        return toBase(expression);
      case "time":
        return expression.ms;
      case "word":
        return expression.word;
      case "colour":
        return expression.colour;
      case "value":
        return this.thing(expression.of);
      case "age": {
        const report = this.reports.get(expression.of);
        return report && this.now - report.at;
      }
      case "remaining":
        return Math.max(0, (this.running.get(expression.countdown) ?? this.now) - this.now);
      case "last amount":
        return this.lastAmounts.get(expression.output);
      case "rest":
        return restOf(this.house.outputs.find(({ name }) => name === expression.of) as Output);
      case "clock":
        return this.#clock();
      case "negative":
        return this.#with([expression.of], ([of]) => -of);
      case "plus":
        return this.#with([expression.left, expression.right], ([left, right]) => left + right);
      case "minus":
        return this.#with([expression.left, expression.right], ([left, right]) => left - right);
      case "if": {
        const condition = this.truth(expression.condition);
        return condition === undefined ? undefined : this.plain(condition ? expression.then : expression.else);
      }
      case "pick":
        return this.#picked(expression);
      case "of several":
        return this.#ofSeveral(expression);
      case "scale": {
        const { value, from, to } = expression;
        const line = ([x, a, b, c, d]: Numbers) => c + (d - c) * Math.min(1, Math.max(0, (x - a) / (b - a)));
        return this.#with([value, from.low, from.high, to.low, to.high], line);
      }
      case "over":
        return this.#over(expression);
      default:
        throw new RangeError(`the reference has no ${expression.kind}`);
    }
  }

  #with(parts: readonly Expression[], compute: (numbers: Numbers) => number): number | undefined {
    const numbers = parts.map((part) => this.number(part));
    return numbers.every(isKnown) ? compute(numbers as unknown as Numbers) : undefined;
  }

  #picked({ by, cases }: Of<"pick">): Plain {
    if (this.plain(by) === undefined) {
      const unknown = cases.find((one) => one.if === "unknown");
      return unknown && this.plain(unknown.then);
    }
    const fits = cases.find((one) => one.if === "otherwise" || (one.if !== "unknown" && this.truth(one.if) === true));
    return fits && this.plain(fits.then);
  }

  #ofSeveral(expression: Of<"of several">): number | undefined {
    const known = expression.of.map((one) => this.number(one)).filter(isKnown);
    if (known.length < Math.max(1, expression.known || 1)) return undefined;
    const sorted = [...known].sort((a, b) => a - b);
    const [least, most] = [sorted[0] as number, sorted.at(-1) as number];
    const middle = sorted.slice((sorted.length - 1) >> 1, (sorted.length >> 1) + 1);
    switch (expression.function) {
      case "max":
        return most;
      case "min":
        return least;
      case "spread":
        return most - least;
      case "median":
        return meanOf(middle);
      case "mean":
        return meanOf(known);
      case "first_known":
        return known[0];
      default:
        throw new RangeError(`the reference knows no ${expression.function}`);
    }
  }

  // ── Windows ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Over (t - D, t]: what a second showed lasts until the next. */
  #over(expression: Of<"over">): number | undefined {
    const past = this.#past.get(expression) ?? [];
    const present = this.inside(expression);
    const begins = Math.max(0, past.length - (this.number(expression.over) ?? Number.NaN) / this.tick);
    const lasted = past.slice(begins).filter(isKnown) as number[];
    const seen = [...lasted, present].filter(isKnown) as number[];
    if (seen.length === 0) return undefined;
    switch (expression.function) {
      case "mean":
        return meanOf(lasted.length > 0 ? lasted : seen);
      case "min":
        return Math.min(...seen);
      case "max":
        return Math.max(...seen);
      case "rise":
        return present === undefined ? undefined : Number(present) - (seen[0] as number);
      case "time":
        return lasted.filter((truth) => truth === 1).length * this.tick;
      case "count":
        return [...past, present].filter((truth, at, all) => {
          const before = all.slice(0, at).findLast((one) => one !== undefined);
          return at > begins && truth === 1 && before !== 1;
        }).length;
      default:
        throw new RangeError(`no such window: ${expression satisfies never}`);
    }
  }

  /** What a condition over time or a window looks at: a value, of a condition 1 or 0. */
  inside(expression: Expression): Plain {
    if (expression.kind === "over" && expression.function !== "time" && expression.function !== "count")
      return this.plain(expression.value);
    const truth = this.truth(expression.kind === "over" ? expression.value : (expression as Of<"for">).condition);
    return truth === undefined ? undefined : Number(truth);
  }

  // ── Conditions ──────────────────────────────────────────────────────────────────────────────────────────────────────

  truth(expression: Condition): Truth {
    switch (expression.kind) {
      case "above":
      case "below":
      case "at least":
      case "at most":
        return this.#compares(expression.kind, expression.left, expression.right);
      case "between":
        return both(
          this.#compares("at least", expression.value, expression.low),
          this.#compares("at most", expression.value, expression.high),
        );
      case "is": {
        const left = this.plain(expression.left);
        if (expression.right.kind === "unknown") return left === undefined;
        const right = this.plain(expression.right);
        if (left === undefined || right === undefined) return undefined;
        return typeof left === "number" && typeof right === "number" ? equal(left, right) : left === right;
      }
      case "not":
        return negated(this.truth(expression.of));
      case "and":
        return expression.of.map((part) => this.truth(part)).reduce(both);
      case "or":
        return negated(expression.of.map((part) => negated(this.truth(part))).reduce(both));
      case "during":
        return this.isOpen(expression.schedule);
      case "clock between":
        return this.#isBetween(expression.from, expression.to);
      case "running":
        return this.running.has(expression.countdown);
      case "pressed":
        return this.pressed.has(expression.sensor);
      case "for":
        return this.#for(expression);
      case "in the last":
        return this.#inTheLast(expression);
      case "until":
        return expression.atMost
          ? this.#remembered(expression, () => this.#limited(expression))
          : this.until(expression, expression.condition, expression.reset);
      default:
        throw new RangeError(`the reference knows no truth of ${expression.kind}`);
    }
  }

  #compares(kind: string, left: Expression, right: Expression): Truth {
    // Ordered words compare by their places.
    const order = right.kind === "word" ? right.of : [];
    const place = (part: Expression) => (order.length > 0 ? order.indexOf(String(this.plain(part))) : this.number(part));
    const [a, b] = [place(left), place(right)].map((one) => (order.length > 0 && one === -1 ? undefined : one));
    if (a === undefined || b === undefined) return undefined;
    if (equal(a, b)) return kind === "at least" || kind === "at most";
    return a > b === (kind === "above" || kind === "at least");
  }

  isOpen(name: string): boolean {
    const openings = this.house.schedules.find((schedule) => schedule.name === name)?.openings ?? [];
    return openings.some(({ spans }) => spans.some(({ from, to }) => this.#isWithin(from.ms, to.ms)));
  }

  #isBetween(from: DayTime, to: DayTime): Truth {
    const [begins, ends] = [this.number(from.time), this.number(to.time)];
    if (begins === undefined || ends === undefined) return undefined;
    return this.#isWithin(begins, ends);
  }

  /** In a span that begins today, or began yesterday: a time that comes twice begins and ends it the first time. */
  #isWithin(from: number, to: number): boolean {
    const clock = clockOf(this.house.clock);
    const { day } = clock.local(this.now);
    return [day - 1, day].some(
      (one) => this.now >= clock.instant(one, from) && this.now < clock.instant(to > from ? one : one + 1, to),
    );
  }

  /** True on the whole closed span: at every second of it, and now. */
  #for(expression: Of<"for">): Truth {
    const inside = this.truth(expression.condition);
    const lasts = this.number(expression.duration);
    if (inside !== true) return inside;
    if (lasts === undefined) return undefined;
    const from = Math.ceil((this.now - lasts - this.start) / this.tick);
    if (from < 0) return false;
    return (this.#past.get(expression) ?? []).slice(from).every((truth) => truth === 1);
  }

  /** True now, or at some moment less than D ago; what a second shows lasts until the next, but for a press. */
  #inTheLast(expression: Of<"in the last">): Truth {
    const inside = this.truth(expression.condition);
    const lasts = this.number(expression.duration);
    if (inside === true) return true;
    const ended = (second: number) => this.start + (second + 1) * this.tick;
    const past = this.#past.get(expression) ?? [];
    const last =
      expression.condition.kind === "pressed"
        ? this.#lastPress.get(expression.condition.sensor)
        : past.lastIndexOf(1) >= 0
          ? ended(past.lastIndexOf(1))
          : undefined;
    if (last !== undefined && lasts !== undefined && last > this.now - lasts) return true;
    return lasts === undefined ? undefined : inside;
  }

  /** What remembers looks once a turn; else it is what it was when it last looked. */
  protected looking = false;
  readonly #seen = new Map<object, Truth>();

  #remembered(key: object, look: () => Truth): Truth {
    if (!this.looking && this.#seen.has(key)) return this.#seen.get(key);
    const seen = look();
    this.#seen.set(key, seen);
    return seen;
  }

  /** The reset first, then the set, else unchanged; it begins false. */
  until(key: object, condition: Condition, reset: Condition): Truth {
    return this.#remembered(key, () => this.#until(key, condition, reset));
  }

  #until(key: object, condition: Condition, reset: Condition): Truth {
    const ends = this.truth(reset);
    const sets = this.truth(condition);
    if (ends === true) this.memories.set(key, false);
    else if (ends === false && sets === true) this.memories.set(key, true);
    if (ends !== false) return ends === true ? false : undefined;
    return this.memories.get(key) === true ? true : sets;
  }

  /** Ends D after it began too, and then pauses, also when the reset comes meanwhile; an end by the reset has no pause. */
  #limited(expression: Of<"until">): Truth {
    const { condition, reset, atMost, pause } = expression;
    const state = this.#limits.get(expression) ?? {};
    this.#limits.set(expression, state);
    const [sets, ends] = [this.truth(condition), this.truth(reset)];
    const [most, rests] = [atMost, pause].map((part) => this.number(part as Expression)) as [number, number];
    if (ends === true) state.since = undefined;
    if (state.since !== undefined && this.now >= state.since + most) {
      state.pausedUntil = state.since + most + rests;
      state.since = undefined;
    }
    if (this.now < (state.pausedUntil ?? this.now)) return false;
    state.pausedUntil = undefined;
    if (ends !== false) return ends === true ? false : undefined;
    if (sets === true) state.since ??= this.now;
    return state.since !== undefined ? true : sets;
  }

  /** Moments are over with their instant. */
  endMoments(): void {
    for (const name of this.pressed) this.#lastPress.set(name, this.now);
    this.pressed.clear();
  }

  writePast(): void {
    const insides = [...this.#past].map(([expression, past]) => [past, this.inside(expression)] as const);
    for (const [past, inside] of insides) past.push(inside);
  }
}

type Numbers = [number, number, number, number, number];

function meanOf(numbers: readonly number[]): number {
  return numbers.reduce((sum, number) => sum + number, 0) / numbers.length;
}

function both(a: Truth, b: Truth): Truth {
  if (a === false || b === false) return false;
  return a === true && b === true ? true : undefined;
}

function negated(truth: Truth): Truth {
  return truth === undefined ? undefined : !truth;
}

export function restOf({ atRest, type }: Output): Plain {
  if (atRest !== undefined)
    return type.kind === "number" && typeof atRest === "number" ? toBase({ value: atRest, unit: type.unit }) : atRest;
  return type.kind === "number" ? 0 : "off";
}

/** Every expression of the lets, rules and guards, parts before wholes. */
function everyExpression({ lets, rules, guards }: Pick<House, "lets" | "rules" | "guards">): Expression[] {
  const found: Expression[] = [];
  const visit = (value: unknown): void => {
    if (typeof value !== "object" || value === null) return;
    for (const part of Object.values(value)) visit(part);
    if ("kind" in value) found.push(value as Expression);
  };
  visit([lets, rules, guards]);
  return found;
}
