// What a run was like: how often and how long each output worked, and how near each kept value stayed to its target.
import type { Run } from "../engine/index.js";
import type { Series } from "../expression/index.js";
import { type Expression, type Keep, movesByItself, type Output, unitOfExpression } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { fromBase, greatest, least, toBase, type Unit, units } from "../units/index.js";

/** Lengths of finished cycles, in milliseconds; a length cut off by the beginning or the end of the run does not count. */
export interface Lengths {
  readonly count: number;
  readonly mean: number;
  readonly min: number;
  readonly max: number;
}

/** An output is on when it is neither off nor at 0 nor, as a target, at rest; of a colour the time counts in which it is not black. */
export interface OutputMeasure {
  readonly output: string;
  readonly title: string;
  /** How often it went on within the run. */
  readonly starts: number;
  /** ms */
  readonly onTime: number;
  /** Of the whole run, from 0 to 1. */
  readonly share: number;
  /** Left out when no cycle was finished. */
  readonly on?: Lengths;
  readonly off?: Lengths;
}

/** All over the time in which the sentence applied, its target was known and so was the value. */
export interface KeptMeasure {
  readonly rule: string;
  /** What is kept, by its place among the sentences of its rule. */
  readonly sentence: number;
  readonly value: Keep["value"];
  readonly unit: Unit;
  /** ms in which the sentence applied */
  readonly applied: number;
  /** Of that time, in which the value was known and within the tolerance, ends included; from 0 to 1. */
  readonly inBand: number;
  /** Mean distance from the target, or from the resting zone between two; in the unit's own size. */
  readonly meanDistance: number;
  readonly lowest: number;
  readonly highest: number;
}

/** What a run was like: each output, each kept value. */
export interface Measures {
  readonly from: number;
  readonly to: number;
  readonly outputs: readonly OutputMeasure[];
  readonly kept: readonly KeptMeasure[];
  /** How many notices were told. */
  readonly notices: number;
}

/** Measures a run between its `from` and its `to`. */
export function measure(run: Run): Measures {
  const { past } = run;
  const { house } = past;
  const kept = house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, index) => {
      if (!("keep" in sentence)) return [];
      const measured = measureKept(run, sentence.keep, sentence.while);
      return measured ? [{ rule: rule.name, sentence: index, ...measured }] : [];
    }),
  );
  const notices = past.notices(run.from, run.to).length;
  return {
    from: run.from,
    to: run.to,
    outputs: house.outputs.map((output) => measureOutput(run, output)),
    kept,
    notices,
  };
}

interface Stretch {
  readonly on: boolean;
  readonly from: number;
  readonly to: number;
}

function measureOutput(run: Run, output: Output): OutputMeasure {
  const stretches = stretchesOf(run.past.line({ kind: "value", of: output.name }), run, output);
  const lengths = (on: boolean) => {
    const finished = stretches.filter((one) => one.on === on && one.from > run.from && one.to < run.to);
    return lengthsOf(finished.map(({ from, to }) => to - from));
  };
  const worked = stretches.filter(({ on }) => on);
  const onTime = worked.reduce((sum, { from, to }) => sum + to - from, 0);
  const on = lengths(true);
  const off = lengths(false);
  return {
    output: output.name,
    title: output.title ?? output.name,
    starts: worked.filter(({ from }) => from > run.from).length,
    onTime,
    share: onTime / (run.to - run.from),
    ...(on && { on }),
    ...(off && { off }),
  };
}

function stretchesOf(series: Series, { from, to }: Run, output: Output): Stretch[] {
  const isOn = onOf(output);
  const stretches: Stretch[] = [];
  for (const piece of pieces([series], from, to)) {
    const value = piece.values[0] as number;
    const on = !Number.isNaN(value) && isOn(value);
    const last = stretches.at(-1);
    if (last?.on === on) stretches[stretches.length - 1] = { ...last, to: piece.to };
    else stretches.push({ on, from: piece.from, to: piece.to });
  }
  return stretches;
}

/** Whether a value, in its base unit, is more than rest: neither off nor 0 nor black, and of a target above what it has at rest. */
function onOf({ type, range, atRest }: Output): (value: number) => boolean {
  if (type.kind === "words") {
    const off = Math.max(0, type.words.indexOf("off"));
    return (value) => value !== off;
  }
  const isTarget = type.kind === "number" && range !== undefined && range[0] > 0;
  const rest = isTarget ? toBase({ value: typeof atRest === "number" ? atRest : range[0], unit: type.unit }) : 0;
  return (value) => value !== rest;
}

function lengthsOf(ms: readonly number[]): Lengths | undefined {
  if (ms.length === 0) return undefined;
  const mean = ms.reduce((sum, one) => sum + one, 0) / ms.length;
  return { count: ms.length, mean, min: least(ms), max: greatest(ms) };
}

function measureKept(run: Run, keep: Keep, applies: Expression | undefined) {
  const { past } = run;
  const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
  const nothing: Keep["value"] = { kind: "number", value: 0, unit: "" };
  const { below: under, above: over } = keep.tolerance ?? { below: nothing, above: nothing };
  const parts = [keep.value, low, high, under, over];
  const lines = parts.map((part) => past.line(part));
  const when = applies ? [past.line(applies)] : [];
  const moving = parts.some((part) => movesByItself(past.house, part));
  let applied = 0;
  let within = 0;
  let known = 0;
  let distances = 0;
  let lowest = Number.POSITIVE_INFINITY;
  let highest = Number.NEGATIVE_INFINITY;
  for (const { from, to, values } of pieces([...lines, ...when], run.from, run.to)) {
    const [x = Number.NaN, bottom = Number.NaN, top = Number.NaN, below = Number.NaN, above = Number.NaN, holds = 1] = values;
    if (holds !== 1) continue;
    const lasts = to - from;
    applied += lasts;
    if (Number.isNaN(x + bottom + top + below + above)) continue;
    known += lasts;
    if (moving) {
      for (const [begins, ends, length] of steps(from, to, (at) => parts.map((part) => past.value(part, at)))) {
        const at = (place: number) => [begins[place] as number, ends[place] as number] as const;
        const [value, bottom, top, below, above] = [at(0), at(1), at(2), at(3), at(4)];
        const far = [0, 1].map((end) => [
          (value[end] as number) - (bottom[end] as number) + (below[end] as number),
          (top[end] as number) + (above[end] as number) - (value[end] as number),
        ]) as [[number, number], [number, number]];
        within += length * shareAbove([far[0][0], far[1][0]], [far[0][1], far[1][1]]);
        distances +=
          length * (meanAbove(bottom[0] - value[0], bottom[1] - value[1]) + meanAbove(value[0] - top[0], value[1] - top[1]));
        lowest = Math.min(lowest, ...value);
        highest = Math.max(highest, ...value);
      }
      continue;
    }
    distances += Math.max(0, bottom - x, x - top) * lasts;
    if (x >= bottom - below - 1e-9 && x <= top + above + 1e-9) within += lasts;
    lowest = Math.min(lowest, x);
    highest = Math.max(highest, x);
  }
  const unit = unitOfExpression(past.house, keep.value);
  if (known === 0) return undefined;
  return {
    value: keep.value,
    unit,
    applied,
    inBand: within / applied,
    meanDistance: distances / known / units[unit].factor,
    lowest: fromBase(lowest, unit),
    highest: fromBase(highest, unit),
  };
}

/** What moves is followed in straight lines of at most this length. */
const STEP = MINUTE;

type Values = readonly number[];

/** A stretch in steps: the values at the beginning and, just before what comes after, at the end of each. */
function* steps(
  from: number,
  to: number,
  valuesAt: (at: number) => Values,
): Generator<[begins: Values, ends: Values, lasts: number]> {
  let begins = valuesAt(from);
  for (let at = from; at < to; ) {
    const next = Math.min(to, at + STEP);
    const ends = valuesAt(next === to ? Math.max(at, to - 1) : next);
    if (![...begins, ...ends].some(Number.isNaN)) yield [begins, ends, next - at];
    begins = ends;
    at = next;
  }
}

/** For what share of a step two straight lines are both at or above zero. */
function shareAbove(...lines: readonly (readonly [begins: number, ends: number])[]): number {
  let [low, high] = [0, 1];
  for (const [begins, ends] of lines) {
    if (begins >= -TINY && ends >= -TINY) continue;
    if (begins < -TINY && ends < -TINY) return 0;
    const root = begins / (begins - ends);
    if (begins < 0) low = Math.max(low, root);
    else high = Math.min(high, root);
  }
  return Math.max(0, high - low);
}

const TINY = 1e-9;

/** Mean of what a straight line has above zero. */
function meanAbove(begins: number, ends: number): number {
  if (begins <= 0 && ends <= 0) return 0;
  if (begins >= 0 && ends >= 0) return (begins + ends) / 2;
  const positive = Math.max(begins, ends);
  return (positive * positive) / (2 * Math.abs(begins - ends));
}

interface Piece {
  readonly from: number;
  readonly to: number;
  readonly values: readonly number[];
}

/** Stretches of time in which none of several lines changes. */
function* pieces(lines: readonly Series[], from: number, to: number): Generator<Piece> {
  const places = lines.map(() => 0);
  for (let at = from; at < to; ) {
    let next = to;
    const values = lines.map(({ times, values }, line) => {
      let place = places[line] as number;
      while (place < times.length && (times[place] as number) <= at) place++;
      places[line] = place;
      next = Math.min(next, times[place] ?? to);
      return place === 0 ? Number.NaN : (values[place - 1] as number);
    });
    yield { from: at, to: next, values };
    at = next;
  }
}
