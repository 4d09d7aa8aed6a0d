// Which setting is best: each is simulated, on all cores in parallel.
import {
  type House,
  type Knob,
  planTuning,
  readKnob,
  sayKnob,
  sayRounded,
  sayShare,
  settleTuning,
  type TriedSetting,
  type TuneOptions,
  type Tuning,
  type Value,
} from "modrik";
import { CallError } from "../call-error.js";
import { difference, type FigureOptions, measureOptions } from "../figures.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { inParallel } from "../pool.js";
import { whileShown } from "../progress.js";
import { describeRun, type RunOptions, simulationOptions } from "../run-options.js";
import { writeTable } from "../table.js";

export interface TuneCommandOptions extends RunOptions, Pick<FigureOptions, "price"> {
  readonly vary: readonly string[];
  readonly rule?: string;
  readonly chart?: string;
  readonly dark?: boolean;
  readonly json?: boolean;
}

/** Tries settings and prints what came of them. */
export async function tuneHouse(path: string | undefined, options: TuneCommandOptions, io: Io): Promise<boolean> {
  const house = readSoundHouse(path, io);
  if (!house) return false;
  const { vary, rule, price } = options;
  if (vary.length === 0) throw new CallError("Missing --vary: what is to be tried?", "For example: --vary bench.slack=1..8/0.5");
  const plan = asked(() =>
    planTuning(
      house,
      vary.map((text) => readKnob(house, text)),
      rule,
    ),
  );
  const simulated = simulationOptions(house, options);
  for (const { name } of plan.knobs)
    if (Object.hasOwn(simulated.set, name)) throw new CallError(`${name} is both set and varied.`, "Leave out --set, or --vary.");
  const tuned = { ...simulated, ...measureOptions(price === undefined ? {} : { price }) } satisfies TuneOptions;
  const tried = await tryAll(house, plan, tuned, io);
  const tuning = settleTuning(house, plan, tried);
  const stopped = tried.length < plan.settings.length;
  const { from, lasts, weather, seed } = tuned;
  const about = describeRun(house, { from, to: from + lasts, weather: weather ?? { name: "calm" }, seed });
  if (options.chart) {
    const { drawTuning } = await import("../picture.js");
    const subtitle = `${about}; ${tuning.plan.value} by rule ${plan.about.rule}`;
    drawTuning(
      house,
      tuning,
      options.chart,
      { theme: options.dark ? "dark" : "light", title: `${house.name}, tuned`, subtitle },
      io,
    );
    io.err.write(`created ${options.chart}\n`);
  }
  if (options.json) io.out.write(`${JSON.stringify({ run: about, ...asJson(tuning), stopped }, null, 2)}\n`);
  else io.out.write(`${write(house, about, tuning, stopped, io)}\n`);
  return true;
}

/** What does not fit the house is the caller's to put right. */
export function asked<Result>(work: () => Result): Result {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new CallError(`${error.message.charAt(0).toUpperCase()}${error.message.slice(1)}.`);
  }
}

/** Results come in the order of the plan; stopped, those of the beginning that are there. */
async function tryAll(house: House, plan: Tuning["plan"], options: TuneOptions, io: Io): Promise<TriedSetting[]> {
  const tasks = plan.settings.map((_, place) => ({ kind: "setting", place }) as const);
  const done: (TriedSetting | undefined)[] = [];
  let broken: unknown;
  const { ended } = io;
  await whileShown(io, `trying ${tasks.length} settings`, async (progress) => {
    let count = 0;
    try {
      await inParallel<TriedSetting>(
        { house, tuning: { plan, options } },
        tasks,
        (tried, place) => {
          done[place] = tried;
          progress.at(++count / tasks.length);
        },
        ended,
      );
    } catch (error) {
      broken = error;
    }
  });
  if (broken) {
    if (broken instanceof Error && broken.name === "RangeError") throw new CallError(`${broken.message}.`);
    throw broken;
  }
  return done.filter((one) => one !== undefined);
}

function asJson({ plan, tried, front, recommended, says }: Tuning) {
  return {
    about: plan.about,
    value: plan.value,
    settings: tried.map((one, place) => ({
      ...one,
      front: front.includes(place),
      ...(place === recommended && { recommended: true }),
    })),
    says,
  };
}

function write(house: House, about: string, { plan, tried, front, recommended, says }: Tuning, stopped: boolean, io: Io): string {
  const hasEnergy = tried.some(({ energy }) => energy !== undefined);
  const hasCost = tried.some(({ cost }) => cost !== undefined);
  const rows = tried
    .map((one, place) => ({ one, place }))
    .sort((a, b) => order(a.one.values, b.one.values, plan.knobs))
    .map(({ one, place }) => [
      ...plan.knobs.map((knob, column) => sayValue(house, knob, one.values[column] as Value)),
      one.distance === undefined ? "-" : difference(one.distance, one.unit),
      sayShare(one.inBand),
      sayRounded(one.startsADay),
      ...(hasEnergy ? [one.energy === undefined ? "-" : one.energy.toFixed(1)] : []),
      ...(hasCost ? [one.cost === undefined ? "-" : one.cost.toFixed(2)] : []),
      [place === 0 ? "today" : "", front.includes(place) ? "front" : "", place === recommended ? "best" : ""]
        .filter(Boolean)
        .join(", "),
    ]);
  const head = [
    ...plan.knobs.map(({ name, number }) => (number ? `${name}: ${number.value} ${number.unit}` : name)),
    "rms distance",
    "in band",
    "starts a day",
    ...(hasEnergy ? ["kWh"] : []),
    ...(hasCost ? ["cost"] : []),
    "",
  ];
  return [
    `${io.paint.bold(house.name)}, ${about}`,
    io.paint.dim(
      `Distance of ${plan.value} from its target, by rule ${plan.about.rule}; starts of ${plan.outputs.join(", ") || "nothing"}.`,
    ),
    "",
    writeTable(head, rows, io),
    "",
    ...(stopped ? [io.paint.yellow(`Stopped: ${tried.length} of ${plan.settings.length} settings were tried.`)] : []),
    says,
    io.paint.dim("front: no other setting is better in one thing and no worse in the others."),
  ].join("\n");
}

/** As they are listed. */
function order(one: readonly Value[], other: readonly Value[], knobs: readonly Knob[]): number {
  for (const [place, { values }] of knobs.entries()) {
    const [a, b] = [one[place] as Value, other[place] as Value];
    if (a === b) continue;
    return typeof a === "number" && typeof b === "number" ? a - b : values.indexOf(a) - values.indexOf(b);
  }
  return 0;
}

function sayValue(house: House, knob: Knob, value: Value): string {
  return sayKnob(house, knob, value)
    .slice(knob.name.length)
    .replace(/^( = |: )/, "");
}
