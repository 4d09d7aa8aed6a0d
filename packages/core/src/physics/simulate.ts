// A house's rules on its simulated rooms, with everything written down.
import { Journal, type Run } from "../engine/index.js";
import type { House } from "../house/index.js";
import { type SimulationOptions, type Stage, stage } from "./stage.js";

/** A simulated stretch of a house's life, of which everything is written down. */
export interface Simulation extends Run, Omit<Stage, "house" | "engine" | "world" | "play"> {
  readonly past: Journal;
}

/**
 * Runs the rules on the simulated house. The day before `from` is run too, and not shown, again and again until it begins
 * and ends alike, so that rooms and memories are those of a house that has been lived in. A sensor that no room moves goes
 * on saying what the house's example begins with: its first simulated trial, else its first. All is written down, so that
 * memory grows with the days; `measureSimulation` keeps figures alone.
 * @throws RangeError when a name or value of `set` does not fit the house, or `lasts` or `every` is not above zero
 */
export function simulate(house: House, options: SimulationOptions = {}): Simulation {
  const journal = new Journal();
  const { play, from, to, weather, seed, unmoved, airs, idle, assumed, takenOutdoors } = stage(house, options, { journal });
  const kept = play();
  return { past: journal, from, to, weather, seed, unmoved, airs, idle, assumed, takenOutdoors, ...(kept && { kept }) };
}
