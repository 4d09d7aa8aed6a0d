// What a house's sensors are told: by the simulated rooms, or by hand, with the faults of real ones. Each goes on
// reporting until it falls silent.
import type { Engine } from "../engine/index.js";
import { baseOfNumber, type House, type Recorded, recordedValue, type Value } from "../house/index.js";
import type { Physics } from "./physics.js";
import { randomFrom } from "./random.js";

interface Voice {
  value: Value;
  next: number;
  every: number;
  /** A straight line that its value follows until an instant. */
  move: { from: number; to: number; begins: number; ends: number } | undefined;
  /** For how long it says something else, and what it goes back to. */
  jump: { back: Value | undefined; ends: number } | undefined;
}

export class World {
  engine: Engine;
  readonly #physics: Physics | undefined;
  readonly #every: number;
  /** Sensors told by hand; those that fell silent are known and have nothing to say. */
  readonly #voices = new Map<string, Voice | undefined>();
  /** What each simulated sensor said last. */
  readonly #said = new Map<string, Value>();
  /** What is so of a sensor that is told by hand, whatever it says: a door is open though its contact sticks. */
  readonly #true = new Map<string, Value>();
  readonly #stuck = new Set<string>();
  readonly #muted = new Set<string>();
  /** How often a sensor reports, where that was said: also after it was silent. */
  readonly #everyOf = new Map<string, number>();
  readonly #wobbles = new Map<string, number>();
  readonly #late = new Map<string, number>();
  readonly #refusing = new Map<string, Value | undefined>();
  /** How much later an output does what it is told, what it does, and what it is yet to do. */
  readonly #obeysLate = new Map<string, number>();
  readonly #does = new Map<string, Value>();
  readonly #obeying: { readonly output: string; readonly value: Value; readonly at: number }[] = [];
  /** What a recording says, in order of time, and how far it has been said. */
  #recorded: readonly Recorded[] = [];
  #place = 0;
  readonly #under: { sensor: string; value: Value; at: number }[] = [];
  readonly #random: () => number;
  #sample: number;
  /** Where the house asks whether an output disobeys, each one says what it does. */
  readonly #confirms: boolean;

  /** `every` is how often a sensor reports, in milliseconds. */
  constructor(engine: Engine, from: number, every: number, physics?: Physics, seed = 1) {
    this.engine = engine;
    this.#sample = physics ? from : Number.POSITIVE_INFINITY;
    this.#every = every;
    this.#physics = physics;
    this.#random = randomFrom(seed);
    this.#confirms = engine.asksObedience;
    if (!this.#confirms) return;
    for (const { name } of engine.house.outputs) {
      const value = engine.value(name);
      if (value !== undefined) this.#does.set(name, value);
    }
  }

  /** Tells a sensor a value from an instant on, whatever its room is like. */
  tell(sensor: string, value: Value, at: number): void {
    this.#true.set(sensor, value);
    this.#speakUp(sensor, value, at);
  }

  #speakUp(sensor: string, value: Value, at: number): void {
    if (this.#stuck.has(sensor)) return;
    const voice = this.#voice(sensor, value, at);
    Object.assign(voice, { value, move: undefined, jump: undefined });
    if (voice.next === at) voice.next += voice.every;
    this.#say(sensor, value, at);
  }

  #voice(sensor: string, value: Value, at: number): Voice {
    const known = this.#voices.get(sensor);
    if (known) return known;
    const every = this.#everyOf.get(sensor) ?? reportsEvery(this.engine.house, sensor) ?? this.#every;
    const voice: Voice = { value, next: at + every, every, move: undefined, jump: undefined };
    this.#voices.set(sensor, voice);
    return voice;
  }

  /** What a sensor reads now: told by hand, else by its room. */
  #reading(sensor: string): Value | undefined {
    return this.#voices.get(sensor)?.value ?? this.#physics?.reading(sensor) ?? this.engine.value(sensor);
  }

  /** Nothing more is heard of a sensor until it is told again. */
  silence(sensor: string): void {
    this.#voices.set(sensor, undefined);
  }

  /** A sensor is unknown, and stays so until it is told again. */
  forget(sensor: string, at: number): void {
    this.silence(sensor);
    this.engine.lose(sensor, at);
  }

  /** Sensors whose zone gives no sign of life: what they say is not heard, and they are unknown. */
  mute(sensors: readonly string[], at: number): void {
    for (const sensor of sensors) {
      this.#muted.add(sensor);
      this.engine.lose(sensor, at);
    }
  }

  /** They are heard again, from their next report on. */
  unmute(sensors: readonly string[]): void {
    for (const sensor of sensors) this.#muted.delete(sensor);
  }

  /** A sensor keeps saying what it last said, whatever it is told. */
  stick(sensor: string, at: number): void {
    const value = this.#reading(sensor);
    if (value !== undefined) this.#voice(sensor, value, at);
    this.#stuck.add(sensor);
  }

  /** A straight line to a value, until an instant. */
  move(sensor: string, to: number, at: number, ends: number): void {
    // A line that ends as the next begins has come to its end.
    const known = this.#voices.get(sensor);
    if (known?.move) this.#speakFor(sensor, known, at);
    const from = this.#reading(sensor);
    if (typeof from !== "number") return this.tell(sensor, to, at);
    this.#voice(sensor, from, at).move = { from, to, begins: at, ends };
  }

  /** Says something else for a time. */
  jump(sensor: string, value: Value, at: number, ends: number): void {
    const back = this.#voices.has(sensor) ? this.#reading(sensor) : undefined;
    this.#speakUp(sensor, value, at);
    this.#voice(sensor, value, at).jump = { back: back ?? undefined, ends };
  }

  reportEvery(sensor: string, every: number, at: number): void {
    this.#everyOf.set(sensor, every);
    const value = this.#reading(sensor);
    if (value === undefined) return;
    const voice = this.#voice(sensor, value, at);
    voice.every = every;
    voice.next = at + every;
  }

  /** Seeded noise of so much to either side. */
  wobble(sensor: string, by: number): void {
    this.#wobbles.set(sensor, by);
  }

  arriveLate(sensor: string, by: number): void {
    this.#late.set(sensor, by);
  }

  /** An output does not obey from now on. */
  refuse(output: string): void {
    this.#refusing.set(output, this.engine.value(output));
  }

  /** An output does what it is told so much later, from now on. */
  obeyLate(output: string, by: number): void {
    this.#obeysLate.set(output, by);
  }

  /** Says what a recording says from now on, as it was reported and no more often. */
  replay(recorded: readonly Recorded[], from: number): void {
    const next = recorded.findIndex(({ at }) => at >= from);
    this.#recorded = next < 0 ? [] : recorded;
    this.#place = Math.max(0, next);
  }

  #replayAt(at: number): void {
    for (let record = this.#recorded[this.#place]; record?.at === at; record = this.#recorded[++this.#place]) {
      const { name } = record;
      const value = recordedValue(this.engine.house, record);
      const known = this.engine.house.sensors.find((sensor) => sensor.name === name);
      if (known?.type.kind === "press") this.engine.press(name, at);
      else if (known && !this.#muted.has(name)) this.engine.report(name, value ?? Number.NaN, at);
      else if (value !== undefined && this.#isSetting(name)) this.engine.set(name, value, at);
    }
  }

  /** What outputs did is in recordings too, and is for the rules to do. */
  #isSetting(name: string): boolean {
    const { dials, modes } = this.engine.house;
    return dials.some((dial) => dial.name === name) || modes.some((mode) => mode.name === name);
  }

  #say(sensor: string, value: Value, at: number): void {
    if (this.#muted.has(sensor)) return;
    const wobble = this.#wobbles.get(sensor);
    const said = wobble !== undefined && typeof value === "number" ? value + (2 * this.#random() - 1) * wobble : value;
    const late = this.#late.get(sensor);
    if (late === undefined) this.engine.report(sensor, said, at);
    else this.#under.push({ sensor, value: said, at: at + late });
  }

  /** Lets time pass up to an instant; what is due at that instant itself is left with `before`. */
  passTo(end: number, before = false): void {
    for (let next = this.#next(); before ? next < end : next <= end; next = this.#next()) this.#speak(next);
    if (!before) this.#letRun(end);
    this.#confirm();
  }

  /** Up to an instant; a house that is down comes up when it does, and not before. */
  #letRun(at: number): void {
    if (at >= this.engine.now) this.engine.advanceTo(at);
  }

  #next(): number {
    let next = Math.min(this.#sample, this.#recorded[this.#place]?.at ?? Number.POSITIVE_INFINITY);
    for (const voice of this.#voices.values()) {
      if (!voice) continue;
      next = Math.min(next, voice.next, voice.move?.ends ?? next, voice.jump?.ends ?? next);
    }
    for (const { at } of this.#under) next = Math.min(next, at);
    for (const { at } of this.#obeying) next = Math.min(next, at);
    // Rooms answer to outputs at once, so that with rooms every deadline is an instant of its own.
    return this.#physics || this.#confirms ? Math.min(next, this.#physics?.next ?? next, this.engine.nextDeadline) : next;
  }

  #confirm(): void {
    if (!this.#confirms) return;
    for (const { output, value } of this.engine.takeChanges()) {
      const late = this.#obeysLate.get(output);
      const { now } = this.engine;
      if (late !== undefined && value !== undefined) this.#obeying.push({ output, value, at: now + late });
      const keeps = late !== undefined || this.#refusing.has(output);
      const does = keeps ? (this.#refusing.get(output) ?? this.#does.get(output)) : value;
      if (does === undefined) continue;
      this.#does.set(output, does);
      this.engine.confirm(output, does, now);
    }
  }

  #speak(at: number): void {
    if (this.#physics) this.#speakForRooms(this.#physics, at);
    this.#replayAt(at);
    for (const late of this.#under.splice(0)) {
      if (late.at > at) this.#under.push(late);
      else this.engine.report(late.sensor, late.value, at);
    }
    for (const late of this.#obeying.splice(0)) {
      if (late.at > at) this.#obeying.push(late);
      else {
        this.#does.set(late.output, late.value);
        this.engine.confirm(late.output, late.value, at);
      }
    }
    for (const [sensor, voice] of this.#voices) if (voice) this.#speakFor(sensor, voice, at);
    if (this.#physics || this.#confirms) this.#letRun(at);
    this.#confirm();
  }

  #speakFor(sensor: string, voice: Voice, at: number): void {
    const { move, jump } = voice;
    let due = voice.next === at;
    if (jump?.ends === at) {
      voice.jump = undefined;
      if (jump.back === undefined && this.#physics?.sensors.includes(sensor)) {
        this.#voices.delete(sensor);
        return;
      }
      voice.value = jump.back ?? voice.value;
      due = true;
    }
    if (move && this.#stuck.has(sensor)) {
      if (at >= move.ends) voice.move = undefined;
    } else if (move) {
      const share = Math.min(1, (at - move.begins) / (move.ends - move.begins));
      voice.value = move.from + share * (move.to - move.from);
      if (at >= move.ends) {
        voice.move = undefined;
        due = true;
      }
    }
    if (!due) return;
    this.#say(sensor, voice.value, at);
    if (voice.next === at) voice.next += voice.every;
  }

  /** What a door is, and what an output does, whatever the rules have heard of it. */
  #truthOf(name: string, physics: Physics): Value | undefined {
    if (this.#refusing.has(name)) return this.#refusing.get(name);
    return this.#true.get(name) ?? physics.reading(name) ?? this.#does.get(name) ?? this.engine.value(name);
  }

  #speakForRooms(physics: Physics, at: number): void {
    physics.advance(at, (name) => this.#truthOf(name, physics));
    for (const sensor of physics.sensors) {
      const value = physics.reading(sensor);
      const due = physics.isContact(sensor) ? this.#said.get(sensor) !== value : at === this.#sample;
      if (value === undefined || !due || this.#voices.has(sensor)) continue;
      this.#said.set(sensor, value);
      this.#say(sensor, value, at);
    }
    if (at === this.#sample) this.#sample += this.#every;
  }
}

/** How often a sensor says that it reports, in milliseconds. */
function reportsEvery({ sensors }: House, name: string): number | undefined {
  const found = sensors.find((sensor) => sensor.name === name);
  return found?.reportsEvery && baseOfNumber(found.reportsEvery);
}
