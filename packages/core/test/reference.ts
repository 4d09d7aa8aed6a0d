// The plainest engine: at every second it evaluates everything anew from the definitions of the language. It remembers
// what each condition over time was at each past second, and nothing else that the definitions do not speak of.
import type { Condition, Expression, House, Keep, Output, Permit, Rule, Step, Trigger, Until, Value } from "modrik";
import { clockOf, fromBase, toBase } from "modrik";

type Truth = boolean | undefined;
/** A number in base units, a word, or unknown. */
type Plain = number | string | undefined;

interface Claim {
  readonly rule: Rule;
  readonly order: number;
  readonly output: string;
  value: Plain;
  timed: boolean;
  turn: number;
  ends: number;
  until: Condition | undefined;
}

interface Running {
  next: number;
  wakes: number;
  until: Condition | undefined;
  queued: number;
}

interface Event {
  readonly rule: Rule;
  readonly order: number;
  readonly sentence: Extract<Rule["sentences"][number], { do: unknown }>;
  /** What each trigger saw last: a truth, or the value whose changes it follows. */
  readonly seen: (Plain | boolean)[];
  readonly running: Running;
}

const SECOND = 1000;
const MOST_TURNS = 64;

const equal = (a: number, b: number) => Math.abs(a - b) < 1e-9 * Math.max(1, Math.abs(a), Math.abs(b));

export class Reference {
  readonly notices: string[] = [];
  ringing = false;
  readonly #house: House;
  readonly #start: number;
  #now: number;
  readonly #values = new Map<string, Plain>();
  readonly #reports = new Map<string, { value: Plain; at: number }>();
  /** What the inside of each condition over time was at each second since the start. */
  readonly #past = new Map<Expression, Truth[]>();
  readonly #memories = new Map<object, boolean>();
  readonly #claims: Claim[] = [];
  readonly #events: Event[] = [];
  readonly #sent = new Map<string, { value: Plain; since: number }>();
  readonly #goesBack = new Map<Step, { name: string; to: Plain; at: number; until: Condition | undefined }>();
  /** When the `while` of each cycle began. */
  readonly #cycles = new Map<object, number>();
  #turns = 0;

  constructor(house: House, start: number) {
    this.#house = house;
    this.#start = start;
    this.#now = start;
    for (const dial of house.dials) this.#values.set(dial.name, this.#base(dial.name, dial.atFirst));
    for (const mode of house.modes) this.#values.set(mode.name, mode.atFirst);
    for (const output of house.outputs) {
      this.#values.set(output.name, restOf(output));
      this.#sent.set(output.name, { value: restOf(output), since: start });
    }
    for (const expression of everyExpression(house))
      if (expression.kind === "for" || expression.kind === "in the last") this.#past.set(expression, []);
    let order = 0;
    for (const rule of house.rules) {
      for (const sentence of rule.sentences) {
        order++;
        if (!("do" in sentence)) continue;
        const running = { next: -1, wakes: Number.POSITIVE_INFINITY, until: undefined, queued: 0 };
        this.#events.push({
          rule,
          order,
          sentence,
          seen: sentence.when.map((trigger) => (trigger.kind === "changes" ? this.#values.get(trigger.of) : undefined)),
          running,
        });
      }
    }
  }

  /** What a thing has now, in its own unit. */
  value(name: string): Value | undefined {
    const value = this.#thing(name);
    const type = this.#type(name);
    return typeof value === "number" && type?.kind === "number" ? fromBase(value, type.unit) : value;
  }

  /** One second: the inputs of its instant, then turns until nothing changes. */
  second(now: number, inputs: ReadonlyMap<string, Value>): void {
    this.#now = now;
    for (const [name, value] of inputs) {
      if (this.#house.sensors.some((sensor) => sensor.name === name))
        this.#reports.set(name, { value: this.#base(name, value), at: now });
      else this.#setAnew(name, this.#base(name, value));
    }
    for (const claim of [...this.#claims]) if (claim.ends <= now) this.#drop(claim);
    for (const [step, back] of this.#goesBack) if (back.at <= now && this.#goesBack.has(step)) this.#setAnew(back.name, back.to);
    const timeouts = this.#events.filter(({ running }) => running.next >= 0 && running.wakes <= now);
    let moments = this.#events.filter(({ sentence }) => sentence.when.some((trigger) => this.#isMoment(trigger)));
    for (let turn = 1; ; turn++) {
      this.#remember();
      this.#endUntil();
      const before = JSON.stringify(this.#everything());
      const fired = this.#events.filter((event) => this.#fires(event) || (turn === 1 && moments.includes(event)));
      const ready = fired.filter(({ sentence }) => !sentence.provided || this.#truth(sentence.provided) === true);
      const woken = this.#events.filter((event) => this.#wakes(event) || (turn === 1 && timeouts.includes(event)));
      moments = [];
      for (const event of woken) if (event.running.next >= 0) this.#run(event);
      for (const event of ready) this.#begin(event);
      this.#remember();
      const decided = this.#house.outputs.map((output) => this.#decision(output));
      for (const [index, { name }] of this.#house.outputs.entries()) this.#values.set(name, decided[index]);
      if (fired.length === 0 && woken.length === 0 && JSON.stringify(this.#everything()) === before) break;
      if (turn === MOST_TURNS) {
        this.ringing = true;
        return;
      }
    }
    for (const { name } of this.#house.outputs) {
      const value = this.#values.get(name);
      if (this.#sent.get(name)?.value !== value) this.#sent.set(name, { value, since: now });
    }
    for (const [expression, past] of this.#past) past.push(this.#truth((expression as { condition: Condition }).condition));
  }

  #everything() {
    return [...this.#values, ...this.#memories.values(), this.#claims.length, this.#turns].map((value) => value ?? null);
  }

  // ── Values ──────────────────────────────────────────────────────────────────────────────────────────────────────────

  #type(name: string) {
    const { sensors, outputs, dials, modes } = this.#house;
    return [...sensors, ...outputs, ...dials, ...modes].find((thing) => thing.name === name)?.type;
  }

  #base(name: string, value: Value): Plain {
    const type = this.#type(name);
    return typeof value === "number" && type?.kind === "number" ? toBase({ value, unit: type.unit }) : value;
  }

  #thing(name: string): Plain {
    const named = this.#house.lets.find((one) => one.name === name);
    if (named) return this.#plain(named.value);
    const sensor = this.#house.sensors.find((one) => one.name === name);
    if (!sensor) return this.#values.get(name);
    const report = this.#reports.get(name);
    const after = sensor.unknownAfter && this.#number(sensor.unknownAfter);
    return !report || (after !== undefined && this.#now - report.at >= after) ? undefined : report.value;
  }

  #number(expression: Expression): number | undefined {
    const value = this.#plain(expression);
    return typeof value === "number" ? value : undefined;
  }

  #plain(expression: Expression): Plain {
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
        return this.#thing(expression.of);
      case "negative": {
        const of = this.#number(expression.of);
        return of === undefined ? undefined : -of;
      }
      case "plus":
      case "minus": {
        const left = this.#number(expression.left);
        const right = this.#number(expression.right);
        if (left === undefined || right === undefined) return undefined;
        return expression.kind === "plus" ? left + right : left - right;
      }
      case "if": {
        const condition = this.#truth(expression.condition);
        return condition === undefined ? undefined : this.#plain(condition ? expression.then : expression.else);
      }
      case "pick":
        return this.#picked(expression);
      case "of several": {
        const known = expression.of.map((one) => this.#number(one)).filter((one) => one !== undefined);
        if (known.length < expression.known) return undefined;
        if (expression.function === "max") return Math.max(...known);
        if (expression.function === "min") return Math.min(...known);
        throw new RangeError(`the reference knows no ${expression.function}`);
      }
      default:
        throw new RangeError(`the reference has no ${expression.kind}`);
    }
  }

  #picked({ by, cases }: Extract<Expression, { kind: "pick" }>): Plain {
    if (this.#plain(by) === undefined) {
      const unknown = cases.find((one) => one.if === "unknown");
      return unknown && this.#plain(unknown.then);
    }
    const fits = cases.find((one) => one.if === "otherwise" || (one.if !== "unknown" && this.#truth(one.if) === true));
    return fits && this.#plain(fits.then);
  }

  #truth(expression: Condition): Truth {
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
        const left = this.#plain(expression.left);
        if (expression.right.kind === "unknown") return left === undefined;
        const right = this.#plain(expression.right);
        if (left === undefined || right === undefined) return undefined;
        return typeof left === "number" && typeof right === "number" ? equal(left, right) : left === right;
      }
      case "not":
        return negated(this.#truth(expression.of));
      case "and":
        return expression.of.map((part) => this.#truth(part)).reduce(both);
      case "or":
        return negated(expression.of.map((part) => negated(this.#truth(part))).reduce(both));
      case "during":
        return this.#isOpen(expression.schedule);
      case "for":
        return this.#for(expression);
      case "in the last":
        return this.#inTheLast(expression);
      case "until":
        return this.#until(expression, expression.condition, expression.reset);
      default:
        throw new RangeError(`the reference knows no truth of ${expression.kind}`);
    }
  }

  #compares(kind: string, left: Expression, right: Expression): Truth {
    const a = this.#number(left);
    const b = this.#number(right);
    if (a === undefined || b === undefined) return undefined;
    if (equal(a, b)) return kind === "at least" || kind === "at most";
    return a > b === (kind === "above" || kind === "at least");
  }

  #isOpen(name: string): boolean {
    const { ms } = clockOf(this.#house.clock).local(this.#now);
    const openings = this.#house.schedules.find((schedule) => schedule.name === name)?.openings ?? [];
    return openings.some(({ spans }) => spans.some(({ from, to }) => ms >= from.ms && ms < to.ms));
  }

  /** True on the whole closed span: at every second of it, and now. */
  #for(expression: Extract<Expression, { kind: "for" }>): Truth {
    const inside = this.#truth(expression.condition);
    const lasts = this.#number(expression.duration);
    if (inside !== true) return inside;
    if (lasts === undefined) return undefined;
    const from = Math.ceil((this.#now - lasts - this.#start) / SECOND);
    if (from < 0) return false;
    const past = this.#past.get(expression) ?? [];
    return past.slice(from).every((truth) => truth === true);
  }

  /** True now, or at some moment less than D ago; what a second shows lasts until the next. */
  #inTheLast(expression: Extract<Expression, { kind: "in the last" }>): Truth {
    const inside = this.#truth(expression.condition);
    const lasts = this.#number(expression.duration);
    if (inside === true) return true;
    const past = this.#past.get(expression) ?? [];
    const found = past.some(
      (truth, second) => truth === true && this.#start + (second + 1) * SECOND > this.#now - (lasts ?? Number.NaN),
    );
    if (found) return true;
    return lasts === undefined ? undefined : inside;
  }

  /** The reset first, then the set, else unchanged; it begins false. */
  #until(key: object, condition: Condition, reset: Condition): Truth {
    const ends = this.#truth(reset);
    const sets = this.#truth(condition);
    if (ends === true) this.#memories.set(key, false);
    else if (ends === false && sets === true) this.#memories.set(key, true);
    if (ends !== false) return ends === true ? false : undefined;
    return this.#memories.get(key) === true ? true : sets;
  }

  /** Memories follow their signals at all times, whether somebody looks or not; cycles keep when they began. */
  #remember(): void {
    for (const expression of everyExpression(this.#house)) if (expression.kind === "until") this.#truth(expression);
    for (const rule of this.#house.rules) {
      for (const sentence of rule.sentences) {
        if ("cycle" in sentence) {
          const applies = !sentence.while || this.#truth(sentence.while) === true;
          if (!applies) this.#cycles.delete(sentence);
          else if (!this.#cycles.has(sentence)) this.#cycles.set(sentence, this.#now);
        }
        if (!("keep" in sentence)) continue;
        this.#drives(sentence.keep, "raise");
        this.#drives(sentence.keep, "lower");
      }
    }
  }

  /** The rows of the table: from where to where a `keep` drives. */
  #drives(keep: Keep, way: "raise" | "lower"): Truth {
    const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
    const two = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const { value, tolerance } = keep;
    if (!tolerance) throw new RangeError("the reference knows no proportion");
    const bottom: Expression = { kind: "minus", left: low, right: tolerance.below };
    const top: Expression = { kind: "plus", left: high, right: tolerance.above };
    const key = way === "raise" ? tolerance : keep;
    if (way === "raise") {
      const stops: Condition = two ? { kind: "at least", left: value, right: low } : { kind: "above", left: value, right: top };
      return this.#until(key, { kind: "below", left: value, right: bottom }, stops);
    }
    const stops: Condition = two ? { kind: "at most", left: value, right: high } : { kind: "below", left: value, right: bottom };
    return this.#until(key, { kind: "above", left: value, right: top }, stops);
  }

  // ── Event rules ─────────────────────────────────────────────────────────────────────────────────────────────────────

  #isMoment(trigger: Trigger): boolean {
    if (trigger.kind !== "at" || this.#now === this.#start) return false;
    return clockOf(this.#house.clock).local(this.#now).ms === this.#number(trigger.at.time);
  }

  /** Became true, compared with when last known; every trigger is looked at. */
  #fires({ sentence, seen }: Event): boolean {
    const edges = sentence.when.map((trigger, index) => {
      if (trigger.kind === "changes") return this.#changed(trigger, index, seen);
      if (trigger.kind !== "becomes true" && trigger.kind !== "begins" && trigger.kind !== "ends") return false;
      const state =
        trigger.kind === "becomes true"
          ? this.#truth(trigger.condition)
          : this.#isOpen(trigger.schedule) === (trigger.kind === "begins");
      const before = seen[index];
      if (state === undefined) return false;
      seen[index] = state;
      return state && before !== true && (trigger.kind === "becomes true" || before === false);
    });
    return edges.includes(true);
  }

  /** Into another known value; without `by`, from the last known. */
  #changed(trigger: Extract<Trigger, { kind: "changes" }>, index: number, seen: Event["seen"]): boolean {
    const value = this.#thing(trigger.of);
    if (value === undefined) return false;
    const before = seen[index];
    const by = trigger.by && this.#number(trigger.by);
    const far =
      before !== undefined && (by === undefined ? value !== before : Math.abs(Number(value) - Number(before)) >= by - 1e-9);
    if (before === undefined || far) seen[index] = value;
    return far;
  }

  #wakes({ running }: Event): boolean {
    return running.next >= 0 && running.until !== undefined && this.#truth(running.until) === true;
  }

  #begin(event: Event): void {
    for (const other of this.#events) if (other !== event && other.rule === event.rule) stop(other.running);
    const { running, sentence } = event;
    if (running.next >= 0 && sentence.ifTriggeredAgain === "ignore") return;
    if (running.next >= 0 && sentence.ifTriggeredAgain === "wait") {
      running.queued++;
      return;
    }
    stop(running);
    running.next = 0;
    this.#run(event);
  }

  #run(event: Event): void {
    const { running, sentence } = event;
    running.until = undefined;
    running.wakes = Number.POSITIVE_INFINITY;
    for (;;) {
      while (running.next >= 0 && running.next < sentence.do.length) {
        const step = sentence.do[running.next++] as Step;
        if (this.#waits(step, running)) return;
        if (step.kind === "if") {
          const branch = step.branches.find((one) => this.#truth(one.if) === true)?.do ?? step.else;
          for (const inner of branch) this.#take(inner, event);
        } else this.#take(step, event);
        this.#remember();
      }
      running.next = -1;
      if (running.queued === 0) return;
      running.queued--;
      running.next = 0;
    }
  }

  #waits(step: Step, running: Running): boolean {
    if (step.kind === "wait") {
      running.wakes = this.#now + (this.#number(step.for) ?? 0);
      return true;
    }
    if (step.kind !== "wait until" || this.#truth(stateOf(step.until)) === true) return false;
    running.until = stateOf(step.until);
    running.wakes = step.atMost ? this.#now + (this.#number(step.atMost) ?? 0) : Number.POSITIVE_INFINITY;
    return true;
  }

  #take(step: Step, event: Event): void {
    if (step.kind === "tell") this.notices.push(step.text.filter((part) => typeof part === "string").join(""));
    if (step.kind === "toggle")
      this.#ask({ name: step.name }, event, this.#values.get(step.name) === "on" ? "off" : "on", Number.POSITIVE_INFINITY, false);
    if (step.kind === "raise" || step.kind === "lower") {
      const by = this.#number(step.by) ?? Number.NaN;
      const value = Number(this.#values.get(step.name)) + (step.kind === "raise" ? by : -by);
      this.#setAnew(step.name, this.#clamped(step.name, value));
    }
    if (step.kind === "release") {
      for (const claim of [...this.#claims]) if (claim.output === step.output && !claim.timed) this.#drop(claim);
      this.#decideNow(step.output);
    }
    if (step.kind !== "set") return;
    const value = this.#plain(step.to);
    const ends = step.for ? this.#now + (this.#number(step.for) ?? Number.NaN) : Number.POSITIVE_INFINITY;
    const over = step.until !== undefined && this.#truth(stateOf(step.until)) === true;
    if (value === undefined) return;
    if (this.#house.outputs.some(({ name }) => name === step.name)) {
      this.#ask(step, event, value, ends, over);
      return;
    }
    if (over) return;
    const former = this.#goesBack.get(step)?.to ?? this.#values.get(step.name);
    this.#setAnew(step.name, this.#clamped(step.name, value));
    if (step.for || step.until)
      this.#goesBack.set(step, { name: step.name, to: former, at: ends, until: step.until && stateOf(step.until) });
  }

  #ask(
    step: Pick<Extract<Step, { kind: "set" }>, "name" | "for" | "until">,
    { rule, order }: Event,
    value: Plain,
    ends: number,
    over: boolean,
  ): void {
    const timed = step.for !== undefined || step.until !== undefined;
    const own = this.#claims.find((claim) => claim.order === order && claim.output === step.name);
    if (own) this.#drop(own);
    if (!over) {
      for (const claim of [...this.#claims]) {
        const plain = !timed && !claim.timed && claim.output === step.name && claim.rule.standing === rule.standing;
        if (plain) this.#drop(claim);
      }
      this.#claims.push({
        rule,
        order,
        output: step.name,
        value,
        timed,
        turn: ++this.#turns,
        ends,
        until: step.until && stateOf(step.until),
      });
      this.#decideNow(step.name);
    }
  }

  /** The steps behind it see what it has become. */
  #decideNow(output: string): void {
    this.#values.set(output, this.#decision(this.#house.outputs.find(({ name }) => name === output) as Output));
  }

  #drop(claim: Claim): void {
    this.#claims.splice(this.#claims.indexOf(claim), 1);
  }

  /** What was asked for until something is so, and is so now. */
  #endUntil(): void {
    for (const claim of [...this.#claims]) if (claim.until && this.#truth(claim.until) === true) this.#drop(claim);
    for (const [step, { name, to, until }] of [...this.#goesBack]) {
      if (until && this.#goesBack.has(step) && this.#truth(until) === true) this.#setAnew(name, to);
    }
    this.#remember();
  }

  #setAnew(name: string, value: Plain): void {
    for (const [step, back] of this.#goesBack) if (back.name === name) this.#goesBack.delete(step);
    this.#values.set(name, value);
  }

  #clamped(name: string, value: Plain): Plain {
    const range = this.#house.dials.find((dial) => dial.name === name)?.range;
    if (!range || typeof value !== "number") return value;
    const [low, high] = range.map((end) => this.#base(name, end) as number) as [number, number];
    return Math.min(high, Math.max(low, value));
  }

  // ── Outputs ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  #decision(output: Output): Plain {
    const permits = this.#house.guards.flatMap((guard) => guard.permits).filter((permit) => permit.output === output.name);
    const lacking = permits.filter(({ onlyWhile }) => this.#truth(onlyWhile) !== true);
    const refuses = (value: Plain) => lacking.some(({ what }) => "word" in what && what.word === value);
    const wishes = this.#wishes(output).filter((value) => !refuses(value));
    const { value: had, since } = this.#sent.get(output.name) as { value: Plain; since: number };
    let wanted: Plain = wishes.length > 0 ? wishes[0] : (restOf(output) ?? had);
    if (wishes.length === 0 && refuses(wanted) && output.type.kind === "words")
      wanted = output.type.words.find((word) => !refuses(word)) ?? wanted;
    wanted = this.#cut(wanted, lacking);
    const least = output.atLeast.find(({ word }) => word === had);
    const lasts = least && this.#number(least.duration);
    const kept = wanted !== had && lasts !== undefined && this.#now < since + lasts && !refuses(had);
    return kept ? had : wanted;
  }

  #cut(value: Plain, lacking: readonly Permit[]): Plain {
    let cut = value;
    for (const { what } of lacking) {
      if (typeof cut !== "number") return cut;
      if ("above" in what) cut = Math.min(cut, this.#number(what.above) ?? cut);
      if ("below" in what) cut = Math.max(cut, this.#number(what.below) ?? cut);
    }
    return cut;
  }

  /** Standing by standing: asked for a time, the later first; held, the first written first; asked plainly. */
  #wishes(output: Output): Plain[] {
    const asked = this.#claims.filter((claim) => claim.output === output.name).sort((a, b) => b.turn - a.turn);
    return (["urgent", "plain", "background"] as const).flatMap((standing) => [
      ...asked.filter(({ rule, timed }) => rule.standing === standing && timed).map(({ value }) => value),
      ...this.#house.rules.filter((rule) => rule.standing === standing).flatMap((rule) => this.#held(rule, output)),
      ...asked.filter(({ rule, timed }) => rule.standing === standing && !timed).map(({ value }) => value),
    ]);
  }

  /** Begins with on when its `while` begins. */
  #cycleIsOn(sentence: Extract<Rule["sentences"][number], { cycle: unknown }>): boolean {
    const on = this.#number(sentence.cycle.on) ?? Number.NaN;
    const off = this.#number(sentence.cycle.off) ?? Number.NaN;
    return (this.#now - (this.#cycles.get(sentence) ?? this.#now)) % (on + off) < on;
  }

  #held(rule: Rule, output: Output): Plain[] {
    return rule.sentences.flatMap((sentence): Plain[] => {
      if ("do" in sentence || (sentence.while && this.#truth(sentence.while) !== true)) return [];
      if ("cycle" in sentence) return sentence.cycle.outputs.includes(output.name) && this.#cycleIsOn(sentence) ? ["on"] : [];
      if ("hold" in sentence) {
        const target = sentence.hold.find((one) => one.output === output.name);
        const value = target && this.#plain(target.value);
        return value === undefined ? [] : [value];
      }
      const { keep } = sentence;
      const raises = keep.raiseWith?.outputs.includes(output.name) && this.#drives(keep, "raise") === true;
      const lowers = keep.lowerWith?.outputs.includes(output.name) && this.#drives(keep, "lower") === true;
      return raises || lowers ? ["on"] : [];
    });
  }
}

function stateOf(until: Until): Condition {
  if (until.kind !== "state") throw new RangeError(`the reference knows no ${until.kind}`);
  return until.condition;
}

function stop(running: Running): void {
  Object.assign(running, { next: -1, wakes: Number.POSITIVE_INFINITY, until: undefined, queued: 0 });
}

function both(a: Truth, b: Truth): Truth {
  if (a === false || b === false) return false;
  return a === true && b === true ? true : undefined;
}

function negated(truth: Truth): Truth {
  return truth === undefined ? undefined : !truth;
}

function restOf({ atRest, type }: Output): Plain {
  if (atRest !== undefined)
    return type.kind === "number" && typeof atRest === "number" ? toBase({ value: atRest, unit: type.unit }) : atRest;
  return type.kind === "number" ? 0 : "off";
}

/** Every expression of the lets, rules and guards, parts before wholes. */
function everyExpression({ lets, rules, guards }: House): Expression[] {
  const found: Expression[] = [];
  const visit = (value: unknown): void => {
    if (typeof value !== "object" || value === null) return;
    for (const part of Object.values(value)) visit(part);
    if ("kind" in value) found.push(value as Expression);
  };
  visit([lets, rules, guards]);
  return found;
}
