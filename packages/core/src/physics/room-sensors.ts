// The sensors that rooms move: when each is looked at, and whether what it reads is worth a report. In lists by their places,
// as all of them are looked at every minute of a year.
import { baseOfNumber, type House } from "../house/index.js";
import type { Physics } from "./physics.js";

export class RoomSensors {
  readonly names: readonly string[];
  /** The places of all, and of those that tell of changes only. */
  readonly all: readonly number[];
  readonly contacts: readonly number[];
  readonly #isContact: Uint8Array;
  /** Somebody else speaks for it: what its room is like is not said. */
  readonly #isSpokenFor: Uint8Array;
  /** What each said last, as a number, and when it says it again though it is the same. */
  readonly #said: Float64Array;
  readonly #again: Float64Array;
  /** When each is next looked at, and how often. */
  readonly #next: Float64Array;
  readonly #every: Float64Array;
  /** It speaks of changes by so much alone, and so often that it is there; 0 where it speaks whenever it is looked at. */
  readonly #band: Float64Array;
  readonly #sign: Float64Array;

  /** `every` is how often one is looked at that does not say so itself, in milliseconds. */
  constructor(house: House, physics: Physics | undefined, from: number, every: number) {
    this.names = physics?.sensors ?? [];
    const habits = this.names.map((name) => habitsOf(house, name, every));
    this.#isContact = Uint8Array.from(this.names, (name) => (physics?.isContact(name) ? 1 : 0));
    this.all = [...this.names.keys()];
    this.contacts = this.all.filter((place) => this.#isContact[place] === 1);
    this.#isSpokenFor = new Uint8Array(this.names.length);
    this.#said = new Float64Array(this.names.length).fill(Number.NaN);
    this.#again = new Float64Array(this.names.length).fill(Number.NEGATIVE_INFINITY);
    this.#next = new Float64Array(this.names.length).fill(from);
    this.#every = Float64Array.from(habits, (habit) => habit.every);
    this.#band = Float64Array.from(habits, ({ band }) => band);
    this.#sign = Float64Array.from(habits, ({ sign }) => sign);
  }

  /** Whether somebody else speaks for a sensor from now on. */
  speakFor(sensor: string, isSpokenFor: boolean): void {
    const place = this.names.indexOf(sensor);
    if (place >= 0) this.#isSpokenFor[place] = isSpokenFor ? 1 : 0;
  }

  /** Whether one is to be looked at, a contact always; then it is not for a while. */
  isDue(place: number, at: number): boolean {
    if (this.#isContact[place] === 1) return true;
    if (at < (this.#next[place] as number)) return false;
    this.#next[place] = at + (this.#every[place] as number);
    return true;
  }

  /** When the first is next looked at, contacts apart. */
  get next(): number {
    let next = Number.POSITIVE_INFINITY;
    for (let place = 0; place < this.#next.length; place++) {
      const own = this.#next[place] as number;
      if (own < next && this.#isContact[place] === 0) next = own;
    }
    return next;
  }

  /**
   * Whether one says what it reads now, and then has said it. A contact tells of changes, another sensor of changes by its
   * band and that it is still there; one without a band whatever it reads.
   */
  says(place: number, value: number, at: number): boolean {
    const said = this.#said[place] as number;
    const band = this.#band[place] as number;
    const isNews =
      this.#isContact[place] === 1
        ? value !== said
        : band === 0 || at >= (this.#again[place] as number) || !(Math.abs(value - said) < band - 1e-9);
    if (!isNews || this.#isSpokenFor[place] === 1) return false;
    this.#said[place] = value;
    this.#again[place] = at + (this.#sign[place] as number);
    return true;
  }
}

/** How a sensor of a room reports: as its declaration says, else each time that rooms are looked at. */
function habitsOf({ sensors }: House, name: string, usual: number) {
  const sensor = sensors.find((one) => one.name === name);
  const band = baseOfNumber(sensor?.reportsOnChangeOf) ?? 0;
  const own = baseOfNumber(sensor?.reportsEvery);
  const every = band > 0 ? Math.min(usual, own ?? usual) : (own ?? usual);
  return { band, sign: own ?? Number.POSITIVE_INFINITY, every };
}
