// What each threshold of a recorded signal would have meant, and a pair of points that its noise does not cross.
import type { Condition, House, Recorded } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { DAY, MINUTE, sunElevation } from "../time/index.js";
import { type Dimension, fromBase, stepOf, toBase, type Unit, units } from "../units/index.js";
import { median, quantile, type Signal, type Stretch, signalIn, stretchesOf } from "./recorded-signal.js";
import { noiseOf } from "./signals.js";

/** Which thresholds are looked at, and how. */
export interface ThresholdOptions {
  /** Values to look at, in the signal's own unit. @default quantiles of what was recorded */
  readonly candidates?: readonly number[];
  /** Holds to look at, in ms: a crossing counts when it lasts so long. @default none, 3 and 10 minutes */
  readonly holds?: readonly number[];
  /** On which side something should be done. @default below for light, temperature and humidity, above for all else */
  readonly side?: "below" | "above";
}

/** What one threshold would have meant. */
export interface Threshold {
  /** In the signal's own unit. */
  readonly value: number;
  /** Of the time it was known, on its side; from 0 to 1. */
  readonly beyond: number;
  /** How often a day that begins, by each hold. */
  readonly crossings: readonly { readonly hold: number; readonly aDay: number }[];
  /** Of light, where it is known where the house is: against a clock that depends on sunset and sunrise. */
  readonly clock?: ClockDifference;
}

/** ms a day in which light and clock are of two minds. */
export interface ClockDifference {
  /** Dark by the light, day by the clock. */
  readonly darkByDay: number;
  /** Light enough, night by the clock. */
  readonly lightByNight: number;
}

/** Two points that noise does not cross. */
export interface SuggestedPair {
  readonly begins: number;
  readonly ends: number;
  /** How often a day it would have begun. */
  readonly aDay: number;
  /** As a condition of the language. */
  readonly says: string;
}

/** What thresholds of one signal would have meant. */
export interface Thresholds {
  readonly name: string;
  readonly unit: Unit | undefined;
  readonly side: "below" | "above";
  /** Standard deviation, in the unit's own size. */
  readonly noise: number;
  /** ms of the recording in which the signal was known. */
  readonly known: number;
  readonly candidates: readonly Threshold[];
  /** By the candidate nearest to the median, of light the one nearest to the clock. */
  readonly suggested?: SuggestedPair;
}

const DECADES = [1, 10, 100, 1000, 10_000];
const QUANTILES = [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95];
const HOLDS = [0, 3 * MINUTE, 10 * MINUTE];
const LOW = new Set(["light", "temperature", "relative humidity", "share"]);
/** What people tell apart by its share, and not by its difference. */
const DECADAL: ReadonlySet<Dimension> = new Set(["light", "concentration", "mass concentration"]);
/** Height of the sun at sunrise and sunset, in degrees. */
const HORIZON = -0.833;
/** Points further apart than six standard deviations are not crossed by noise. */
const DEVIATIONS = 6;
/** And at least so many steps of what the sensor can tell. */
const STEPS = 3;

/**
 * What thresholds of a signal would have meant. Gaps are left out.
 * @throws RangeError when the recording has no numbers of that name, or it was never known for any time
 */
export function thresholds(
  recorded: readonly Recorded[],
  name: string,
  house?: House,
  options: ThresholdOptions = {},
): Thresholds {
  const signal = signalIn(recorded, name, house);
  const { unit } = signal;
  const dimension = unit === undefined ? undefined : units[unit].dimension;
  const { holds = HOLDS, side = dimension && LOW.has(dimension) ? "below" : "above" } = options;
  const stretches = stretchesOf(signal);
  const known = stretches.reduce((sum, { from, to }) => sum + to - from, 0);
  if (known === 0) throw new RangeError(`"${name}" was reported too rarely to say anything of it`);
  const place = dimension === "light" ? house?.place : undefined;
  const isBeyond = (bound: number) => (value: number) => (side === "below" ? value < bound : value > bound);
  const candidates = candidatesOf(signal, options.candidates).map(
    (base): Threshold => ({
      // As it was said, without the last digits of calculation.
      value: Number(fromBase(base, unit ?? "").toPrecision(12)),
      beyond: shareOf(stretches, isBeyond(base), known),
      crossings: holds.map((hold) => ({ hold, aDay: (begins(stretches, isBeyond(base), isBeyond(base), hold) * DAY) / known })),
      ...(place && { clock: againstClock(stretches, isBeyond(base), (at) => sunElevation(place, at) > HORIZON, side, known) }),
    }),
  );
  const noise = noiseOf(signal);
  const suggested = suggestedPair(signal, candidates, side, noise, stretches, known);
  return {
    name,
    unit,
    side,
    noise: noise / units[unit ?? ""].factor,
    known,
    candidates,
    ...(suggested && { suggested }),
  };
}

/** In the base unit, each once, rising: of light, which goes over many decades, 1, 2, 5, 10 … up to its median by day. */
function candidatesOf({ values, unit = "" }: Signal, said: readonly number[] | undefined): number[] {
  if (said) return [...new Set(said)].sort((a, b) => a - b).map((value) => toBase({ value, unit }));
  const sorted = values.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
  if (units[unit].dimension === "light") {
    const most = median(sorted.filter((value) => value > 0));
    const found = DECADES.flatMap((decade) => [1, 2, 5].map((digit) => digit * decade)).filter((value) => value <= most);
    if (found.length > 0) return found;
  }
  const found = QUANTILES.map((share) => toBase({ value: plain(fromBase(quantile(sorted, share), unit)), unit }));
  return [...new Set(found)];
}

/** As people would say it: two digits. */
function plain(value: number): number {
  if (value === 0) return 0;
  const digits = Math.max(2, Math.floor(Math.log10(Math.abs(value))) + 1 >= 3 ? 2 : 3);
  return Number(value.toPrecision(digits));
}

function shareOf(stretches: readonly Stretch[], is: (value: number) => boolean, known: number): number {
  return stretches.reduce((sum, { from, to, value }) => sum + (is(value) ? to - from : 0), 0) / known;
}

/** How often it begins, where it lasts so long; once begun it goes on until it ends. */
function begins(
  stretches: readonly Stretch[],
  isBegin: (value: number) => boolean,
  isOn: (value: number) => boolean,
  hold: number,
): number {
  let count = 0;
  let on: boolean | undefined;
  let since = Number.NaN;
  let last = Number.NaN;
  for (const { from, to, value } of stretches) {
    // Over a gap nothing lasts, and what was on before it may have ended.
    if (from !== last) {
      since = Number.NaN;
      on = undefined;
    }
    last = to;
    if (on === undefined) {
      on = isBegin(value);
      continue;
    }
    const turned = on ? !isOn(value) : isBegin(value);
    if (!turned) {
      since = Number.NaN;
      continue;
    }
    if (Number.isNaN(since)) since = from;
    if (to - since < hold) continue;
    on = !on;
    since = Number.NaN;
    if (on) count++;
  }
  return count;
}

function againstClock(
  stretches: readonly Stretch[],
  isBeyond: (value: number) => boolean,
  isDay: (at: number) => boolean,
  side: "below" | "above",
  known: number,
): ClockDifference {
  let [darkByDay, lightByNight] = [0, 0];
  for (const { from, to, value } of stretches) {
    const isDark = isBeyond(value) === (side === "below");
    for (let at = from; at < to; at += MINUTE) {
      const lasts = Math.min(MINUTE, to - at);
      if (isDark === !isDay(at)) continue;
      if (isDark) darkByDay += lasts;
      else lightByNight += lasts;
    }
  }
  return { darkByDay: (darkByDay * DAY) / known, lightByNight: (lightByNight * DAY) / known };
}

function suggestedPair(
  signal: Signal,
  candidates: readonly Threshold[],
  side: "below" | "above",
  noise: number,
  stretches: readonly Stretch[],
  known: number,
): SuggestedPair | undefined {
  const unit = signal.unit ?? "";
  const used = candidates.filter(({ beyond }) => beyond > 0 && beyond < 1);
  const badness = ({ clock, beyond }: Threshold) => (clock ? clock.darkByDay + clock.lightByNight : Math.abs(beyond - 0.5));
  const [best] = [...used].sort((a, b) => badness(a) - badness(b));
  if (!best) return undefined;
  const { factor } = units[unit];
  const wide = DECADAL.has(units[unit].dimension) ? 0.2 * Math.abs(best.value) * factor : 0;
  const width = Math.max(DEVIATIONS * noise, STEPS * stepOf(unit), wide);
  const fine = roundUp(width / factor);
  const ends = plainly(side === "below" ? best.value + fine : best.value - fine, fine);
  // A pair that it never came back from would begin once and never end.
  if (
    !stretches.some(({ value }) =>
      side === "below" ? value > toBase({ value: ends, unit }) : value < toBase({ value: ends, unit }),
    )
  )
    return undefined;
  const [beginsAt, endsAt] = [toBase({ value: best.value, unit }), toBase({ value: ends, unit })];
  const isBegin = (value: number) => (side === "below" ? value < beginsAt : value > beginsAt);
  const isOn = (value: number) => (side === "below" ? value <= endsAt : value >= endsAt);
  const left = { kind: "value", of: signal.name } as const;
  const test = (kind: "below" | "above", value: number): Condition => ({ kind, left, right: { kind: "number", value, unit } });
  const until: Condition = {
    kind: "until",
    condition: test(side, best.value),
    reset: test(side === "below" ? "above" : "below", ends),
  };
  return {
    begins: best.value,
    ends,
    aDay: (begins(stretches, isBegin, isOn, 0) * DAY) / known,
    says: `while ${writeExpression(until)}`,
  };
}

/** Up to one digit: 1, 2, 5, 10 … */
function roundUp(size: number): number {
  const decade = 10 ** Math.floor(Math.log10(size));
  const step = [1, 2, 5, 10].find((one) => one * decade >= size * (1 - 1e-9)) ?? 10;
  return Number((step * decade).toPrecision(3));
}

/** Without the last digits of calculation. */
const plainly = (value: number, step: number) => Number((Math.round(value / (step / 10)) * (step / 10)).toPrecision(6));
