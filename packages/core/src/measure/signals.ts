// What the reports of a recording are like: how often they come, how fine they are, how much they waver.
import type { House, Recorded } from "../house/index.js";
import { fromBase, type Unit, units } from "../units/index.js";
import { intervalsOf, longestPause, median, type Signal, signalsIn } from "./recorded-signal.js";

/** Figures of one signal. Values are in its unit; differences in its unit's own size. */
export interface SignalFigures {
  readonly name: string;
  readonly unit: Unit | undefined;
  readonly reports: number;
  readonly from: number;
  readonly to: number;
  readonly lowest: number;
  readonly highest: number;
  /** The standard deviation of what wavers from one report to the next, slow changes apart; 0 where it never does. */
  readonly noise: number;
  /** The smallest difference between two values; left out where there is only one value. */
  readonly step?: number;
  /** ms between reports, the usual one. */
  readonly interval?: number;
  /** Pauses much longer than usual, and what was reported without a number. */
  readonly gaps: readonly { readonly from: number; readonly to: number }[];
  readonly unreadable: number;
}

/** Of each signal of a recording that is a number. */
export function signalFigures(recorded: readonly Recorded[], house?: House): SignalFigures[] {
  return signalsIn(recorded, house).map(figuresOf);
}

function figuresOf(signal: Signal): SignalFigures {
  const { name, unit, times, values } = signal;
  const known = values.filter((value) => !Number.isNaN(value));
  const { factor } = units[unit ?? ""];
  const own = (base: number) => fromBase(base, unit ?? "");
  const step = stepIn(known);
  const interval = median(intervalsOf(signal));
  const pause = longestPause(signal);
  return {
    name,
    unit,
    reports: times.length,
    from: times[0] as number,
    to: times.at(-1) as number,
    lowest: own(known.reduce((a, b) => Math.min(a, b))),
    highest: own(known.reduce((a, b) => Math.max(a, b))),
    noise: noiseOf(signal) / factor,
    ...(step !== undefined && { step: rounded(step / factor) }),
    ...(!Number.isNaN(interval) && { interval }),
    gaps: times.slice(1).flatMap((to, place) => {
      const from = times[place] as number;
      return to - from > pause ? [{ from, to }] : [];
    }),
    unreadable: values.length - known.length,
  };
}

/** Differences smaller than this share of the values are those of calculation. */
const TINY = 1e-9;

function stepIn(values: readonly number[]): number | undefined {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  const differences = sorted.slice(1).map((value, place) => value - (sorted[place] as number));
  const real = differences.filter((size) => size > TINY * Math.max(1, Math.abs(sorted.at(-1) as number)));
  return real.length === 0 ? undefined : real.reduce((a, b) => Math.min(a, b));
}

/** Without the last digits of calculation. */
const rounded = (value: number) => Number(value.toPrecision(6));

/** The median of the absolute value of a normal variable of deviation 1. */
const NORMAL = 0.6745;
/** Of a second difference of independent values: √(1 + 4 + 1). */
const SECOND_DIFFERENCE = Math.sqrt(6);
/** Where more than half of the second differences are 0, the mean square of all but the largest few. */
const KEPT = 0.95;

/**
 * The standard deviation of the noise, in the base unit, by second differences of reports an even time apart: a straight
 * change has none, and the median does not mind jumps (Rousseeuw and Croux 1993).
 */
export function noiseOf({ times, values }: Signal): number {
  const usual = median(times.slice(1).map((at, place) => at - (times[place] as number)));
  const even = (size: number) => size > usual / 2 && size < usual * 1.5;
  const sizes: number[] = [];
  for (let place = 1; place + 1 < values.length; place++) {
    const [before, at, after] = [times[place - 1] as number, times[place] as number, times[place + 1] as number];
    if (!even(at - before) || !even(after - at)) continue;
    const second = (values[place - 1] as number) - 2 * (values[place] as number) + (values[place + 1] as number);
    if (!Number.isNaN(second)) sizes.push(Math.abs(second));
  }
  if (sizes.length === 0) return 0;
  const middle = median(sizes);
  if (middle > 0) return middle / NORMAL / SECOND_DIFFERENCE;
  const sorted = sizes.sort((a, b) => a - b);
  const kept = sorted.slice(0, Math.ceil(KEPT * sorted.length));
  return Math.sqrt(kept.reduce((sum, size) => sum + size * size, 0) / kept.length) / SECOND_DIFFERENCE;
}
