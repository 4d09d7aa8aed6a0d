// What a house's sensors are told: by the simulated rooms, or by hand, with the faults of real ones. Each goes on
// reporting until it falls silent.
import type { Change, Engine } from "../engine/index.js";
import {
  baseOf,
  baseOfNumber,
  type House,
  misfit,
  type Recorded,
  recordedValue,
  type Sensor,
  type Value,
} from "../house/index.js";
import type { Physics } from "./physics.js";
import { randomFrom } from "./random.js";
import { RoomSensors } from "./room-sensors.js";

interface Voice {
  value: Value;
  next: number;
  every: number;
  /** A straight line that its value follows until an instant. */
  move: { from: number; to: number; begins: number; ends: number } | undefined;
  /** For how long it says something else, and what it goes back to. */
  jump: { back: Value | undefined; ends: number } | undefined;
}

/** A sensor, and the engine's number of it. */
interface Ear {
  readonly slot: Sensor;
  readonly number: number;
}

/** What is told of a world, and tells its outputs what to do: an engine, or what stands between devices and a house elsewhere. */
export type Listening = Pick<
  Engine,
  | "house"
  | "now"
  | "nextDeadline"
  | "asksObedience"
  | "sensorNumber"
  | "report"
  | "reportNumber"
  | "lose"
  | "press"
  | "set"
  | "value"
  | "confirm"
  | "advanceTo"
  | "takeChanges"
>;

/** Looks on at each instant in which something is said, and at the end of each stretch that passes. */
export interface Watcher {
  /** All that comes before the instant has happened, and nothing of it. */
  before?(at: number): void;
  /** It has happened. */
  after?(at: number): void;
  /** Outputs were told to change. */
  sent?(changes: readonly Change[]): void;
}

export class World {
  #engine: Listening;
  readonly #physics: Physics | undefined;
  readonly #every: number;
  /** Sensors told by hand; those that fell silent are known and have nothing to say. */
  readonly #voices = new Map<string, Voice | undefined>();
  /** When the next of them has something to say; NaN where that has to be looked for. */
  #voiceAt = Number.NaN;
  readonly #roomSensors: RoomSensors;
  /** The engine's number of each. */
  #numbers: readonly number[];
  readonly #ears = new Map<string, Ear>();
  /** What outputs do, as far as rooms answer to it. */
  readonly #doing = new Map<string, Value>();
  watcher: Watcher | undefined;
  readonly #stuck = new Set<string>();
  readonly #muted = new Set<string>();
  /** How often a sensor reports, where that was said: also after it was silent. */
  readonly #everyOf = new Map<string, number>();
  readonly #wobbles = new Map<string, number>();
  readonly #late = new Map<string, number>();
  readonly #refusing = new Map<string, Value | undefined>();
  /** How much later an output does what it is told, and what it is yet to do. */
  readonly #obeysLate = new Map<string, number>();
  readonly #obeying: { readonly output: string; readonly value: Value; readonly at: number }[] = [];
  /** What a recording says, in order of time, and how far it has been said. */
  #recorded: readonly Recorded[] = [];
  #place = 0;
  readonly #under: { sensor: string; value: Value; at: number }[] = [];
  readonly #random: () => number;
  #sample: number;
  /** The latest instant in which something happened. */
  #stirred = Number.NaN;
  /** Where the house asks whether an output disobeys, each one says what it does. */
  readonly #confirms: boolean;

  /** `every` is how often a sensor reports, in milliseconds. */
  constructor(engine: Listening, from: number, every: number, physics?: Physics, seed = 1) {
    this.#engine = engine;
    this.#roomSensors = new RoomSensors(engine.house, physics, from, every);
    this.#numbers = this.#roomSensors.names.map((name) => engine.sensorNumber(name));
    this.#sample = physics ? from : Number.POSITIVE_INFINITY;
    this.#every = every;
    this.#physics = physics;
    this.#random = randomFrom(seed);
    this.#confirms = engine.asksObedience;
    for (const { name } of engine.house.outputs) {
      const value = engine.value(name);
      if (value !== undefined) this.#act(name, value);
    }
  }

  get engine(): Listening {
    return this.#engine;
  }

  /** Another that goes on with the house: it says again what each output is to do. */
  set engine(engine: Listening) {
    this.#engine = engine;
    this.#ears.clear();
    this.#numbers = this.#roomSensors.names.map((name) => engine.sensorNumber(name));
  }

  /** Tells a sensor a value from an instant on, whatever its room is like. */
  tell(sensor: string, value: Value, at: number): void {
    this.happen(sensor, value, at);
    this.#speakUp(sensor, value, at);
  }

  /** What is so of a contact from now on, whatever it says: a door is open though its contact sticks. */
  happen(sensor: string, value: Value, at: number): void {
    if (!this.#physics) return;
    this.#speakForRooms(this.#physics, at);
    this.#physics.advance(at);
    this.#physics.put(sensor, value);
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
    this.#roomSensors.speakFor(sensor, true);
    return voice;
  }

  /** What a sensor reads now: told by hand, else by its room. */
  #reading(sensor: string, at: number): Value | undefined {
    const voice = this.#voices.get(sensor);
    if (voice?.move && !this.#stuck.has(sensor)) return along(voice.move, at);
    return voice?.value ?? this.#physics?.reading(sensor) ?? this.engine.value(sensor);
  }

  /** Nothing more is heard of a sensor until it is told again. */
  silence(sensor: string): void {
    this.#voices.set(sensor, undefined);
    this.#roomSensors.speakFor(sensor, true);
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
    const value = this.#reading(sensor, at);
    if (value !== undefined) this.#voice(sensor, value, at);
    this.#stuck.add(sensor);
  }

  /** A straight line to a value, until an instant. */
  move(sensor: string, to: number, at: number, ends: number): void {
    // A line that ends as the next begins has come to its end.
    const known = this.#voices.get(sensor);
    if (known?.move) this.#speakFor(sensor, known, at);
    const from = this.#reading(sensor, at);
    if (typeof from !== "number") return this.tell(sensor, to, at);
    this.#voice(sensor, from, at).move = { from, to, begins: at, ends };
  }

  /** Says something else for a time. */
  jump(sensor: string, value: Value, at: number, ends: number): void {
    const back = this.#voices.has(sensor) ? this.#reading(sensor, at) : undefined;
    this.#speakUp(sensor, value, at);
    this.#voice(sensor, value, at).jump = { back: back ?? undefined, ends };
  }

  reportEvery(sensor: string, every: number, at: number): void {
    this.#everyOf.set(sensor, every);
    const value = this.#reading(sensor, at);
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

  /** Nobody controls the outputs any more: those that say what they then do, do it. */
  loseControl(): void {
    for (const { name, withoutControl } of this.engine.house.outputs)
      if (withoutControl !== undefined && !this.#refusing.has(name)) this.#act(name, withoutControl);
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
    if (late === undefined) this.#report(sensor, said, at);
    else this.#under.push({ sensor, value: said, at: at + late });
  }

  /** By its number, which is faster: most of what is said is nothing new. */
  #report(sensor: string, value: Value, at: number): void {
    const ear = this.#ear(sensor);
    const base = misfit(ear.slot, value) === undefined ? baseOf(value, ear.slot.type) : Number.NaN;
    if (Number.isNaN(base)) this.engine.report(sensor, value, at);
    else this.engine.reportNumber(ear.number, base, at);
  }

  #ear(sensor: string): Ear {
    const known = this.#ears.get(sensor);
    if (known) return known;
    const slot = this.engine.house.sensors.find(({ name }) => name === sensor);
    if (!slot) throw new RangeError(`the house has no sensor called "${sensor}"`);
    const ear = { slot, number: this.engine.sensorNumber(sensor) };
    this.#ears.set(sensor, ear);
    return ear;
  }

  /** Lets time pass up to an instant; what is due at that instant itself is left with `before`. */
  passTo(end: number, before = false): void {
    this.#voiceAt = Number.NaN;
    for (;;) {
      const others = this.#next();
      const next = this.#physics ? Math.min(others, this.#physics.next) : others;
      if (before ? next >= end : next > end) break;
      this.#speak(next, others <= next);
    }
    if (before) return;
    this.#stir(end);
    this.#letRun(end);
    this.#obey();
    this.watcher?.after?.(end);
  }

  /** Something happens at an instant: whoever looks on sees what was just before it. */
  #stir(at: number): void {
    if (this.#stirred === at) return;
    this.#stirred = at;
    this.watcher?.before?.(at);
  }

  /** Up to an instant; a house that is down comes up when it does, and not before. */
  #letRun(at: number): void {
    if (at >= this.engine.now) this.engine.advanceTo(at);
  }

  /** When anything but people has something to do. */
  #next(): number {
    let next = Math.min(this.#sample, this.#recorded[this.#place]?.at ?? Number.POSITIVE_INFINITY);
    if (Number.isNaN(this.#voiceAt)) this.#voiceAt = this.#nextVoice();
    next = Math.min(next, this.#voiceAt);
    for (const { at } of this.#under) next = Math.min(next, at);
    for (const { at } of this.#obeying) next = Math.min(next, at);
    // Rooms answer to outputs at once, so that with rooms every deadline is an instant of its own.
    return this.#physics || this.#confirms ? Math.min(next, this.engine.nextDeadline) : next;
  }

  /** What outputs have come to do, and say that they do. */
  #obey(): void {
    if (!this.#physics && !this.#confirms) return;
    const { now } = this.engine;
    const changes = this.engine.takeChanges();
    if (changes.length > 0) this.watcher?.sent?.(changes);
    // Until now rooms had what outputs did before.
    if (changes.length > 0) this.#physics?.advance(now);
    for (const { output, value } of changes) {
      const late = this.#obeysLate.get(output);
      if (late !== undefined && value !== undefined) this.#obeying.push({ output, value, at: now + late });
      const keeps = late !== undefined || this.#refusing.has(output);
      this.#do(output, keeps ? (this.#refusing.get(output) ?? this.#doing.get(output)) : value, now);
    }
  }

  #do(output: string, value: Value | undefined, at: number): void {
    this.#act(output, value);
    if (this.#confirms && value !== undefined) this.engine.confirm(output, value, at);
  }

  /** Rooms answer to what an output does. */
  #act(output: string, value: Value | undefined): void {
    if (value === undefined) this.#doing.delete(output);
    else this.#doing.set(output, value);
    this.#physics?.put(output, value);
  }

  #nextVoice(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const voice of this.#voices.values()) {
      if (!voice) continue;
      next = Math.min(next, voice.next, voice.move?.ends ?? next, voice.jump?.ends ?? next);
    }
    return next;
  }

  #speak(at: number, isDue: boolean): void {
    const physics = this.#physics;
    // What people alone do may be nothing that a sensor tells of.
    if (isDue) this.#stir(at);
    if (physics && (at === this.#sample || at >= physics.next)) this.#speakForRooms(physics, at);
    this.#replayAt(at);
    if (this.#under.length > 0) this.#letArrive(at);
    if (this.#obeying.length > 0) this.#letObey(at);
    if (at >= this.#voiceAt) this.#letSpeak(at);
    if (this.#stirred !== at) return;
    if (physics || this.#confirms) this.#letRun(at);
    this.#obey();
    this.watcher?.after?.(at);
  }

  #letSpeak(at: number): void {
    for (const [sensor, voice] of this.#voices) if (voice) this.#speakFor(sensor, voice, at);
    this.#voiceAt = Number.NaN;
  }

  #letArrive(at: number): void {
    for (const late of this.#under.splice(0)) {
      if (late.at > at) this.#under.push(late);
      else this.#report(late.sensor, late.value, at);
    }
  }

  #letObey(at: number): void {
    for (const late of this.#obeying.splice(0)) {
      if (late.at > at) this.#obeying.push(late);
      else this.#do(late.output, late.value, at);
    }
  }

  #speakFor(sensor: string, voice: Voice, at: number): void {
    const { move, jump } = voice;
    let due = voice.next === at;
    if (jump?.ends === at) {
      voice.jump = undefined;
      if (jump.back === undefined && this.#physics?.sensors.includes(sensor)) {
        this.#voices.delete(sensor);
        this.#roomSensors.speakFor(sensor, false);
        return;
      }
      voice.value = jump.back ?? voice.value;
      due = true;
    }
    if (move && this.#stuck.has(sensor)) {
      if (at >= move.ends) voice.move = undefined;
    } else if (move) {
      voice.value = along(move, at);
      if (at >= move.ends) {
        voice.move = undefined;
        due = true;
      }
    }
    if (!due) return;
    this.#say(sensor, voice.value, at);
    if (voice.next === at) voice.next += voice.every;
  }

  #speakForRooms(physics: Physics, at: number): void {
    const samples = at === this.#sample;
    if (samples) physics.advance(at);
    else physics.letPeople(at);
    const sensors = this.#roomSensors;
    const places = samples ? sensors.all : sensors.contacts;
    const isPlain = this.#isPlain;
    for (let one = 0; one < places.length; one++) {
      const place = places[one] as number;
      if (!sensors.isDue(place, at)) continue;
      const value = physics.readingNumber(place);
      if (!sensors.says(place, value, at)) continue;
      this.#stir(at);
      if (isPlain) this.engine.reportNumber(this.#numbers[place] as number, value, at);
      else this.#sayOfRoom(physics, sensors.names[place] as string, at);
    }
    // Rooms are looked at so often though no sensor of them reports: a float tells of changes alone.
    if (samples) this.#sample = Math.min(this.#sample + this.#every, sensors.next);
  }

  /** What stands between a sensor and its house hears it in its own unit. */
  #sayOfRoom(physics: Physics, sensor: string, at: number): void {
    this.#say(sensor, physics.reading(sensor) as Value, at);
  }

  /** Whether every sensor is heard at once and says what it means. */
  get #isPlain(): boolean {
    return this.#muted.size === 0 && this.#wobbles.size === 0 && this.#late.size === 0;
  }
}

/** Where a straight line has come to. */
function along({ from, to, begins, ends }: NonNullable<Voice["move"]>, at: number): number {
  return from + Math.min(1, (at - begins) / (ends - begins)) * (to - from);
}

/** How often a sensor says that it reports, in milliseconds. */
function reportsEvery({ sensors }: House, name: string): number | undefined {
  const found = sensors.find((sensor) => sensor.name === name);
  return found?.reportsEvery && baseOfNumber(found.reportsEvery);
}
