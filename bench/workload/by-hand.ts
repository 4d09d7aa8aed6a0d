// The rules of the workload written by hand for exactly this house: the yardstick. An object for each zone, one small
// heap of deadlines, nothing allocated per event; inputs of an instant come before its deadlines. What changes on every
// event stands in a class field or a typed array: a double that a closure captures is boxed again at each write, and
// would slow the yardstick threefold. Bounds are literals where they are used, as people write them.
import { Checksum, DAY, MINUTE, outputs, type Trace } from "./trace.js";

const NEVER = Number.POSITIVE_INFINITY;

/** Deadlines of a zone, by what falls due; after those of all zones, the next turn of the mode. */
const HEATER = 0;
const HUMIDIFIER = 1;
const EXTRACTOR = 2;
const LAMP = 3;
const NOTICE = 4;

export function runByHand({ times, signals, values, count, zones, end }: Trace): Checksum {
  const house = new HandWritten(zones);
  const rooms = house.zones;
  const first = house.timers.at;
  for (let index = 0; index < count; index++) {
    const at = times[index] as number;
    const signal = signals[index] as number;
    const value = values[index] as number;
    const zone = (signal / 5) | 0;
    const room = rooms[zone] as Zone;
    if ((first[0] as number) < at) house.passTo(at - 1);
    house.now = at;
    switch (signal - zone * 5) {
      case 0:
        room.temperature(value);
        break;
      case 1:
        room.humidity(value);
        break;
      case 2:
        room.daylight(value);
        break;
      case 3:
        room.motion(value);
        break;
      default:
        room.door(value);
    }
  }
  house.passTo(end);
  return house.sum;
}

class HandWritten {
  readonly sum: Checksum;
  readonly timers: Timers;
  readonly zones: readonly Zone[];
  /** Not whole at first, so that the field holds a double from the start. */
  now = 0.5;

  constructor(zones: number) {
    this.sum = new Checksum(zones);
    this.timers = new Timers(5 * zones + 1);
    this.zones = Array.from({ length: zones }, (_, zone) => new Zone(5 * zone, this));
    this.timers.arm(5 * zones, 7 * 60 * MINUTE);
  }

  /** All that falls due up to and at an instant. */
  passTo(until: number): void {
    const { timers, zones } = this;
    while ((timers.at[0] as number) <= until) {
      this.now = timers.at[0] as number;
      const timer = timers.take();
      if (timer === 5 * zones.length) this.#turnMode();
      else if (timer >= 0) (zones[(timer / 5) | 0] as Zone).fallDue(timer % 5);
    }
  }

  #turnMode(): void {
    const day = Math.floor(this.now / DAY);
    const hour = (this.now - day * DAY) / (60 * MINUTE);
    const away = day % 7 < 5 ? hour === 22 : hour === 16;
    for (const zone of this.zones) zone.mode(away);
    const turns = (on: number) => (on % 7 < 5 ? [7, 17, 22] : [10, 16]);
    const later = turns(day).find((turn) => turn > hour) ?? 24 + (turns(day + 1)[0] as number);
    this.timers.arm(5 * this.zones.length, day * DAY + later * 60 * MINUTE);
  }
}

class Zone {
  #cold = false;
  #away = true;
  #locked = false;
  #heater = false;
  #dry = false;
  #closedLong = false;
  #humidifier = false;
  #damp = false;
  #extractor = false;
  #moved = false;
  #dark = false;
  #lamp = false;
  #open = -1;

  constructor(
    readonly base: number,
    readonly house: HandWritten,
  ) {}

  temperature(value: number): void {
    if (this.#cold ? value > 20.5 : value < 19.5) {
      this.#cold = !this.#cold;
      this.#heat();
    }
  }

  humidity(value: number): void {
    if (this.#dry ? value > 48 : value < 42) {
      this.#dry = !this.#dry;
      this.#humidify();
    }
    if (value > 65 !== this.#damp) {
      this.#damp = !this.#damp;
      if (this.#damp) this.#after(EXTRACTOR, 5);
      else this.#cancel(EXTRACTOR);
    }
    if (this.#extractor && value < 55) this.#extract(false);
  }

  daylight(value: number): void {
    if (value < 300 !== this.#dark) {
      this.#dark = !this.#dark;
      this.#light();
    }
  }

  motion(value: number): void {
    if (value === 1) {
      this.#cancel(LAMP);
      this.#moved = true;
      this.#light();
    } else if (this.#moved) this.#after(LAMP, 10);
  }

  door(value: number): void {
    if (value === this.#open) return;
    this.#open = value;
    if (value === 1) {
      this.#cancel(HUMIDIFIER);
      this.#after(HEATER, 3);
      this.#after(NOTICE, 5);
      this.#closedLong = false;
      this.#humidify();
    } else {
      this.#cancel(HEATER);
      this.#cancel(NOTICE);
      this.#after(HUMIDIFIER, 2);
      this.#locked = false;
      this.#heat();
    }
  }

  mode(away: boolean): void {
    this.#away = away;
    this.#heat();
  }

  fallDue(what: number): void {
    switch (what) {
      case HEATER:
        this.#locked = true;
        return this.#heat();
      case HUMIDIFIER:
        this.#closedLong = true;
        return this.#humidify();
      case EXTRACTOR:
        return this.#extract(true);
      case LAMP:
        this.#moved = false;
        return this.#light();
      default:
        this.#put(outputs.notice, true);
    }
  }

  #heat(): void {
    const on = this.#cold && !this.#away && !this.#locked;
    if (on === this.#heater) return;
    this.#heater = on;
    this.#put(outputs.heater, on);
  }

  #humidify(): void {
    const on = this.#dry && this.#closedLong;
    if (on === this.#humidifier) return;
    this.#humidifier = on;
    this.#put(outputs.humidifier, on);
  }

  #extract(on: boolean): void {
    if (on === this.#extractor) return;
    this.#extractor = on;
    this.#put(outputs.extractor, on);
  }

  #light(): void {
    const on = this.#moved && this.#dark;
    if (on === this.#lamp) return;
    this.#lamp = on;
    this.#put(outputs.lamp, on);
  }

  #put(output: number, on: boolean): void {
    this.house.sum.change(this.house.now, this.base + output, on ? 1 : 0);
  }

  #after(what: number, minutes: number): void {
    this.house.timers.arm(this.base + what, this.house.now + minutes * MINUTE);
  }

  #cancel(what: number): void {
    this.house.timers.cancel(this.base + what);
  }
}

/**
 * A heap with one entry for each timer. To arm it again or to cancel it touches `due` alone: an entry that comes up too
 * early is put back, one that was cancelled is dropped. A timer that is armed again only ever moves out.
 */
class Timers {
  readonly #due: Float64Array;
  readonly #queued: Uint8Array;
  readonly #timers: Int32Array;
  #size = 0;
  /** The first stands at 0, infinite when there is none. */
  readonly at: Float64Array;

  constructor(size: number) {
    this.#due = new Float64Array(size).fill(NEVER);
    this.#queued = new Uint8Array(size);
    this.#timers = new Int32Array(size + 1);
    this.at = new Float64Array(size + 1).fill(NEVER);
  }

  arm(timer: number, at: number): void {
    this.#due[timer] = at;
    if (this.#queued[timer] === 1) return;
    this.#queued[timer] = 1;
    this.#push(timer, at);
  }

  cancel(timer: number): void {
    this.#due[timer] = NEVER;
  }

  #push(timer: number, at: number): void {
    let place = this.#size++;
    while (place > 0) {
      const parent = (place - 1) >> 1;
      if ((this.at[parent] as number) <= at) break;
      this.at[place] = this.at[parent] as number;
      this.#timers[place] = this.#timers[parent] as number;
      place = parent;
    }
    this.at[place] = at;
    this.#timers[place] = timer;
  }

  /** The timer that falls due at the first instant, or -1 where there is nothing to do. */
  take(): number {
    const first = this.#timers[0] as number;
    const instant = this.at[0] as number;
    this.#shrink();
    const due = this.#due[first] as number;
    if (due !== NEVER && due !== instant) {
      this.#push(first, due);
      return -1;
    }
    this.#queued[first] = 0;
    this.#due[first] = NEVER;
    return due === NEVER ? -1 : first;
  }

  #shrink(): void {
    const size = --this.#size;
    const at = this.at[size] as number;
    const timer = this.#timers[size] as number;
    this.at[size] = NEVER;
    if (size === 0) return;
    let place = 0;
    for (let child = 1; child < size; child = 2 * place + 1) {
      if (child + 1 < size && (this.at[child + 1] as number) < (this.at[child] as number)) child++;
      if ((this.at[child] as number) >= at) break;
      this.at[place] = this.at[child] as number;
      this.#timers[place] = this.#timers[child] as number;
      place = child;
    }
    this.at[place] = at;
    this.#timers[place] = timer;
  }
}
