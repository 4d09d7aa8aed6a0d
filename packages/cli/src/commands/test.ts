import {
  clockOf,
  type House,
  readingOf,
  runTrial,
  sayInstant,
  type Trial,
  type TrialResult,
  thingsIn,
  type Verdict,
  why,
} from "modrik";
import pc from "picocolors";
import { CallError } from "../call-error.js";
import { writeExplanation } from "../explanation.js";
import { readSoundHouse } from "../house-files.js";
import { Progress } from "../progress.js";

export interface TestOptions {
  readonly grep?: string;
  readonly bail?: boolean;
  readonly json?: boolean;
}

/** Runs the trials of a house and prints a line for each; true when all passed. */
export function test(path: string | undefined, { grep, bail, json }: TestOptions): boolean {
  const house = readSoundHouse(path);
  if (!house) return false;
  const chosen = house.trials.filter((trial) => grep === undefined || matches(trial, grep));
  if (grep !== undefined && chosen.length === 0)
    throw new CallError(`No trial has "${grep}" in its name or title.`, trialNames(house));
  const results: TrialResult[] = [];
  const progress = new Progress("running trials");
  for (const trial of chosen) {
    const result = runTrial(house, trial);
    results.push(result);
    progress.at(results.length / chosen.length);
    if (!json) process.stdout.write(`${writeResult(result, house)}\n`);
    if (bail && !result.passed) break;
  }
  progress.end();
  const failed = results.filter(({ passed }) => !passed).length;
  if (json) process.stdout.write(`${JSON.stringify(results.map(asJson), null, 2)}\n`);
  else process.stdout.write(`${sayEnd(results.length - failed, failed, house.trials.length - results.length)}\n`);
  return failed === 0;
}

function matches({ name, title = "" }: Trial, text: string): boolean {
  return name.includes(text) || title.toLowerCase().includes(text.toLowerCase());
}

function trialNames({ trials }: House): string {
  return trials.length === 0 ? "The house has no trials." : `There are: ${trials.map(({ name }) => name).join(", ")}.`;
}

function sayEnd(passed: number, failed: number, left: number): string {
  if (passed + failed === 0) return "The house has no trials.";
  const counts = `${passed} passed, ${failed} failed${left > 0 ? `, ${left} not run` : ""}`;
  return failed === 0 ? pc.green(counts) : pc.red(counts);
}

function asJson({ trial, passed, verdicts }: TrialResult) {
  return { trial: trial.name, passed, verdicts: verdicts.map(({ expectation: _, ...verdict }) => verdict) };
}

function writeResult(result: TrialResult, house: House): string {
  const { trial, passed, verdicts } = result;
  const title = trial.title ? `  ${pc.dim(trial.title)}` : "";
  const head = `${passed ? pc.green("passed") : pc.red("failed")}  ${trial.name}${title}`;
  const failures = verdicts.filter((verdict) => !verdict.passed).flatMap((verdict) => writeFailure(verdict, result, house));
  return [head, ...failures].join("\n");
}

/** What was expected, what was, when it first went wrong, and why the outputs in question were as they were. */
function writeFailure({ says, wrongAt, counted, expectation, to }: Verdict, { run }: TrialResult, house: House): string[] {
  const at = wrongAt ?? to;
  const things = thingsIn(expectation.condition);
  const when = sayInstant(clockOf(house.clock), at, run.from);
  const was =
    counted === undefined
      ? things.map((name) => `${name} was ${readingOf(run, name, at)}`).join(", ")
      : `it was ${counted} times`;
  const outputs = house.outputs.filter((output) => things.includes(output.name));
  const reasons = outputs.flatMap((output) => writeExplanation(why(run, output.name, at), "          "));
  return [
    `        expected  ${says}`,
    `        but ${counted === undefined ? `at ${when} ` : ""}${was || `nothing was told by ${when}`}`,
    ...reasons.map((line) => pc.dim(line)),
  ];
}
