// One signal of a recording: its reports, and the stretches over which it was known.
import { type House, type Recorded, recordedValue, unitOf } from "../house/index.js";
import { dimensionOf, toBase, type Unit } from "../units/index.js";

export interface Signal {
  readonly name: string;
  /** Of numbers: what they are in; nothing where nobody says. */
  readonly unit: Unit | undefined;
  readonly times: readonly number[];
  /** Numbers in the base unit; NaN where a report had none. */
  readonly values: readonly number[];
}

/** Over which a value stood, in the base unit. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly value: number;
}

/** Each signal of a recording that says numbers, in the order in which they first come; words are nothing of it. */
export function signalsIn(recorded: readonly Recorded[], house?: House): Signal[] {
  const found: { name: string; unit: Unit | undefined; times: number[]; values: number[] }[] = [];
  // One name may measure two things, which their units tell apart; without a unit it is of whatever its name measures.
  const isSame = (one: Unit | undefined, other: Unit | undefined) =>
    one === undefined || other === undefined || dimensionOf(one) === dimensionOf(other);
  const byName = new Map<string, typeof found>();
  for (const record of recorded) {
    const { name, at } = record;
    if (typeof record.value === "string") continue;
    const own = house && unitOf(house, name);
    const known = byName.get(name) ?? [];
    byName.set(name, known);
    let signal = known.find(({ unit }) => isSame(unit, own ?? record.unit));
    if (!signal) {
      signal = { name, unit: own ?? record.unit, times: [], values: [] };
      known.push(signal);
      found.push(signal);
    }
    signal.unit ??= record.unit;
    const value = house && own !== undefined ? recordedValue(house, record) : record.value;
    const unit = own ?? record.unit ?? signal.unit ?? "";
    signal.times.push(at);
    signal.values.push(typeof value === "number" ? toBase({ value, unit }) : Number.NaN);
  }
  return found.filter(({ values }) => values.some((value) => !Number.isNaN(value)));
}

/**
 * @throws RangeError when the recording has no numbers of that name
 */
export function signalIn(recorded: readonly Recorded[], name: string, house?: House): Signal {
  const signal = signalsIn(recorded, house).find((one) => one.name === name);
  if (!signal) throw new RangeError(`the recording has no numbers of "${name}"`);
  return signal;
}

export function median(values: readonly number[]): number {
  if (values.length === 0) return Number.NaN;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? (sorted[middle] as number) : ((sorted[middle - 1] as number) + (sorted[middle] as number)) / 2;
}

/** What a share of values lies below, with straight lines between them. */
export function quantile(sorted: readonly number[], share: number): number {
  const place = share * (sorted.length - 1);
  const below = Math.floor(place);
  const [one, other] = [sorted[below] as number, sorted[Math.min(sorted.length - 1, below + 1)] as number];
  return one + (other - one) * (place - below);
}

/** ms between one report and the next. */
export function intervalsOf({ times }: Signal): number[] {
  return times.slice(1).map((at, place) => at - (times[place] as number));
}

/** A pause is a gap when it is longer than this many usual intervals, and than this. */
const GAP_INTERVALS = 5;
const GAP_LEAST = 15 * 60e3;

/** How long a pause may be that is not a gap. */
export function longestPause(signal: Signal): number {
  return Math.max(GAP_LEAST, GAP_INTERVALS * (median(intervalsOf(signal)) || 0));
}

/** A value stands until the next report, but not through a gap. */
export function stretchesOf(signal: Signal, pause = longestPause(signal)): Stretch[] {
  const { times, values } = signal;
  return times.flatMap((from, place): Stretch[] => {
    const value = values[place] as number;
    const to = times[place + 1];
    return to === undefined || to - from > pause || Number.isNaN(value) ? [] : [{ from, to, value }];
  });
}
