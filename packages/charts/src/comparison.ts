// Several runs over one another: the values that are kept, a curve for each run, and what drives them, a bar for each run.
import {
  type Aim,
  aimsOf,
  clockOf,
  fromBase,
  isIn,
  type Run,
  titleOf,
  type Unit,
  unitOfExpression,
  writeExpression,
} from "modrik";
import { bandsOf } from "./bands.js";
import { type Chart, type ChartOptions, drawOutput, quantityOf } from "./chart.js";
import type { Reading } from "./reading.js";
import { type Box, type RowKind, Sheet } from "./sheet.js";
import { curve, lineOver, wallTime } from "./stretches.js";
import { type CurveStyle, curveStyles, themes } from "./theme.js";

/** A run, under a name of its own. */
export interface NamedRun {
  readonly name: string;
  readonly run: Run;
}

/**
 * The chart of runs of one time over one another. What is the same in all of them is left out.
 * @throws RangeError when there are none, or they begin at different times
 */
export function chartOfComparison(runs: readonly NamedRun[], options: ChartOptions = {}): Chart {
  const [first] = runs;
  if (!first || runs.some(({ run }) => run.from !== first.run.from || run.to !== first.run.to))
    throw new RangeError("runs that are drawn over one another are of the same time");
  const { theme = "light", width = 1280, height = 800, zone, title = first.run.past.house.name, subtitle = "" } = options;
  const colors = themes[theme];
  const { run } = first;
  const time = wallTime(clockOf(run.past.house.clock), run);
  const sheet = new Sheet(colors, { width, height, from: time(run.from), to: time(run.to) });
  const readings: Reading[] = [];
  const names = curveStyles(
    colors,
    runs.map(({ name }) => name),
  );
  sheet.head(title, subtitle);
  const rows: { readonly kind: RowKind; readonly draw: (box: Box) => void }[] = [];
  for (const { text, aim, outputs } of keptIn(runs, zone)) {
    const unit: Unit = unitOfExpression(run.past.house, aim.value);
    const scale = (value: number) => fromBase(value, unit);
    const lines = runs.map(({ run: own }) => lineOver(own, aim.value));
    rows.push({ kind: "heading", draw: (box) => sheet.heading(box, text) });
    rows.push({
      kind: "panel",
      draw: (box) => {
        const grid = sheet.panel(box, quantityOf(unit), names, aim.value.kind === "value");
        if (aim.value.kind === "value")
          for (const band of bandOfFirst(aim.value.of, scale)) sheet.band(grid, colors.quiet, band.low, band.high, time);
        lines.forEach((line, place) => sheet.curve(grid, names[place] as CurveStyle, curve(line, run, time, scale)));
      },
    });
    lines.forEach(({ times, values }, place) =>
      readings.push({
        section: text,
        name: names[place]?.name ?? "",
        unit,
        times: times.map(time),
        values: values.map((value) => (Number.isNaN(value) ? null : Number(scale(value).toPrecision(6)))),
      }),
    );
    for (const output of outputs)
      for (const { name, run: own } of runs) {
        const found = own.past.house.outputs.find((one) => one.name === output);
        if (found)
          rows.push({ kind: "strip", draw: (box) => drawOutput(sheet, box, `${titleOf(found)}, ${name}`, own, found, time) });
      }
  }
  const boxes = sheet.lay(rows.map(({ kind }) => kind));
  rows.forEach(({ draw }, place) => draw(boxes[place] as Box));
  return { options: sheet.description(), width, height: sheet.height, readings };

  /** What the first of them that keeps it wants. */
  function bandOfFirst(sensor: string, scale: (value: number) => number) {
    return runs.map(({ run: own }) => bandsOf(own, sensor, scale)).find((bands) => bands.length > 0) ?? [];
  }
}

/** Kept values that are not the same in all runs, with all that drives them. */
function keptIn(runs: readonly NamedRun[], zone: string | undefined): { text: string; aim: Aim; outputs: readonly string[] }[] {
  const found = new Map<string, { text: string; aim: Aim; outputs: Set<string> }>();
  for (const { run } of runs)
    for (const aim of aimsOf(run.past.house)) {
      const text = writeExpression(aim.value);
      if (zone !== undefined && !isIn(zone, text)) continue;
      const known = found.get(text) ?? { text, aim, outputs: new Set<string>() };
      for (const output of aim.drives.flatMap(({ outputs }) => outputs)) known.outputs.add(output);
      found.set(text, known);
    }
  const differs = ({ aim }: { readonly aim: Aim }) => {
    const lines = runs.map(({ run }) => lineOver(run, aim.value));
    return lines.some(
      (line) =>
        line.times.length !== lines[0]?.times.length ||
        line.values.some((value, place) => !Object.is(value, lines[0]?.values[place])),
    );
  };
  const switches = ({ outputs }: { readonly outputs: ReadonlySet<string> }) =>
    [...outputs].some((of) => {
      const lines = runs.map(({ run }) => run.past.line({ kind: "value", of }));
      return lines.some((line) => line.times.join() !== lines[0]?.times.join());
    });
  // What is kept by other rules stands before what only follows from it.
  const sameRules = ({ text, aim }: { readonly text: string; readonly aim: Aim }) =>
    runs.every(({ run }) =>
      aimsOf(run.past.house).some((own) => writeExpression(own.value) === text && JSON.stringify(own) === JSON.stringify(aim)),
    );
  return [...found.values()]
    .filter((one) => differs(one) || switches(one))
    .sort((a, b) => Number(sameRules(a)) - Number(sameRules(b)))
    .map((one) => ({ ...one, outputs: [...one.outputs] }));
}
