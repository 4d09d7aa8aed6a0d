// People in a zone: they come when its schedule begins, go in and out through its door, move and keep still, open windows,
// shower, cook or varnish, and go home.
import type { PeopleHabit } from "../house/index.js";
import { type Calendar, HOUR, MINUTE, SECOND, type Sky, stretchOf } from "../time/index.js";
import type { Rooms } from "./rooms.js";

/** W, g/h and l/h of CO₂ of a person who sits (ISO 7730; ASHRAE Fundamentals, ch. 18; Persily and de Jonge 2017). */
export const PERSON = { heat: 70, water: 45, carbon: 18.7 };

/** W and g/h of what is done now and then (moisture: IEA Annex 41, subtask 1); the heat of a hob at half power is our own figure. */
const SHOWER = { heat: 0, water: 2600 };
const COOKING = { heat: 1000, water: 1000 };

/** How slowly a coat gives off its solvent (ms; the form is that of Chang and Guo 1992), and litres of ethanol vapour in a gram. */
export const COAT = { lasts: 40 * MINUTE, litres: 0.522 };

/** How long a window stays open to air. */
const AIRING = 10 * MINUTE;
/** How long a door is left open. */
const PROPPED = 15 * MINUTE;

/** How often somebody feels that it is too warm, and K by which it is then to grow cooler. */
const FEELS = 5 * MINUTE;
const COOLER = 2;

const never = Number.POSITIVE_INFINITY;

/** Somebody in a zone, as its sensors would notice. */
export class Visitor {
  present = false;
  moving = false;
  #passing = false;
  /** Somebody comes through it, or it is left open. */
  get doorOpen(): boolean {
    return this.#passing || this.#lets < never;
  }
  /** A window is open: to air, or because it is too warm. */
  get airs(): boolean {
    return this.#shutsWindow < never || this.#tooWarm;
  }
  /** The instant at which one of these next changes. */
  next: number;
  /** The instant at which rooms may next feel it: not whether somebody moves or keeps still. */
  acts: number;
  readonly #habit: PeopleHabit;
  readonly #calendar: Calendar;
  readonly #sky: Sky;
  readonly #random: () => number;
  /** When they next pass the door, and when they next begin or cease to move. */
  #passes = never;
  #stirs = never;
  #shuts = never;
  #turns: number;
  /** When they next open the window to air, shut it, and feel whether it is too warm. */
  #opensWindow = never;
  #shutsWindow = never;
  /** When they next leave the door open, and when they shut it. */
  #props = never;
  #lets = never;
  #feels = never;
  #tooWarm = false;
  /** When they begin and end to shower or cook, and varnish. */
  #begins = never;
  #ends = never;
  #coats = never;
  /** g of solvent that is still to evaporate. */
  #wet = 0;

  constructor(habit: PeopleHabit, calendar: Calendar, sky: Sky, from: number, random: () => number) {
    this.#habit = habit;
    this.#calendar = calendar;
    this.#sky = sky;
    this.#random = random;
    this.#turns = from;
    this.acts = from;
    this.next = from;
  }

  /** l/h of CO₂, where that is said. */
  get breathes(): number | undefined {
    return this.#habit.breathes;
  }

  /** g of solvent in a coat, where they varnish. */
  get coat(): number | undefined {
    return this.#habit.coat;
  }

  /** What they are doing: W and g/h. */
  get does(): { readonly heat: number; readonly water: number } | undefined {
    if (this.#ends === never) return undefined;
    return this.#habit.showers !== undefined ? SHOWER : COOKING;
  }

  /** g/h of solvent through so many milliseconds: E = E0 e^(-kt). */
  evaporate(ms: number): number {
    if (this.#wet < 1e-6) return 0;
    const gone = this.#wet * -Math.expm1(-ms / COAT.lasts);
    this.#wet -= gone;
    return ms > 0 ? (gone * HOUR) / ms : (this.#wet * HOUR) / COAT.lasts;
  }

  /** Does what is due at an instant, in a room as it is. */
  advance(to: number, rooms: Rooms, room: number, outdoors: { readonly temperature: number }): void {
    while (this.next <= to) {
      const now = this.next;
      if (this.#turns <= now) this.#turn(now);
      if (this.#shuts <= now) {
        this.#passing = false;
        this.#shuts = never;
      }
      if (this.#passes <= now) this.#pass(now);
      if (this.#stirs <= now) this.#stir(now);
      this.#air(now);
      this.#prop(now);
      if (this.#feels <= now) this.#feel(now, room < 0 ? Number.NaN : rooms.temperature(room), outdoors.temperature);
      this.#work(now);
      this.acts = Math.min(
        this.#turns,
        this.#shuts,
        this.#passes,
        this.#opensWindow,
        this.#shutsWindow,
        this.#props,
        this.#lets,
        this.#feels,
        this.#begins,
        this.#ends,
        this.#coats,
      );
      this.next = Math.min(this.acts, this.#stirs);
    }
  }

  /** The schedule begins: they come in; it ends: they leave. */
  #turn(now: number): void {
    const { open, until } = stretchOf(this.#calendar, this.#sky, now);
    this.#turns = until;
    if (open !== this.present) this.#pass(now);
    if (!open) this.#passes = never;
    const { showers, cooks, coat } = this.#habit;
    if (open && (showers ?? cooks) !== undefined) this.#begins = now + this.#about(20 * MINUTE);
    if (open && coat !== undefined) this.#coats = now + this.#about(20 * MINUTE);
  }

  #pass(now: number): void {
    this.present = !this.present;
    this.#passing = true;
    this.#shuts = now + this.#about(20 * SECOND);
    this.#passes = this.#habit.every === undefined ? never : now + this.#about(this.#stay());
    this.moving = this.present;
    this.#stirs = this.present ? now + this.#about(2 * MINUTE) : never;
    const { airs, props, opensAbove } = this.#habit;
    if (this.present && props !== undefined && this.#props === never) this.#props = now + this.#about(props);
    this.#opensWindow = this.present && airs !== undefined ? now + this.#about(airs) : never;
    this.#feels = this.present && opensAbove !== undefined ? now : never;
    // Who leaves shuts the windows.
    if (this.present) return;
    this.#shutsWindow = never;
    this.#tooWarm = false;
  }

  /** They are in for four fifths of the time. */
  #stay(): number {
    return (this.#habit.every as number) * (this.present ? 0.8 : 0.2);
  }

  #stir(now: number): void {
    this.moving = !this.moving;
    this.#stirs = now + this.#about(this.moving ? MINUTE : 3 * MINUTE);
  }

  #air(now: number): void {
    if (this.#shutsWindow <= now) this.#shutsWindow = never;
    if (this.#opensWindow > now) return;
    this.#shutsWindow = now + AIRING;
    this.#opensWindow = now + this.#about(this.#habit.airs as number);
  }

  /** Whoever leaves it open shuts it, though nobody may be in the room meanwhile. */
  #prop(now: number): void {
    if (this.#lets <= now) this.#lets = never;
    if (this.#props > now) return;
    // Nobody leaves a door open who is not there.
    if (this.present) this.#lets = now + this.#about(PROPPED);
    this.#props = this.present ? now + this.#about(this.#habit.props as number) : never;
  }

  /** Too warm, and cooler outside: the window is open until it is cooler. */
  #feel(now: number, inside: number, outside: number): void {
    const bound = (this.#habit.opensAbove as number) - (this.#tooWarm ? COOLER : 0);
    this.#tooWarm = inside > bound && outside < inside;
    this.#feels = now + FEELS;
  }

  #work(now: number): void {
    const { showers, cooks, coat = 0 } = this.#habit;
    if (this.#ends <= now) this.#ends = never;
    if (this.#begins <= now) {
      this.#begins = never;
      this.#ends = now + ((showers ?? cooks) as number);
    }
    if (this.#coats > now) return;
    this.#coats = never;
    this.#wet += coat;
  }

  /** Between half and one and a half of a length, in whole seconds. */
  #about(ms: number): number {
    return Math.max(SECOND, Math.round((ms * (0.5 + this.#random())) / SECOND) * SECOND);
  }
}
