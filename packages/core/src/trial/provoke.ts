// A simulated stretch of a house's life in which things happen that somebody thought of.
import { Journal } from "../engine/index.js";
import { type Happening, type House, skyOf, type Timeline, timelineOf } from "../house/index.js";
import { writeHappening } from "../language/index.js";
import { type Simulation, type SimulationOptions, stage } from "../physics/index.js";
import { dateOfDay } from "../time/index.js";
import { Actor } from "./actor.js";

/** Something that happened, as it is written in a timeline. */
export interface Happened {
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  /** The same, where it does not last. */
  readonly to: number;
  readonly says: string;
}

/** A simulated stretch, and what happened in it, in the order written. */
export interface Provoked extends Simulation {
  readonly happened: readonly Happened[];
}

/**
 * Runs the rules on the simulated house, as `simulate` does, and lets the happenings of a timeline befall it. The first of
 * their times comes at or after the beginning, each further one at or after the one before; what would come after the end is
 * left out.
 * @throws RangeError as `simulate`
 */
export function provoke(house: House, happenings: readonly Happening[], options: SimulationOptions = {}): Provoked {
  const journal = new Journal();
  const { play, engine, world, house: own, ...about } = stage(house, options, { journal });
  const sky = skyOf(own);
  const { day, ms } = sky.clock.local(about.from);
  const from = { kind: "instant" as const, date: dateOfDay(day), ms };
  const timeline = timelineOf({ name: "", from, given: [], happenings, expectations: [] }, sky);
  const due = timeline.happenings.filter(({ at }) => at < about.to);
  const actor = new Actor(engine, world, { journal });
  const kept = play(undefined, {
    instants: due.map(({ at }) => at),
    happen: (place) => {
      const { what, at, to } = due[place] as (typeof due)[number];
      actor.happen(what, at, to);
    },
    get engine() {
      return actor.engine;
    },
  });
  const { from: begins, to, weather, seed, unmoved, airs, idle, assumed } = about;
  const happened = happenedIn(happenings, timeline.happened).filter(({ at }) => at < to);
  return { past: journal, from: begins, to, weather, seed, unmoved, airs, idle, assumed, happened, ...(kept && { kept }) };
}

/** Each happening, at its instant. */
export function happenedIn(happenings: readonly Happening[], times: Timeline["happened"]): Happened[] {
  return happenings.map((one, place) => ({ ...(times[place] as Timeline["happened"][number]), says: writeHappening(one) }));
}
