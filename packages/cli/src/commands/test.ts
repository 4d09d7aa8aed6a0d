import { writeJunit } from "@modrik/formats";
import { type House, isSound, type LogEntry, logOf, type Margin, runTrial, sayMargin, type Trial } from "modrik";
import type { HouseText } from "modrik/language";
import { CallError } from "../call-error.js";
import { readHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { printProblems } from "../problems.js";
import { type Progress, whileShown } from "../progress.js";
import { writeLogFile } from "../recordings.js";
import { wholeNumber } from "../run-options.js";
import { writeTable } from "../table.js";
import { reportOf, type TrialReport } from "../trial-report.js";
import { savedFiles } from "../watch-files.js";
import { writeResult } from "../write-result.js";

export interface TestOptions {
  readonly only?: string;
  readonly stopAtFailure?: boolean;
  readonly json?: boolean;
  readonly chart?: boolean | string;
  readonly margins?: boolean;
  readonly results?: string;
  readonly log?: string;
  readonly watch?: boolean;
  readonly coverage?: boolean;
  readonly trace?: string;
  readonly mutants?: boolean;
  readonly hunt?: boolean;
  readonly seed: string;
  readonly tries: string;
}

/** Runs the trials of a house and prints a line for each; true when all passed. */
export async function test(path: string | undefined, options: TestOptions, io: Io): Promise<boolean> {
  if (!options.watch) return await testOnce(path, options, io);
  if (options.json) throw new CallError("--watch and --json do not go together.", "Leave one of them out.");
  return await testAgainAndAgain(path, options, io);
}

async function testOnce(path: string | undefined, options: TestOptions, io: Io): Promise<boolean> {
  const { text, unreadable } = readHouse(path, io);
  if (!isSound(text) || unreadable.length > 0) {
    printProblems(text, io.err, io);
    return false;
  }
  const { house } = text;
  const { only, json } = options;
  const named = house.trials.filter(({ name }) => name === only);
  const chosen = named.length > 0 ? named : house.trials.filter((trial) => only === undefined || matches(trial, only));
  if (only !== undefined && chosen.length === 0)
    throw new CallError(`No trial has "${only}" in its name or title.`, trialNames(house));
  if (options.hunt) {
    const { huntFor } = await import("./hunt.js");
    return huntFor(
      { ...house, trials: chosen },
      wholeNumber(options.seed, "--seed"),
      wholeNumber(options.tries, "--tries"),
      json === true,
      io,
    );
  }
  const tested: House = { ...house, trials: chosen };
  const reports = await run(tested, options, io);
  const failed = reports.filter(({ passed }) => !passed).length;
  if (options.results) writeResults(options.results, house, reports, io);
  if (typeof options.chart === "string") await drawTrial(house, chosen, options.chart, io);
  if (options.log)
    writeLogFile(
      chosen.flatMap((trial) => happenedIn(house, trial)),
      options.log,
      io,
    );
  const more = { ...(await measured(tested, text, options, failed, io)) };
  if (json)
    io.out.write(
      `${JSON.stringify(Object.keys(more).length > 0 ? { trials: reports.map(asJson), ...more } : reports.map(asJson), null, 2)}\n`,
    );
  else {
    if (options.margins) io.out.write(`\n${writeMargins(reports, io)}\n`);
    const troubled = reports.filter(({ passed, problems }) => passed && problems.length > 0);
    if (troubled.length > 0) io.out.write(`${io.paint.dim(sayTroubled(troubled))}\n`);
    io.out.write(`${sayEnd(reports.length - failed, failed, house.trials.length - reports.length, io)}\n`);
  }
  return failed === 0;
}

/** What the trials try, and which mistakes they find: printed, or handed back to go into the JSON. */
async function measured(house: House, text: HouseText, options: TestOptions, failed: number, io: Io) {
  const { coverage, trace, mutants, json } = options;
  if (mutants && failed > 0) throw new CallError("--mutants needs trials that pass.", "Fix the trials that fail first.");
  const { coverTrials } = coverage || trace ? await import("./coverage.js") : {};
  const { tryMutants } = mutants ? await import("./mutants.js") : {};
  const covered = coverTrials?.(house, text, { print: coverage === true && !json, tracefile: trace }, io);
  const tried = await tryMutants?.(house, text, !json, io);
  return { ...(coverage && covered && { coverage: covered }), ...(tried && { mutants: tried }) };
}

/** So many trials are worth starting workers for. */
const MANY = 100;
/** How many a worker takes at once. */
const SHARE = 20;

function run(house: House, options: TestOptions, io: Io): Promise<TrialReport[]> {
  return whileShown(io, "running trials", (progress) => runShown(house, options, progress, io));
}

async function runShown(
  house: House,
  { stopAtFailure, json, chart: wanted = false }: TestOptions,
  progress: Progress,
  io: Io,
): Promise<TrialReport[]> {
  const reports: TrialReport[] = [];
  const { trials } = house;
  const chart = wanted !== false;
  const say = (report: TrialReport) => {
    reports.push(report);
    if (!json) {
      progress.hide();
      io.out.write(`${writeReport(report, io)}\n`);
    }
    progress.at(reports.length / trials.length);
  };
  if (trials.length < MANY) {
    for (const trial of trials) {
      const report = reportOf(house, trial, chart);
      say(report);
      if (stopAtFailure && !report.passed) break;
    }
  } else await runInParallel(house, chart, stopAtFailure === true, say);
  return reports;
}

/** Reports are said in the order of the trials, as soon as all before them are there. */
async function runInParallel(
  house: House,
  chart: boolean,
  stopAtFailure: boolean,
  say: (report: TrialReport) => void,
): Promise<void> {
  const { inParallel } = await import("../pool.js");
  const places = house.trials.map((_, place) => place);
  const shares = Array.from({ length: Math.ceil(places.length / SHARE) }, (_, share) =>
    places.slice(share * SHARE, (share + 1) * SHARE),
  );
  const done: (readonly TrialReport[] | undefined)[] = [];
  const stop = new AbortController();
  let next = 0;
  const onDone = (reports: readonly TrialReport[], place: number) => {
    done[place] = reports;
    for (let ready = done[next]; ready && !stop.signal.aborted; ready = done[++next]) {
      for (const report of ready) {
        if (stop.signal.aborted) break;
        say(report);
        if (stopAtFailure && !report.passed) stop.abort();
      }
    }
  };
  const tasks = shares.map((share) => ({ kind: "trials", places: share }) as const);
  await inParallel<readonly TrialReport[]>({ house, chart }, tasks, onDone, stop.signal);
}

/** Runs the trials whenever a file of the house is saved, until it is stopped. */
async function testAgainAndAgain(path: string | undefined, options: TestOptions, io: Io): Promise<boolean> {
  const { ended } = io;
  const once = async () => {
    await testAsItIs(path, options, io);
    io.out.write(io.paint.dim(`Watching ${path ?? "this folder"}; stop with Ctrl-C.\n`));
  };
  // What is saved while trials run is seen after them.
  const saves = savedFiles(path, io, ended);
  await once();
  for await (const saved of saves) {
    io.out.write(`\n${io.paint.bold(`${saved} was saved.`)}\n`);
    await once();
  }
  return true;
}

/** A house that is being changed may be anything: what is wrong with it is said, and waited for. */
async function testAsItIs(path: string | undefined, options: TestOptions, io: Io): Promise<void> {
  try {
    await testOnce(path, options, io);
  } catch (error) {
    if (!(error instanceof CallError)) throw error;
    io.out.write(`${error.message}\n  ${error.remedy ?? ""}\n`);
  }
}

/** Trials that pass, though something went wrong in them. */
function sayTroubled(reports: readonly TrialReport[]): string {
  const [first, ...others] = reports.map(
    ({ trial, problems }) => `${trial} (${problems[0]}${problems.length > 1 ? `, and ${problems.length - 1} more` : ""})`,
  );
  return `Trials that passed with problems while running: ${[first, ...others.slice(0, 2)].join("; ")}${others.length > 2 ? `; and in ${others.length - 2} more` : ""}.`;
}

/** Draws the run of a trial, passed or failed. */
async function drawTrial(house: House, chosen: readonly Trial[], file: string, io: Io): Promise<void> {
  const [trial, another] = chosen;
  if (!trial || another)
    throw new CallError(`--chart ${file} draws one trial, not ${chosen.length}.`, "Choose it with --only, by its name.");
  const { run, passed, happened, verdicts } = runTrial(house, trial);
  const { drawChart } = await import("../picture.js");
  const title = trial.title ?? trial.name;
  const subtitle = `trial ${trial.name} of ${house.name}, ${passed ? "passed" : "failed"}`;
  drawChart(run, file, { title, subtitle, happened, verdicts }, io);
  io.err.write(`created ${file}\n`);
}

/** A trial is played again for its list: without one, its run is not kept. */
function happenedIn(house: House, trial: Trial): LogEntry[] {
  const { name } = trial;
  const { run, broken } = runTrial(house, trial);
  return broken === undefined ? logOf(run).map((entry) => ({ trial: name, ...entry })) : [];
}

function matches({ name, title = "" }: Trial, text: string): boolean {
  return name.includes(text) || title.toLowerCase().includes(text.toLowerCase());
}

function trialNames({ trials }: House): string {
  return trials.length === 0 ? "The house has no trials." : `There are: ${trials.map(({ name }) => name).join(", ")}.`;
}

function sayEnd(passed: number, failed: number, left: number, io: Io): string {
  if (passed + failed === 0) return "The house has no trials.";
  const counts = `${passed} passed, ${failed} failed${left > 0 ? `, ${left} not run` : ""}`;
  return failed === 0 ? io.paint.green(counts) : io.paint.red(counts);
}

function asJson({ trial, passed, verdicts, problems, notices, broken }: TrialReport) {
  return {
    trial,
    passed,
    ...(broken !== undefined && { broken }),
    ...(problems.length > 0 && { problems }),
    ...(notices.length > 0 && { notices }),
    verdicts: verdicts.map(({ lines: _, ...verdict }) => verdict),
  };
}

/** Notices, and problems, of one trial that are shown. */
const SHOWN = 5;

function writeReport({ trial, title, passed, verdicts, problems, notices, broken }: TrialReport, io: Io): string {
  const head = `${passed ? io.paint.green("passed") : io.paint.red("failed")}  ${trial}${title ? `  ${io.paint.dim(title)}` : ""}`;
  const failures = verdicts.flatMap(({ lines = [] }) =>
    lines.map((line, index) => `        ${index < 2 ? line : io.paint.dim(line)}`),
  );
  // Of a trial that passes they may be what it is about.
  const wrong = passed ? [] : problems.slice(0, SHOWN).map((text) => `        ${io.paint.yellow(`while running, ${text}`)}`);
  const told = passed ? [] : notices.slice(0, SHOWN).map((text) => `        ${io.paint.dim(`told ${text}`)}`);
  const ended = broken === undefined ? [] : [`        it could not be run to its end: ${broken}`];
  return [head, ...ended, ...failures, ...told, ...wrong].join("\n");
}

function writeResults(file: string, house: House, reports: readonly TrialReport[], io: Io): void {
  const cases = reports.map(({ trial, passed, seconds, verdicts, broken }) => {
    const wrong = verdicts.filter((verdict) => !verdict.passed);
    const details = wrong.flatMap(({ lines = [] }) => lines).join("\n");
    return {
      name: trial,
      seconds,
      ...(!passed && { failure: { says: broken ?? wrong.map(({ says }) => says).join("; "), details } }),
    };
  });
  writeResult(file, writeJunit(house.name, cases), io);
}

/** Trials by how near they came to failing, the nearest first: in a value, and in time. */
function writeMargins(reports: readonly TrialReport[], io: Io): string {
  const rows = reports.map(({ trial, verdicts }) => {
    const margins = verdicts.flatMap(({ margin }) => (margin ? [margin] : [])).sort((a, b) => a.steps - b.steps);
    const inValue = margins.find(({ unit }) => unit !== "ms");
    const inTime = margins.find(({ unit }) => unit === "ms");
    return {
      trial,
      inValue,
      inTime,
      nearest: Math.min(inValue?.steps ?? Number.POSITIVE_INFINITY, inTime?.steps ?? Number.POSITIVE_INFINITY),
    };
  });
  // Of those that are exact to the second on purpose the values decide.
  const sorted = rows.sort(
    (a, b) =>
      a.nearest - b.nearest || (a.inValue?.steps ?? Number.POSITIVE_INFINITY) - (b.inValue?.steps ?? Number.POSITIVE_INFINITY),
  );
  const say = (margin: Margin | undefined) => (margin ? sayMargin(margin) : "-");
  return writeTable(
    ["Trial", "smallest margin in value", "in time"],
    sorted.map(({ trial, inValue, inTime }) => [trial, say(inValue), say(inTime)]),
    io,
  );
}
