import {
  clockOf,
  differenceUnit,
  fromBase,
  type House,
  isIn,
  type KeptMeasure,
  type Lengths,
  type MeasuredSimulation,
  type Measures,
  measure,
  noticesOf,
  type OutputMeasure,
  type Simulation,
  sayDate,
  thingsIn,
  titleOf,
  writeDuration,
  writeExpression,
  writeReading,
} from "modrik";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { describeRun, measureAs, oneOf, type RunOptions, simulateAs } from "../run-options.js";
import { writeTable } from "../table.js";

export interface SimulateOptions extends RunOptions {
  readonly zone?: string;
  readonly chart?: string;
  readonly dark?: boolean;
  readonly json?: boolean;
}

/** Runs a house on its simulated rooms and prints what the run was like. */
export async function simulateHouse(path: string | undefined, options: SimulateOptions, io: Io): Promise<boolean> {
  const house = readSoundHouse(path, io);
  if (!house) return false;
  const chosen = options.zone === undefined ? undefined : oneOf(house.zones, options.zone, "zone");
  const zone = chosen?.name;
  const name = chosen ? `${house.name}, ${titleOf(chosen)}` : house.name;
  const { run, figures } = runFor(house, options, io);
  const measures = within(zone, figures.measures);
  const about = describeRun(house, figures);
  if (run && options.chart) {
    const { drawChart } = await import("../picture.js");
    drawChart(run, options.chart, { theme: options.dark ? "dark" : "light", title: name, subtitle: about, zone }, io);
    io.err.write(`created ${options.chart}\n`);
  }
  const { notices, problems, problemCount } = figures;
  if (options.json) io.out.write(`${JSON.stringify({ run: about, ...measures, problems, problemCount }, null, 2)}\n`);
  else {
    io.out.write(writeMeasures(name, about, measures, io));
    const clock = clockOf(house.clock);
    writeSome(notices, measures.notices, ({ at, text }) => `${sayDate(clock, at)}  "${text}"`, io);
    if (problemCount > 0) io.out.write(`\n${io.paint.yellow(sayCount(problemCount, "problem"))} while running:\n`);
    writeSome(problems, problemCount, ({ at, code, text }) => `${sayDate(clock, at)}  ${code}: ${text}`, io);
    for (const line of sayAssumed(figures, zone)) io.out.write(`${io.paint.dim(line)}\n`);
  }
  return true;
}

/** The first of a list that may be long. */
const SHOWN = 5;

function writeSome<Item>(items: readonly Item[], count: number, say: (item: Item) => string, io: Io): void {
  for (const item of items.slice(0, SHOWN)) io.out.write(`  ${say(item)}\n`);
  if (count > SHOWN) io.out.write(`  and ${count - SHOWN} more\n`);
}

/** A chart needs all that happened; without one figures are enough. */
function runFor(house: House, options: SimulateOptions, io: Io): { readonly run?: Simulation; readonly figures: Figures } {
  if (!options.chart) return { figures: measureAs(house, options, io) };
  const run = simulateAs(house, options, io);
  const problems = run.past.problems(run.from, run.to);
  return { run, figures: { ...run, measures: measure(run), notices: noticesOf(run), problems, problemCount: problems.length } };
}

type Figures = Omit<MeasuredSimulation, "notices"> & {
  readonly notices: readonly { readonly at: number; readonly text: string }[];
};

const sayCount = (count: number, what: string) => `${count} ${what}${count === 1 ? "" : "s"}`;

/** What of the house is not its own, and what stays still. */
function sayAssumed({ assumed, ...others }: Figures, zone: string | undefined): string[] {
  const [unmoved, idle] = [others.unmoved, others.idle].map((names) => names.filter((name) => isIn(zone, name))) as [
    string[],
    string[],
  ];
  const rooms = assumed ? ["The house has no physics: each zone is simulated as a room of 20 m², built solid."] : [];
  if (unmoved.length > 0)
    rooms.push(`No room moves ${few(unmoved)}: each keeps what the first trial gives it, or stays unknown.`);
  if (idle.length > 0) rooms.push(`Nothing in the rooms answers to ${few(idle)}.`);
  return rooms;
}

const few = (names: readonly string[]) =>
  names.length > FEW ? `${names.slice(0, FEW).join(", ")} and ${names.length - FEW} more` : names.join(", ");

const FEW = 6;

/** The figures of one zone: its outputs, and what its outputs keep or is measured in it. */
function within(zone: string | undefined, measures: Measures): Measures {
  const here = (name: string) => isIn(zone, name);
  return {
    ...measures,
    outputs: measures.outputs.filter(({ output }) => here(output)),
    kept: measures.kept.filter(({ value }) => zone === undefined || thingsIn(value).some(here)),
  };
}

function writeMeasures(name: string, about: string, { outputs, kept, notices }: Measures, io: Io): string {
  const lines = [`${io.paint.bold(name)}, ${about}`, ""];
  lines.push(
    writeTable(["Output", "starts", "on", "share", "mean on (min..max)", "mean off (min..max)"], outputs.map(outputRow), io),
    "",
  );
  if (kept.length > 0) {
    lines.push(
      writeTable(["Kept", "by rule", "for", "in band", "mean distance", "lowest", "highest"], kept.map(keptRow), io),
      "",
    );
  }
  lines.push(`${sayCount(notices, "notice")}${notices > 0 ? ":" : "."}`);
  return `${lines.join("\n")}\n`;
}

function outputRow({ title, starts, onTime, share, on, off }: OutputMeasure): string[] {
  return [title, String(starts), writeLength(onTime), percent(share), writeLengths(on), writeLengths(off)];
}

function keptRow({ value, rule, unit, applied, inBand, meanDistance, lowest, highest }: KeptMeasure): string[] {
  const difference = differenceUnit(unit);
  const distance = unit === "°F" ? fromBase((meanDistance * 5) / 9, "K") : meanDistance;
  return [
    writeExpression(value),
    rule,
    writeLength(applied),
    percent(inBand),
    writeReading(distance, difference),
    writeReading(lowest, unit),
    writeReading(highest, unit),
  ];
}

function writeLengths(lengths: Lengths | undefined): string {
  if (!lengths) return "-";
  const { mean, min, max } = lengths;
  return `${writeLength(mean)} (${writeLength(min)}..${writeLength(max)})`;
}

/** Whole seconds below ten minutes, else whole minutes. */
function writeLength(ms: number): string {
  const unit = ms < 600e3 ? 1e3 : 60e3;
  const rounded = Math.round(ms / unit) * unit;
  return rounded === 0 ? "0" : writeDuration(rounded);
}

function percent(share: number): string {
  return `${(100 * share).toFixed(1)} %`;
}
