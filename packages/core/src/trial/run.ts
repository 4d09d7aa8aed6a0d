// Runs trials: a timeline into an engine, the lines of its expectations out, a verdict for each.
import { type Engine, Journal, type Run } from "../engine/index.js";
import {
  type Expectation,
  type Expression,
  type House,
  movesByItself,
  type Occurrence,
  partOf,
  skyOf,
  type Trial,
  timelineOf,
  unitOfExpression,
  visitParts,
  type Window,
} from "../house/index.js";
import { writeExpectation } from "../language/index.js";
import { distanceOf, figureMargin, limitOf, type Margin, marginOf } from "./margin.js";
import { Play } from "./play.js";
import { type Happened, happenedIn } from "./provoke.js";
import {
  countedIn,
  figureOf,
  firstUnanswered,
  firstWrong,
  holdsWith,
  isCounted,
  isMoment,
  type Line,
  lineOf,
  partsOf,
} from "./verdict.js";

/** How one expectation went. */
export interface Verdict {
  readonly expectation: Expectation;
  /** As one would write it. */
  readonly says: string;
  readonly passed: boolean;
  readonly from: number;
  readonly to: number;
  /** When it first went wrong. */
  readonly wrongAt?: number;
  /** For an expectation on a count, a time (ms) or a share (%): what it was. */
  readonly counted?: number;
  readonly countedAs?: "count" | "time" | "share";
  /** How far it was from failing, or by how much it failed; left out where nothing came near. */
  readonly margin?: Margin;
}

/** How a trial went, with the run it is judged by. */
export interface TrialResult {
  readonly trial: Trial;
  readonly passed: boolean;
  readonly verdicts: readonly Verdict[];
  /** What happened in it, in the order written. */
  readonly happened: readonly Happened[];
  /** As far as it got. */
  readonly run: Run;
  /** Why it could not be played to its end; it then has no verdicts. */
  readonly broken?: string;
}

/** Runs every trial of a house, or those that `choose` takes, in the order written. */
export function runTrials(house: House, choose: (trial: Trial) => boolean = () => true): TrialResult[] {
  return house.trials.filter(choose).map((trial) => runTrial(house, trial));
}

/** What else is wanted of a trial. */
export interface TrialOptions {
  /** Keep the house as it is at this instant, to go on from. */
  readonly keepAt?: number;
}

/** Runs one trial of a house and judges each of its expectations. One that breaks fails with its reason, and throws nothing. */
export function runTrial(house: House, trial: Trial, { keepAt }: TrialOptions = {}): TrialResult {
  const journal = new Journal();
  try {
    const { kept, timeline, verdicts } = judgeTrial(house, trial, { journal, margins: true, keepAt });
    const run: Run = { past: journal, from: timeline.from, to: timeline.to, ...(kept && { kept }) };
    const happened = happenedIn(trial.happenings, timeline.happened);
    return { trial, passed: verdicts.every(({ passed }) => passed), verdicts, happened, run };
  } catch (error) {
    const from = Number.isFinite(journal.beginning) ? journal.beginning : 0;
    return { trial, passed: false, verdicts: [], happened: [], run: { past: journal, from, to: from }, broken: reasonOf(error) };
  }
}

/** Whether a trial passes; nothing is written down of its run, and no margin is calculated. */
export function passes(house: House, trial: Trial): boolean {
  try {
    return judgeTrial(partFor(house, trial), trial, {}).verdicts.every(({ passed }) => passed);
  } catch {
    return false;
  }
}

/** What of a house a trial is about: all of it, where it is simulated or waits for what any rule may say. */
function partFor(house: House, trial: Trial): House {
  const names = new Set<string>();
  let asksAll = trial.simulated !== undefined || trial.replay !== undefined;
  visitParts(trial, ({ kind, ...part }) => {
    asksAll ||= typeof kind === "string" && ofAll.has(kind);
    for (const value of Object.values(part)) if (typeof value === "string") names.add(value);
  });
  return asksAll ? house : partOf(house, names);
}

const ofAll: ReadonlySet<string> = new Set<Occurrence["kind"] | Expression["kind"]>(["message", "told", "problem", "sent"]);

function reasonOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

interface Judging {
  readonly journal?: Journal;
  readonly margins?: boolean;
  readonly keepAt?: number | undefined;
}

/** The conditions an expectation is judged by, and the number that says how far it is from turning. */
interface Watched {
  readonly conditions: readonly Expression[];
  readonly distance: Expression | undefined;
}

function judgeTrial(house: House, trial: Trial, { journal, margins = false, keepAt }: Judging) {
  const timeline = timelineOf(trial, skyOf(house));
  const watched = trial.expectations.map((expectation) => watchedOf(house, expectation, margins));
  const watch = watched.flatMap(({ conditions, distance }) => (distance ? [...conditions, distance] : conditions));
  const lines = watch.map((condition): Line => ({ times: [], values: [], moments: isMoment(condition) }));
  // What moves by itself may be the same at each instant, and has been something else in between.
  const moving = new Set(watched.flatMap(({ distance }) => (distance && movesByItself(house, distance) ? [distance] : [])));
  const onInstant = (at: number, engine: Engine) =>
    lines.forEach((line, index) => write(line, at, engine.watched(index), moving.has(watch[index] as Expression)));
  const { kept } = new Play(house, trial, timeline, { watch, onInstant, ...(journal && { journal }) }).run(keepAt);
  const windowOf = (index: number) => timeline.windows[index] as Window;
  let next = 0;
  const verdicts = trial.expectations.map((expectation, index) => {
    const { conditions, distance } = watched[index] as Watched;
    const own = lines.slice(next, next + conditions.length);
    next += own.length;
    const far = distance && {
      line: withApproaches(lines[next++] as Line, moving.has(distance) ? journal : undefined, distance, windowOf(index)),
      unit: unitOfExpression(house, distance),
    };
    return judge(expectation, windowOf(index), own, far, timeline.to);
  });
  return { kept, timeline, verdicts };
}

/** A value that moves by itself is also taken just before each step, where it has gone farthest, and at the ends of its window. */
function withApproaches(line: Line, journal: Journal | undefined, distance: Expression, { from, to }: Window): Line {
  if (!journal) return line;
  const first = line.times[0] ?? Number.POSITIVE_INFINITY;
  const all = new Set([...line.times.flatMap((time) => [time - 1, time]), from, to].filter((time) => time >= first));
  const times = [...all].sort((a, b) => a - b);
  return { ...line, times, values: times.map((time) => journal.value(distance, time)) };
}

function watchedOf(house: House, expectation: Expectation, margins: boolean): Watched {
  const { condition, then } = expectation;
  if (then) return { conditions: [condition, then], distance: undefined };
  if (countedIn(condition).length > 0) return { conditions: partsOf(condition).map(lineOf), distance: undefined };
  return { conditions: [condition], distance: margins ? distanceOf(house, condition) : undefined };
}

function judge(
  expectation: Expectation,
  window: Window,
  lines: readonly Line[],
  far: { readonly line: Line; readonly unit: Margin["unit"] } | undefined,
  ends: number,
): Verdict {
  const { claim, condition, then } = expectation;
  const base = { expectation, says: writeExpectation(expectation), from: window.from, to: window.to };
  if (countedIn(condition).length > 0 && !then) return judgeFigures(expectation, window, lines, base);
  const [first, second] = lines as [Line, Line];
  const wrongAt = then ? firstUnanswered(window, first, second, limitOf(expectation)) : firstWrong(claim, window, first);
  const passed = wrongAt === undefined;
  const seen = marginOf(expectation, window, { line: first, answer: second, far, ends, passed });
  // Where something unknown decided, no distance of a number did.
  const margin = seen && (passed ? seen.value >= 0 : seen.value <= 0) ? seen : undefined;
  return { ...base, passed, ...(wrongAt !== undefined && { wrongAt }), ...(margin && { margin }) };
}

/** A claim about counts, times and shares, and what is joined with them. */
function judgeFigures(
  { claim, condition }: Expectation,
  window: Window,
  lines: readonly Line[],
  base: Pick<Verdict, "expectation" | "says" | "from" | "to">,
): Verdict {
  const parts = partsOf(condition);
  const figures = new Map<Expression, number>();
  const truths = new Map<Expression, boolean>();
  parts.forEach((part, index) => {
    const line = lines[index] as Line;
    if (isCounted(part)) figures.set(part, figureOf(part, line, window));
    else truths.set(part, firstWrong(claim === "never" ? "holds" : claim, window, line) === undefined);
  });
  const passed = holdsWith(condition, figures, truths) === (claim !== "never");
  const [counted] = countedIn(condition);
  const figure = (counted && figures.get(counted)) ?? 0;
  const countedAs = counted?.kind === "time true" ? "time" : (counted?.kind ?? "count");
  const margin = claim === "never" ? undefined : figureMargin(condition, figures);
  return { ...base, passed, counted: figure, countedAs, ...(!passed && { wrongAt: window.to }), ...(margin && { margin }) };
}

/** Within an instant the last value counts; a moment has been, whatever step of the instant it was in. */
function write(line: Line, at: number, value: number, moves: boolean): void {
  if (line.times.at(-1) === at) {
    if (!line.moments || line.values.at(-1) !== 1) line.values[line.values.length - 1] = value;
    return;
  }
  const again = moves || (line.moments && value === 1);
  if (line.times.length > 0 && Object.is(line.values.at(-1), value) && !again) return;
  line.times.push(at);
  line.values.push(value);
}
