// Which days of a house are simulated, and under what.
import { clockOf, DAY, dateOfDay, exampleDay, type House, type SimulationOptions } from "modrik";
import type { Setup } from "./messages.js";
import { fitting } from "./open-house.js";

export function optionsOf(
  house: House,
  { weather, set, from, days }: Setup,
): SimulationOptions & { from: number; lasts: number } {
  const chosen = house.weathers.find(({ name }) => name === weather);
  const begins = from === undefined ? exampleDay(house) : clockOf(house.clock).instant(Date.parse(`${from}T00:00Z`) / DAY, 0);
  return {
    set: fitting(house, set),
    from: begins,
    lasts: endOf(house, begins, days) - begins,
    ...(chosen && { weather: chosen }),
  };
}

/** Midnight so many local days later: one of them may have 23 hours. */
function endOf(house: House, from: number, days: number): number {
  const clock = clockOf(house.clock);
  return clock.instant(clock.local(from).day + days, 0);
}

export const dateIn = (house: House, { from }: Setup) => from ?? dateOfDay(clockOf(house.clock).local(exampleDay(house)).day);
