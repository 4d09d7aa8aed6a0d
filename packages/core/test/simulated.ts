// Small simulated houses, and time that passes in them.
import {
  createPhysics,
  type House,
  isSound,
  type Physics,
  type PhysicsOptions,
  parseHouse,
  type Value,
  type Weather,
} from "modrik";
import { expect } from "vitest";

export const START = Date.parse("2026-01-15T00:00Z");
export const MINUTE = 60e3;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

/** Air that stands still. */
export const weatherOf = (outdoors: number, more: Partial<Weather> = {}): Weather => ({
  name: "w",
  outdoors,
  swings: 0,
  humidity: 60,
  cloud: 100,
  ...more,
});

export const roomsOf = (house: House, options: Partial<PhysicsOptions> = {}): Physics =>
  createPhysics(house, { from: START, weather: weatherOf(0), ...options });

export function houseOf(text: string, place = "place 47 N, 8 E"): House {
  const parsed = parseHouse({ "a.modrik": `house "A" { ${place} clock "UTC" } ${text}` });
  expect(parsed.problems.map(({ reason }) => reason)).toEqual([]);
  expect(isSound(parsed)).toBe(true);
  return parsed.house;
}

/** What is wrong with a house. */
export function problemsOf(text: string): string[] {
  return parseHouse({ "a.modrik": `house "A" { clock "UTC" } ${text}` }).problems.map(({ reason }) => reason);
}

/** What outputs do and contacts say. */
type Values = Readonly<Record<string, Value>>;

/** Lets rooms be for so long, in steps of a length. */
export function pass(physics: Physics, lasts: number, values: Values = {}, step = MINUTE, from = START): Physics {
  for (const [name, value] of Object.entries(values)) physics.put(name, value);
  for (let at = step; at <= lasts; at += step) physics.advance(from + at);
  return physics;
}

/** What a sensor of a number reads. */
export const number = (physics: Physics, sensor: string) => Number(physics.reading(sensor));
