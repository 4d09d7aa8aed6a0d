// What a run was like, read of its journal: how often and how long each output worked, and how near each kept value stayed
// to its target.
import type { Past, Run } from "../engine/index.js";
import type { Series } from "../expression/index.js";
import type { House } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { aimsOf, turnsOf } from "./aims.js";
import type { Gauge } from "./gauge.js";
import { CycleGauge, KeptGauge } from "./kept-gauge.js";
import type { MeasureOptions, Measures, OutputMeasure } from "./measures.js";
import { OutputGauge, PowerGauge } from "./output-gauge.js";

/**
 * Measures a run between its `from` and its `to`: of a simulation, a trial or a recording alike.
 * @throws RangeError when `cycles` is not a whole number from 1, or `price` is negative
 */
export function measure({ past, from, to }: Run, options: MeasureOptions = {}): Measures {
  const gauges = new Gauges(past.house, from, to, options);
  for (const gauge of gauges.all) feed(gauge, past, from, to);
  return gauges.end(past.notices(from, to).length);
}

/** A gauge for each thing that is measured of a house. */
export class Gauges {
  readonly #outputs: readonly OutputGauge[];
  readonly #kept: readonly KeptGauge[];
  readonly #cycles: readonly CycleGauge[];
  readonly #power: PowerGauge;

  constructor(
    house: House,
    readonly from: number,
    readonly to: number,
    options: MeasureOptions,
  ) {
    const { cycles, price, aims = [] } = options;
    if (cycles !== undefined && !(Number.isSafeInteger(cycles) && cycles >= 1))
      throw new RangeError(`cycles are counted from 1 on, not ${cycles}`);
    if (price !== undefined && !(price >= 0)) throw new RangeError(`a price is not below 0: ${price}`);
    this.#outputs = house.outputs.map((output) => new OutputGauge(output, from, to, options));
    this.#kept = [...aimsOf(house), ...aims].map((aim) => new KeptGauge(house, aim));
    this.#cycles = turnsOf(house).map(({ about, applies, outputs }) => new CycleGauge(house, about, applies, outputs));
    this.#power = new PowerGauge(house.outputs);
  }

  get all(): readonly Gauge<unknown>[] {
    return [...this.#outputs, ...this.#kept, ...this.#cycles, ...(this.#power.reads.length > 0 ? [this.#power] : [])];
  }

  /** What they have come to show. */
  end(notices: number): Measures {
    const outputs = this.#outputs.map((gauge) => gauge.end());
    const peak = this.#power.end();
    return {
      from: this.from,
      to: this.to,
      outputs,
      kept: this.#kept.flatMap((gauge) => gauge.end() ?? []),
      cycles: this.#cycles.flatMap((gauge) => gauge.end() ?? []),
      ...sumsOf(outputs),
      ...(peak && { peak }),
      notices,
    };
  }
}

/** What several outputs use and cost together, as far as it is known; nothing where none says. */
export function sumsOf(outputs: readonly OutputMeasure[]): Pick<Measures, "energy" | "cost"> {
  const sum = (known: readonly number[]) => known.reduce((all, one) => all + one, 0);
  const energies = outputs.flatMap(({ energy }) => energy ?? []);
  const costs = outputs.flatMap(({ cost }) => cost ?? []);
  return { ...(energies.length > 0 && { energy: sum(energies) }), ...(costs.length > 0 && { cost: sum(costs) }) };
}

/** Feeds a gauge with the stretches in which nothing that it reads turns. */
function feed(gauge: Gauge<unknown>, past: Past, from: number, to: number): void {
  const lines = gauge.reads.map((part) => past.line(part));
  for (const piece of pieces(lines, from, to)) {
    if (!gauge.moves) gauge.add(piece.from, piece.to, piece.values, piece.values);
    else
      for (const [at, next, begins, ends] of steps(piece, (at) => gauge.reads.map((part) => past.value(part, at))))
        gauge.add(at, next, begins, ends);
  }
}

/** What moves is followed in straight lines of at most this length. */
const STEP = MINUTE;

type Values = readonly number[];

/** A stretch in steps: the values at the beginning and, just before what comes after, at the end of each. */
function* steps({ from, to }: Piece, valuesAt: (at: number) => Values): Generator<[at: number, next: number, Values, Values]> {
  let begins = valuesAt(from);
  for (let at = from; at < to; ) {
    const next = Math.min(to, at + STEP);
    const ends = valuesAt(next === to ? Math.max(at, to - 1) : next);
    yield [at, next, begins, ends];
    begins = ends;
    at = next;
  }
}

interface Piece {
  readonly from: number;
  readonly to: number;
  readonly values: readonly number[];
}

/** Stretches of time in which none of several lines changes. */
function* pieces(lines: readonly Series[], from: number, to: number): Generator<Piece> {
  const places = lines.map(() => 0);
  for (let at = from; at < to; ) {
    let next = to;
    const values = lines.map(({ times, values }, line) => {
      let place = places[line] as number;
      while (place < times.length && (times[place] as number) <= at) place++;
      places[line] = place;
      next = Math.min(next, times[place] ?? to);
      return place === 0 ? Number.NaN : (values[place - 1] as number);
    });
    yield { from: at, to: next, values };
    at = next;
  }
}
