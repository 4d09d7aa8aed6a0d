// What an engine is to those who drive it: simulator, trial, running house, browser.
import type { Expression, House, Value } from "../house/index.js";
import type { Reason, Recording } from "./journal.js";
import type { ProblemRecord } from "./past.js";
import type { PersonAction } from "./person-action.js";
import type { Snapshot } from "./snapshot.js";

/** How a house starts, and what is written down of it. */
export interface EngineOptions {
  /** The first instant, in milliseconds since 1970 UTC. */
  readonly at: number;
  /** What has been so for ever, by name: a settled start without edges. Left out: a cold start. */
  readonly given?: Readonly<Record<string, Value>>;
  /** Goes on from a snapshot, taken at `at` or before; the house was down in between. */
  readonly restore?: Snapshot;
  /** Conditions watched as well, without influence on it; see {@link Engine.watched}. */
  readonly watch?: readonly Expression[];
  /** Called after every instant in which something was looked at, with the state it shows to the outside. */
  readonly onInstant?: (at: number) => void;
  /** Where to write down what happens; with `restore`, the journal so far is gone on with. Left out: nowhere. */
  readonly journal?: Recording;
}

/** An output that took another value. */
export interface Change {
  readonly at: number;
  readonly output: string;
  /** In the output's own unit; undefined when it is not known what it does. */
  readonly value: Value | undefined;
  readonly because: Reason;
}

/** Something told to a person. */
export interface Notice {
  readonly at: number;
  readonly text: string;
  readonly through?: string;
}

/** A raw message that a step sends. */
export interface Message {
  readonly at: number;
  readonly text: string;
  readonly to: string;
}

/** A running house. Time is in milliseconds since 1970 UTC and never goes back; values are in the own unit of their thing. */
export interface Engine {
  readonly house: House;
  /** The instant up to which everything has happened. */
  readonly now: number;
  /** The next instant at which something happens by itself; infinite when nothing does. */
  readonly nextDeadline: number;
  /**
   * A sensor's value after calibration, in its own unit, or its word. It lets all that lies before its instant happen, and
   * waits for the others of its instant: they make one step, once time goes on. A value out of the sensor's range, or of the wrong kind, is refused and noted. One before `now` is taken at `now` and
   * noted.
   * @throws RangeError when the house has no such sensor
   */
  report(sensor: string, value: Value, at: number): void;
  /**
   * A sensor is unknown from then on, until it reports again: its device is gone. Queued like a report.
   * @throws RangeError when the house has no such sensor
   */
  lose(sensor: string, at: number): void;
  /** The number of a sensor, for {@link Engine.reportNumber}. */
  sensorNumber(sensor: string): number;
  /** Like `report`, for many reports: of a sensor by its number, a value in its base unit, or the place of its word. */
  reportNumber(sensor: number, base: number, at: number): void;
  /**
   * A press, queued like a report.
   * @throws RangeError when the house has no such sensor, or it is not one that is pressed
   */
  press(sensor: string, at: number): void;
  /**
   * Sets a dial or a mode; queued like a report.
   * @throws RangeError when there is no such dial or mode, or the value is not one of its own
   */
  set(name: string, value: Value, at: number): void;
  /**
   * What a person does; queued like a report. What a guard refuses is noted as a problem.
   * @throws RangeError when the house has no such output, rule, preset or countdown, or the value does not fit
   */
  person(action: PersonAction, at: number): void;
  /** What an output says it does. */
  confirm(output: string, value: Value, at: number): void;
  /**
   * The house's clock is set: by so many milliseconds ahead or back. Durations go on; times of day follow the new clock,
   * forward as if the house had been down, backward without firing again.
   */
  jumpClock(by: number, at: number): void;
  /**
   * Runs all that is queued or falls due up to an instant, that instant included.
   * @throws RangeError when `at` lies before `now`
   */
  advanceTo(at: number): void;
  /** The value of a sensor, output, dial, mode, let or profile in its own unit; undefined when unknown. */
  value(name: string): Value | undefined;
  /** The watched conditions in their order: 1 true, 0 false, NaN unknown. */
  watched(index: number): number;
  /** The same of all of them at once. */
  readWatched(into: Float64Array): void;
  /**
   * Brings a list of them up to date, and names the places that turned since it last was; one list alone, at first all
   * unknown. Gives how many they are: the first so many of `turned`.
   */
  readTurned(list: Float64Array, turned: Int32Array): number;
  /** What outputs did since the last call. */
  takeChanges(): readonly Change[];
  /** What was told since the last call. */
  takeNotices(): readonly Notice[];
  /** What steps sent since the last call. */
  takeMessages(): readonly Message[];
  /** What went wrong since the last call. */
  takeProblems(): readonly ProblemRecord[];
  /** Whether something in the house asks if an output disobeys: its host then says what each one does, by `confirm`. */
  readonly asksObedience: boolean;
  /** What of a restored snapshot did not fit the house, by name. */
  readonly leftOut: readonly string[];
  /**
   * The house goes down: its outputs do what they do without control, which is shown once more, and nothing happens in it
   * after that. Gives what it remembers: another engine goes on from there.
   * @throws RangeError when `at` lies before `now`
   */
  goDown(at: number): Snapshot;
  /** All that the house remembers, as plain JSON: to be restored later. */
  snapshot(): Snapshot;
}
