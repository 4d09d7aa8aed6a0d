// How a trial went, as plain data that crosses to and from workers: what was expected, what was, and why.
import {
  clockOf,
  type Expression,
  type House,
  lookedAtFor,
  movesByItself,
  type Run,
  readingOf,
  runTrial,
  sayInstant,
  sayMargin,
  type Trial,
  type TrialResult,
  thingsIn,
  type Verdict,
  why,
  writeDuration,
} from "modrik";
import { writeExplanation } from "./explanation.js";
import { sketch } from "./sketch.js";

export interface VerdictReport extends Omit<Verdict, "expectation"> {
  /** For one that failed: what was, the values around it, and why the outputs in question were as they were. */
  readonly lines?: readonly string[];
}

export interface TrialReport {
  readonly trial: string;
  readonly title?: string;
  readonly passed: boolean;
  readonly seconds: number;
  readonly verdicts: readonly VerdictReport[];
  /** What went wrong while it ran, each as `at 08:10 refused: z.t reads 200: …`. */
  readonly problems: readonly string[];
  /** What was told in it, each as `at 08:10 "The door is open."`. */
  readonly notices: readonly string[];
  /** Why it could not be played to its end. */
  readonly broken?: string;
}

/** Runs a trial; with `chart`, failures come with a small chart of what they are about. */
export function reportOf(house: House, trial: Trial, chart: boolean): TrialReport {
  const begun = performance.now();
  const result = runTrial(house, trial);
  const seconds = (performance.now() - begun) / 1000;
  const about = { trial: trial.name, ...(trial.title && { title: trial.title }), passed: result.passed, seconds };
  if (result.broken !== undefined) return { ...about, verdicts: [], problems: [], notices: [], broken: result.broken };
  const verdicts = result.verdicts.map(({ expectation, ...verdict }) => ({
    ...verdict,
    ...(!verdict.passed && { lines: explainFailure({ expectation, ...verdict }, result, house, chart) }),
  }));
  const { past, from, to } = result.run;
  const clock = clockOf(house.clock);
  const problems = past.problems(from, to).map(({ at, code, text }) => `at ${sayInstant(clock, at, from)} ${code}: ${text}`);
  const notices = past.notices(from, to).map(({ at, text }) => `at ${sayInstant(clock, at, from)} "${text}"`);
  return { ...about, problems, notices, verdicts };
}

function explainFailure(verdict: Verdict, { run }: TrialResult, house: House, chart: boolean): string[] {
  const { wrongAt, counted, expectation, to, margin } = verdict;
  const at = wrongAt ?? to;
  const clock = clockOf(house.clock);
  const things = thingsIn([expectation.condition, expectation.then]);
  const when = sayInstant(clock, at, run.from);
  const was =
    counted === undefined ? things.map((name) => `${name} was ${around(run, name, at)}`).join(", ") : sayCounted(verdict);
  const outputs = house.outputs.filter((output) => things.includes(output.name));
  const shown = [...new Set([...things, ...outputs.flatMap(({ name }) => lookedAtFor(house, name))])].slice(0, ROWS);
  return [
    `expected  ${verdict.says}`,
    was === "" ? `but ${sayMoments(verdict, run, at)}` : `but ${counted === undefined ? `at ${when} ` : ""}${was}`,
    ...(margin && margin.value < 0 ? [`it failed by ${sayMargin({ ...margin, value: -margin.value })}`] : []),
    ...outputs.flatMap((output) => writeExplanation(why(run, output.name, at), "  ")),
    ...(chart ? sketch(run, shown, at) : []),
  ];
}

/** Notices or problems nearest to what was expected, or what was not so. */
const TOLD = 3;

/** What a claim that reads no thing is about: what was told, what went wrong, or the hour. */
function sayMoments({ expectation }: Verdict, run: Run, at: number): string {
  const clock = clockOf(run.past.house.clock);
  const when = (instant: number) => sayInstant(clock, instant, run.from);
  const never = expectation.claim === "never";
  const list = (what: string, records: readonly { readonly at: number; readonly text: string }[]) => {
    const then = records.filter((one) => one.at === at);
    if (never) return `at ${when(at)} ${then.map(({ text }) => `${what} "${text}"`).join(", ")}`;
    const near = [...records].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at)).slice(0, TOLD);
    if (near.length === 0) return what === "sent" ? "no such notice was sent" : `nothing ${what}`;
    const told = near.sort((a, b) => a.at - b.at).map((one) => `at ${when(one.at)} "${one.text}"`);
    return `this ${what}: ${told.join(", ")}`;
  };
  if (speaksOf(expectation.condition, "told")) return list("sent", run.past.notices(run.from, run.to));
  if (speaksOf(expectation.condition, "problem")) return list("went wrong", run.past.problems(run.from, run.to));
  if (speaksOf(expectation.condition, "sent")) return never ? `at ${when(at)} it was sent` : `it was not sent by ${when(at)}`;
  return never ? `it was true at ${when(at)}` : `it was not true at ${when(at)}`;
}

/** Whether a part of a condition is of a kind. */
function speaksOf(condition: unknown, kind: Expression["kind"]): boolean {
  if (typeof condition !== "object" || condition === null) return false;
  return ("kind" in condition && condition.kind === kind) || Object.values(condition).some((part) => speaksOf(part, kind));
}

/** Lines of a small chart. */
const ROWS = 6;

function sayCounted({ counted = 0, countedAs }: Verdict): string {
  if (countedAs === "time") return `it was ${counted === 0 ? "never true" : `true for ${writeDuration(Math.round(counted))}`}`;
  if (countedAs === "share") return `it was true for ${counted.toFixed(1)} % of the time`;
  return `it was ${counted} ${counted === 1 ? "time" : "times"}`;
}

/** What a thing was, and what it was before and after, as near as it turned. */
function around(run: Run, name: string, at: number): string {
  const clock = clockOf(run.past.house.clock);
  const now = readingOf(run, name, at);
  // What moves by itself is another at each instant.
  if (movesByItself(run.past.house, { kind: "value", of: name })) return now;
  const { times } = run.past.line({ kind: "value", of: name });
  const since = times.findLast((time) => time <= at);
  const next = times.find((time) => time > at && time <= run.to);
  const parts: string[] = [];
  if (since !== undefined && since > run.from)
    parts.push(`since ${sayInstant(clock, since, run.from)}, ${readingOf(run, name, since - 1)} before`);
  if (next !== undefined) parts.push(`${readingOf(run, name, next)} from ${sayInstant(clock, next, run.from)}`);
  return parts.length > 0 ? `${now} (${parts.join("; ")})` : now;
}
