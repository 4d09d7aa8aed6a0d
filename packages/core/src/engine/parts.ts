// The parts of a running house, as they know one another.
import type { Agenda, Evaluator } from "../expression/index.js";
import type { Sky } from "../time/index.js";
import type { Countdowns } from "./countdowns.js";
import type { Crossings } from "./crossings.js";
import type { Deeds } from "./deeds.js";
import type { Events } from "./events.js";
import type { HouseClock } from "./house-clock.js";
import type { Outputs } from "./outputs.js";
import type { Cell, Program } from "./program.js";
import type { Recorder } from "./recorder.js";
import type { Told } from "./told.js";
import type { Turns } from "./turns.js";
import type { UnknownTimes } from "./unknown-times.js";
import type { Watched } from "./watched.js";

export interface Parts {
  readonly program: Program;
  /** Sensors, dials, modes and outputs, by their nodes. */
  readonly cellOf: readonly (Cell | undefined)[];
  readonly agenda: Agenda;
  readonly evaluator: Evaluator;
  readonly clock: HouseClock;
  /** The present instant, and the sky by the clock. */
  readonly now: number;
  readonly sky: Sky;
  readonly outputs: Outputs;
  readonly events: Events;
  readonly countdowns: Countdowns;
  readonly deeds: Deeds;
  readonly turns: Turns;
  readonly crossings: Crossings;
  readonly watching: Watched;
  readonly told: Told;
  readonly recorder: Recorder;
  readonly unknownTimes: UnknownTimes;
}
