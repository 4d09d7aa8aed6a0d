// The air of rooms that have been lived in: one day is run again and again until it repeats itself. By its means, as a room
// that is kept by switching ends it anywhere in its band; and what is slow is helped on: differences that shrink from day
// to day like a geometric series are summed up at once (Aitken 1926).
import type { Air } from "./rooms.js";

/** Rooms by their zones. */
export type Airs = ReadonlyMap<string, Air>;

/** A day that was run from some air: its mean, and what it ends with. */
export interface LivedDay {
  readonly mean: Airs;
  readonly ends: Airs;
}

/**
 * By how much days that are alike may differ, K and %RH, of walls and wood, which are slower, half of that; and how far ahead
 * at once is believed.
 */
const quantities = {
  temperature: { alike: 0.1, furthest: 15 },
  walls: { alike: 0.05, furthest: 15 },
  humidity: { alike: 0.5, furthest: 30 },
  wood: { alike: 0.25, furthest: 30 },
};

type Quantity = keyof typeof quantities;
const all = Object.keys(quantities) as Quantity[];

/** So many days are run at most. */
const MOST_DAYS = 12;

/** Differences that shrink by less from day to day are no series whose end can be told. */
const SHRINKS = 0.98;

/** Runs a day until it repeats itself; `run` runs it from some air, the first time from that of nobody. */
export function livedIn(run: (airs: Airs | undefined) => LivedDay): Airs {
  let day = run(undefined);
  let means = [day.mean];
  for (let days = 1; days < MOST_DAYS && day.ends.size > 0; days++) {
    const [last, before, first] = means;
    if (last && before && isAlike(last, before)) break;
    const isJump = first !== undefined;
    day = run(isJump ? ahead(day.ends, means) : day.ends);
    means = isJump ? [day.mean] : [day.mean, ...means];
  }
  return day.ends;
}

function isAlike(one: Airs, other: Airs): boolean {
  return [...one].every(([zone, air]) =>
    all.every((quantity) => !(Math.abs(step(air, other.get(zone), quantity)) > quantities[quantity].alike)),
  );
}

/** NaN for what a room has not. */
function step(air: Air | undefined, before: Air | undefined, quantity: Quantity): number {
  return (air?.[quantity] ?? Number.NaN) - (before?.[quantity] ?? Number.NaN);
}

/** Where the ends of days tend to, by the means of the last three, the latest first. */
function ahead(ends: Airs, [last, before, first]: readonly Airs[]): Airs {
  return new Map(
    [...ends].map(([zone, air]) => {
      const [one, other, another] = [last, before, first].map((means) => means?.get(zone));
      const moved = all.flatMap((quantity) => {
        const still = stillToCome(quantity, step(one, other, quantity), step(other, another, quantity));
        return still === undefined ? [] : [[quantity, (air[quantity] as number) + still] as const];
      });
      return [zone, { ...air, ...Object.fromEntries(moved) }];
    }),
  );
}

/** The sum of the differences to come, after the two latest; nothing of what has come to rest, or is no such series. */
function stillToCome(quantity: Quantity, latest: number, former: number): number | undefined {
  const { alike, furthest } = quantities[quantity];
  const shrinks = latest / former;
  if (!(Math.abs(latest) > alike && shrinks > 0 && shrinks < SHRINKS)) return undefined;
  return Math.min(furthest, Math.max(-furthest, (latest * shrinks) / (1 - shrinks)));
}

/** The mean of the air at several instants, as far apart as each other. */
export function meanOf(airs: readonly Airs[]): Airs {
  const mean = (zone: string, quantity: Quantity) =>
    airs.reduce((sum, one) => sum + (one.get(zone)?.[quantity] ?? Number.NaN), 0) / airs.length;
  return new Map(
    [...(airs[0] ?? [])].map(([zone, air]) => [
      zone,
      { ...air, ...Object.fromEntries(all.flatMap((one) => (air[one] === undefined ? [] : [[one, mean(zone, one)]]))) },
    ]),
  );
}
