// What a run was like, read of its journal: how often and how long each output worked, and how near each kept value stayed
// to its target.
import type { Past, Run } from "../engine/index.js";
import type { Series } from "../expression/index.js";
import type { House } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { type Gauge, KeptGauge, OutputGauge } from "./gauge.js";
import type { KeptMeasure, Measures } from "./measures.js";

/** Measures a run between its `from` and its `to`. */
export function measure({ past, from, to }: Run): Measures {
  const { outputs, kept } = gaugesOf(past.house, from, to);
  for (const gauge of [...outputs, ...kept]) feed(gauge, past, from, to);
  return measured(outputs, kept, from, to, past.notices(from, to).length);
}

/** A gauge for each output, and for each kept value. */
export function gaugesOf(house: House, from: number, to: number) {
  const outputs = house.outputs.map((output) => new OutputGauge(output, from, to));
  const kept = house.rules.flatMap(({ name, sentences }) =>
    sentences.flatMap((sentence, index) =>
      "keep" in sentence ? [new KeptGauge(house, name, index, sentence.keep, sentence.while)] : [],
    ),
  );
  return { outputs, kept };
}

/** What gauges have come to show. */
export function measured(
  outputs: readonly OutputGauge[],
  kept: readonly KeptGauge[],
  from: number,
  to: number,
  notices: number,
): Measures {
  return {
    from,
    to,
    outputs: outputs.map((gauge) => gauge.end()),
    kept: kept.map((gauge) => gauge.end()).filter((one): one is KeptMeasure => one !== undefined),
    notices,
  };
}

/** Feeds a gauge with the stretches in which nothing that it reads turns. */
function feed(gauge: Gauge<unknown>, past: Past, from: number, to: number): void {
  const lines = gauge.reads.map((part) => past.line(part));
  for (const piece of pieces(lines, from, to)) {
    if (!gauge.moves) gauge.add(piece.from, piece.to, piece.values, piece.values);
    else
      for (const [at, next, begins, ends] of steps(piece, (at) => gauge.reads.map((part) => past.value(part, at))))
        gauge.add(at, next, begins, ends);
  }
}

/** What moves is followed in straight lines of at most this length. */
const STEP = MINUTE;

type Values = readonly number[];

/** A stretch in steps: the values at the beginning and, just before what comes after, at the end of each. */
function* steps({ from, to }: Piece, valuesAt: (at: number) => Values): Generator<[at: number, next: number, Values, Values]> {
  let begins = valuesAt(from);
  for (let at = from; at < to; ) {
    const next = Math.min(to, at + STEP);
    const ends = valuesAt(next === to ? Math.max(at, to - 1) : next);
    yield [at, next, begins, ends];
    begins = ends;
    at = next;
  }
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
