// The input of the workload "workshop-year": deterministic events in typed arrays, sorted by time and signal, and the
// checksum of what comes of them. Only + - * / floor, round and 32-bit integer operations, so that every machine agrees.

export const SECOND = 1000;
export const MINUTE = 60 * SECOND;
export const DAY = 1440 * MINUTE;

/** Signal = zone * 5 + kind. */
export const kinds = { temperature: 0, humidity: 1, daylight: 2, motion: 3, door: 4 } as const;
/** Output = zone * 5 + kind. */
export const outputs = { heater: 0, humidifier: 1, extractor: 2, lamp: 3, notice: 4 } as const;

export interface Trace {
  readonly times: Float64Array;
  readonly signals: Uint16Array;
  readonly values: Float64Array;
  readonly count: number;
  readonly zones: number;
  /** The last instant, in ms from the start, a Monday 00:00 UTC. */
  readonly end: number;
}

function generator(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** A wave of period 1 made of two parabolas. */
function wave(x: number): number {
  const part = x - Math.floor(x);
  return part < 0.5 ? 16 * part * (0.5 - part) : -16 * (part - 0.5) * (1 - part);
}

function measured(kind: number, day: number, zone: number, noise: number): number {
  if (kind === kinds.temperature) {
    return Math.round((20 + 1.5 * wave(day - 0.4 + zone * 0.013) + 1.5 * wave(day / 9 + zone * 0.37) + 0.3 * noise) * 10) / 10;
  }
  if (kind === kinds.humidity) {
    return Math.round((55 + 8 * wave(day + 0.2 + zone * 0.017) + 10 * wave(day / 7 + zone * 0.29) + 3 * noise) * 2) / 2;
  }
  return Math.max(0, Math.round(Math.max(0, wave(day - 0.25)) * (600 + 200 * noise)));
}

/** Seconds that motion or a door stays as it is. */
function dwell(kind: number, state: number, p: number, q: number): number {
  if (kind === kinds.motion) {
    if (state === 1) return 5 + Math.floor(q * 55);
    return p < 0.02 ? 600 : p < 0.75 ? 10 + Math.floor(q * 110) : 300 + Math.floor(q * q * 14400);
  }
  if (state === 0) return p < 0.05 ? 120 : 300 + Math.floor(q * q * 14400);
  return p < 0.05 ? 180 : p < 0.1 ? 300 : p < 0.75 ? 5 + Math.floor(q * 55) : 60 + Math.floor(q * q * 840);
}

export function makeTrace(zones: number, minutes: number, seed = 20240101): Trace {
  const signalCount = 5 * zones;
  const room = Math.ceil(3 * zones * minutes * 1.1) + 40 * zones + 1000;
  const times = new Float64Array(room);
  const signals = new Uint16Array(room);
  const values = new Float64Array(room);
  const random = Array.from({ length: signalCount }, (_, signal) => generator((seed + Math.imul(signal + 1, 0x9e3779b1)) | 0));
  const noise = new Float64Array(signalCount);
  const state = new Uint8Array(signalCount);
  const next = new Float64Array(signalCount);
  let count = 0;
  const put = (time: number, signal: number, value: number) => {
    times[count] = time;
    signals[count] = signal;
    values[count++] = value;
  };
  const draw = (signal: number) => (random[signal] as () => number)();
  const plan = (signal: number, time: number) => {
    const p = draw(signal);
    const q = draw(signal);
    next[signal] = time + dwell(signal % 5, state[signal] as number, p, q) * SECOND;
  };
  for (let minute = 0; minute < minutes; minute++) {
    const time = minute * MINUTE;
    const later: [number, number, number][] = [];
    for (let signal = 0; signal < signalCount; signal++) {
      const kind = signal % 5;
      if (kind < 3) {
        noise[signal] = 0.97 * (noise[signal] as number) + (draw(signal) - 0.5);
        put(time, signal, measured(kind, minute / 1440, (signal - kind) / 5, noise[signal] as number));
        continue;
      }
      if (minute === 0) {
        put(0, signal, 0);
        plan(signal, 0);
      }
      while ((next[signal] as number) < time + MINUTE) {
        const at = next[signal] as number;
        state[signal] = 1 - (state[signal] as number);
        if (at === time) put(time, signal, state[signal] as number);
        else later.push([at, signal, state[signal] as number]);
        plan(signal, at);
      }
    }
    later.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
    for (const [at, signal, value] of later) put(at, signal, value);
  }
  return { times, signals, values, count, zones, end: minutes * MINUTE };
}

function mix(x: number): number {
  let mixed = x ^ (x >>> 16);
  mixed = Math.imul(mixed, 0x7feb352d);
  mixed ^= mixed >>> 15;
  mixed = Math.imul(mixed, 0x846ca68b);
  return (mixed ^ (mixed >>> 16)) >>> 0;
}

export function hash(time: number, id: number, value: number): number {
  return mix(Math.imul(time / SECOND, 0x9e3779b1) ^ Math.imul(id * 2 + value + 1, 0x85ebca77));
}

export function hex(x: number): string {
  return x.toString(16).padStart(8, "0");
}

export function traceHash({ times, signals, values, count }: Trace): string {
  let sum = 0;
  for (let index = 0; index < count; index++) {
    sum = mix(
      Math.imul(sum, 31) + hash(times[index] as number, signals[index] as number, Math.round((values[index] as number) * 10)),
    );
  }
  return hex(sum);
}

/** The sum of all net changes. */
export class Checksum {
  sum = 0;
  readonly counts = [0, 0, 0, 0, 0];
  readonly #last: Float64Array;

  constructor(zones: number) {
    this.#last = new Float64Array(5 * zones).fill(-1);
  }

  /** A change back to the value before the instant takes the first one out again. */
  change(time: number, output: number, value: number): void {
    const kind = output % 5;
    if (this.#last[output] === time) {
      this.sum = (this.sum - hash(time, output, 1 - value)) >>> 0;
      this.counts[kind] = (this.counts[kind] as number) - 1;
      this.#last[output] = -1;
    } else {
      this.sum = (this.sum + hash(time, output, value)) >>> 0;
      this.counts[kind] = (this.counts[kind] as number) + 1;
      this.#last[output] = time;
    }
  }

  toString(): string {
    return `${hex(this.sum)} (${this.counts.join("/")})`;
  }
}
