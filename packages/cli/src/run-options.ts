// The options that say which simulated run is meant.
import {
  beginningOf,
  clockOf,
  DAY,
  dayOfDate,
  type House,
  type MeasuredSimulation,
  type MeasureOptions,
  measureSimulation,
  readValue,
  type Simulation,
  sayDate,
  simulate,
  type Value,
} from "modrik";
import { nearest } from "modrik/language";
import { CallError } from "./call-error.js";
import type { Io } from "./io.js";
import { whileShown } from "./progress.js";

export interface RunOptions {
  readonly days?: string;
  readonly from?: string;
  readonly weather?: string;
  readonly seed?: string;
  readonly set: readonly string[];
}

/** The run that the options mean. @throws CallError when one of them does not fit the house */
export function simulateAs(house: House, options: RunOptions, io: Io, keepAt?: number): Simulation {
  return whileShown(io, "simulating", (progress) =>
    inRange(() =>
      simulate(house, {
        ...simulationOptions(house, options),
        ...(keepAt !== undefined && { keepAt }),
        onProgress: (share) => progress.at(share),
      }),
    ),
  );
}

/** The figures of the run that the options mean: nothing of it is kept. @throws CallError when one of them does not fit the house */
export function measureAs(house: House, options: RunOptions, figures: MeasureOptions, io: Io): MeasuredSimulation {
  return whileShown(io, "simulating", (progress) =>
    inRange(() =>
      measureSimulation(house, { ...simulationOptions(house, options), ...figures, onProgress: (share) => progress.at(share) }),
    ),
  );
}

/** What does not fit the house, or its weather, is the caller's to put right. */
export function inRange<Result>(run: () => Result): Result {
  try {
    return run();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new CallError(`${error.message}.`, "Choose other days with --from and --days, or another weather with --weather.");
  }
}

/** From when to when the simulation goes. @throws CallError when an option does not fit the house */
export function simulatedSpan(house: House, options: RunOptions): { readonly from: number; readonly to: number } {
  const { from, lasts } = simulationOptions(house, options);
  return { from, to: from + lasts };
}

/** What a run is of: the house, its time, weather and seed. */
export function describeRun(
  house: House,
  {
    from,
    to,
    weather,
    seed,
  }: Pick<Simulation, "from" | "to" | "seed"> & { readonly weather: Pick<Simulation["weather"], "name"> },
): string {
  const clock = clockOf(house.clock);
  return `${sayDate(clock, from)} to ${sayDate(clock, to)}, weather ${weather.name}, seed ${seed}`;
}

/** What is simulated. @throws CallError when an option does not fit the house */
export function simulationOptions(house: House, { days = "1", from, weather, seed = "1", set }: RunOptions) {
  const chosen = weather === undefined ? house.weathers[0] : oneOf(house.weathers, weather, "weather");
  return {
    from: from === undefined ? beginningOf(house, chosen) : beginningAsSaid(house, from),
    lasts: daysAsSaid(days) * DAY,
    seed: wholeNumber(seed, "--seed"),
    set: settings(house, set),
    ...(chosen && { weather: chosen }),
  };
}

/** A thing of a list by its name; else an error that names the nearest. */
export function oneOf<Thing extends { readonly name: string }>(things: readonly Thing[], name: string, kind: string): Thing {
  const found = things.find((thing) => thing.name === name);
  if (found) return found;
  const names = things.map((thing) => thing.name);
  const near = nearest(name, names);
  const remedy =
    near.length > 0
      ? `Did you mean ${near.join(" or ")}?`
      : `${names.length === 0 ? "It has none" : `It has: ${names.join(", ")}`}.`;
  throw new CallError(`The house has no ${kind} called "${name}".`, remedy);
}

/** Midnight of a day. */
export function beginningAsSaid(house: House, from: string): number {
  return clockOf(house.clock).instant(dayOf(from), 0);
}

export const daysAsSaid = (days: string): number => positive(days, "--days");

function dayOf(date: string): number {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})$/.exec(date) ?? [];
  const found = day === undefined ? undefined : dayOfDate(Number(year), Number(month), Number(day));
  if (found === undefined) throw new CallError(`"${date}" is not a date.`, "Write it as year-month-day, e.g. --from 2026-01-15.");
  return found;
}

function positive(text: string, option: string): number {
  const value = Number(text);
  if (value > 0 && value <= 3660) return value;
  throw new CallError(`${option} ${text} is not a number of days.`, `Write a number above 0 and up to 3660, e.g. ${option} 7.`);
}

export function wholeNumber(text: string, option: string): number {
  const value = Number(text);
  if (Number.isSafeInteger(value)) return value;
  throw new CallError(`${option} ${text} is not a whole number.`, `For example: ${option} 7.`);
}

/** Dials and modes with the values that `dial=value` gives them. @throws CallError when one does not fit the house */
export function settings(house: House, set: readonly string[]): Record<string, Value> {
  return Object.fromEntries(set.map((text) => setting(house, text)));
}

function setting(house: House, text: string): [string, Value] {
  const at = text.indexOf("=");
  if (at < 1) throw new CallError(`--set ${text} has no value.`, "Write a dial and its value, e.g. --set bench.moisture=48.");
  const thing = oneOf([...house.dials, ...house.modes], text.slice(0, at), "dial or mode");
  const written = text.slice(at + 1).trim();
  const read = readValue(thing, written);
  if ("value" in read) return [thing.name, read.value];
  throw new CallError(`${thing.name} cannot be "${written}".`, `${read.misfit.charAt(0).toUpperCase()}${read.misfit.slice(1)}.`);
}
