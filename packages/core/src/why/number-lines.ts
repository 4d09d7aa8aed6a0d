// What a house makes of each number a sensor can say: along its line, where conditions hold, where they stay as they were,
// and the points at which something switches.
import { createEngine } from "../engine/index.js";
import {
  type BoundTest,
  type Drive,
  type Expression,
  type House,
  isBound,
  isUp,
  type Keep,
  visitExpressions,
} from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { fromBase, type Unit } from "../units/index.js";
import type { TellOptions } from "./tell.js";

/** A part of a line, in the sensor's own unit; without an end it goes on. */
export interface LineStretch {
  readonly from?: number;
  readonly to?: number;
  /** Whether it holds there, stays as it was before, or is done in part. */
  readonly state: "holds" | "as before" | "in part";
}

/** One condition, or one side of a `keep`. */
export interface LineRow {
  readonly kind: "rule" | "guard" | "let";
  /** Of that rule, guard or let. */
  readonly name: string;
  /** Of a rule: which of its sentences. */
  readonly sentence?: number;
  /** The condition as it is written, or the outputs of a `keep` with what is done to them. */
  readonly says: string;
  readonly stretches: readonly LineStretch[];
  /** Where something switches, upwards; in the sensor's own unit. */
  readonly points: readonly number[];
}

/** All that depends on one sensor. */
export interface NumberLine {
  readonly sensor: string;
  readonly unit: Unit;
  readonly rows: readonly LineRow[];
}

/** A row before its numbers are known: what has to be calculated, and what follows. */
interface Sketch extends Pick<LineRow, "kind" | "name" | "sentence" | "says"> {
  readonly sensor: string;
  readonly figures: readonly Expression[];
  readonly along: (figures: readonly number[]) => readonly LineStretch[];
}

/**
 * The lines of all sensors that something depends on, with the values that dials and modes have.
 * @throws RangeError when a value is named that the house does not have, or that does not fit
 */
export function numberLines(house: House, { at, values = {} }: TellOptions): NumberLine[] {
  const sketches = [
    ...house.rules.flatMap(({ name, sentences }) =>
      sentences.flatMap((of, sentence) => {
        const about = { kind: "rule" as const, name, sentence };
        return [...("keep" in of ? ofKeep(of.keep, about) : []), ...conditionsIn(of, about)];
      }),
    ),
    ...house.guards.flatMap(({ name, permits }) => conditionsIn(permits, { kind: "guard", name })),
    ...house.lets.flatMap(({ name, value }) => conditionsIn(value, { kind: "let", name })),
  ];
  const engine = createEngine(house, { at, given: values, watch: sketches.flatMap(({ figures }) => figures) });
  engine.advanceTo(at);
  let place = 0;
  const rows = sketches.map((sketch) => ({ sketch, figures: sketch.figures.map(() => engine.watched(place++)) }));
  return house.sensors.flatMap(({ name: sensor, type }) => {
    if (type.kind !== "number") return [];
    const own = (base: number) => Number(fromBase(base, type.unit).toPrecision(12));
    const here = rows.flatMap(({ sketch, figures }) =>
      sketch.sensor === sensor && !figures.some(Number.isNaN) ? [rowOf(sketch, figures.map(own))] : [],
    );
    return here.length === 0 ? [] : [{ sensor, unit: type.unit, rows: here }];
  });
}

function rowOf({ kind, name, sentence, says, along }: Sketch, figures: readonly number[]): LineRow {
  const stretches = along(figures);
  const ends = stretches.flatMap(({ from, to }) => [from, to].filter((end) => end !== undefined));
  const points = [...new Set(ends)].sort((a, b) => a - b);
  return { kind, name, ...(sentence !== undefined && { sentence }), says, stretches, points };
}

type About = Pick<LineRow, "kind" | "name" | "sentence">;

/** Comparisons of a sensor with a number; a pair of two points is one. */
function conditionsIn(holder: unknown, about: About): Sketch[] {
  const found: Sketch[] = [];
  const paired = new Set<Expression>();
  visitExpressions(holder, (part) => {
    if (part.kind === "until" && isBound(part.condition) && isBound(part.reset)) {
      const { condition, reset } = part;
      const sensor = sensorOf(condition.left);
      if (sensor === undefined || sensor !== sensorOf(reset.left) || isUp(condition.kind) === isUp(reset.kind)) return;
      paired.add(condition).add(reset);
      found.push({
        ...about,
        sensor,
        says: writeExpression(part),
        figures: [condition.right, reset.right],
        along: pair(condition),
      });
      return;
    }
    if (part.kind === "between") {
      const sensor = sensorOf(part.value);
      if (sensor !== undefined)
        found.push({ ...about, sensor, says: writeExpression(part), figures: [part.low, part.high], along: within });
      return;
    }
    const sensor = isBound(part) && !paired.has(part) ? sensorOf(part.left) : undefined;
    if (isBound(part) && sensor !== undefined)
      found.push({ ...about, sensor, says: writeExpression(part), figures: [part.right], along: beyond(part) });
  });
  return found;
}

const sensorOf = (value: Expression) => (value.kind === "value" ? value.of : undefined);

const within: Sketch["along"] = ([from = 0, to = 0]) => [{ from, to, state: "holds" }];

const beyond =
  ({ kind }: BoundTest): Sketch["along"] =>
  ([point = 0]) => [isUp(kind) ? { from: point, state: "holds" } : { to: point, state: "holds" }];

/** It begins beyond one point and ends beyond the other. */
const pair =
  ({ kind }: BoundTest): Sketch["along"] =>
  ([begins = 0, ends = 0]) =>
    isUp(kind)
      ? [
          { from: begins, state: "holds" },
          { from: ends, to: begins, state: "as before" },
        ]
      : [
          { to: begins, state: "holds" },
          { from: begins, to: ends, state: "as before" },
        ];

function ofKeep(keep: Keep, about: About): Sketch[] {
  const sensor = sensorOf(keep.value);
  if (sensor === undefined) return [];
  const ends = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
  const zero: Expression = { kind: "number", value: 0, unit: "" };
  const { below = zero, above = zero } = keep.tolerance ?? {};
  const both = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
  const side = (way: "raise" | "lower", { outputs, proportion }: Drive): Sketch => ({
    ...about,
    sensor,
    says: `${way}s with ${outputs.join(", ")}`,
    figures: [
      ...ends,
      { kind: "minus", left: ends[0] as Expression, right: below },
      { kind: "plus", left: ends[1] as Expression, right: above },
      ...(proportion
        ? [
            { kind: "minus", left: ends[0] as Expression, right: proportion.over } as const,
            { kind: "plus", left: ends[1] as Expression, right: proportion.over } as const,
          ]
        : []),
    ],
    along: ([low = 0, high = 0, under = 0, over = 0, full = 0, most = 0]) => {
      if (proportion)
        return way === "raise"
          ? [
              { to: full, state: "holds" },
              { from: full, to: low, state: "in part" },
            ]
          : [
              { from: most, state: "holds" },
              { from: high, to: most, state: "in part" },
            ];
      return way === "raise"
        ? [
            { to: under, state: "holds" },
            { from: under, to: both ? low : over, state: "as before" },
          ]
        : [
            { from: over, state: "holds" },
            { from: both ? high : under, to: over, state: "as before" },
          ];
    },
  });
  return [...(keep.raiseWith ? [side("raise", keep.raiseWith)] : []), ...(keep.lowerWith ? [side("lower", keep.lowerWith)] : [])];
}
