// Which days of a house are simulated, and under what.
import { beginningOf, clockOf, DAY, dateOfDay, type House, type SimulationOptions, type Weather } from "modrik";
import type { Setup } from "./messages.js";
import { fitting } from "./open-house.js";

export function optionsOf(house: House, setup: Setup): SimulationOptions & { from: number; lasts: number } {
  const weather = weatherIn(house, setup);
  const from = beginningIn(house, setup);
  return {
    set: fitting(house, setup.set),
    from,
    lasts: endOf(house, from, setup.days) - from,
    ...(weather && { weather }),
  };
}

/** The one that is chosen, else the first. */
function weatherIn({ weathers }: House, { weather }: Setup): Weather | undefined {
  return weathers.find(({ name }) => name === weather) ?? weathers[0];
}

/** Midnight of the day that is chosen, else of the example's; of a recorded weather the first whole day it tells of. */
function beginningIn(house: House, setup: Setup): number {
  const { from } = setup;
  if (from === undefined) return beginningOf(house, weatherIn(house, setup));
  return clockOf(house.clock).instant(Date.parse(`${from}T00:00Z`) / DAY, 0);
}

/** Midnight so many local days later: one of them may have 23 hours. */
function endOf(house: House, from: number, days: number): number {
  const clock = clockOf(house.clock);
  return clock.instant(clock.local(from).day + days, 0);
}

export const dateIn = (house: House, setup: Setup) => dateOfDay(clockOf(house.clock).local(beginningIn(house, setup)).day);
