import {
  clockOf,
  differences,
  type House,
  isIn,
  logOf,
  type Measures,
  measure,
  noticesOf,
  type OutputDifferences,
  type ProblemRecord,
  type Run,
  type Simulation,
  sayDate,
  sayLength,
  sayShare,
  sayValue,
  sumsOf,
  thingsIn,
  titleOf,
  typeOf,
  whyInShort,
} from "modrik";
import { CallError } from "../call-error.js";
import { type FigureOptions, measureOptions, writeFigures } from "../figures.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { writeLogFile } from "../recordings.js";
import { describeRun, measureAs, oneOf, settings } from "../run-options.js";
import { type FoundRun, type SourceOptions, sourceOf } from "../run-source.js";
import { stamp } from "../stamp.js";
import { writeTable } from "../table.js";
import { writeResult } from "../write-result.js";

export interface SimulateOptions extends SourceOptions, FigureOptions {
  readonly zone?: string;
  readonly chart?: string;
  readonly dark?: boolean;
  readonly log?: string;
  readonly report?: string;
  readonly json?: boolean;
}

/** Runs a house on its simulated rooms, or over a recording, and prints what the run was like. */
export async function simulateHouse(path: string | undefined, options: SimulateOptions, io: Io): Promise<boolean> {
  const house = readSoundHouse(path, io);
  if (!house) return false;
  const { log, report, json } = options;
  if (json && log === "-") throw new CallError("--json and --log - both print.", "Name a file for the list.");
  if (report !== undefined && !report.endsWith(".html"))
    throw new CallError(`A report cannot be written as "${report}".`, "Name a file that ends in .html.");
  const chosen = options.zone === undefined ? undefined : oneOf(house.zones, options.zone, "zone");
  const { found, figures } = await runFor(house, options, io);
  const shown: Shown = {
    ...figures,
    name: chosen ? `${house.name}, ${titleOf(chosen)}` : house.name,
    zone: chosen?.name,
    measures: within(chosen?.name, figures.measures),
  };
  if (found) await writeFiles(house, found, shown, options, io);
  // The list is then what was asked for.
  if (log === "-") return true;
  const compared = found?.recorded && differences(found.run, found.recorded).filter(({ output }) => isIn(shown.zone, output));
  const { about, measures, problems, problemCount } = shown;
  if (json) {
    const all = { run: about, ...measures, ...(compared && { differences: compared }), problems, problemCount };
    io.out.write(`${JSON.stringify(all, null, 2)}\n`);
  } else print(house, shown, found && compared ? writeDifferences(found.run, compared, io) : undefined, io);
  return true;
}

/** The figures of what is shown, under its name. */
interface Shown extends Figures {
  readonly name: string;
  readonly zone: string | undefined;
}

/** The chart, the report and the list, where they are asked for. */
async function writeFiles(house: House, { run }: FoundRun, shown: Shown, options: SimulateOptions, io: Io): Promise<void> {
  const { chart, report, log, set } = options;
  const { name, about, zone, measures, notices, problems } = shown;
  const dark = options.dark === true;
  if (chart) {
    const { drawChart } = await import("../picture.js");
    drawChart(run, chart, { theme: dark ? "dark" : "light", title: name, subtitle: about, zone }, io);
    io.err.write(`created ${chart}\n`);
  }
  if (report) {
    const { reportPage } = await import("../report.js");
    const reported = { title: name, about, run, measures, notices, problems, zone, set: settings(house, set), dark };
    writeResult(report, reportPage(reported), io);
    io.err.write(`created ${report}\n`);
  }
  if (log)
    writeLogFile(
      logOf(run).filter(({ thing }) => isHere(zone, thing)),
      log,
      io,
    );
}

function print(house: House, shown: Shown, differing: string | undefined, io: Io): void {
  const { name, about, zone, measures, notices, problems, problemCount, assumed } = shown;
  const clock = clockOf(house.clock);
  io.out.write(`${io.paint.bold(name)}, ${about}\n\n${writeFigures(measures, io)}\n`);
  if (differing !== undefined) io.out.write(`\n${differing}`);
  io.out.write(`${sayCount(measures.notices, "notice")}${measures.notices > 0 ? ":" : "."}\n`);
  writeSome(notices, measures.notices, ({ at, text }) => `${stamp(clock, at)}  "${text}"`, io);
  if (problemCount > 0) io.out.write(`\n${io.paint.yellow(sayCount(problemCount, "problem"))} while running:\n`);
  writeSome(problems, problemCount, ({ at, code, text }) => `${stamp(clock, at)}  ${code}: ${text}`, io);
  for (const line of assumed ? sayAssumed(house, assumed, zone) : []) io.out.write(`${io.paint.dim(line)}\n`);
}

/** The first of a list that may be long. */
const SHOWN = 5;

function writeSome<Item>(items: readonly Item[], count: number, say: (item: Item) => string, io: Io): void {
  for (const item of items.slice(0, SHOWN)) io.out.write(`  ${say(item)}\n`);
  if (count > SHOWN) io.out.write(`  and ${count - SHOWN} more\n`);
}

interface Figures {
  readonly about: string;
  readonly measures: Measures;
  readonly notices: readonly { readonly at: number; readonly text: string }[];
  readonly problems: readonly ProblemRecord[];
  readonly problemCount: number;
  /** What a simulation took for granted; nothing of a trial or a recording. */
  readonly assumed?: Assumed;
}

type Assumed = Pick<Simulation, "assumed" | "takenOutdoors" | "unmoved" | "idle">;

/** Charts, lists, trials and recordings need all that happened; otherwise figures are enough. */
async function runFor(
  house: House,
  options: SimulateOptions,
  io: Io,
): Promise<{ readonly found?: FoundRun; readonly figures: Figures }> {
  const wanted = measureOptions(options);
  const { chart, log, report, trial, recording } = options;
  if ([chart, log, report, trial, recording].every((one) => one === undefined)) {
    const measured = measureAs(house, options, wanted, io);
    return { figures: { ...measured, about: describeRun(house, measured), assumed: measured } };
  }
  const found = (await sourceOf(house, options, io)).run();
  const { run, about, simulation } = found;
  const problems = run.past.problems(run.from, run.to);
  const measures = measure(run, wanted);
  const told = { notices: noticesOf(run), problems, problemCount: problems.length };
  return { found, figures: { about, measures, ...told, ...(simulation && { assumed: simulation }) } };
}

/** First moments of each output that was recorded otherwise than the rules want it. */
const MOMENTS = 3;

function writeDifferences(run: Run, compared: readonly OutputDifferences[], io: Io): string {
  if (compared.length === 0) return "No output was recorded, so there is nothing to compare the rules with.\n\n";
  const clock = clockOf(run.past.house.clock);
  const table = writeTable(
    ["Recorded", "known for", "agrees", "differs"],
    compared.map(({ title, known, agrees, differences }) => [
      title,
      sayLength(known),
      sayShare(agrees),
      differences.length === 0 ? "never" : `${differences.length} ${differences.length === 1 ? "time" : "times"}`,
    ]),
    io,
  );
  const type = (output: string) => typeOf(run.past.house, output);
  const moments = compared.flatMap(({ output, title, differences }) => [
    ...differences
      .slice(0, MOMENTS)
      .flatMap(({ from, to, recorded, wanted }) => [
        `  ${sayDate(clock, from)}, for ${sayLength(to - from)}: ${title} was ${sayValue(type(output), recorded)}, the rules want ${sayValue(type(output), wanted)}`,
        io.paint.dim(`    ${whyInShort(run, output, from) ?? "nothing asks for it"}`),
      ]),
    ...(differences.length > MOMENTS ? [io.paint.dim(`  ${title}: and ${differences.length - MOMENTS} more`)] : []),
  ]);
  return `${[table, ...moments].join("\n")}\n\n`;
}

const sayCount = (count: number, what: string) => `${count} ${what}${count === 1 ? "" : "s"}`;

/** What of the house is not its own, and what stays still. */
function sayAssumed(house: House, { assumed, takenOutdoors, ...others }: Assumed, zone: string | undefined): string[] {
  const [unmoved, idle] = [others.unmoved, others.idle].map((names) => names.filter((name) => isIn(zone, name))) as [
    string[],
    string[],
  ];
  const each =
    takenOutdoors.length > 0
      ? `${takenOutdoors.join(" and ")} ${takenOutdoors.length > 1 ? "are" : "is"} outdoors, each other zone`
      : "each zone";
  const rooms = assumed ? [`The house has no physics: ${each} is simulated as a room of 20 m², built solid.`] : [];
  if (unmoved.length > 0)
    rooms.push(`No room moves ${few(unmoved)}: each keeps what the first trial gives it, or stays unknown.`);
  const open = zonesOfWeather(house, unmoved);
  if (open.length > 0)
    rooms.push(`Of a zone that is outdoors, write so in physics: ${open.map((one) => `${one} is outdoors`).join(", ")}.`);
  if (idle.length > 0) rooms.push(`Nothing in the rooms answers to ${few(idle)}.`);
  return rooms;
}

/** Zones of which nothing is said, with sensors that might read the weather. */
function zonesOfWeather({ sensors, physics }: House, unmoved: readonly string[]): string[] {
  const ofWeather = sensors.filter(
    ({ name, type }) => unmoved.includes(name) && type.kind === "number" && ["°C", "°F", "%RH", "lx"].includes(type.unit),
  );
  const zones = new Set(ofWeather.map(({ name }) => name.split(".")[0] as string));
  return [...zones].filter((zone) => !physics.zones.some((one) => one.zone === zone));
}

const few = (names: readonly string[]) =>
  names.length > FEW ? `${names.slice(0, FEW).join(", ")} and ${names.length - FEW} more` : names.join(", ");

const FEW = 6;

/** What is told is of the whole house. */
function isHere(zone: string | undefined, thing: string | undefined): boolean {
  return zone === undefined || thing === undefined || !thing.includes(".") || isIn(zone, thing);
}

/** The figures of one zone: its outputs, and what its outputs keep or is measured in it. */
function within(zone: string | undefined, measures: Measures): Measures {
  if (zone === undefined) return measures;
  const here = (name: string) => isIn(zone, name);
  const { energy: _, cost: __, peak: ___, ...others } = measures;
  const outputs = measures.outputs.filter(({ output }) => here(output));
  return {
    ...others,
    ...sumsOf(outputs),
    outputs,
    kept: measures.kept.filter(({ value }) => thingsIn(value).some(here)),
    cycles: measures.cycles.filter(({ value }) => thingsIn(value).some(here)),
  };
}
