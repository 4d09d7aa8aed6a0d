// Target bands of `keep` sentences about one sensor, while they apply.
import { type DrawableRun, type Expression, type Keep, valueAt } from "modrik";
import { lineOver, type Point } from "./stretches.js";

export interface Band {
  readonly low: readonly Point[];
  readonly high: readonly Point[];
}

const nothing: Expression = { kind: "number", value: 0, unit: "" };
/** What follows in proportion has no band. */
const exactly = { below: nothing, above: nothing };

/** Points of the lower and upper edge, one pair for each sentence; null where it does not apply. Times are instants. */
export function bandsOf(run: DrawableRun, sensor: string, scale: (value: number) => number): Band[] {
  const { past } = run;
  const { house } = past;
  return house.rules.flatMap(({ sentences }) =>
    sentences.flatMap((sentence) => {
      if (!("keep" in sentence) || sentence.keep.value.kind !== "value" || sentence.keep.value.of !== sensor) return [];
      return [edges(sentence.keep, sentence.while)];
    }),
  );

  function edges({ at, tolerance = exactly }: Keep, applies: Expression | undefined): Band {
    const [lowTarget, highTarget] = "low" in at ? [at.low, at.high] : [at, at];
    const parts = [lowTarget, highTarget, tolerance.below, tolerance.above, ...(applies ? [applies] : [])];
    const lines = parts.map((part) => lineOver(run, part));
    const within = (time: number) => time > run.from && time < run.to;
    const times = new Set([run.from, ...lines.flatMap((line) => line.times.filter(within)), run.to]);
    const sorted = [...times].sort((a, b) => a - b);
    const low: Point[] = [];
    const high: Point[] = [];
    sorted.forEach((time, index) => {
      const [bottom = 0, top = 0, below = 0, above = 0, holds = 1] = lines.map((line) => valueAt(line, time));
      const shown = holds === 1 && !Number.isNaN(bottom + top + below + above);
      const end = sorted[index + 1] ?? time;
      for (const at of [time, end]) {
        low.push([at, shown ? scale(bottom - below) : null]);
        high.push([at, shown ? scale(top + above) : null]);
      }
    });
    return { low, high };
  }
}
