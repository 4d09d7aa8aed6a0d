// Houses side by side, or one with several settings: the same days, weather, people and seed, or the same recording.
import { basename } from "node:path";
import {
  aimsInCommon,
  type ComparedFigure,
  clockOf,
  compare,
  type House,
  labelOfCompared,
  type MeasureOptions,
  type Measures,
  measure,
  measureSimulation,
  type Run,
  readKnob,
  replay,
  sayCompared,
  sayDate,
  sayKnob,
  simulate,
  turned,
  type Value,
} from "modrik";
import { CallError } from "../call-error.js";
import { type FigureOptions, measureOptions } from "../figures.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { whileShown } from "../progress.js";
import { recordingFor } from "../recordings.js";
import { describeRun, inRange, oneOf, type RunOptions, simulationOptions } from "../run-options.js";
import { writeTable } from "../table.js";
import { asked } from "./tune.js";

export interface CompareOptions extends RunOptions, Pick<FigureOptions, "price"> {
  readonly vary: readonly string[];
  readonly recording?: string;
  readonly zone?: string;
  readonly chart?: string;
  readonly dark?: boolean;
  readonly json?: boolean;
}

/** A house with its settings, under the name it is shown by. */
interface Named {
  readonly name: string;
  readonly house: House;
  readonly set: Readonly<Record<string, Value>>;
}

/** So many are next to one another. */
const MOST = 8;

/** Runs several houses, or settings of one, and prints the figures in which they differ. */
export async function compareHouses(paths: readonly string[], options: CompareOptions, io: Io): Promise<boolean> {
  const variants = variantsOf(paths, options, io);
  if (!variants) return false;
  const { run: runOf, about } = await runsOf(variants, options, io);
  const measured = { ...measureOptions(options.price === undefined ? {} : { price: options.price }) };
  const aims = aimsInCommon(variants);
  const found = whileShown(io, "comparing", (progress) =>
    variants.map(({ name }, place) => {
      const result = runOf(place, { ...measured, aims: aims[place] ?? [] });
      progress.at((place + 1) / variants.length);
      return { name, ...result };
    }),
  );
  const { zone } = options;
  if (zone !== undefined) oneOf((variants[0] as Named).house.zones, zone, "zone");
  const figures = compare(found).filter(({ of }) => zone === undefined || of?.includes(`${zone}.`));
  if (options.chart) {
    const { drawComparison } = await import("../picture.js");
    const runs = found.flatMap(({ name, run }) => (run ? [{ name, run }] : []));
    const [name, ...others] = new Set(variants.map(({ house }) => house.name));
    const title = others.length === 0 ? `${name}, compared` : `Compared: ${runs.map((one) => one.name).join(", ")}`;
    drawComparison(runs, options.chart, { theme: options.dark ? "dark" : "light", title, subtitle: about, zone }, io);
    io.err.write(`created ${options.chart}\n`);
  }
  if (options.json) io.out.write(`${JSON.stringify({ run: about, runs: found.map(({ name }) => name), figures }, null, 2)}\n`);
  else
    io.out.write(
      `${write(
        found.map(({ name }) => name),
        about,
        figures,
        io,
      )}\n`,
    );
  return true;
}

function variantsOf(paths: readonly string[], { vary, set: said }: CompareOptions, io: Io): Named[] | undefined {
  if (vary.length > 1) throw new CallError("--vary is said once.", "To try settings of two things together, use modrik tune.");
  const [varied] = vary;
  if (varied !== undefined && paths.length > 1)
    throw new CallError("--vary is for one house.", "Name one house, or leave out --vary.");
  if (varied === undefined && paths.length < 2)
    throw new CallError("It takes two to compare.", "Name two houses, or one with --vary, e.g. --vary bench.slack=1,3,5.");
  const houses: House[] = [];
  for (const path of varied === undefined ? paths : [paths[0]]) {
    const house = readSoundHouse(path, io);
    if (!house) return undefined;
    houses.push(house);
  }
  if (varied === undefined) {
    const names = shortNames(paths);
    return tooMany(houses.map((house, place) => ({ name: names[place] as string, house, set: {} })));
  }
  const [house] = houses as [House];
  const knob = asked(() => readKnob(house, varied));
  if (said.some((text) => text.split("=")[0] === knob.name))
    throw new CallError(`${knob.name} is both set and varied.`, "Leave out --set, or --vary.");
  return tooMany(
    knob.values.map((value) => {
      const changed = turned(house, [knob], [value]);
      return { name: sayKnob(house, knob, value).replace(/^.*?( = |: )/, ""), ...changed };
    }),
  );
}

/** Names of files without their folders, where that tells them apart. */
function shortNames(paths: readonly string[]): readonly string[] {
  const names = paths.map((path) => basename(path).replace(/\.modrik$/, ""));
  return new Set(names).size === names.length ? names : paths;
}

function tooMany(variants: Named[]): Named[] {
  if (variants.length < 2)
    throw new CallError("It takes two to compare.", "List two values or more, e.g. --vary bench.slack=1,3,5.");
  if (variants.length > MOST)
    throw new CallError(
      `These are ${variants.length}; ${MOST} at most stand beside one another.`,
      "Use modrik tune for many settings.",
    );
  return variants;
}

interface Result {
  readonly measures: Measures;
  readonly run?: Run;
}

/** The same for all: from when to when, weather, people and seed, or a recording. */
async function runsOf(variants: readonly Named[], options: CompareOptions, io: Io) {
  const [first] = variants as [Named];
  const { recording, chart, weather, seed } = options;
  if (recording === undefined) {
    const all = variants.map(({ house, set }) => {
      const own = simulationOptions(house, options);
      return { ...own, set: { ...own.set, ...set } };
    });
    // One house says when it begins, and under which weather.
    const [{ from, weather: common }] = all as [(typeof all)[number]];
    const run = (place: number, measured: MeasureOptions): Result =>
      inRange(() => {
        const { house } = variants[place] as Named;
        const simulated = { ...all[place], from, ...(common && { weather: common }) };
        if (!chart) return { measures: measureSimulation(house, { ...simulated, ...measured }).measures };
        const run = simulate(house, simulated);
        return { run, measures: measure(run, measured) };
      });
    const lasts = all[0]?.lasts ?? 0;
    const about = describeRun(first.house, {
      from,
      to: from + lasts,
      weather: common ?? { name: "calm" },
      seed: Number(seed ?? 1),
    });
    return { run, about };
  }
  if (weather !== undefined || seed !== undefined)
    throw new CallError("--recording does not go with --weather or --seed.", "Leave them out.");
  const recorded = await recordingFor(first.house, recording, io);
  const clock = clockOf(first.house.clock);
  const own = simulationOptions(first.house, options);
  const [begins, ends] = [recorded[0]?.at ?? 0, recorded.at(-1)?.at ?? 0];
  const from = options.from === undefined ? begins : own.from;
  const to = options.days === undefined ? ends : Math.min(ends, from + own.lasts);
  const about = `${sayDate(clock, from)} to ${sayDate(clock, to)}, recording ${recording}; what rules do moves nothing in it`;
  const run = (place: number, measured: MeasureOptions): Result =>
    inRange(() => {
      const { house, set } = variants[place] as Named;
      const run = replay(house, recorded, { from, to, set: { ...own.set, ...set } });
      return { run, measures: measure(run, measured) };
    });
  return { run, about };
}

function write(names: readonly string[], about: string, figures: readonly ComparedFigure[], io: Io): string {
  const said = (figure: ComparedFigure) => figure.values.map((value) => sayCompared(figure, value));
  const differing = figures.filter((figure) => new Set(said(figure)).size > 1);
  const same = figures.length - differing.length;
  if (differing.length === 0) return `${about}\n\nAll ${figures.length} figures are the same.`;
  const rows = differing.map((figure) => [
    labelOfCompared(figure),
    ...said(figure).map((text, place) => (figure.best.includes(place) ? io.paint.green(`${text} *`) : `${text}  `)),
  ]);
  return [
    io.paint.dim(about),
    "",
    writeTable(["", ...names.map((name) => `${name}  `)], rows, io),
    "",
    io.paint.dim(`* the better figure${same > 0 ? `; ${same} figures are the same in all and left out` : ""}`),
  ].join("\n");
}
