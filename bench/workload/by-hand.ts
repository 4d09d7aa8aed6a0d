// The rules of the workload written by hand for exactly this house: the yardstick. Flat arrays, one heap of deadlines,
// nothing allocated per event. Inputs of an instant come before its deadlines.
import { Checksum, DAY, kinds, MINUTE, outputs, type Trace } from "./trace.js";

const HOUR = 60 * MINUTE;
const NEVER = Number.POSITIVE_INFINITY;

/** Deadlines of a zone, by what falls due. */
const CLOSED = 0;
const LIT = 1;
const DAMP = 2;
const OPEN_3 = 3;
const OPEN_5 = 4;

export function runByHand({ times, signals, values, count, zones, end }: Trace): Checksum {
  const sum = new Checksum(zones);
  const temperatureOn = new Uint8Array(zones);
  const heater = new Uint8Array(zones);
  const humidityOn = new Uint8Array(zones);
  const humidifier = new Uint8Array(zones);
  const extracting = new Uint8Array(zones);
  const extractor = new Uint8Array(zones);
  const lamp = new Uint8Array(zones);
  const humidity = new Float64Array(zones).fill(Number.NaN);
  const dark = new Uint8Array(zones);
  const moving = new Uint8Array(zones);
  const movedUntil = new Float64Array(zones).fill(Number.NEGATIVE_INFINITY);
  const doorOpen = new Uint8Array(zones);
  const closedLong = new Uint8Array(zones);
  const forbidden = new Uint8Array(zones);
  const dampSince = new Float64Array(zones).fill(Number.NaN);
  const due = new Float64Array(5 * zones).fill(NEVER);
  const heap = new Deadlines();
  let nextDue = NEVER;
  let away = true;
  let modeNext = 7 * HOUR;
  let now = 0;

  const plan = (slot: number, at: number) => {
    due[slot] = at;
    if (at === NEVER) return;
    heap.add(at, slot);
    nextDue = heap.next;
  };
  const putHeater = (zone: number) => {
    const on = !away && temperatureOn[zone] === 1 && forbidden[zone] === 0 ? 1 : 0;
    if (on === heater[zone]) return;
    heater[zone] = on;
    sum.change(now, zone * 5 + outputs.heater, on);
  };
  const putHumidifier = (zone: number) => {
    const on = humidityOn[zone] === 1 && closedLong[zone] === 1 ? 1 : 0;
    if (on === humidifier[zone]) return;
    humidifier[zone] = on;
    sum.change(now, zone * 5 + outputs.humidifier, on);
  };
  const putExtractor = (zone: number) => {
    if (extracting[zone] === extractor[zone]) return;
    extractor[zone] = extracting[zone] as number;
    sum.change(now, zone * 5 + outputs.extractor, extractor[zone] as number);
  };
  const putLamp = (zone: number) => {
    const on = dark[zone] === 1 && (moving[zone] === 1 || now < (movedUntil[zone] as number)) ? 1 : 0;
    if (on === lamp[zone]) return;
    lamp[zone] = on;
    sum.change(now, zone * 5 + outputs.lamp, on);
  };

  const take = (signal: number, value: number) => {
    const kind = signal % 5;
    const zone = (signal - kind) / 5;
    switch (kind) {
      case kinds.temperature:
        if (temperatureOn[zone] === 0 ? value < 19.5 : value > 20.5) {
          temperatureOn[zone] = 1 - (temperatureOn[zone] as number);
          putHeater(zone);
        }
        return;
      case kinds.humidity: {
        const before = humidity[zone] as number;
        humidity[zone] = value;
        if (humidityOn[zone] === 0 ? value < 42 : value > 48) {
          humidityOn[zone] = 1 - (humidityOn[zone] as number);
          putHumidifier(zone);
        }
        if (value > 65 !== before > 65) {
          dampSince[zone] = value > 65 ? now : Number.NaN;
          plan(zone * 5 + DAMP, value > 65 ? now + 5 * MINUTE : NEVER);
        }
        if (value < 55 && extracting[zone] === 1) {
          extracting[zone] = 0;
          putExtractor(zone);
        }
        return;
      }
      case kinds.daylight:
        if (value < 300 !== (dark[zone] === 1)) {
          dark[zone] = 1 - (dark[zone] as number);
          putLamp(zone);
        }
        return;
      case kinds.motion:
        if (value === moving[zone]) return;
        moving[zone] = value;
        movedUntil[zone] = value === 1 ? NEVER : now + 10 * MINUTE;
        plan(zone * 5 + LIT, movedUntil[zone] as number);
        putLamp(zone);
        return;
      default:
        if (now > 0 && value === doorOpen[zone]) return;
        doorOpen[zone] = value;
        closedLong[zone] = 0;
        forbidden[zone] = 0;
        plan(zone * 5 + CLOSED, value === 0 ? now + 2 * MINUTE : NEVER);
        plan(zone * 5 + OPEN_3, value === 1 ? now + 3 * MINUTE : NEVER);
        plan(zone * 5 + OPEN_5, value === 1 ? now + 5 * MINUTE : NEVER);
        putHumidifier(zone);
        putHeater(zone);
    }
  };

  const fall = (slot: number) => {
    const what = slot % 5;
    const zone = (slot - what) / 5;
    due[slot] = NEVER;
    if (what === CLOSED) {
      closedLong[zone] = 1;
      putHumidifier(zone);
    } else if (what === LIT) putLamp(zone);
    else if (what === DAMP) {
      extracting[zone] = 1;
      putExtractor(zone);
    } else if (what === OPEN_3) {
      forbidden[zone] = 1;
      putHeater(zone);
    } else sum.change(now, zone * 5 + outputs.notice, 1);
  };

  /** All that falls due before an instant; at the end also what is due at it. */
  const passTo = (until: number, included: boolean) => {
    for (;;) {
      const first = Math.min(nextDue, modeNext);
      if (included ? first > until : first >= until) return;
      now = first;
      if (modeNext === now) turnMode();
      if (nextDue > now) continue;
      // What was planned anew since falls due later, or never.
      while (heap.next === now) {
        const slot = heap.take();
        if (due[slot] === now) fall(slot);
      }
      nextDue = heap.next;
    }
  };

  const turnMode = () => {
    const day = Math.floor(now / DAY);
    const hour = (now - day * DAY) / HOUR;
    away = day % 7 < 5 ? hour === 22 : hour === 16;
    const turns = (on: number) => (on % 7 < 5 ? [7, 17, 22] : [10, 16]);
    const later = turns(day).find((turn) => turn > hour);
    modeNext = later === undefined ? (day + 1) * DAY + (turns(day + 1)[0] as number) * HOUR : day * DAY + later * HOUR;
    for (let zone = 0; zone < zones; zone++) putHeater(zone);
  };

  for (let index = 0; index < count; index++) {
    const at = times[index] as number;
    if (at > now && (nextDue < at || modeNext < at)) passTo(at, false);
    now = at;
    take(signals[index] as number, values[index] as number);
    // The deadlines of an instant come when its last input has been taken.
    if (index + 1 === count || (times[index + 1] as number) > at) passTo(at, true);
  }
  passTo(end, true);
  return sum;
}

/** Slots by the instants they were planned for, the first on top. */
class Deadlines {
  readonly #at: number[] = [];
  readonly #slots: number[] = [];
  next = NEVER;

  add(at: number, slot: number): void {
    let place = this.#at.push(at) - 1;
    this.#slots.push(slot);
    while (place > 0) {
      const parent = (place - 1) >> 1;
      if ((this.#at[parent] as number) <= at) break;
      this.#at[place] = this.#at[parent] as number;
      this.#slots[place] = this.#slots[parent] as number;
      place = parent;
    }
    this.#at[place] = at;
    this.#slots[place] = slot;
    this.next = this.#at[0] as number;
  }

  take(): number {
    const first = this.#slots[0] as number;
    const at = this.#at.pop() as number;
    const slot = this.#slots.pop() as number;
    const size = this.#at.length;
    if (size === 0) {
      this.next = NEVER;
      return first;
    }
    let place = 0;
    for (let child = 1; child < size; child = 2 * place + 1) {
      if (child + 1 < size && (this.#at[child + 1] as number) < (this.#at[child] as number)) child++;
      if ((this.#at[child] as number) >= at) break;
      this.#at[place] = this.#at[child] as number;
      this.#slots[place] = this.#slots[child] as number;
      place = child;
    }
    this.#at[place] = at;
    this.#slots[place] = slot;
    this.next = this.#at[0] as number;
    return first;
  }
}
