// The plainest engine: at every second it looks at every sentence again, by the definitions of the language alone.
import type { Condition, House, Keep, Output, Permit, PersonAction, Rule, Step, Trigger, Until, Value } from "modrik";
import { clockOf } from "modrik";
import { type Plain, restOf, type Truth, Values } from "./reference-values.js";

interface Ending {
  readonly until: Until;
  /** What a moment is compared with: by what steps had set when it was asked. */
  saw: Plain | boolean;
  /** What it was between two turns. */
  stood: Plain | boolean;
}

interface Claim {
  readonly rule: Rule;
  readonly order: number;
  readonly output: string;
  readonly value: Plain;
  /** A straight line from a value, over a time, from an instant. */
  ramp: { readonly from: number; readonly over: number; readonly since: number } | undefined;
  timed: boolean;
  readonly turn: number;
  ends: number;
  readonly ending: Ending | undefined;
}

interface Event {
  readonly rule: Rule;
  readonly order: number;
  readonly sentence: Extract<Rule["sentences"][number], { do: unknown }>;
  /** What each trigger saw last: a truth, or the value whose changes it follows. */
  readonly seen: (Plain | boolean)[];
  /** The step to go on with, or -1. */
  next: number;
  wakes: number;
  waitsFor: Ending | undefined;
  queued: number;
  dose: Claim | undefined;
  /** How the dose that runs was begun. */
  dosing:
    | { readonly step: Extract<Step, { kind: "dose" }>; readonly since: number; readonly after: number; readonly rate: number }
    | undefined;
  /** What is still to be done where a dose was broken off, and nothing after it. */
  otherwise: readonly Step[] | undefined;
}

/** What is set for a time, or permanently. */
type Setting = Omit<Extract<Step, { kind: "set" }>, "kind">;

const NEVER = Number.POSITIVE_INFINITY;
const MOST_TURNS = 64;
const HAND_LASTS = 2 * 3600e3;

export class Reference extends Values {
  readonly notices: string[] = [];
  ringing = false;
  readonly #claims: Claim[] = [];
  readonly #events: Event[] = [];
  readonly #sent = new Map<string, { value: Plain; since: number }>();
  readonly #goesBack = new Map<Setting, { name: string; to: Plain; at: number; ending: Ending | undefined }>();
  readonly #applied = new Map<Step, readonly Setting[]>();
  /** When the `while` of each cycle began. */
  readonly #cycles = new Map<object, number>();
  /** When the present cycle of what follows in proportion began, and its share. */
  readonly #shares = new Map<object, { since: number; share: number }>();
  readonly #hands = new Map<string, { value: Plain; ends: number; untilMode: boolean }>();
  readonly #paused = new Map<string, number>();
  /** What may not come back yet after its longest run. */
  readonly #resting = new Map<string, { word: string; until: number }>();
  readonly #ranOut = new Set<string>();
  readonly #lastTold = new Map<Step, { at: number; heldBack: number }>();
  /** What all was before the steps of this turn. */
  #known: readonly [values: ReadonlyMap<string, Plain>, running: ReadonlyMap<string, number>] | undefined;
  /** What a person runs in this second. */
  readonly #forced = new Set<Event>();
  #turns = 0;

  constructor(house: House, start: number, tick?: number) {
    super(house, start, tick);
    for (const { name } of house.outputs) this.#sent.set(name, { value: this.values.get(name), since: start });
    const sentences = house.rules.flatMap((rule) => rule.sentences.map((sentence) => ({ rule, sentence })));
    for (const [order, { rule, sentence }] of sentences.entries()) {
      if (!("do" in sentence)) continue;
      const seen = sentence.when.map((trigger) => (trigger.kind === "changes" ? this.values.get(trigger.of) : undefined));
      const still = { next: -1, wakes: NEVER, waitsFor: undefined, queued: 0, dose: undefined, dosing: undefined };
      this.#events.push({ rule, order, sentence, seen, ...still, otherwise: undefined });
    }
  }

  /** One second: the inputs of its instant, then turns until nothing changes. */
  second(now: number, inputs: ReadonlyMap<string, Value>, actions: readonly PersonAction[] = []): void {
    this.now = now;
    // A time that a dial gives counts as it was set before the instant.
    const due = this.#events.flatMap(({ sentence }) => sentence.when.filter((trigger) => this.#isDue(trigger)));
    for (const [name, value] of inputs) {
      const type = this.house.sensors.find((sensor) => sensor.name === name)?.type;
      if (type?.kind === "press") this.pressed.add(name);
      else if (type) this.reports.set(name, { value: this.base(name, value), at: now });
      else if (this.#mayBe([[name, this.base(name, value)]])) this.#setAnew(name, this.base(name, value));
    }
    for (const action of actions) this.#act(action);
    this.#passDeadlines();
    const timeouts = this.#events.filter(({ next, wakes }) => next >= 0 && wakes <= now);
    const moments = this.#events.filter(({ rule, sentence }) => {
      const comes = sentence.when.some((trigger) => due.includes(trigger) || this.#isMoment(trigger));
      return comes && !this.#paused.has(rule.name);
    });
    for (let turn = 1; ; turn++) {
      this.#remember();
      this.#endUntil();
      const before = JSON.stringify(this.#everything());
      const edges = this.#events.filter((event) => this.#fires(event));
      const fired = this.#events.filter(
        (event) => edges.includes(event) || (turn === 1 && (moments.includes(event) || this.#forced.has(event))),
      );
      const ready = fired.filter(
        (event) =>
          (turn === 1 && this.#forced.has(event)) || !event.sentence.provided || this.truth(event.sentence.provided) === true,
      );
      const woken = this.#events.filter((event) => this.#wakes(event) || (turn === 1 && timeouts.includes(event)));
      this.#known = [new Map(this.values), new Map(this.running)];
      for (const event of woken) if (event.next >= 0) this.#run(event);
      for (const event of ready) this.#begin(event);
      const decided = this.house.outputs.map((output) => this.#decision(output));
      this.#known = undefined;
      for (const [index, { name }] of this.house.outputs.entries()) this.values.set(name, decided[index]);
      const broken = this.#events.filter(({ dose }) => dose && this.values.get(dose.output) !== "on");
      for (const event of broken) this.#breakDose(event);
      const still = fired.length + woken.length + broken.length === 0;
      if (still && JSON.stringify(this.#everything()) === before) break;
      if (turn === MOST_TURNS) {
        this.ringing = true;
        return;
      }
    }
    for (const { name } of this.house.outputs) {
      const value = this.values.get(name);
      if (this.#sent.get(name)?.value !== value) this.#send(name, value);
    }
    this.#ranOut.clear();
    this.#forced.clear();
    this.endMoments();
    this.writePast();
  }

  /** What steps have set counts from the next turn on for what rules hold; guards see it at once. */
  #beforeSteps<Found>(look: () => Found): Found {
    const kept = [this.values, this.running];
    const now = kept.map((one) => new Map<string, unknown>(one));
    const have = (from: readonly ReadonlyMap<string, unknown>[]) => {
      for (const [place, one] of (kept as Map<string, unknown>[]).entries()) {
        one.clear();
        for (const [name, value] of from[place] ?? []) one.set(name, value);
      }
    };
    have(this.#known ?? now);
    const found = look();
    have(now);
    return found;
  }

  #everything() {
    return [...this.values, ...this.memories.values(), this.#claims.length, this.#turns].map((value) => value ?? null);
  }

  // ── What is due ─────────────────────────────────────────────────────────────────────────────────────────────────────

  #passDeadlines(): void {
    const { now } = this;
    for (const [output, { ends }] of this.#hands) if (ends <= now) this.#hands.delete(output);
    for (const [rule, until] of this.#paused) if (until <= now) this.#paused.delete(rule);
    for (const claim of [...this.#claims]) if (claim.ends <= now) this.#end(claim);
    for (const [step, back] of this.#goesBack) if (back.at <= now && this.#goesBack.has(step)) this.#setAnew(back.name, back.to);
    for (const [countdown, at] of this.running) {
      if (at > now) continue;
      this.running.delete(countdown);
      this.#ranOut.add(countdown);
    }
  }

  /** The end of a ramp is a plain `set`. */
  #end(claim: Claim): void {
    if (!claim.ramp) return this.#drop(claim);
    this.#replacePlain(claim);
    Object.assign(claim, { ramp: undefined, timed: false, ends: NEVER });
  }

  /** Memories follow their signals at all times, whether somebody looks or not; cycles keep when they began. */
  #remember(): void {
    this.looking = true;
    for (const key of this.remembered) this.truth(key);
    for (const rule of this.house.rules) {
      for (const sentence of rule.sentences) {
        if ("cycle" in sentence) {
          const applies = !sentence.while || this.truth(sentence.while) === true;
          if (!applies) this.#cycles.delete(sentence);
          else if (!this.#cycles.has(sentence)) this.#cycles.set(sentence, this.now);
        }
        if (!("keep" in sentence)) continue;
        const { keep } = sentence;
        if (keep.tolerance) for (const way of ["raise", "lower"] as const) this.#drives(keep, way);
        else this.#takeShare(keep, !sentence.while || this.truth(sentence.while) === true);
      }
    }
    this.looking = false;
  }

  /** The rows of the table: from where to where a `keep` drives. */
  #drives(keep: Keep, way: "raise" | "lower"): Truth {
    const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
    const two = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const { value, tolerance } = keep;
    if (!tolerance) return false;
    const bottom: Condition = { kind: "minus", left: low, right: tolerance.below };
    const top: Condition = { kind: "plus", left: high, right: tolerance.above };
    const key = way === "raise" ? tolerance : keep;
    if (way === "raise") {
      const stops: Condition = two ? { kind: "at least", left: value, right: low } : { kind: "above", left: value, right: top };
      return this.until(key, { kind: "below", left: value, right: bottom }, stops);
    }
    const stops: Condition = two ? { kind: "at most", left: value, right: high } : { kind: "below", left: value, right: bottom };
    return this.until(key, { kind: "above", left: value, right: top }, stops);
  }

  /** Two targets of which the lower is above the upper. */
  #crosses({ at }: Keep): boolean {
    const [low, high] = "low" in at ? [this.number(at.low), this.number(at.high)] : [];
    return low !== undefined && high !== undefined && low > high;
  }

  /** Whether values may be set, together: not where they would make targets cross. */
  #mayBe(set: readonly (readonly [name: string, value: Plain])[]): boolean {
    const before = new Map(this.values);
    const keeps = this.house.rules.flatMap(({ sentences }) => sentences.flatMap((one) => ("keep" in one ? [one.keep] : [])));
    const straight = keeps.filter((keep) => !this.#crosses(keep));
    for (const [name, value] of set) if (!this.#isOutput(name) && value !== undefined) this.values.set(name, value);
    const crosses = straight.some((keep) => this.#crosses(keep));
    for (const [name, value] of before) this.values.set(name, value);
    return !crosses;
  }

  /** In proportion to the distance below one target: 0 to 1. */
  #share({ value, at, raiseWith }: Keep): number | undefined {
    const [is, target, over] = [value, "low" in at ? at.low : at, raiseWith?.proportion?.over].map((part) =>
      part ? this.number(part) : undefined,
    );
    if (is === undefined || target === undefined || over === undefined) return undefined;
    return Math.min(1, Math.max(0, (target - is) / over));
  }

  /** The share of a cycle is that at its beginning. */
  #takeShare(keep: Keep, applies: boolean): void {
    const cycle = keep.raiseWith?.proportion?.cycle;
    if (!cycle) return;
    const share = this.#share(keep);
    const kept = this.#shares.get(keep);
    if (!applies || share === undefined) this.#shares.delete(keep);
    else if (!kept || this.now >= kept.since + (this.number(cycle) ?? NEVER)) this.#shares.set(keep, { since: this.now, share });
  }

  // ── What a person does ──────────────────────────────────────────────────────────────────────────────────────────────

  #act(action: PersonAction): void {
    switch (action.kind) {
      case "switches":
        this.#switch(
          action.output,
          this.base(action.output, action.value),
          action.lasts === "until released" ? NEVER : action.lasts,
        );
        break;
      case "releases":
        this.#hands.delete(action.output);
        break;
      case "pauses":
        this.#paused.set(action.rule, action.lasts === undefined ? NEVER : this.now + action.lasts);
        for (const event of this.#events) if (event.rule.name === action.rule) this.#stop(event);
        for (const claim of [...this.#claims]) if (claim.rule.name === action.rule) this.#drop(claim);
        break;
      case "resumes":
        this.#paused.delete(action.rule);
        break;
      case "applies": {
        const { targets } = this.house.presets.find(({ name }) => name === action.preset) ?? { targets: [] };
        const set = targets.map(({ output, value }) => [output, this.plain(value)] as const);
        if (!this.#mayBe(set)) break;
        for (const [name, value] of set) {
          if (this.#isOutput(name)) this.#switch(name, value, undefined);
          else this.#setAnew(name, value);
        }
        break;
      }
      case "starts": {
        const { lasts } = this.house.countdowns.find(({ name }) => name === action.countdown) ?? {};
        this.running.set(action.countdown, this.now + (action.lasts ?? this.number(lasts as Condition) ?? Number.NaN));
        break;
      }
      case "stops":
        this.running.delete(action.countdown);
        break;
      case "runs": {
        const first = this.#events.find(({ rule }) => rule.name === action.rule);
        if (first && !this.#paused.has(action.rule)) this.#forced.add(first);
        break;
      }
      default:
        throw new RangeError(`the reference knows nobody who ${JSON.stringify(action satisfies never)}`);
    }
  }

  /** Without a time, until a mode changes that a rule of the output mentions, else for as long as a hand lasts. */
  #switch(output: string, value: Plain, lasts: number | undefined): void {
    const untilMode = lasts === undefined && this.house.modes.some(({ name }) => this.#mentions(output, name));
    this.#hands.set(output, { value, ends: untilMode ? NEVER : this.now + (lasts ?? HAND_LASTS), untilMode });
  }

  #mentions(output: string, mode: string): boolean {
    const names = new RegExp(`"(output|outputs|name)":(\\[[^\\]]*)?"${output}"`);
    const applied = this.house.presets.filter(({ targets }) => targets.some((target) => target.output === output));
    return this.house.rules.some((rule) => {
      // To release is not to ask.
      const text = JSON.stringify(rule, (_, part) => (part?.kind === "release" ? null : part));
      const claims = names.test(text) || applied.some(({ name }) => text.includes(`"preset":"${name}"`));
      return claims && (text.includes(`"of":"${mode}"`) || this.#letsOf(text).some((inner) => inner.includes(`"of":"${mode}"`)));
    });
  }

  #letsOf(text: string): string[] {
    return this.house.lets.filter(({ name }) => text.includes(`"of":"${name}"`)).map(({ value }) => JSON.stringify(value));
  }

  // ── Event rules ─────────────────────────────────────────────────────────────────────────────────────────────────────

  #isMoment(trigger: Trigger): boolean {
    if (trigger.kind === "runs out") return this.#ranOut.has(trigger.countdown);
    if (trigger.kind === "becomes true" && trigger.condition.kind === "pressed") return this.truth(trigger.condition) === true;
    return this.now === this.start && trigger.kind === "the house starts";
  }

  #isDue(trigger: Trigger): boolean {
    if (this.now === this.start) return false;
    const clock = clockOf(this.house.clock);
    const { day, ms } = clock.local(this.now);
    // A time that comes twice counts the first time; one that never comes, at the end of the gap.
    if (trigger.kind === "every") {
      const every = this.number(trigger.every) ?? NEVER;
      const before = clock.local(this.now - 1);
      const passed = before.day === day ? before.ms : -1;
      return Math.floor(ms / every) > Math.floor(passed / every) && clock.instant(day, ms) === this.now;
    }
    const time = trigger.kind === "at" ? this.number(trigger.at.time) : undefined;
    return time !== undefined && clock.instant(day, time) === this.now;
  }

  /** Became true, compared with when last known; every trigger is looked at, also of a rule that pauses. */
  #fires({ sentence, seen, rule }: Event): boolean {
    const edges = sentence.when.map((trigger, index) => {
      if (trigger.kind === "changes") return this.#changed(trigger, index, seen);
      if (trigger.kind !== "becomes true" && trigger.kind !== "begins" && trigger.kind !== "ends") return false;
      if (trigger.kind === "becomes true" && trigger.condition.kind === "pressed") return false;
      const state = this.#momentState(trigger);
      const before = seen[index];
      if (state === undefined) return false;
      seen[index] = state;
      return state && before !== true && (trigger.kind === "becomes true" || before === false);
    });
    return edges.includes(true) && !this.#paused.has(rule.name);
  }

  #momentState(moment: Extract<Trigger, { kind: "becomes true" | "begins" | "ends" }>): Truth {
    if (moment.kind === "becomes true") return this.truth(moment.condition);
    return this.isOpen(moment.schedule) === (moment.kind === "begins");
  }

  /** Into another known value; without `by`, from the last known. */
  #changed(trigger: Extract<Trigger, { kind: "changes" }>, index: number, seen: Event["seen"]): boolean {
    const value = this.thing(trigger.of);
    if (value === undefined) return false;
    const before = seen[index];
    const by = trigger.by && this.number(trigger.by);
    const far =
      before !== undefined && (by === undefined ? value !== before : Math.abs(Number(value) - Number(before)) >= by - 1e-9);
    if (before === undefined || far) seen[index] = value;
    return far;
  }

  #wakes({ next, waitsFor, dose }: Event): boolean {
    return next >= 0 && dose === undefined && waitsFor !== undefined && this.#isOver(waitsFor);
  }

  #endingOf(until: Until | undefined): Ending | undefined {
    if (!until) return undefined;
    return { until, saw: this.#saw(until), stood: this.#beforeSteps(() => this.#saw(until)) };
  }

  /** What a moment is told by: a state, or a value. */
  #saw(until: Until): Plain | boolean {
    if (until.kind === "changes") return this.thing(until.of);
    // What has run out in this instant was before it.
    if (until.kind === "runs out") return this.#ranOut.has(until.countdown) ? this.now : undefined;
    return until.kind === "begins" || until.kind === "ends" || until.kind === "becomes true"
      ? this.#momentState(until)
      : undefined;
  }

  /** A state is over when it is so, a moment when it comes; a time of day is a deadline. */
  #isOver(ending: Ending): boolean {
    const { until } = ending;
    if (until.kind === "state") return this.truth(until.condition) === true;
    if (until.kind === "at") return false;
    if (until.kind === "runs out") return this.#ranOut.has(until.countdown) && ending.saw !== this.now;
    const before = ending.saw;
    const saw = this.#saw(until);
    if (saw === undefined) return false;
    if (until.kind === "changes") {
      if (before === undefined) ending.saw = saw;
      const by = until.by && this.number(until.by);
      return before !== undefined && (by === undefined ? saw !== before : Math.abs(Number(saw) - Number(before)) >= by - 1e-9);
    }
    // What was so between two steps alone has not been.
    if (saw === ending.stood) return false;
    ending.stood = saw;
    ending.saw = saw;
    return saw === true && before !== true;
  }

  /** The next of a time of day, of today or tomorrow. */
  #deadlineOf(until: Until | undefined): number {
    if (until?.kind !== "at") return NEVER;
    const clock = clockOf(this.house.clock);
    const { day } = clock.local(this.now);
    const time = this.number(until.at.time) ?? Number.NaN;
    const instants = [day, day + 1].map((one) => clock.instant(one, time));
    return instants.find((at) => at > this.now) ?? NEVER;
  }

  #begin(event: Event): void {
    for (const other of this.#events) if (other !== event && other.rule === event.rule) this.#stop(other);
    const { sentence } = event;
    if (event.next >= 0 && sentence.ifTriggeredAgain === "ignore") return;
    if (event.next >= 0 && sentence.ifTriggeredAgain === "wait") {
      event.queued++;
      return;
    }
    this.#stop(event);
    event.next = 0;
    this.#run(event);
  }

  /** Ends the running steps; what they asked for stays, but for a dose. */
  #stop(event: Event): void {
    this.#endDose(event);
    Object.assign(event, { next: -1, wakes: NEVER, waitsFor: undefined, queued: 0, otherwise: undefined });
  }

  #run(event: Event): void {
    const { sentence } = event;
    this.#endDose(event);
    Object.assign(event, { wakes: NEVER, waitsFor: undefined });
    if (event.otherwise) {
      for (const step of event.otherwise) this.#take(step, event);
      Object.assign(event, { otherwise: undefined, next: sentence.do.length });
    }
    for (;;) {
      while (event.next >= 0 && event.next < sentence.do.length) {
        const step = sentence.do[event.next++] as Step;
        if (this.#take(step, event)) return;
      }
      event.next = -1;
      if (event.queued === 0) return;
      event.queued--;
      event.next = 0;
    }
  }

  /** What it gave is what flowed after its dead time. */
  #endDose(event: Event): void {
    const { dose, dosing } = event;
    if (!dose || !dosing) return;
    const flowed = (Math.max(0, this.now - dosing.since - dosing.after) / 1000) * dosing.rate;
    this.lastAmounts.set(dose.output, this.now < dose.ends ? flowed : this.number(dosing.step.amount));
    this.#drop(dose);
    Object.assign(event, { dose: undefined, dosing: undefined });
  }

  /** It is interrupted: the steps of its `otherwise` come with the next turn, and end all. */
  #breakDose(event: Event): void {
    const otherwise = event.dosing?.step.otherwise ?? [];
    this.#endDose(event);
    Object.assign(event, {
      otherwise,
      wakes: this.now,
      waitsFor: { until: { kind: "state", condition: so }, saw: undefined, stood: undefined },
    });
  }

  /** Takes one step; true when those after it have to wait. */
  #take(step: Step, event: Event): boolean {
    if (event.rule.standing === "watch" && !["tell", "if", "wait", "wait until"].includes(step.kind)) return false;
    switch (step.kind) {
      case "tell":
        this.#tell(step);
        return false;
      case "toggle":
        this.#ask(event, step.name, this.values.get(step.name) === "on" ? "off" : "on");
        return false;
      case "raise":
      case "lower": {
        const by = this.number(step.by) ?? Number.NaN;
        const value = Number(this.values.get(step.name)) + (step.kind === "raise" ? by : -by);
        const clamped = this.#clamped(step.name, value);
        if (this.#isOutput(step.name)) this.#ask(event, step.name, clamped);
        else if (this.#mayBe([[step.name, clamped]])) this.#setAnew(step.name, clamped);
        return false;
      }
      case "release":
        for (const claim of [...this.#claims]) if (claim.output === step.output && !claim.timed) this.#drop(claim);
        this.#decideNow(step.output);
        return false;
      case "apply": {
        const settings = this.#settingsOf(step);
        const set = settings.map(({ name, to }) => [name, this.#clamped(name, this.plain(to))] as const);
        if (!this.#mayBe(set)) return false;
        // What it lasts until is what was so before the first of it was set.
        const ending = this.#endingOf(step.until);
        const over = this.#isOverAlready(ending);
        for (const setting of settings) this.#set(setting, event, ending && { ...ending }, over);
        return false;
      }
      case "start": {
        const { lasts } = this.house.countdowns.find(({ name }) => name === step.countdown) ?? {};
        this.running.set(step.countdown, this.now + (this.number((step.with ?? lasts) as Condition) ?? Number.NaN));
        return false;
      }
      case "stop":
        this.running.delete(step.countdown);
        return false;
      case "if": {
        const branch = step.branches.find((one) => this.truth(one.if) === true)?.do ?? step.else;
        for (const inner of branch) this.#take(inner, event);
        return false;
      }
      case "set":
        if (this.#mayBe([[step.name, this.#clamped(step.name, this.plain(step.to))]])) this.#set(step, event);
        return false;
      case "ramp": {
        const [from, to, over] = [step.from, step.to, step.over].map((part) => this.number(part)) as [number, number, number];
        for (const output of step.outputs)
          this.#ask(event, output, to, { timed: true, ends: this.now + over, ramp: { from, over, since: this.now } });
        event.wakes = this.now + over;
        return true;
      }
      case "dose": {
        const { delivers } = this.house.outputs.find(({ name }) => name === step.output) as Output;
        const [amount, rate, after] = [step.amount, delivers?.rate, delivers?.after].map((part) =>
          this.number(part as Condition),
        );
        event.wakes = this.now + (after as number) + ((amount as number) / (rate as number)) * 1000;
        event.dose = this.#ask(event, step.output, "on", { timed: true, ends: event.wakes });
        event.dosing = { step, since: this.now, after: after as number, rate: rate as number };
        return true;
      }
      case "wait":
        event.wakes = this.now + (this.number(step.for) ?? 0);
        return true;
      case "wait until": {
        const ending = this.#endingOf(step.until) as Ending;
        if (ending.until.kind === "state" && this.#isOver(ending)) return false;
        event.waitsFor = ending;
        const limit = step.atMost ? this.now + (this.number(step.atMost) ?? 0) : NEVER;
        event.wakes = Math.min(limit, this.#deadlineOf(step.until));
        return true;
      }
      default:
        throw new RangeError(`the reference knows no step ${step.kind}`);
    }
  }

  /** One that is held back is counted in the next. */
  #tell(step: Extract<Step, { kind: "tell" }>): void {
    const last = this.#lastTold.get(step);
    const rest = step.onceIn && this.number(step.onceIn);
    if (last && rest !== undefined && this.now < last.at + rest) {
      last.heldBack += 1;
      return;
    }
    const text = step.text.filter((part) => typeof part === "string").join("");
    this.notices.push(last?.heldBack ? `${text} (${last.heldBack} more)` : text);
    this.#lastTold.set(step, { at: this.now, heldBack: 0 });
  }

  #settingsOf(step: Extract<Step, { kind: "apply" }>): readonly Setting[] {
    const { targets } = this.house.presets.find(({ name }) => name === step.preset) ?? { targets: [] };
    const settings =
      this.#applied.get(step) ?? targets.map(({ output, value }) => ({ ...step, name: output, to: value }) satisfies Setting);
    this.#applied.set(step, settings);
    return settings;
  }

  #isOverAlready(ending: Ending | undefined): boolean {
    return ending?.until.kind === "state" && this.#isOver(ending);
  }

  #set(step: Setting, event: Event, ending = this.#endingOf(step.until), over = this.#isOverAlready(ending)): void {
    const value = this.plain(step.to);
    if (value === undefined) return;
    const [lasts, most] = [step.for, step.atMost].map((time) => (time ? this.now + (this.number(time) ?? Number.NaN) : NEVER));
    const ends = Math.min(lasts as number, most as number, this.#deadlineOf(step.until));
    const timed = step.for !== undefined || step.until !== undefined;
    if (this.#isOutput(step.name)) {
      if (over) this.#dropOwn(event, step.name);
      else this.#ask(event, step.name, value, { timed, ends, ending });
      return;
    }
    if (over) return;
    const former = this.#goesBack.get(step)?.to ?? this.values.get(step.name);
    this.#setAnew(step.name, this.#clamped(step.name, value));
    if (timed) this.#goesBack.set(step, { name: step.name, to: former, at: ends, ending });
  }

  #ask({ rule, order }: Event, output: string, value: Plain, how: Partial<Claim> = {}): Claim {
    this.#dropOwn({ order }, output);
    const usual = { timed: false, ends: NEVER, ramp: undefined, ending: undefined };
    const claim: Claim = { rule, order, output, value, turn: ++this.#turns, ...usual, ...how };
    if (!claim.timed) this.#replacePlain(claim);
    this.#claims.push(claim);
    this.#decideNow(output);
    return claim;
  }

  /** A plain `set` lasts until a later one of the same standing. */
  #replacePlain({ output, rule }: Claim): void {
    for (const claim of [...this.#claims])
      if (!claim.timed && claim.output === output && claim.rule.standing === rule.standing) this.#drop(claim);
  }

  #dropOwn({ order }: Pick<Event, "order">, output: string): void {
    const own = this.#claims.find((claim) => claim.order === order && claim.output === output);
    if (own) this.#drop(own);
  }

  /** The steps after it see what it has become. */
  #decideNow(output: string): void {
    this.values.set(output, this.#decision(this.house.outputs.find(({ name }) => name === output) as Output));
  }

  #drop(claim: Claim): void {
    if (this.#claims.includes(claim)) this.#claims.splice(this.#claims.indexOf(claim), 1);
  }

  /** What was asked for until something is so, and is so now. */
  #endUntil(): void {
    for (const claim of [...this.#claims]) if (claim.ending && this.#isOver(claim.ending)) this.#drop(claim);
    for (const [step, { name, to, ending }] of [...this.#goesBack]) {
      if (ending && this.#goesBack.has(step) && this.#isOver(ending)) this.#setAnew(name, to);
    }
    this.#remember();
  }

  #setAnew(name: string, value: Plain): void {
    for (const [step, back] of this.#goesBack) if (back.name === name) this.#goesBack.delete(step);
    const changed = this.values.get(name) !== value;
    this.values.set(name, value);
    if (!changed || !this.house.modes.some((mode) => mode.name === name)) return;
    for (const [output, { untilMode }] of this.#hands) if (untilMode && this.#mentions(output, name)) this.#hands.delete(output);
  }

  #isOutput(name: string): boolean {
    return this.house.outputs.some((output) => output.name === name);
  }

  #clamped(name: string, value: Plain): Plain {
    const range = [...this.house.dials, ...this.house.outputs].find((thing) => thing.name === name)?.range;
    if (!range || typeof value !== "number") return value;
    const [low, high] = range.map((end) => this.base(name, end) as number) as [number, number];
    return Math.min(high, Math.max(low, value));
  }

  // ── Outputs ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  #decision(output: Output): Plain {
    const company = this.house.guards.flatMap(({ neverTogether }) => neverTogether ?? []);
    if (company.some((one) => one.outputs.includes(output.name) && this.#isKeptApart(output.name, one))) return restOf(output);
    const lacking = this.#lacking(output);
    const refuses = (value: Plain) => lacking.some(({ what }) => "word" in what && what.word === value);
    const wishes = this.#wishes(output).flatMap(({ value }) => (refuses(value) ? [] : [value]));
    const had = this.#sent.get(output.name)?.value;
    let wanted: Plain = wishes.length > 0 ? wishes[0] : (restOf(output) ?? had);
    if (wishes.length === 0 && refuses(wanted) && output.type.kind === "words")
      wanted = output.type.words.find((word) => !refuses(word)) ?? wanted;
    return this.#protected(output, this.#cut(wanted, lacking), refuses(had));
  }

  #lacking(output: Output): Permit[] {
    const permits = this.house.guards.flatMap((guard) => guard.permits).filter((permit) => permit.output === output.name);
    return permits.filter(({ onlyWhile }) => this.truth(onlyWhile) !== true);
  }

  /** The strongest of those that are asked to run takes effect, once all others have rested long enough. */
  #isKeptApart(name: string, { outputs, apart }: NonNullable<House["guards"][number]["neverTogether"]>[number]): boolean {
    const outputOf = (one: string) => this.house.outputs.find((output) => output.name === one) as Output;
    const ranks = outputs.map((one) => this.#rankOfRun(outputOf(one)));
    const strongest = Math.min(...ranks);
    if (strongest === NEVER) return false;
    if (outputs[ranks.indexOf(strongest)] !== name) return true;
    if (this.#sent.get(name)?.value !== restOf(outputOf(name))) return false;
    const lasts = apart ? (this.number(apart) ?? 0) : 0;
    return outputs.some((one) => {
      const sent = this.#sent.get(one);
      return one !== name && this.now < (sent?.value === restOf(outputOf(one)) ? (sent?.since ?? 0) : this.now) + lasts;
    });
  }

  #rankOfRun(output: Output): number {
    const lacking = this.#lacking(output);
    const refused = (value: Plain) => lacking.some(({ what }) => "word" in what && what.word === value);
    const wish = this.#wishes(output).find(({ value }) => !refused(value));
    if (wish?.ramps) return wish.rank;
    return wish === undefined || this.#cut(wish.value, lacking) === restOf(output) ? NEVER : wish.rank;
  }

  /** A run that lasted its longest ends and rests; another change waits until the least time is over. */
  #protected({ name, atLeast, atMost }: Output, wanted: Plain, refused: boolean): Plain {
    const { value: had, since } = this.#sent.get(name) as { value: Plain; since: number };
    const longest = atMost.find(({ word }) => word === had);
    if (longest && wanted === had && this.now >= since + (this.number(longest.duration) ?? NEVER)) return longest.then.word;
    const rests = this.#resting.get(name);
    if (rests && this.now < rests.until && wanted === rests.word && wanted !== had) return had;
    const least = atLeast.find(({ word }) => word === had);
    const lasts = least && this.number(least.duration);
    return wanted !== had && lasts !== undefined && this.now < since + lasts && !refused ? had : wanted;
  }

  /** A run that lasted its longest, whatever ended it, is followed by its rest. */
  #send(name: string, value: Plain): void {
    const { value: had, since } = this.#sent.get(name) as { value: Plain; since: number };
    const longest = this.house.outputs.find((output) => output.name === name)?.atMost.find(({ word }) => word === had);
    if (longest && this.now >= since + (this.number(longest.duration) ?? NEVER))
      this.#resting.set(name, { word: longest.word, until: this.now + (this.number(longest.then.duration) ?? 0) });
    this.#sent.set(name, { value, since: this.now });
  }

  #cut(value: Plain, lacking: readonly Permit[]): Plain {
    let cut = value;
    for (const { what } of lacking) {
      if (typeof cut !== "number") return cut;
      if ("above" in what) cut = Math.min(cut, this.number(what.above) ?? cut);
      if ("below" in what) cut = Math.max(cut, this.number(what.below) ?? cut);
    }
    return cut;
  }

  /** A hand; then standing by standing: asked for a time, the later first; held, the first written first; asked plainly. */
  #wishes(output: Output): { value: Plain; rank: number; ramps: boolean }[] {
    const asked = this.#claims.filter((claim) => claim.output === output.name).sort((a, b) => b.turn - a.turn);
    const hand = this.#hands.get(output.name);
    const of = (standing: string, wanted: boolean) =>
      asked
        .filter(({ rule, timed }) => rule.standing === standing && timed === wanted)
        .map((claim) => ({ value: this.#asks(claim), ramps: claim.ramp !== undefined }));
    const still = (value: Plain) => ({ value, ramps: false });
    const rules = this.house.rules.filter(({ name }) => !this.#paused.has(name));
    const byRule = (["urgent", "plain", "background"] as const).flatMap((standing, place) =>
      [
        of(standing, true),
        this.#beforeSteps(() =>
          rules.filter((rule) => rule.standing === standing).flatMap((rule) => this.#held(rule, output).map(still)),
        ),
        of(standing, false),
      ].flatMap((wishes, kind) => wishes.map((wish) => ({ ...wish, rank: 3 * place + kind }))),
    );
    return hand ? [{ ...still(hand.value), rank: -1 }, ...byRule] : byRule;
  }

  #asks({ value, ramp }: Claim): Plain {
    if (!ramp) return value;
    return ramp.from + ((Number(value) - ramp.from) * (this.now - ramp.since)) / ramp.over;
  }

  /** Begins with on when its `while` begins. */
  #cycleIsOn(sentence: Extract<Rule["sentences"][number], { cycle: unknown }>): boolean {
    const on = this.number(sentence.cycle.on) ?? Number.NaN;
    const off = this.number(sentence.cycle.off) ?? Number.NaN;
    return (this.now - (this.#cycles.get(sentence) ?? this.now)) % (on + off) < on;
  }

  #held(rule: Rule, output: Output): Plain[] {
    return rule.sentences.flatMap((sentence): Plain[] => {
      if ("do" in sentence || (sentence.while && this.truth(sentence.while) !== true)) return [];
      if ("cycle" in sentence)
        return sentence.cycle.outputs.includes(output.name) && this.#cycleIsOn(sentence) ? [states(output).on] : [];
      if ("hold" in sentence) {
        const target = sentence.hold.find((one) => one.output === output.name);
        const value = target && this.plain(target.value);
        return value === undefined ? [] : [value];
      }
      const { keep } = sentence;
      if (!keep.tolerance) return keep.raiseWith?.outputs.includes(output.name) ? this.#inProportion(keep, output) : [];
      if (this.#crosses(keep)) return [];
      const raises = keep.raiseWith?.outputs.includes(output.name) ? this.#drives(keep, "raise") : undefined;
      const lowers = keep.lowerWith?.outputs.includes(output.name) ? this.#drives(keep, "lower") : undefined;
      const { on, off } = states(output);
      if (raises === true || lowers === true) return [on];
      // One that drives alone asks for its off part too, where that is not what the output does at rest.
      const isAlone = keep.raiseWith === undefined || keep.lowerWith === undefined;
      return isAlone && (raises ?? lowers) === false && restOf(output) !== off ? [off] : [];
    });
  }

  /** Nothing of it is asked as well. */
  #inProportion(keep: Keep, { range }: Output): Plain[] {
    const share = this.#share(keep);
    if (share === undefined) return [];
    const cycle = keep.raiseWith?.proportion?.cycle;
    if (!cycle) return [(range?.[0] ?? 0) + share * ((range?.[1] ?? 100) - (range?.[0] ?? 0))];
    const taken = this.#shares.get(keep);
    if (!taken) return [];
    const rounded = taken.share < 0.04 ? 0 : taken.share > 0.96 ? 1 : taken.share;
    return [this.now - taken.since < rounded * (this.number(cycle) ?? 0) ? "on" : "off"];
  }
}

/** What an output is while it is on, and while it is off. */
function states({ type, range }: Output): { readonly on: Plain; readonly off: Plain } {
  if (type.kind !== "words") return { on: range?.[1] ?? 100, off: range?.[0] ?? 0 };
  const [first = "", second = ""] = type.words;
  return type.words.includes("on") ? { on: "on", off: "off" } : { on: first, off: second };
}

/** What is so at once. */
const so: Condition = { kind: "not", of: { kind: "is", left: { kind: "time", ms: 0 }, right: { kind: "time", ms: 1 } } };
