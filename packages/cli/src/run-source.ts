// Where a run comes from: a simulation, a trial, or a recording.
import { clockOf, DAY, type House, type Recorded, type Run, replay, runTrial, type Simulation, sayDate, trialSpan } from "modrik";
import { CallError } from "./call-error.js";
import { openHouseFile } from "./house-file.js";
import type { Io } from "./io.js";
import { recordingFor } from "./recordings.js";
import {
  beginningAsSaid,
  daysAsSaid,
  describeRun,
  oneOf,
  type RunOptions,
  settings,
  simulateAs,
  simulatedSpan,
} from "./run-options.js";

export interface SourceOptions extends RunOptions {
  readonly trial?: string;
  readonly recording?: string;
  /** The running house, or what it kept when it ran last: by its file. */
  readonly live?: string;
}

/** A run with what it is of, in words. */
export interface FoundRun {
  readonly run: Run;
  readonly about: string;
  readonly simulation?: Simulation;
  readonly recorded?: readonly Recorded[];
}

export interface RunSource {
  readonly span: { readonly from: number; readonly to: number };
  /** Runs it, with the house as it is at an instant kept where that is asked for. */
  run(keepAt?: number): FoundRun;
}

/** What the options mean. @throws CallError when they do not fit the house or one another */
export async function sourceOf(house: House, options: SourceOptions, io: Io): Promise<RunSource> {
  const { trial, recording, live } = options;
  if (trial !== undefined && recording !== undefined) apart("--trial", "--recording");
  if (live !== undefined) return ofLiveHouse(live, options, io);
  if (trial !== undefined) return ofTrial(house, trial, options);
  if (recording !== undefined) return ofRecording(house, recording, options, io);
  return {
    span: simulatedSpan(house, options),
    run: (keepAt) => {
      const simulation = simulateAs(house, options, io, keepAt);
      return { run: simulation, about: describeRun(house, simulation), simulation };
    },
  };
}

function apart(one: string, other: string): never {
  throw new CallError(`${one} and ${other} do not go together.`, "Leave one of them out.");
}

function ofTrial(house: House, name: string, { days, from, weather, seed, set }: SourceOptions): RunSource {
  const other = Object.entries({ "--days": days, "--from": from, "--weather": weather, "--seed": seed }).find(
    ([, value]) => value !== undefined,
  );
  if (other) apart("--trial", other[0]);
  if (set.length > 0) apart("--trial", "--set");
  const trial = oneOf(house.trials, name, "trial");
  return {
    span: trialSpan(house, trial),
    run: (keepAt) => {
      const { run, broken } = runTrial(house, trial, keepAt === undefined ? {} : { keepAt });
      if (broken !== undefined) throw new CallError(`Trial ${trial.name} could not be run to its end: ${broken}.`);
      return { run, about: `trial ${trial.name}` };
    },
  };
}

/** What a running house did: all of it has happened. */
async function ofLiveHouse(file: string, options: SourceOptions, io: Io): Promise<RunSource> {
  for (const other of ["trial", "recording", "weather", "seed", "days", "from"] as const)
    if (options[other] !== undefined) apart("--live", `--${other}`);
  if (options.set.length > 0) apart("--live", "--set");
  const { run } = await openHouseFile(file, io);
  const clock = clockOf(run.past.house.clock);
  const about = `the running house, last heard of at ${sayDate(clock, run.to)}`;
  return { span: run, run: () => ({ run, about }) };
}

async function ofRecording(house: House, file: string, options: SourceOptions, io: Io): Promise<RunSource> {
  const { weather, seed } = options;
  if (weather !== undefined) apart("--recording", "--weather");
  if (seed !== undefined) apart("--recording", "--seed");
  const recorded = await recordingFor(house, file, io);
  const [first, last] = [recorded[0]?.at ?? 0, recorded.at(-1)?.at ?? 0];
  const from = options.from === undefined ? first : beginningAsSaid(house, options.from);
  const to = options.days === undefined ? last : Math.min(last, from + daysAsSaid(options.days) * DAY);
  const clock = clockOf(house.clock);
  if (!(from < to))
    throw new CallError(
      `The recording does not reach from ${sayDate(clock, from)} on.`,
      `It lasts from ${sayDate(clock, first)} to ${sayDate(clock, last)}.`,
    );
  const set = settings(house, options.set);
  const about = `${sayDate(clock, from)} to ${sayDate(clock, to)}, recording ${file}`;
  return {
    span: { from, to },
    run: (keepAt) => ({
      run: replay(house, recorded, { from, to, set, ...(keepAt !== undefined && { keepAt }) }),
      about,
      recorded,
    }),
  };
}
