// How often and how long an output works within a run, and what it uses.
import { baseOfNumber, type Expression, type Output, offWordOf, reachOf } from "../house/index.js";
import { DAY, HOUR } from "../time/index.js";
import { toBase } from "../units/index.js";
import { type Gauge, Tally } from "./gauge.js";
import type { MeasureOptions, OutputMeasure, PeakPower } from "./measures.js";

/** ms and W to kWh. */
const KWH = 3.6e9;

export class OutputGauge implements Gauge<OutputMeasure> {
  readonly reads: readonly Expression[];
  readonly moves = false;
  readonly #output: Output;
  readonly #shareOf: (value: number) => number;
  readonly #power: number | undefined;
  readonly #price: number | undefined;
  readonly #from: number;
  readonly #to: number;
  readonly #on: Tally;
  readonly #off: Tally;
  #starts = 0;
  #onTime = 0;
  /** Share × ms. */
  #worked = 0;
  #now: boolean | undefined;
  #since: number;

  constructor(output: Output, from: number, to: number, { cycles, price }: MeasureOptions = {}) {
    this.reads = [{ kind: "value", of: output.name }];
    this.#output = output;
    this.#shareOf = shareOf(output);
    this.#power = baseOfNumber(output.uses);
    this.#price = price;
    this.#from = from;
    this.#to = to;
    this.#since = from;
    this.#on = new Tally(cycles);
    this.#off = new Tally(cycles);
  }

  add(from: number, to: number, begins: ArrayLike<number>): void {
    const share = this.#shareOf(begins[0] as number);
    const on = share > 0;
    if (on) this.#onTime += to - from;
    this.#worked += share * (to - from);
    if (on === this.#now) return;
    // A length that the beginning of the run cuts off is none.
    if (this.#now !== undefined && this.#since > this.#from) (this.#now ? this.#on : this.#off).add(from - this.#since);
    if (on && from > this.#from) this.#starts++;
    this.#now = on;
    this.#since = from;
  }

  end(): OutputMeasure {
    const { name, title = name } = this.#output;
    const lasts = this.#to - this.#from;
    const on = this.#on.lengths;
    const off = this.#off.lengths;
    const energy = this.#power === undefined ? undefined : (this.#power * this.#worked) / KWH;
    return {
      output: name,
      title,
      starts: this.#starts,
      startsAnHour: this.#starts / (lasts / HOUR),
      startsADay: this.#starts / (lasts / DAY),
      onTime: this.#onTime,
      share: this.#onTime / lasts,
      ...(on && { on }),
      ...(off && { off }),
      ...(energy !== undefined && { energy }),
      ...(energy !== undefined && this.#price !== undefined && { cost: energy * this.#price }),
    };
  }
}

/** What all that was on at one time is rated at. */
export class PowerGauge implements Gauge<PeakPower | undefined> {
  readonly reads: readonly Expression[];
  readonly moves = false;
  readonly #parts: readonly { readonly power: number; readonly shareOf: (value: number) => number }[];
  #most = 0;
  #at: number | undefined;

  constructor(outputs: readonly Output[]) {
    const rated = outputs.flatMap((output) => {
      const power = baseOfNumber(output.uses);
      return power === undefined ? [] : [{ output, power, shareOf: shareOf(output) }];
    });
    this.reads = rated.map(({ output }) => ({ kind: "value", of: output.name }));
    this.#parts = rated;
  }

  add(from: number, _to: number, begins: ArrayLike<number>): void {
    let sum = 0;
    this.#parts.forEach(({ power, shareOf }, part) => {
      if (shareOf(begins[part] as number) > 0) sum += power;
    });
    if (sum <= this.#most) return;
    this.#most = sum;
    this.#at = from;
  }

  end(): PeakPower | undefined {
    return this.#at === undefined ? undefined : { watts: this.#most, at: this.#at };
  }
}

/**
 * How much of an output is on, from 0 to 1, by its value in the base unit: a number's share of its range, all of whatever
 * else is neither off nor 0 nor black nor, of a target, at rest or its lowest. Nothing while it is unknown.
 */
export function shareOf(output: Output): (value: number) => number {
  const { type, atRest } = output;
  const known = (share: (value: number) => number) => (value: number) => (Number.isNaN(value) ? 0 : share(value));
  if (type.kind === "words") {
    const off = type.words.indexOf(offWordOf(output) as string);
    return known((value) => (value === off ? 0 : 1));
  }
  if (type.kind !== "number") return known((value) => (value === 0 ? 0 : 1));
  const inBase = (value: number) => toBase({ value, unit: type.unit });
  const [low, high] = reachOf(output) ?? [0, Number.NaN];
  if (low > 0) {
    const rest = inBase(typeof atRest === "number" ? atRest : low);
    const lowest = inBase(low);
    return known((value) => (value === rest || value === lowest ? 0 : 1));
  }
  const full = inBase(high);
  // Of what has no range all is full that is not 0.
  return known((value) => (value === 0 ? 0 : Number.isNaN(full) ? 1 : Math.min(1, Math.abs(value) / full)));
}
