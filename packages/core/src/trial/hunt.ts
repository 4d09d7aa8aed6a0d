// A seeded search for a timeline that breaks what a house promises: an expectation that speaks of a whole trial, or what a
// guard is there for. What is found is made as short as it can be.
import {
  type Condition,
  type Expectation,
  type Expression,
  type Happening,
  type House,
  instantOf,
  isBound,
  isIn,
  type Occurrence,
  type Setting,
  skyOf,
  type Trial,
  thingsOf,
  timelineOf,
  visitExpressions,
} from "../house/index.js";
import { writeExpectation, writeNeverTogether, writePermit } from "../language/index.js";
import { calm, createPhysics, randomFrom } from "../physics/index.js";
import { clockOf, DAY, dateOfDay, HOUR, MINUTE } from "../time/index.js";
import { thingsRead } from "./reads.js";
import { passes } from "./run.js";
import { Search } from "./search.js";
import { Settled } from "./settled.js";
import { expressionOf } from "./situation.js";

/** A promise, and the shortest timeline found that breaks it. */
export interface Hunted {
  /** As one would write it. */
  readonly says: string;
  /** The trial it is from, or the guard. */
  readonly of: string;
  readonly tries: number;
  /** Fails; left out where none was found. */
  readonly broken?: Trial;
}

/** How long is hunted, and for what. */
export interface HuntOptions {
  /** @default 1 */
  readonly seed?: number;
  /** Timelines tried for each promise. @default 200 */
  readonly tries?: number;
  /** Which trials are taken. @default all */
  readonly choose?: (trial: Trial) => boolean;
  /** Called with the share done, from 0 up to 1. */
  readonly onProgress?: (share: number) => void;
}

/** A claim on all of a timeline, and the trial whose beginning and surroundings it is tried in. */
interface Promised {
  readonly of: string;
  readonly says: string;
  readonly expectation: Expectation;
  readonly base: Trial;
}

/**
 * Tries timelines against every `never`, `always` and `whenever` that speaks of a whole trial, and against each permit of a
 * guard. Of a simulated trial all are taken, and what the rooms do not move is free; of others each `whenever` and what speaks of
 * several things, outputs among them, and all sensors are free. No hand of a person is tried: it beats every rule.
 */
export function hunt(house: House, { seed = 1, tries = 200, choose = () => true, onProgress }: HuntOptions = {}): Hunted[] {
  const promises = promisesOf(house, choose);
  return promises.map((promise, index) => {
    const found = new Hunter(house, promise, seed).hunt(tries);
    onProgress?.((index + 1) / promises.length);
    return { of: promise.of, says: promise.says, ...found };
  });
}

function promisesOf(house: House, choose: (trial: Trial) => boolean): Promised[] {
  const outputs = new Set(house.outputs.map(({ name }) => name));
  const claims = house.trials.filter(choose).flatMap((base) =>
    base.expectations.flatMap((expectation): Promised[] => {
      const { claim, by, at, from } = expectation;
      if (claim === "holds" || by || at || from) return [];
      // Of one thing alone a trial speaks as it goes in that trial; of sensors alone nothing is promised.
      const spoken = [...thingsRead([expectation.condition, expectation.then])];
      const isOfSeveral = claim === "whenever" || (spoken.length > 1 && spoken.some((name) => outputs.has(name)));
      if (!base.simulated && !isOfSeveral) return [];
      return [{ of: base.name, says: writeExpectation(expectation), expectation, base }];
    }),
  );
  const [first] = house.trials;
  const beginning: Trial = {
    name: "hunted",
    from: first?.from ?? { kind: "instant", date: "2026-01-14", ms: 8 * HOUR },
    given: [],
    happenings: [],
    expectations: [],
  };
  const guarded = house.guards.flatMap(({ name: of, permits, neverTogether = [] }) => {
    const never = (says: string, condition: Condition): Promised => {
      return { of, says, expectation: { claim: "never", condition }, base: beginning };
    };
    return [
      ...permits.map((permit) =>
        never(writePermit(permit), { kind: "and", of: [permitted(house, permit), { kind: "not", of: permit.onlyWhile }] }),
      ),
      ...neverTogether.map((one) => never(writeNeverTogether(one), twoRun(one.outputs))),
    ];
  });
  return [...claims, ...guarded];
}

/** That any two of several outputs are not at rest. */
function twoRun(outputs: readonly string[]): Condition {
  const runs = (of: string): Condition => ({
    kind: "not",
    of: { kind: "is", left: { kind: "value", of }, right: { kind: "rest", of } },
  });
  const pairs = outputs.flatMap((one, place) =>
    outputs.slice(place + 1).map((other): Condition => ({ kind: "and", of: [runs(one), runs(other)] })),
  );
  return pairs.length === 1 ? (pairs[0] as Condition) : { kind: "or", of: pairs };
}

/** That an output does what only a permit allows. */
function permitted(house: House, { output, what }: House["guards"][number]["permits"][number]): Condition {
  const left: Expression = { kind: "value", of: output };
  if ("above" in what) return { kind: "above", left, right: what.above };
  if ("below" in what) return { kind: "below", left, right: what.below };
  const type = house.outputs.find(({ name }) => name === output)?.type;
  return { kind: "is", left, right: { kind: "word", word: what.word, of: type?.kind === "words" ? type.words : [] } };
}

/** Something that may happen, so many milliseconds after the beginning. */
interface Event {
  readonly after: number;
  readonly what: Occurrence;
}

interface Timeline {
  readonly from: number;
  readonly given: readonly Setting[];
  readonly events: readonly Event[];
}

/** Something that says or holds a value, and the values that can make a difference. */
interface Input {
  readonly name: string;
  readonly kind: string;
  readonly values: readonly Expression[];
}

/** How long a timeline lasts, where the trial does not say. */
const LASTS = 2 * HOUR;

class Hunter {
  readonly #house: House;
  readonly #promise: Promised;
  readonly #random: () => number;
  readonly #lasts: number;
  /** Inputs that may matter, with the values that can make a difference. */
  readonly #inputs: readonly Input[];

  constructor(house: House, promise: Promised, seed: number) {
    this.#house = house;
    this.#promise = promise;
    this.#random = randomFrom(seed);
    const { base } = promise;
    const { from, to } = timelineOf(base, skyOf(house));
    this.#lasts = base.lasts || base.to ? Math.min(to - from, DAY) : LASTS;
    this.#inputs = this.#inputsOf();
  }

  hunt(tries: number): Pick<Hunted, "tries" | "broken"> {
    for (let tried = 1; tried <= tries; tried++) {
      const timeline = this.#draw();
      if (!this.#breaks(timeline)) continue;
      return { tries: tried, broken: this.#trial(this.#shrunk(timeline)) };
    }
    return { tries };
  }

  // ── What may happen ─────────────────────────────────────────────────────────────────────────────────────────────────

  /**
   * All that the things of the promise rest on: what rules of these outputs read, what those rest on, and of what rooms
   * move all that is in them.
   */
  #relevant(simulated: ReadonlySet<string>): Set<string> {
    const { rules, guards, lets, physics } = this.#house;
    const { condition, then } = this.#promise.expectation;
    const reads = rules.map(({ sentences }) => thingsRead(sentences));
    const seen = new Set<string>();
    const follow = (name: string): void => {
      if (seen.has(name)) return;
      seen.add(name);
      for (const one of lets) if (one.name === name) thingsRead(one.value).forEach(follow);
      const moves = simulated.has(name);
      if (moves || !this.#isSensor(name)) for (const names of reads) if (names.has(name)) names.forEach(follow);
      if (moves)
        for (const effect of physics.effects) {
          const mover = "output" in effect ? effect.output : effect.kind === "leak" ? effect.sensor : undefined;
          const moved = "sensor" in effect ? effect.sensor : mover;
          if (mover !== undefined && (isIn(mover.split(".")[0], name) || moved === name)) follow(mover);
        }
      for (const guard of guards)
        for (const permit of guard.permits) if (permit.output === name) thingsRead(permit.onlyWhile).forEach(follow);
      for (const { outputs } of guards.flatMap(({ neverTogether }) => neverTogether ?? []))
        if (outputs.includes(name)) outputs.forEach(follow);
    };
    thingsRead([condition, then]).forEach(follow);
    return seen;
  }

  #isSensor(name: string): boolean {
    return this.#house.sensors.some((sensor) => sensor.name === name);
  }

  #inputsOf(): Input[] {
    const house = this.#house;
    const search = new Search(new Settled(house));
    const { settled } = search;
    const { base } = this.#promise;
    const simulated = base.simulated
      ? new Set(createPhysics(house, { from: this.#begins(), weather: house.weathers[0] ?? calm }).sensors)
      : new Set<string>();
    const relevant = this.#relevant(simulated);
    const goals = house.rules
      .flatMap(({ sentences }) => sentences)
      .flatMap((sentence) => conditionsIn(sentence))
      .map((condition) => ({ node: settled.node(condition), wanted: true }));
    return [...thingsOf(house)].flatMap(([name, { kind, thing }]): Input[] => {
      if (!relevant.has(name) || simulated.has(name) || kind === "let" || kind === "profile" || kind === "output") return [];
      const { type } = thing;
      if (type.kind === "colour" || type.kind === "time") return [];
      if (type.kind === "press") return [{ name, kind: "press", values: [] }];
      const node = settled.node({ kind: "value", of: name });
      const bases = type.kind === "words" ? type.words.map((_, place) => place) : search.valuesFor(node, goals);
      return [{ name, kind, values: bases.map((base) => expressionOf(base, type)) }];
    });
  }

  #begins(): number {
    return instantOf(this.#promise.base.from, skyOf(this.#house));
  }

  #pick<Item>(items: readonly Item[]): Item {
    return items[Math.floor(this.#random() * items.length)] as Item;
  }

  #draw(): Timeline {
    const given = this.#inputs.flatMap(({ name, kind, values }): Setting[] =>
      kind === "press" || values.length === 0 ? [] : [{ name, value: this.#pick(values) }],
    );
    const count = 1 + Math.floor(this.#random() * 8);
    const events = Array.from({ length: count }, () => {
      const after = Math.ceil((this.#random() * this.#lasts) / MINUTE) * MINUTE;
      return { after: Math.min(after, this.#lasts - MINUTE), what: this.#occurrence() };
    });
    // As often at the trial's own time as at another hour.
    const from = this.#begins() + (this.#random() < 0.5 ? 0 : Math.floor(this.#random() * 24) * HOUR);
    return { from, given, events: events.sort((a, b) => a.after - b.after) };
  }

  #occurrence(): Occurrence {
    if (this.#inputs.length === 0 || this.#random() < 0.05) return { kind: "the house restarts" };
    const { name, kind, values } = this.#pick(this.#inputs);
    if (kind === "press") return { kind: "is pressed", name };
    const value = this.#pick(values);
    if (kind === "sensor" && this.#random() < 0.1) return { kind: "falls silent", name };
    return { kind: "is", name, value };
  }

  // ── Trying and shortening ───────────────────────────────────────────────────────────────────────────────────────────

  #breaks(timeline: Timeline): boolean {
    return !passes(this.#house, this.#trial(timeline));
  }

  #trial({ from, given, events }: Timeline): Trial {
    const { base, expectation, says } = this.#promise;
    const clock = clockOf(this.#house.clock);
    const instant = (at: number): Expression => {
      const { day, ms } = clock.local(at);
      return { kind: "instant", date: dateOfDay(day), ms };
    };
    const happenings = events.map(({ after, what }): Happening => {
      const at: Expression = { kind: "time", ms: clock.local(from + after).ms };
      return { when: { at }, what };
    });
    return {
      name: "broken",
      title: says.replaceAll('"', "'"),
      from: instant(from),
      lasts: { kind: "number", value: this.#lasts, unit: "ms" },
      ...(base.simulated && { simulated: base.simulated }),
      given: [...base.given.filter((one) => !given.some(({ name }) => name === one.name)), ...given],
      happenings,
      expectations: [expectation],
    };
  }

  /** Takes away whatever is not needed, then moves to the plainest times. */
  #shrunk(timeline: Timeline): Timeline {
    let best = timeline;
    const tryOne = (next: Timeline): boolean => {
      if (!this.#breaks(next)) return false;
      best = next;
      return true;
    };
    for (let again = true; again; ) {
      again = false;
      for (const event of best.events)
        if (best.events.includes(event) && tryOne({ ...best, events: best.events.filter((one) => one !== event) })) again = true;
      for (const setting of best.given)
        if (best.given.includes(setting) && tryOne({ ...best, given: best.given.filter((one) => one !== setting) })) again = true;
    }
    if (best.from !== this.#begins()) tryOne({ ...best, from: this.#begins() });
    best.events.forEach((_, index) => {
      for (const grain of [30 * MINUTE, 10 * MINUTE, 5 * MINUTE]) {
        const events = best.events.map((event, place) =>
          place === index ? { ...event, after: Math.max(grain, Math.round(event.after / grain) * grain) } : event,
        );
        const inOrder = events.every((event, place) => place === 0 || event.after >= (events[place - 1] as Event).after);
        if (inOrder && (events[index] as Event).after < this.#lasts && tryOne({ ...best, events })) break;
      }
    });
    return best;
  }
}

function conditionsIn(holder: unknown): Condition[] {
  const found: Condition[] = [];
  visitExpressions(holder, (part) => {
    if (isBound(part) || part.kind === "between") found.push(part);
  });
  return found;
}
