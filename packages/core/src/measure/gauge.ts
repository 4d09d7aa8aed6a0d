// What is measured of one thing, fed with one stretch of time after another: over each, every value it reads stands still
// or goes in a straight line. So a run is measured as it goes, and nothing of it need be kept.
import { type Expression, type House, type Keep, movesByItself, type Output, unitOfExpression } from "../house/index.js";
import { fromBase, toBase, units } from "../units/index.js";
import type { KeptMeasure, Lengths, OutputMeasure } from "./measures.js";

export interface Gauge<Measure> {
  /** What it reads, in its order. */
  readonly reads: readonly Expression[];
  /** Whether something it reads moves by itself. */
  readonly moves: boolean;
  /** What it reads, at the beginning of a stretch and, just before what comes after, at its end; in base units. */
  add(from: number, to: number, begins: ArrayLike<number>, ends: ArrayLike<number>): void;
  /** The whole stretch is over; nothing where there was nothing to measure. */
  end(): Measure;
}

// ── Outputs ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** How often and how long an output works within a run. */
export class OutputGauge implements Gauge<OutputMeasure> {
  readonly reads: readonly Expression[];
  readonly moves = false;
  readonly #output: Output;
  readonly #isOn: (value: number) => boolean;
  readonly #from: number;
  readonly #to: number;
  readonly #on = new Tally();
  readonly #off = new Tally();
  #starts = 0;
  #onTime = 0;
  #now: boolean | undefined;
  #since: number;

  constructor(output: Output, from: number, to: number) {
    this.reads = [{ kind: "value", of: output.name }];
    this.#output = output;
    this.#isOn = onOf(output);
    this.#from = from;
    this.#to = to;
    this.#since = from;
  }

  add(from: number, to: number, begins: ArrayLike<number>): void {
    const value = begins[0] as number;
    const on = !Number.isNaN(value) && this.#isOn(value);
    if (on) this.#onTime += to - from;
    if (on === this.#now) return;
    // A length that the beginning of the run cuts off is none.
    if (this.#now !== undefined && this.#since > this.#from) (this.#now ? this.#on : this.#off).add(from - this.#since);
    if (on && from > this.#from) this.#starts++;
    this.#now = on;
    this.#since = from;
  }

  end(): OutputMeasure {
    const { name, title = name } = this.#output;
    const on = this.#on.lengths;
    const off = this.#off.lengths;
    return {
      output: name,
      title,
      starts: this.#starts,
      onTime: this.#onTime,
      share: this.#onTime / (this.#to - this.#from),
      ...(on && { on }),
      ...(off && { off }),
    };
  }
}

/** Lengths of finished cycles. */
class Tally {
  #count = 0;
  #sum = 0;
  #min = Number.POSITIVE_INFINITY;
  #max = 0;

  add(ms: number): void {
    this.#count++;
    this.#sum += ms;
    this.#min = Math.min(this.#min, ms);
    this.#max = Math.max(this.#max, ms);
  }

  get lengths(): Lengths | undefined {
    if (this.#count === 0) return undefined;
    return { count: this.#count, mean: this.#sum / this.#count, min: this.#min, max: this.#max };
  }
}

/** Whether a value, in its base unit, is more than rest: neither off nor 0 nor black, and of a target above what it has at rest. */
function onOf({ type, range, atRest }: Output): (value: number) => boolean {
  if (type.kind === "words") {
    const off = Math.max(0, type.words.indexOf("off"));
    return (value) => value !== off;
  }
  const isTarget = type.kind === "number" && range !== undefined && range[0] > 0;
  const rest = isTarget ? toBase({ value: typeof atRest === "number" ? atRest : range[0], unit: type.unit }) : 0;
  return (value) => value !== rest;
}

// ── What is kept ────────────────────────────────────────────────────────────────────────────────────────────────────────

const nothing: Keep["value"] = { kind: "number", value: 0, unit: "" };

/** How near a kept value stays to its target, over the time in which its sentence applies. */
export class KeptGauge implements Gauge<KeptMeasure | undefined> {
  /** The value, its lowest and highest target, the tolerances below and above them, and when it applies. */
  readonly reads: readonly Expression[];
  readonly moves: boolean;
  readonly #about: Pick<KeptMeasure, "rule" | "sentence" | "value" | "unit">;
  #applied = 0;
  #within = 0;
  #known = 0;
  #distances = 0;
  #lowest = Number.POSITIVE_INFINITY;
  #highest = Number.NEGATIVE_INFINITY;

  constructor(house: House, rule: string, sentence: number, keep: Keep, applies: Expression | undefined) {
    const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
    const { below, above } = keep.tolerance ?? { below: nothing, above: nothing };
    const parts = [keep.value, low, high, below, above];
    this.reads = applies ? [...parts, applies] : parts;
    this.moves = parts.some((part) => movesByItself(house, part));
    this.#about = { rule, sentence, value: keep.value, unit: unitOfExpression(house, keep.value) };
  }

  add(from: number, to: number, begins: ArrayLike<number>, ends: ArrayLike<number>): void {
    if (this.reads.length === 6 && begins[5] !== 1) return;
    const lasts = to - from;
    this.#applied += lasts;
    if (isUnknown(begins) || (ends !== begins && isUnknown(ends))) return;
    this.#known += lasts;
    const [under, over] = beyond(begins);
    const [underThen, overThen] = beyond(ends);
    this.#distances += lasts * (meanAbove(under, underThen) + meanAbove(over, overThen));
    const within = shareAbove(
      [(begins[3] as number) - under, (ends[3] as number) - underThen],
      [(begins[4] as number) - over, (ends[4] as number) - overThen],
    );
    this.#within += lasts * within;
    this.#lowest = Math.min(this.#lowest, begins[0] as number, ends[0] as number);
    this.#highest = Math.max(this.#highest, begins[0] as number, ends[0] as number);
  }

  end(): KeptMeasure | undefined {
    if (this.#known === 0) return undefined;
    const { unit } = this.#about;
    return {
      ...this.#about,
      applied: this.#applied,
      inBand: this.#within / this.#applied,
      meanDistance: this.#distances / this.#known / units[unit].factor,
      lowest: fromBase(this.#lowest, unit),
      highest: fromBase(this.#highest, unit),
    };
  }
}

/** How far a value lies below its lowest target, and above its highest. */
function beyond(values: ArrayLike<number>): readonly [under: number, over: number] {
  const value = values[0] as number;
  return [(values[1] as number) - value, value - (values[2] as number)];
}

function isUnknown(values: ArrayLike<number>): boolean {
  for (let part = 0; part < 5; part++) if (Number.isNaN(values[part] as number)) return true;
  return false;
}

/** For what share of a step two straight lines are both at or above zero. */
function shareAbove(...lines: readonly (readonly [begins: number, ends: number])[]): number {
  let [low, high] = [0, 1];
  for (const [begins, ends] of lines) {
    if (begins >= -TINY && ends >= -TINY) continue;
    if (begins < -TINY && ends < -TINY) return 0;
    const root = begins / (begins - ends);
    if (begins < 0) low = Math.max(low, root);
    else high = Math.min(high, root);
  }
  return Math.max(0, high - low);
}

const TINY = 1e-9;

/** Mean of what a straight line has above zero. */
function meanAbove(begins: number, ends: number): number {
  if (begins <= 0 && ends <= 0) return 0;
  if (begins >= 0 && ends >= 0) return (begins + ends) / 2;
  const positive = Math.max(begins, ends);
  return (positive * positive) / (2 * Math.abs(begins - ends));
}
