// A chart of a few lines for a terminal: what some things were over a run, a mark under the moment in question.
import { clockOf, fromBase, type Run, sayInstant, typeOf, unitOfExpression, writeReading } from "modrik";

const WIDTH = 60;
const heights = "▁▂▃▄▅▆▇█";

/** A line for each thing, from the beginning of a run to its end, and one with the mark. */
export function sketch(run: Run, things: readonly string[], at: number): string[] {
  const { past } = run;
  const { house } = past;
  const there = new Set([house.sensors, house.outputs, house.dials, house.modes, house.lets].flat().map(({ name }) => name));
  const named = things.filter((name) => there.has(name));
  const longest = Math.max(0, ...named.map(({ length }) => length));
  const instants = Array.from({ length: WIDTH }, (_, place) => run.from + ((run.to - run.from) * place) / (WIDTH - 1));
  const rows = named.map((name) => {
    const values = instants.map((instant) => past.value({ kind: "value", of: name }, instant));
    const known = values.filter((value) => !Number.isNaN(value));
    const low = known.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
    const high = known.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
    const type = typeOf(house, name);
    const unit = unitOfExpression(house, { kind: "value", of: name });
    const say = (base: number) => (type.kind === "words" ? (type.words[base] ?? "") : writeReading(fromBase(base, unit), unit));
    // Of words the first counts as true, and stands high.
    const height = (value: number) => {
      if (type.kind === "words") {
        const place = value / (type.words.length - 1);
        return heights[Math.round((type.ordered ? place : 1 - place) * (heights.length - 1))];
      }
      return heights[high === low ? 0 : Math.round(((value - low) / (high - low)) * (heights.length - 1))];
    };
    const bars = values.map((value) => (Number.isNaN(value) ? "·" : height(value))).join("");
    const range =
      known.length === 0 ? "unknown" : high === low ? say(low) : `${say(low)}${type.kind === "words" ? "/" : " to "}${say(high)}`;
    return `${name.padEnd(longest)} ${bars} ${range}`;
  });
  const place = Math.round(((at - run.from) / Math.max(1, run.to - run.from)) * (WIDTH - 1));
  const mark = `${" ".repeat(longest + 1 + Math.max(0, Math.min(WIDTH - 1, place)))}^ ${sayInstant(clockOf(house.clock), at, run.from)}`;
  return rows.length === 0 ? [] : ["", ...rows, mark];
}
