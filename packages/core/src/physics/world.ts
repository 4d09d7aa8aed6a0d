// What a house's sensors are told: by the simulated rooms, or by hand. Each goes on reporting until it falls silent.
import type { Engine } from "../engine/index.js";
import type { Value } from "../house/index.js";
import type { Physics } from "./physics.js";

interface Voice {
  readonly value: Value;
  next: number;
}

export class World {
  engine: Engine;
  readonly #physics: Physics | undefined;
  readonly #every: number;
  /** Sensors told by hand; those that fell silent are known and have nothing to say. */
  readonly #voices = new Map<string, Voice | undefined>();
  /** What each simulated sensor said last. */
  readonly #said = new Map<string, Value>();
  #sample: number;

  /** `every` is how often a sensor reports, in milliseconds. */
  constructor(engine: Engine, from: number, every: number, physics?: Physics) {
    this.engine = engine;
    this.#sample = physics ? from : Number.POSITIVE_INFINITY;
    this.#every = every;
    this.#physics = physics;
  }

  /** Tells a sensor a value from an instant on, whatever its room is like. */
  tell(sensor: string, value: Value, at: number): void {
    const next = this.#voices.get(sensor)?.next;
    this.#voices.set(sensor, { value, next: next === undefined || next === at ? at + this.#every : next });
    this.engine.report(sensor, value, at);
  }

  /** Nothing more is heard of a sensor until it is told again. */
  silence(sensor: string): void {
    this.#voices.set(sensor, undefined);
  }

  /** Lets time pass up to an instant; what is due at that instant itself is left with `before`. */
  passTo(end: number, before = false): void {
    for (let next = this.#next(); before ? next < end : next <= end; next = this.#next()) this.#speak(next);
    if (!before) this.engine.advanceTo(end);
  }

  #next(): number {
    let next = this.#sample;
    for (const voice of this.#voices.values()) if (voice && voice.next < next) next = voice.next;
    // Rooms answer to outputs at once, so that with rooms every deadline is an instant of its own.
    return this.#physics ? Math.min(next, this.#physics.next, this.engine.nextDeadline) : next;
  }

  #speak(at: number): void {
    if (this.#physics) this.#speakForRooms(this.#physics, at);
    for (const [sensor, voice] of this.#voices) {
      if (voice?.next !== at) continue;
      this.engine.report(sensor, voice.value, at);
      voice.next += this.#every;
    }
    if (this.#physics) this.engine.advanceTo(at);
  }

  #speakForRooms(physics: Physics, at: number): void {
    physics.advance(at, (name) => this.engine.value(name));
    for (const sensor of physics.sensors) {
      const value = physics.reading(sensor);
      const due = physics.isContact(sensor) ? this.#said.get(sensor) !== value : at === this.#sample;
      if (value === undefined || !due || this.#voices.has(sensor)) continue;
      this.#said.set(sensor, value);
      this.engine.report(sensor, value, at);
    }
    if (at === this.#sample) this.#sample += this.#every;
  }
}
