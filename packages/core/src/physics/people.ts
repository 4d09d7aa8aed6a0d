// People in a zone: they come when its schedule begins, go in and out through its door, move and keep still, and go home.
import type { PeopleHabit } from "../house/index.js";
import { type Calendar, MINUTE, SECOND, type Sky, stretchOf } from "../time/index.js";

/** Somebody in a zone, as its sensors would notice. */
export class Visitor {
  present = false;
  moving = false;
  doorOpen = false;
  /** The instant at which one of these next changes. */
  next: number;
  readonly #habit: PeopleHabit;
  readonly #calendar: Calendar;
  readonly #sky: Sky;
  readonly #random: () => number;
  /** When they next pass the door, and when they next begin or cease to move. */
  #passes = Number.POSITIVE_INFINITY;
  #stirs = Number.POSITIVE_INFINITY;
  #shuts = Number.POSITIVE_INFINITY;
  #turns: number;

  /** l/h of CO₂, where that is said. */
  get breathes(): number | undefined {
    return this.#habit.breathes;
  }

  constructor(habit: PeopleHabit, calendar: Calendar, sky: Sky, from: number, random: () => number) {
    this.#habit = habit;
    this.#calendar = calendar;
    this.#sky = sky;
    this.#random = random;
    this.#turns = from;
    this.next = from;
  }

  /** Does what is due at an instant. */
  advance(to: number): void {
    while (this.next <= to) {
      const now = this.next;
      if (this.#turns <= now) this.#turn(now);
      if (this.#shuts <= now) {
        this.doorOpen = false;
        this.#shuts = Number.POSITIVE_INFINITY;
      }
      if (this.#passes <= now) this.#pass(now);
      if (this.#stirs <= now) this.#stir(now);
      this.next = Math.min(this.#turns, this.#shuts, this.#passes, this.#stirs);
    }
  }

  /** The schedule begins: they come in; it ends: they leave. */
  #turn(now: number): void {
    const { open, until } = stretchOf(this.#calendar, this.#sky, now);
    this.#turns = until;
    if (open !== this.present) this.#pass(now);
    if (!open) this.#passes = Number.POSITIVE_INFINITY;
  }

  #pass(now: number): void {
    this.present = !this.present;
    this.doorOpen = true;
    this.#shuts = now + this.#about(20 * SECOND);
    this.#passes = this.#habit.every === undefined ? Number.POSITIVE_INFINITY : now + this.#about(this.#stay());
    this.moving = this.present;
    this.#stirs = this.present ? now + this.#about(2 * MINUTE) : Number.POSITIVE_INFINITY;
  }

  /** They are in for four fifths of the time. */
  #stay(): number {
    return (this.#habit.every as number) * (this.present ? 0.8 : 0.2);
  }

  #stir(now: number): void {
    this.moving = !this.moving;
    this.#stirs = now + this.#about(this.moving ? MINUTE : 3 * MINUTE);
  }

  /** Between half and one and a half of a length, in whole seconds. */
  #about(ms: number): number {
    return Math.max(SECOND, Math.round((ms * (0.5 + this.#random())) / SECOND) * SECOND);
  }
}
