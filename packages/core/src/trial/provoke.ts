// A simulated stretch of a house's life in which things happen that somebody thought of.
import { type Drawable, type Engine, type EngineOptions, Journal, Lines } from "../engine/index.js";
import { type Expression, type Happening, type House, skyOf, type Timeline, timelineOf } from "../house/index.js";
import { writeHappening } from "../language/index.js";
import { type Simulation, type SimulationOptions, stage, withRooms } from "../physics/index.js";
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
  const past = new Journal();
  return { past, ...provoked(house, happenings, options, { journal: past }) };
}

/** A simulated stretch of which only some lines are there. */
export interface ProvokedLines extends Omit<Provoked, "past"> {
  readonly past: Drawable;
}

/**
 * As `provoke`, of which only the lines of some expressions, notices and problems are kept: it takes half the time.
 * @throws RangeError as `simulate`, and for an expression of something that the house has not
 */
export function provokeLines(
  house: House,
  happenings: readonly Happening[],
  expressions: readonly Expression[],
  options: SimulationOptions = {},
): ProvokedLines {
  const past = new Lines(withRooms(house), expressions);
  const { watch } = past;
  return { past, ...provoked(house, happenings, options, { watch }, (engine, at) => past.look(engine, at)) };
}

function provoked(
  house: House,
  happenings: readonly Happening[],
  options: SimulationOptions,
  recorded: Pick<EngineOptions, "journal" | "watch">,
  look?: (engine: Engine, at: number) => void,
): Omit<Provoked, "past"> {
  const { play, engine, world, house: own, ...about } = stage(house, options, recorded);
  const sky = skyOf(own);
  const { day, ms } = sky.clock.local(about.from);
  const from = { kind: "instant" as const, date: dateOfDay(day), ms };
  const timeline = timelineOf({ name: "", from, given: [], happenings, expectations: [] }, sky);
  const due = timeline.happenings.filter(({ at }) => at < about.to);
  const actor = new Actor(engine, world, recorded);
  const watcher = look && { after: (at: number) => look(actor.engine, at) };
  const kept = play(watcher, {
    instants: due.map(({ at }) => at),
    happen: (place) => {
      const { what, at, to } = due[place] as (typeof due)[number];
      actor.happen(what, at, to);
    },
    get engine() {
      return actor.engine;
    },
  });
  const { from: begins, to, weather, seed, unmoved, airs, idle, assumed, takenOutdoors } = about;
  const happened = happenedIn(happenings, timeline.happened).filter(({ at }) => at < to);
  return { from: begins, to, weather, seed, unmoved, airs, idle, assumed, takenOutdoors, happened, ...(kept && { kept }) };
}

/** Each happening, at its instant. */
export function happenedIn(happenings: readonly Happening[], times: Timeline["happened"]): Happened[] {
  return happenings.map((one, place) => ({ ...(times[place] as Timeline["happened"][number]), says: writeHappening(one) }));
}
