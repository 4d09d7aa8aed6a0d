// Runs trials: a timeline into an engine, the lines of its expectations out, a verdict for each.
import { createEngine, type Engine, Journal, type Run } from "../engine/index.js";
import {
  type Expectation,
  type Expression,
  type Happening,
  type House,
  type Setting,
  type Trial,
  type Value,
  type Weather,
  writeExpression,
} from "../house/index.js";
import { calm, createPhysics, World } from "../physics/index.js";
import { clockOf, MINUTE } from "../time/index.js";
import { fromBase, toBase } from "../units/index.js";
import { type Timeline, timelineOf, type Window } from "./timeline.js";
import { countRises, countsIn, firstWrong, holdsWith, isMoment, type Line } from "./verdict.js";

export interface Verdict {
  readonly expectation: Expectation;
  /** As one would write it. */
  readonly says: string;
  readonly passed: boolean;
  readonly from: number;
  readonly to: number;
  /** When it first went wrong. */
  readonly wrongAt?: number;
  /** For an expectation on a count: how often it was. */
  readonly counted?: number;
}

export interface TrialResult {
  readonly trial: Trial;
  readonly passed: boolean;
  readonly verdicts: readonly Verdict[];
  readonly run: Run;
}

/** Runs every trial of a house, or those that `choose` takes, in the order written. */
export function runTrials(house: House, choose: (trial: Trial) => boolean = () => true): TrialResult[] {
  return house.trials.filter(choose).map((trial) => runTrial(house, trial));
}

export function runTrial(house: House, trial: Trial): TrialResult {
  const clock = clockOf(house.clock);
  const timeline = timelineOf(trial, clock);
  const watch = trial.expectations.map(({ condition }) => {
    const counts = countsIn(condition);
    return counts.length > 0 ? counts.map((count) => count.condition) : [condition];
  });
  const lines = watch.flat().map((condition): Line => ({ times: [], values: [], moments: isMoment(condition) }));
  const journal = new Journal();
  const engine = play(house, trial, timeline, watch.flat(), lines, journal);
  let next = 0;
  const verdicts = trial.expectations.map((expectation, index) => {
    const own = lines.slice(next, next + (watch[index]?.length ?? 0));
    next += own.length;
    return judge(expectation, timeline.windows[index] as Window, own);
  });
  const run = { program: engine.program, journal, from: timeline.from, to: timeline.to };
  return { trial, passed: verdicts.every(({ passed }) => passed), verdicts, run };
}

function judge(expectation: Expectation, window: Window, lines: readonly Line[]): Verdict {
  const base = { expectation, says: sayExpectation(expectation), from: window.from, to: window.to };
  const counts = countsIn(expectation.condition);
  if (counts.length === 0) {
    const wrongAt = firstWrong(expectation, window, lines[0] as Line);
    return { ...base, passed: wrongAt === undefined, ...(wrongAt !== undefined && { wrongAt }) };
  }
  const counted = new Map<Expression, number>(counts.map((count, index) => [count, countRises(lines[index] as Line, window)]));
  const holds = holdsWith(expectation.condition, counted) === (expectation.claim !== "never");
  return { ...base, passed: holds, counted: counted.get(counts[0] as Expression) ?? 0, ...(!holds && { wrongAt: window.to }) };
}

/** An expectation as one would write it. */
export function sayExpectation({ claim, condition, by, at, from, to }: Expectation): string {
  const words = [claim === "holds" ? "" : `${claim} `, writeExpression(condition)];
  if (by) words.push(` by ${writeExpression(by)}`);
  if (at) words.push(` at ${writeExpression(at)}`);
  if (from) words.push(` from ${writeExpression(from)}`);
  if (to) words.push(` to ${writeExpression(to)}`);
  return words.join("");
}

function play(
  house: House,
  trial: Trial,
  timeline: Timeline,
  watch: readonly Expression[],
  lines: readonly Line[],
  journal: Journal,
): Engine {
  let engine: Engine;
  const { from } = timeline;
  const onInstant = (at: number) => lines.forEach((line, index) => write(line, at, engine.watched(index)));
  const given = Object.fromEntries(trial.given.flatMap((setting) => asGiven(setting, house)));
  engine = createEngine(house, { at: from, given, watch, onInstant, journal });
  const physics = trial.simulated && createPhysics(house, { from, weather: weatherOf(house, trial.simulated.weather), given });
  const world = new World(engine, from, MINUTE, physics);
  for (const [name, value] of Object.entries(given)) {
    const sensor = house.sensors.some((one) => one.name === name);
    if (sensor && !physics?.sensors.includes(name)) world.tell(name, value, from);
  }
  for (const { at, what } of timeline.happenings) {
    if (at > timeline.to) break;
    world.passTo(at, true);
    if (what.kind === "the house restarts") {
      engine.advanceTo(at);
      const snapshot = JSON.parse(JSON.stringify(engine.snapshot()));
      engine = createEngine(house, { at, restore: snapshot, watch, onInstant, journal });
      world.engine = engine;
    } else happen(what, at, world, house);
  }
  world.passTo(timeline.to);
  return engine;
}

function weatherOf(house: House, name: string | undefined): Weather {
  return house.weathers.find((weather) => weather.name === name) ?? house.weathers[0] ?? calm;
}

function happen(what: Exclude<Happening["what"], { kind: "the house restarts" }>, at: number, world: World, house: House): void {
  if (what.kind === "falls silent") return world.silence(what.name);
  const value = ownValue(what.value, what.name, house);
  if (value === undefined) world.silence(what.name);
  else if (house.sensors.some(({ name }) => name === what.name)) world.tell(what.name, value, at);
  else world.engine.set(what.name, value, at);
}

function asGiven({ name, value }: Setting, house: House): [string, Value][] {
  const own = ownValue(value, name, house);
  return own === undefined ? [] : [[name, own]];
}

/** A value told to a thing, in the thing's own unit; undefined for unknown. */
function ownValue(expression: Expression, name: string, house: House): Value | undefined {
  if (expression.kind === "word") return expression.word;
  if (expression.kind === "time") return expression.ms;
  if (expression.kind === "negative") {
    const of = ownValue(expression.of, name, house);
    return typeof of === "number" ? -of : undefined;
  }
  if (expression.kind !== "number") return undefined;
  const things = [...house.sensors, ...house.outputs, ...house.dials];
  const type = things.find((thing) => thing.name === name)?.type;
  return type?.kind === "number" ? fromBase(toBase(expression), type.unit) : expression.value;
}

/** Within an instant the last value counts. */
function write(line: Line, at: number, value: number): void {
  if (line.times.at(-1) === at) {
    line.values[line.values.length - 1] = value;
    return;
  }
  const again = line.moments && value === 1;
  if (line.times.length > 0 && Object.is(line.values.at(-1), value) && !again) return;
  line.times.push(at);
  line.values.push(value);
}
