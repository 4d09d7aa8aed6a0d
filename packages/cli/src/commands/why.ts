import { clockOf, dayOfDate, type House, type Run, runTrial, sayDate, why } from "modrik";
import pc from "picocolors";
import { CallError } from "../call-error.js";
import { writeExplanation } from "../explanation.js";
import { readSoundHouse } from "../house-files.js";
import { describeRun, oneOf, type RunOptions, simulateAs, timeOfDay } from "../run-options.js";

export interface WhyOptions extends RunOptions {
  readonly at: string;
  readonly trial?: string;
  readonly json?: boolean;
}

/** Explains an output at a time of a simulated run, or of a trial. */
export function explain(output: string, path: string | undefined, options: WhyOptions): boolean {
  const house = readSoundHouse(path);
  if (!house) return false;
  oneOf(house.outputs, output, "output");
  const { run, about } = runOf(house, options);
  const at = instantOf(house, run, options.at);
  const found = why(run, output, at);
  if (options.json)
    process.stdout.write(`${JSON.stringify({ run: about, at: new Date(at).toISOString(), ...found }, null, 2)}\n`);
  else {
    process.stdout.write(`${pc.dim(`At ${sayDate(clockOf(house.clock), at)} (${about})`)}\n`);
    process.stdout.write(`${writeExplanation(found).join("\n")}\n`);
  }
  return true;
}

function runOf(house: House, options: WhyOptions): { run: Run; about: string } {
  if (options.trial === undefined) {
    const run = simulateAs(house, options);
    return { run, about: describeRun(run) };
  }
  const trial = oneOf(house.trials, options.trial, "trial");
  return { run: runTrial(house, trial).run, about: `trial ${trial.name}` };
}

/** A time on the first day of a run at which it goes on, or a date and time. */
function instantOf(house: House, run: Run, text: string): number {
  const clock = clockOf(house.clock);
  const [, date, time = ""] = /^(?:(\d{4}-\d{2}-\d{2})[ T])?([\d:]+)$/.exec(text.trim()) ?? [];
  const ms = timeOfDay(time);
  const [year = 0, month = 0, day = 0] = (date ?? "").split("-").map(Number);
  const on = date === undefined ? clock.local(run.from).day : dayOfDate(year, month, day);
  if (Number.isNaN(ms) || on === undefined)
    throw new CallError(`"${text}" is no time.`, 'Write --at 10:15, or --at "2026-01-16 06:40".');
  const same = clock.instant(on, ms);
  const at = date === undefined && same < run.from ? clock.instant(on + 1, ms) : same;
  if (at >= run.from && at <= run.to) return at;
  throw new CallError(`${text} is not within the run.`, `It goes from ${sayDate(clock, run.from)} to ${sayDate(clock, run.to)}.`);
}
