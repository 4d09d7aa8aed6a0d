// How near a value stays to what is wanted of it, over the time in which its sentence applies, and how it swings as its
// outputs go on and off.
import { type Expression, type House, movesByItself, type Output, unitOfExpression } from "../house/index.js";
import { HOUR } from "../time/index.js";
import { fromBase, units } from "../units/index.js";
import { type Gauge, Tally } from "./gauge.js";
import type { Aim, CycleMeasure, KeptMeasure, Mover } from "./measures.js";
import { shareOf } from "./output-gauge.js";

/** Value, low, high, below, above stand first; then when it applies; then the outputs. */
const PARTS = 5;

export class KeptGauge implements Gauge<KeptMeasure | undefined> {
  readonly reads: readonly Expression[];
  readonly moves: boolean;
  readonly #about: Pick<KeptMeasure, "how" | "rule" | "sentence" | "value" | "unit">;
  readonly #applies: number;
  readonly #cycles: readonly DriveCycles[];
  readonly #swing = new Tally();
  readonly #overshoot = new Tally();
  readonly #reached = new Tally();
  #applied = 0;
  #within = 0;
  #under = 0;
  #over = 0;
  #known = 0;
  #distances = 0;
  #squares = 0;
  #outside = 0;
  #lowest = Number.POSITIVE_INFINITY;
  #highest = Number.NEGATIVE_INFINITY;
  /** The band as it was last; unknown before it began. */
  #low = Number.NaN;
  #high = Number.NaN;
  /** Since when it has been on its way into the band. */
  #seeking: number | undefined;

  constructor(house: House, { about, value, low, high, below, above, applies, drives }: Aim) {
    const parts = [value, low, high, below, above];
    this.#applies = applies ? PARTS : -1;
    const first = applies ? PARTS + 1 : PARTS;
    const outputs = drives.flatMap((drive) => drive.outputs);
    this.reads = [...parts, ...(applies ? [applies] : []), ...outputs.map((of): Expression => ({ kind: "value", of }))];
    this.moves = parts.some((part) => movesByItself(house, part));
    this.#about = { ...about, value, unit: unitOfExpression(house, value) };
    let place = first;
    this.#cycles = drives.map(({ outputs, way }) => {
      const own = outputs.map((name) => ({ place: place++, shareOf: shareOf(outputNamed(house, name)) }));
      return new DriveCycles(own, way, this.#swing, this.#overshoot);
    });
  }

  add(from: number, to: number, begins: ArrayLike<number>, ends: ArrayLike<number>): void {
    if (this.#applies >= 0 && begins[this.#applies] !== 1) return this.#breakOff();
    const lasts = to - from;
    this.#applied += lasts;
    if (isUnknown(begins) || (ends !== begins && isUnknown(ends))) {
      for (const cycles of this.#cycles) cycles.breakOff();
      this.#seeking = undefined;
      return;
    }
    this.#known += lasts;
    const value = begins[0] as number;
    const valueThen = ends[0] as number;
    // Straight lines over the stretch, each by its beginning and its end: as objects they were a sixth of all garbage.
    const under = (begins[1] as number) - value;
    const underThen = (ends[1] as number) - valueThen;
    const over = value - (begins[2] as number);
    const overThen = valueThen - (ends[2] as number);
    this.#distances += lasts * (meanAbove(under, underThen) + meanAbove(over, overThen));
    this.#squares += lasts * (meanSquareAbove(under, underThen) + meanSquareAbove(over, overThen));
    const below = under - (begins[3] as number);
    const belowThen = underThen - (ends[3] as number);
    const above = over - (begins[4] as number);
    const aboveThen = overThen - (ends[4] as number);
    this.#outside += lasts * (meanAbove(below, belowThen) + meanAbove(above, aboveThen));
    const shareBelow = shareBeyond(below, belowThen);
    const shareOver = shareBeyond(above, aboveThen);
    this.#under += lasts * shareBelow;
    this.#over += lasts * shareOver;
    this.#within += lasts * Math.max(0, 1 - shareBelow - shareOver);
    this.#lowest = Math.min(this.#lowest, value, valueThen);
    this.#highest = Math.max(this.#highest, value, valueThen);
    const isBelow = below > TINY;
    const isOutside = isBelow || above > TINY;
    this.#seek(from, lasts, begins, isOutside, isBelow ? below : above, isBelow ? belowThen : aboveThen);
    for (const cycles of this.#cycles) cycles.add(begins, value, valueThen);
  }

  /** It does not apply: what has begun is not finished. */
  #breakOff(): void {
    this.#low = Number.NaN;
    this.#high = Number.NaN;
    this.#seeking = undefined;
    for (const cycles of this.#cycles) cycles.breakOff();
  }

  /** `far` is how far it is outside its band, and `farThen` at the end of the stretch. */
  #seek(from: number, lasts: number, begins: ArrayLike<number>, outside: boolean, far: number, farThen: number): void {
    const low = (begins[1] as number) - (begins[3] as number);
    const high = (begins[2] as number) + (begins[4] as number);
    const moved = !(Math.abs(low - this.#low) <= TINY && Math.abs(high - this.#high) <= TINY);
    this.#low = low;
    this.#high = high;
    if (moved && outside) this.#seeking ??= from;
    if (this.#seeking === undefined) return;
    if (!outside) this.#reached.add(from - this.#seeking);
    else {
      if (farThen > TINY) return;
      // Where it crosses the edge; to the millisecond.
      const crossed = from + Math.round((lasts * far) / (far - farThen || 1));
      this.#reached.add(crossed - this.#seeking);
    }
    this.#seeking = undefined;
  }

  end(): KeptMeasure | undefined {
    if (this.#known === 0) return undefined;
    const { unit } = this.#about;
    const { factor } = units[unit];
    const swing = this.#swing.spread(factor);
    const overshoot = this.#overshoot.spread(factor);
    const timeToReach = this.#reached.lengths;
    return {
      ...this.#about,
      applied: this.#applied,
      inBand: this.#within / this.#applied,
      below: this.#under / this.#applied,
      above: this.#over / this.#applied,
      meanDistance: this.#distances / this.#known / factor,
      rmsDistance: Math.sqrt(this.#squares / this.#known) / factor,
      degreeHours: this.#outside / HOUR / factor,
      lowest: fromBase(this.#lowest, unit),
      highest: fromBase(this.#highest, unit),
      ...(swing && { swing }),
      ...(overshoot && { overshoot }),
      ...(timeToReach && { timeToReach }),
    };
  }
}

/** What a cycle moves, without a band. */
export class CycleGauge implements Gauge<CycleMeasure | undefined> {
  readonly reads: readonly Expression[];
  readonly moves = false;
  readonly #about: Pick<CycleMeasure, "rule" | "sentence" | "value" | "unit">;
  readonly #applies: number;
  readonly #cycles: DriveCycles;
  readonly #swing = new Tally();
  #applied = 0;
  #lowest = Number.POSITIVE_INFINITY;
  #highest = Number.NEGATIVE_INFINITY;

  constructor(
    house: House,
    about: Pick<CycleMeasure, "rule" | "sentence" | "value">,
    applies: Expression | undefined,
    outputs: readonly string[],
  ) {
    const first = applies ? 2 : 1;
    this.#about = { ...about, unit: unitOfExpression(house, about.value) };
    this.#applies = applies ? 1 : -1;
    this.reads = [about.value, ...(applies ? [applies] : []), ...outputs.map((of): Expression => ({ kind: "value", of }))];
    const own = outputs.map((name, place) => ({ place: first + place, shareOf: shareOf(outputNamed(house, name)) }));
    this.#cycles = new DriveCycles(own, 0, this.#swing, new Tally());
  }

  add(from: number, to: number, begins: ArrayLike<number>): void {
    const value = begins[0] as number;
    const applies = this.#applies < 0 || begins[this.#applies] === 1;
    if (applies) this.#applied += to - from;
    if (!applies || Number.isNaN(value)) return this.#cycles.breakOff();
    this.#lowest = Math.min(this.#lowest, value);
    this.#highest = Math.max(this.#highest, value);
    this.#cycles.add(begins, value, value);
  }

  end(): CycleMeasure | undefined {
    if (!(this.#lowest <= this.#highest)) return undefined;
    const { unit } = this.#about;
    const swing = this.#swing.spread(units[unit].factor);
    const [lowest, highest] = [fromBase(this.#lowest, unit), fromBase(this.#highest, unit)];
    return { ...this.#about, applied: this.#applied, lowest, highest, ...(swing && { swing }) };
  }
}

/** The cycles of what drives a value: from one start to the next. */
class DriveCycles {
  #on: boolean | undefined;
  /** From the start of a whole cycle on. */
  #low = Number.NaN;
  #high = Number.NaN;
  /** The value as it went off, and how far it went on since. */
  #stopped = Number.NaN;
  #beyond = 0;

  constructor(
    readonly outputs: readonly { readonly place: number; readonly shareOf: (value: number) => number }[],
    readonly way: Mover["way"],
    readonly swing: Tally,
    readonly overshoot: Tally,
  ) {}

  add(begins: ArrayLike<number>, value: number, then: number): void {
    const on = this.#isOn(begins);
    if (this.#on === false && on) this.#start(value);
    if (this.#on === true && !on) {
      this.#stopped = value;
      this.#beyond = 0;
    }
    this.#on = on;
    this.#low = Math.min(this.#low, value, then);
    this.#high = Math.max(this.#high, value, then);
    if (!on) this.#beyond = Math.max(this.#beyond, this.way * (value - this.#stopped), this.way * (then - this.#stopped));
  }

  #isOn(values: ArrayLike<number>): boolean {
    for (const { place, shareOf } of this.outputs) if (shareOf(values[place] as number) > 0) return true;
    return false;
  }

  #start(value: number): void {
    if (!Number.isNaN(this.#low)) this.swing.add(Math.max(this.#high, value) - Math.min(this.#low, value));
    if (!Number.isNaN(this.#stopped) && this.way !== 0) this.overshoot.add(this.#beyond);
    this.#low = value;
    this.#high = value;
    this.#stopped = Number.NaN;
  }

  breakOff(): void {
    this.#on = undefined;
    this.#low = Number.NaN;
    this.#high = Number.NaN;
    this.#stopped = Number.NaN;
  }
}

function outputNamed(house: House, name: string): Output {
  const output = house.outputs.find((one) => one.name === name);
  if (!output) throw new RangeError(`the house has no output ${name}`);
  return output;
}

function isUnknown(values: ArrayLike<number>): boolean {
  for (let part = 0; part < PARTS; part++) if (Number.isNaN(values[part] as number)) return true;
  return false;
}

/** For what share of a stretch a line lies above zero. */
function shareBeyond(begins: number, ends: number): number {
  if (begins <= TINY && ends <= TINY) return 0;
  if (begins > TINY && ends > TINY) return 1;
  const root = begins / (begins - ends);
  return begins > ends ? root : 1 - root;
}

const TINY = 1e-9;

/** Mean of what a line has above zero. */
function meanAbove(begins: number, ends: number): number {
  if (begins <= 0 && ends <= 0) return 0;
  if (begins >= 0 && ends >= 0) return (begins + ends) / 2;
  const positive = Math.max(begins, ends);
  return (positive * positive) / (2 * Math.abs(begins - ends));
}

/** Mean of its square there. */
function meanSquareAbove(begins: number, ends: number): number {
  if (begins <= 0 && ends <= 0) return 0;
  if (begins >= 0 && ends >= 0) return (begins * begins + begins * ends + ends * ends) / 3;
  const positive = Math.max(begins, ends);
  return positive ** 3 / (3 * Math.abs(begins - ends));
}
